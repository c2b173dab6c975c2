package web

import (
	"log/slog"
	"maps"
	"net"
	"net/http"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"restbend/app"
	"restbend/formats"
)

// maxBody is the largest request body that is read.
const maxBody = 256 << 10

// policy lets the page load only what the program itself serves: no inline
// script or style, nothing evaluated, no frames.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; " +
	"worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// permissions lets pages use what lessons use, sound and a screen that stays on,
// and nothing else of what a device has.
const permissions = "accelerometer=(), autoplay=(self), bluetooth=(), camera=(), display-capture=(), fullscreen=(self), " +
	"geolocation=(), gyroscope=(), hid=(), magnetometer=(), microphone=(), midi=(), payment=(), publickey-credentials-get=(), " +
	"screen-wake-lock=(self), serial=(), usb=()"

// lasts marks an answer as a file that stays as it is under its address. It is no page, and
// there are many, so it goes without what only pages need.
func lasts(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Cache-Control", "public, max-age=31536000, immutable")
	h.Set("Content-Security-Policy", "default-src 'none'")
	for _, k := range []string{"Permissions-Policy", "Referrer-Policy", "Cross-Origin-Opener-Policy", "X-Request-Id"} {
		h.Del(k)
	}
}

// known says whether a Host header names this machine or one of the site's own names.
func (u Setup) known(host string) bool {
	name, _, err := net.SplitHostPort(host)
	if err != nil {
		name = host
	}
	return loopbackHost(host) || slices.ContainsFunc(u.Names, func(n string) bool { return strings.EqualFold(n, name) })
}

// guard is what every request passes: an id for the log, the security headers,
// a known Host, a body limit and a friendly page if a handler panics.
func guard(log *slog.Logger, u Setup) gin.HandlerFunc {
	return func(c *gin.Context) {
		id := uuid.NewString()
		c.Set("request", id)
		h := c.Writer.Header()
		h.Set("X-Request-Id", id)
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", permissions)
		if u.Secure {
			h.Set("Strict-Transport-Security", "max-age=63072000")
		}
		h.Set("Cache-Control", "no-store")
		begin := time.Now()
		defer func() {
			if r := recover(); r != nil {
				log.Error("panic", "request", id, "path", c.FullPath(), "cause", r, "stack", string(debug.Stack()))
				if !c.Writer.Written() {
					fail(c,
						http.StatusInternalServerError,
						"Something went wrong in the program. Nothing of this step was saved; what you saved before is safe.",
					)
				}
			}
			count(c, time.Since(begin))
			log.Info(
				"request",
				"request",
				id,
				"method",
				c.Request.Method,
				"path",
				c.FullPath(),
				"status",
				c.Writer.Status(),
				"took",
				time.Since(begin),
			)
		}()
		if !u.known(c.Request.Host) {
			fail(c,
				http.StatusForbidden,
				"This page was asked for under a name that is not its own. Open it under the name that it was set up with, or on its "+
					"own machine at http://127.0.0.1 with its port.",
			)
			return
		}
		most := int64(maxBody)
		if c.ContentType() == "application/json" {
			most = maxMarks
		} else if c.Request.URL.Path == uploads {
			most = mostUpload
		} else if c.Request.ContentLength > most {
			fail(c, http.StatusRequestEntityTooLarge, "What was sent is too large. Nothing was saved; expected at most 256 KB.")
			return
		}
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
		c.Next()
	}
}

// plain reads the whole of a posted form before anything of it is believed: what cannot
// be read, or is no plain text, is refused by name.
func plain(c *gin.Context) {
	if c.Request.Method != http.MethodPost || strings.HasPrefix(c.ContentType(), "application/json") {
		return
	}
	if c.Request.URL.Path == uploads {
		return // a file, read by what it is
	}
	if kind := c.ContentType(); kind != "" && kind != "application/x-www-form-urlencoded" {
		fail(c, http.StatusUnsupportedMediaType, "What was sent is no form that Rest Bend can read. Nothing was saved.")
		return
	}
	if err := c.Request.ParseForm(); err != nil {
		w := c.MustGet("site").(*site)
		if status, sentence := w.sentence(c, err); status == http.StatusRequestEntityTooLarge {
			fail(c, status, sentence)
			return
		}
		fail(c, http.StatusBadRequest, "The form that was sent cannot be read. Nothing was saved; what was kept before is there still.")
		return
	}
	for _, field := range slices.Sorted(maps.Keys(c.Request.PostForm)) {
		for _, text := range append(c.Request.PostForm[field], field) {
			if wrong := formats.NotPlain(text); wrong != "" {
				fail(c,
					http.StatusUnprocessableEntity,
					app.Capital(fieldWords(field))+" "+wrong+". Nothing was saved; go back to what you typed and take it out.",
				)
				return
			}
		}
	}
}

// fieldWords name a field of a form in words.
func fieldWords(field string) string {
	return strings.NewReplacer("_", " ", ".", ", ", "-", " ").Replace(strings.ToValidUTF8(field, "?"))
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
