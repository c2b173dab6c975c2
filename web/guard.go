package web

import (
	"log/slog"
	"net"
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// maxBody is the largest request body that is read.
const maxBody = 256 << 10

// policy lets the page load only what the program itself serves: no inline
// script or style, nothing evaluated, no frames.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// guard is what every request passes: an id for the log, the security headers,
// a known Host, a body limit and a friendly page if a handler panics.
func guard(log *slog.Logger) gin.HandlerFunc {
	return func(c *gin.Context) {
		id := uuid.NewString()
		c.Set("request", id)
		h := c.Writer.Header()
		h.Set("X-Request-Id", id)
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cache-Control", "no-store")
		begin := time.Now()
		defer func() {
			if r := recover(); r != nil {
				log.Error("panic", "request", id, "path", c.Request.URL.Path, "cause", r, "stack", string(debug.Stack()))
				if !c.Writer.Written() {
					fail(c, http.StatusInternalServerError, "Something went wrong in the program. Nothing of this step was saved; what you saved before is safe.")
				}
			}
			log.Info("request", "request", id, "method", c.Request.Method, "path", c.Request.URL.Path, "status", c.Writer.Status(), "took", time.Since(begin))
		}()
		if !loopbackHost(c.Request.Host) {
			fail(c, http.StatusForbidden, "This page was asked for under a foreign name. There are no accounts yet, so Rest Bend answers only on this machine: open http://127.0.0.1 with its port.")
			return
		}
		if c.Request.ContentLength > maxBody {
			fail(c, http.StatusRequestEntityTooLarge, "What was sent is too large. Nothing was saved; expected at most 256 KB.")
			return
		}
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxBody)
		c.Next()
	}
}

// loopbackHost says whether a Host header names this machine.
func loopbackHost(host string) bool {
	name := host
	if h, _, err := net.SplitHostPort(host); err == nil {
		name = h
	}
	name = strings.Trim(name, "[]")
	if strings.EqualFold(name, "localhost") {
		return true
	}
	ip := net.ParseIP(name)
	return ip != nil && ip.IsLoopback()
}

// LoopbackAddr says whether the address to listen on is this machine only.
func LoopbackAddr(addr string) bool {
	host, _, err := net.SplitHostPort(addr)
	return err == nil && host != "" && loopbackHost(host)
}
