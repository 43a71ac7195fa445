package meter

import (
	"strings"
	"testing"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/testutil"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestMeter(t *testing.T) {
	m := &Meter{}
	r := m.Route("public", "/s/KEY.js")
	r.Observe(200, 40*time.Microsecond)
	r.Observe(304, 50*time.Microsecond)
	r.Observe(503, 2*time.Second)
	r.Observe(999, time.Hour)
	r.Observe(501, 2*time.Second)
	registry := prometheus.NewPedanticRegistry()
	require.NoError(t, registry.Register(m))
	require.NoError(t, registry.Register(Collector(Gauge{Name: "glasspocket_x", Help: "X.", Value: func() float64 { return 7 }})))
	assert.NoError(t, testutil.GatherAndCompare(registry, strings.NewReader(`
# HELP glasspocket_requests_total Requests by listener, route and status class.
# TYPE glasspocket_requests_total counter
glasspocket_requests_total{route="/s/KEY.js",side="public",status="2xx"} 1
glasspocket_requests_total{route="/s/KEY.js",side="public",status="3xx"} 1
glasspocket_requests_total{route="/s/KEY.js",side="public",status="4xx"} 1
glasspocket_requests_total{route="/s/KEY.js",side="public",status="5xx"} 2
# HELP glasspocket_x X.
# TYPE glasspocket_x gauge
glasspocket_x 7
`), "glasspocket_requests_total", "glasspocket_x"))
	families, err := registry.Gather()
	require.NoError(t, err)
	for _, f := range families {
		if f.GetName() == "glasspocket_request_seconds" {
			h := f.Metric[0].GetHistogram()
			assert.Equal(t, uint64(5), h.GetSampleCount())
			assert.Equal(t, uint64(2), h.Bucket[0].GetCumulativeCount(), "a bound belongs to its bucket")
			assert.Equal(t, uint64(4), h.Bucket[len(h.Bucket)-1].GetCumulativeCount())
		}
	}
}
