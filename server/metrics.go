package server

import (
	"context"
	"net/http"
	"net/http/pprof"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"idletimber/store"
)

// metrics is what is seen of a process from outside.
type metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec // seconds, by route, method and status
	errands  *prometheus.HistogramVec // seconds that an errand took here, by kind and how it ended
}

func newMetrics(s *Server) *metrics {
	m := &metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "idletimber_request_seconds", Help: "Time to answer a request; drafts are the routes that end so.",
			Buckets: []float64{.002, .004, .008, .016, .032, .064, .128, .3, 1, 3, 10, 30},
		}, []string{"route", "method", "status"}),
		errands: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "idletimber_errand_seconds", Help: "Time that long work took in this process.",
			Buckets: []float64{.1, .3, 1, 3, 10, 30, 120},
		}, []string{"kind", "state"}),
	}
	m.registry.MustRegister(
		collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		collectors.NewDBStatsCollector(s.Store.DB.DB, "idletimber"), m.requests, m.errands, waitingErrands{s.Store},
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{
			Name: "idletimber_streams", Help: "Streams that pages listen to.",
		}, func() float64 { return float64(s.live.open.Load()) }),
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{
			Name: "idletimber_answers_held_bytes", Help: "Answers that are being read by their clients.",
		}, func() float64 { return float64(s.held.Load()) }),
		prometheus.NewGaugeFunc(prometheus.GaugeOpts{
			Name: "idletimber_workshops_remembered", Help: "Workshops whose work is remembered between requests.",
		}, func() float64 { return float64(s.benches.size()) }),
	)
	return m
}

// answered counts a request.
func (m *metrics) answered(c *gin.Context, status int, took time.Duration) {
	route := c.FullPath()
	if route == "" {
		route = "page"
	}
	m.requests.WithLabelValues(route, c.Request.Method, strconv.Itoa(status)).Observe(took.Seconds())
}

// waitingErrands counts long work in the database, for all processes, whenever it is asked for.
type waitingErrands struct{ store *store.Store }

var errandsDesc = prometheus.NewDesc("idletimber_errands", "Long work that waits and runs, at all processes.",
	[]string{"kind", "state"}, nil)

// Describe tells what is counted.
func (w waitingErrands) Describe(to chan<- *prometheus.Desc) { to <- errandsDesc }

// Collect counts; a database that is away leaves it out.
func (w waitingErrands) Collect(to chan<- prometheus.Metric) {
	ctx, cancel := context.WithTimeout(context.Background(), time.Second)
	defer cancel()
	all, err := w.store.CountErrands(ctx)
	if err != nil {
		return
	}
	for _, n := range all {
		to <- prometheus.MustNewConstMetric(errandsDesc, prometheus.GaugeValue, float64(n.N), n.Kind, n.State)
	}
}

// Metrics answers at /metrics what is measured, in the format of Prometheus; at /live that the process goes on; and at
// /ready whether it has its database and takes requests.
func (s *Server) Metrics() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(s.metrics.registry, promhttp.HandlerOpts{}))
	mux.HandleFunc("GET /live", func(w http.ResponseWriter, _ *http.Request) { w.Write([]byte("ok\n")) })
	mux.HandleFunc("GET /ready", func(w http.ResponseWriter, r *http.Request) {
		switch {
		case s.draining.Load():
			http.Error(w, "it is ending", http.StatusServiceUnavailable)
		case s.Store.Health(r.Context()) != nil:
			http.Error(w, "the database does not answer", http.StatusServiceUnavailable)
		default:
			w.Write([]byte("ok\n"))
		}
	})
	return mux
}

// Drain tells those who ask that this process takes no more requests.
func (s *Server) Drain() { s.draining.Store(true) }

// Profiles answers with profiles of the process, as the tool pprof reads them.
func Profiles() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("/debug/pprof/", pprof.Index)
	mux.HandleFunc("/debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("/debug/pprof/symbol", pprof.Symbol)
	mux.HandleFunc("/debug/pprof/trace", pprof.Trace)
	mux.HandleFunc("/debug/pprof/cmdline", pprof.Cmdline)
	return mux
}
