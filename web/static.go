package web

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
)

//go:embed static
var staticFiles embed.FS

// SheetFont is the house's letters, for paper.
var SheetFont = sync.OnceValue(func() []byte {
	b, err := staticFiles.ReadFile("static/vendor/atkinson/latin.ttf")
	if err != nil {
		panic(err) // it is built in
	}
	return b
})

// assets serves the static files under the hash of them all, so that they can
// be cached without end and refer to one another.
type assets struct {
	files fs.FS
	hash  string
	zips  sync.Map // by name: a file as small as it gets, nil where that is no gain
}

// small is a file compressed, once; false where that is no gain.
func (a *assets) small(name string, b []byte) ([]byte, bool) {
	known, ok := a.zips.Load(name)
	if !ok {
		var z bytes.Buffer
		w, err := gzip.NewWriterLevel(&z, gzip.BestCompression)
		if err == nil {
			_, err = w.Write(b)
		}
		if err == nil {
			err = w.Close()
		}
		small := z.Bytes()
		if err != nil || len(small) > len(b)*9/10 {
			small = nil
		}
		known, _ = a.zips.LoadOrStore(name, small)
	}
	small := known.([]byte)
	return small, small != nil
}

func acceptsGzip(r *http.Request) bool {
	for _, part := range strings.Split(r.Header.Get("Accept-Encoding"), ",") {
		name, q, _ := strings.Cut(strings.TrimSpace(part), ";")
		if name == "gzip" && strings.TrimSpace(q) != "q=0" {
			return true
		}
	}
	return false
}

func newAssets() (*assets, error) {
	files, err := fs.Sub(staticFiles, "static")
	if err != nil {
		return nil, err
	}
	sum := sha256.New()
	err = fs.WalkDir(files, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := fs.ReadFile(files, p)
		sum.Write([]byte(p))
		sum.Write(b)
		return err
	})
	return &assets{files: files, hash: hex.EncodeToString(sum.Sum(nil))[:12]}, err
}

// url is the address of a static file.
func (a *assets) url(name string) string { return "/static/" + a.hash + "/" + name }

// worker serves the script that keeps lessons for when there is no connection; it is
// asked for each time, under an address that does not change.
func (w *site) worker(c *gin.Context) {
	b, err := fs.ReadFile(w.assets.files, "js/worker.js")
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Header("Cache-Control", "no-cache")
	c.Data(http.StatusOK, "text/javascript; charset=utf-8", bytes.ReplaceAll(b, []byte("HASH"), []byte(w.assets.hash)))
}

func (a *assets) serve(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean(c.Param("path")), "/")
	b, err := fs.ReadFile(a.files, name)
	if err != nil || c.Param("hash") != a.hash {
		fail(c, http.StatusNotFound, "There is no such file. Reload the page.")
		return
	}
	kind := mime.TypeByExtension(path.Ext(name))
	if path.Ext(name) == ".woff2" {
		kind = "font/woff2"
	}
	lasts(c)
	if small, ok := a.small(name, b); ok {
		c.Header("Vary", "Accept-Encoding")
		if acceptsGzip(c.Request) {
			c.Header("Content-Encoding", "gzip")
			b = small
		}
	}
	c.Data(http.StatusOK, kind, b)
}
