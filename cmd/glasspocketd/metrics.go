package main

import (
	"bytes"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/common/expfmt"

	"glasspocket/internal/meter"
	"glasspocket/internal/program"
	"glasspocket/internal/shelf"
	"glasspocket/internal/store"
)

// metrics collects the metrics: rates, errors and durations of both listeners, the shelf, the
// writer, and the process.
func metrics(counts *meter.Meter, sh *shelf.Shelf, db *store.DB, tasks taskCounts) (*prometheus.Registry, error) {
	r := prometheus.NewRegistry()
	build := prometheus.NewGauge(prometheus.GaugeOpts{Name: "glasspocket_build_info", Help: "Always 1, with the program's version as a label.", ConstLabels: prometheus.Labels{"version": program.Version()}})
	build.Set(1)
	for _, c := range []prometheus.Collector{
		build, counts, tasks, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		meter.Collector(
			meter.Gauge{Name: "glasspocket_shelf_hits_total", Help: "Documents served from memory.", Counter: true, Value: func() float64 { return float64(sh.Stats().Hits.Load()) }},
			meter.Gauge{Name: "glasspocket_shelf_loads_total", Help: "Documents read from the store.", Counter: true, Value: func() float64 { return float64(sh.Stats().Loads.Load()) }},
			meter.Gauge{Name: "glasspocket_shelf_failures_total", Help: "Reads that failed.", Counter: true, Value: func() float64 { return float64(sh.Stats().Failures.Load()) }},
			meter.Gauge{Name: "glasspocket_shelf_documents", Help: "Documents in memory: scripts, payloads and pages, counted separately.", Value: func() float64 { return float64(sh.Len()) }},
			meter.Gauge{Name: "glasspocket_shelf_bytes", Help: "Approximate size of the documents in memory, in bytes.", Value: func() float64 { return float64(sh.Weight()) }},
			meter.Gauge{Name: "glasspocket_writer_waiting", Help: "Writes waiting for the next commit.", Value: func() float64 { return float64(db.Waiting()) }},
			meter.Gauge{Name: "glasspocket_writer_commits_total", Help: "Commits; each includes all waiting writes.", Counter: true, Value: func() float64 { return float64(db.Commits()) }},
			meter.Gauge{Name: "glasspocket_store_healthy", Help: "1 if the last write reached the disk, 0 if it failed.", Value: func() float64 {
				if db.Trouble() != nil {
					return 0
				}
				return 1
			}},
		),
	} {
		if err := r.Register(c); err != nil {
			return nil, err
		}
	}
	return r, nil
}

// exposition returns the Prometheus text format.
func exposition(r *prometheus.Registry) ([]byte, error) {
	families, err := r.Gather()
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	for _, f := range families {
		if _, err := expfmt.MetricFamilyToText(&b, f); err != nil {
			return nil, err
		}
	}
	return b.Bytes(), nil
}
