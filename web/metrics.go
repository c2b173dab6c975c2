package web

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promauto"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// asked counts and times requests by the pattern of their address, which names nobody.
var asked = promauto.NewHistogramVec(
	prometheus.HistogramOpts{Name: "restbend_request_seconds", Help: "How long requests took, by the pattern of their address.",
		Buckets: []float64{0.002, 0.01, 0.05, 0.2, 1, 5, 20}},
	[]string{"method", "route", "status"},
)

func count(c *gin.Context, took time.Duration) {
	route, method := c.FullPath(), c.Request.Method
	if route == "" {
		route, method = "none", "any" // whatever anybody makes up
	}
	asked.WithLabelValues(method, route, strconv.Itoa(c.Writer.Status())).Observe(took.Seconds())
}

// Metrics answers with what was counted, for who looks after the machine.
func Metrics() http.Handler { return promhttp.Handler() }
