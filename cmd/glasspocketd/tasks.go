package main

import (
	"context"
	"time"

	"github.com/prometheus/client_golang/prometheus"

	"glasspocket/internal/app/task"
)

// taskCounts exports the numbers of background tasks, by kind and state.
type taskCounts func(context.Context) ([]task.Count, error)

var tasksDesc = prometheus.NewDesc("glasspocket_tasks", "Background tasks that wait, run or have failed.", []string{"kind", "state"}, nil)

// Describe implements prometheus.Collector.
func (taskCounts) Describe(to chan<- *prometheus.Desc) { to <- tasksDesc }

// Collect implements prometheus.Collector.
func (c taskCounts) Collect(to chan<- prometheus.Metric) {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	list, err := c(ctx)
	if err != nil {
		to <- prometheus.NewInvalidMetric(tasksDesc, err)
	}
	for _, each := range list {
		to <- prometheus.MustNewConstMetric(tasksDesc, prometheus.GaugeValue, float64(each.Count), each.Kind, each.State)
	}
}
