package api

import (
	"net/http"
	"strconv"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"uskel/store"
)

// Meters count what the server does, for whoever watches it. A nil *Meters counts nothing.
type Meters struct {
	all      *prometheus.Registry
	requests *prometheus.HistogramVec
	taps     prometheus.Counter
	streams  prometheus.Gauge
}

// NewMeters makes the meters of a server on a database.
func NewMeters(db *store.Store) *Meters {
	m := &Meters{
		all: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(
			prometheus.HistogramOpts{
				Name: "uskel_request_seconds",
				Help: "Requests and how long they took.",
				Buckets: []float64{
					.005,
					.01,
					.025,
					.05,
					.1,
					.25,
					.5,
					1,
					2.5,
					5,
					10,
					30,
				},
			},
			[]string{"method", "route", "status"},
		),
		taps: prometheus.NewCounter(prometheus.CounterOpts{Name: "uskel_taps_total", Help: "Taps taken into logs."}),
		streams: prometheus.NewGauge(
			prometheus.GaugeOpts{Name: "uskel_streams", Help: "Screens that follow what is saved."},
		),
	}
	gauge := func(name, help string, read func(store.Connections) float64) prometheus.Collector {
		return prometheus.NewGaugeFunc(
			prometheus.GaugeOpts{Name: name, Help: help},
			func() float64 { return read(db.Connections()) },
		)
	}
	m.all.MustRegister(
		m.requests,
		m.taps,
		m.streams,
		gauge(
			"uskel_pool_connections",
			"Connections to the database.",
			func(c store.Connections) float64 { return float64(c.All) },
		),
		gauge(
			"uskel_pool_in_use",
			"Connections in use.",
			func(c store.Connections) float64 { return float64(c.InUse) },
		),
		gauge(
			"uskel_pool_most",
			"Connections there may be.",
			func(c store.Connections) float64 { return float64(c.Most) },
		),
		gauge("uskel_pool_waited_seconds", "Time waited for connections in all.",
			func(c store.Connections) float64 { return c.Waited.Seconds() }),
	)
	return m
}

// Handler serves the meters in the Prometheus text format.
func (m *Meters) Handler() http.Handler { return promhttp.HandlerFor(m.all, promhttp.HandlerOpts{}) }

func (m *Meters) request(method, route string, status int, took time.Duration) {
	if m != nil {
		m.requests.WithLabelValues(method, route, strconv.Itoa(status)).Observe(took.Seconds())
	}
}

func (m *Meters) tapped(n int) {
	if m != nil {
		m.taps.Add(float64(n))
	}
}

func (m *Meters) stream(by float64) {
	if m != nil {
		m.streams.Add(by)
	}
}
