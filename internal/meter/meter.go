// Package meter counts responses, cheaply enough for every request, and exports the counts in the
// Prometheus exposition format. It records routes and statuses, but no pocket, customer or visitor.
package meter

import (
	"strconv"
	"sync/atomic"
	"time"

	"github.com/prometheus/client_golang/prometheus"
)

// bounds are the upper bounds of the duration buckets. Cached files take tens of microseconds,
// publishing takes milliseconds.
var bounds = [...]time.Duration{
	50 * time.Microsecond, 100 * time.Microsecond, 250 * time.Microsecond, 500 * time.Microsecond, time.Millisecond, 2500 * time.Microsecond,
	5 * time.Millisecond, 10 * time.Millisecond, 25 * time.Millisecond, 50 * time.Millisecond, 100 * time.Millisecond, 250 * time.Millisecond, time.Second, 5 * time.Second,
}

// Route counts the responses of one route on one listener. It is safe for concurrent use.
type Route struct {
	side, name string
	statuses   [6]atomic.Uint64 // by the first digit
	buckets    [len(bounds) + 1]atomic.Uint64
	nanos      atomic.Uint64
}

// Meter has the routes of both listeners. Add all routes before the first request.
type Meter struct{ routes []*Route }

// Route adds a route. side is "public" or "manage".
func (m *Meter) Route(side, name string) *Route {
	r := &Route{side: side, name: name}
	m.routes = append(m.routes, r)
	return r
}

// Observe counts one response. Status 501 is not an error of the service: the client asked for
// something that it does not offer.
func (r *Route) Observe(status int, took time.Duration) {
	if status == 501 {
		status = 400
	}
	r.statuses[min(max(status/100, 0), len(r.statuses)-1)].Add(1)
	i := 0
	for i < len(bounds) && took > bounds[i] {
		i++
	}
	r.buckets[i].Add(1)
	r.nanos.Add(uint64(max(took, 0)))
}

var (
	requests  = prometheus.NewDesc("glasspocket_requests_total", "Requests by listener, route and status class.", []string{"side", "route", "status"}, nil)
	durations = prometheus.NewDesc("glasspocket_request_seconds", "Time to create the responses, in seconds.", []string{"side", "route"}, nil)
)

// Describe implements prometheus.Collector.
func (m *Meter) Describe(to chan<- *prometheus.Desc) { to <- requests; to <- durations }

// Collect implements prometheus.Collector.
func (m *Meter) Collect(to chan<- prometheus.Metric) {
	for _, r := range m.routes {
		for hundreds := range r.statuses {
			if n := r.statuses[hundreds].Load(); n > 0 {
				to <- prometheus.MustNewConstMetric(requests, prometheus.CounterValue, float64(n), r.side, r.name, strconv.Itoa(hundreds)+"xx")
			}
		}
		total, below := uint64(0), map[float64]uint64{}
		for i := range r.buckets {
			total += r.buckets[i].Load()
			if i < len(bounds) {
				below[bounds[i].Seconds()] = total
			}
		}
		to <- prometheus.MustNewConstHistogram(durations, total, time.Duration(r.nanos.Load()).Seconds(), below, r.side, r.name)
	}
}

// Gauge is a number that another part of the service provides.
type Gauge struct {
	Name, Help string
	Counter    bool // it only grows
	Value      func() float64
}

// Collector exports gauges.
func Collector(list ...Gauge) prometheus.Collector { return gauges(list) }

type gauges []Gauge

func (g gauges) Describe(to chan<- *prometheus.Desc) {
	for _, each := range g {
		to <- prometheus.NewDesc(each.Name, each.Help, nil, nil)
	}
}

func (g gauges) Collect(to chan<- prometheus.Metric) {
	for _, each := range g {
		kind := prometheus.GaugeValue
		if each.Counter {
			kind = prometheus.CounterValue
		}
		to <- prometheus.MustNewConstMetric(prometheus.NewDesc(each.Name, each.Help, nil, nil), kind, each.Value())
	}
}
