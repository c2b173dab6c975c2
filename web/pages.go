package web

import (
	"bytes"
	"context"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/draw"
)

//go:embed templates
var templateFiles embed.FS

// pages are the parsed templates: one layout, the partials, and a page each.
type pages struct {
	w   *site
	set map[string]*template.Template
}

func newPages(w *site) (*pages, error) {
	p := &pages{w, map[string]*template.Template{}}
	base, err := parsed(template.New("").Funcs(p.functions()), "templates/layout.html", "templates/partials/*.html")
	if err != nil {
		return nil, err
	}
	names, err := fs.Glob(templateFiles, "templates/*.html")
	if err != nil {
		return nil, err
	}
	for _, n := range names {
		name := strings.TrimSuffix(path.Base(n), ".html")
		if name == "layout" {
			continue
		}
		t, err := base.Clone()
		if err == nil {
			t, err = parsed(t, n)
		}
		if err != nil {
			return nil, err
		}
		p.set[name] = t
	}
	return p, nil
}

func (p *pages) functions() template.FuncMap {
	return template.FuncMap{
		"static":      p.w.assets.url,
		"thumb":       p.w.figures.thumb,
		"clock":       app.Clock,
		"settings":    func(s exercise.Settings, u app.Units) string { return app.WithWords(nil, s, u) },
		"minutes":     draw.HalfMinutes,
		"percent":     func(share float64) string { return fmt.Sprintf("%.0f", 100*share) },
		"because":     becauseWords,
		"dose":        app.DoseWords,
		"instruction": app.InstructionWords,
		"verdict":     app.VerdictWords,
		"purpose":     func(x exercise.Purpose) string { return x.Words() },
		"place_of":    func(where string) string { return app.Capital(strings.ReplaceAll(where, "_", " ")) },
		"position":    func(x exercise.Position) string { return x.Words() },
		"place":       func(x exercise.Place) string { return x.Words() },
		"kit":         func(x string) string { return strings.ReplaceAll(x, "_", " ") },
		"capital":     app.Capital,
		"flag": func(id string) string {
			if f, known := limit.FindRedFlag(id); known {
				return app.Capital(f.Name)
			}
			return strings.ReplaceAll(id, "_", " ")
		},
		"date":     dateWords,
		"moment":   momentWords,
		"longdate": longDate,
		"measure":  measureWords,
		"weekday":  func(on string) string { return dateAs(on, "Mon") },
		"using":    app.WithWords,
		"say":      func(u app.Units, text string) string { return u.Say(text) },
		"plus":     func(a, b int) int { return a + b },
		"minus":    func(a int) int { return -a },
		"json": func(v any) (template.JS, error) {
			b, err := json.Marshal(v)
			return template.JS(b), err
		},
		"filling": p.w.setup.Filling.Words,
		"idle":    func() int { return p.w.idleMinutes(context.Background()) },
		"studio":  func() string { return p.w.Store.Setting(context.Background(), "studio") },
		"mark":    func(v exercise.Verdict) template.HTML { return template.HTML(draw.SVGMark(string(v))) },
		"dict": func(v ...any) map[string]any {
			out := map[string]any{}
			for i := 0; i+1 < len(v); i += 2 {
				out[v[i].(string)] = v[i+1] // templates name their fields
			}
			return out
		},
		"list": func(v ...any) []any { return v },
		"has":  func(of []any, x string) bool { return slices.Contains(of, any(x)) },
	}
}

// indent is what only makes templates easier to read.
var indent = regexp.MustCompile(`\n\s+`)

// parsed adds templates, without their indent and blank lines, so that less is sent.
func parsed(t *template.Template, patterns ...string) (*template.Template, error) {
	for _, pattern := range patterns {
		names, err := fs.Glob(templateFiles, pattern)
		if err != nil {
			return nil, err
		}
		for _, name := range names {
			text, err := fs.ReadFile(templateFiles, name)
			if err != nil {
				return nil, err
			}
			if _, err := t.New(path.Base(name)).Parse(indent.ReplaceAllString(string(text), "\n")); err != nil {
				return nil, err
			}
		}
	}
	return t, nil
}

// render writes a page in the layout, or for a request by htmx the page's
// partial alone when it has one.
func (p *pages) render(c *gin.Context, status int, name string, data any) {
	t, ok := p.set[name]
	if !ok {
		panic("web: there is no template " + name)
	}
	root := "layout.html"
	if c.GetHeader("HX-Request") == "true" && t.Lookup("partial") != nil {
		root = "partial"
	}
	var b bytes.Buffer
	view := struct {
		Page    string
		Nav     string
		Path    string
		Visitor visitor
		Data    any
		Day     *dayLine // what the day is, where the page does not say it itself
	}{name, navOf(c.Request.URL.Path), c.Request.URL.Path, visitorOf(c), data, nil}
	if line, is := p.w.banner(c, name); is {
		view.Day = &line
	}
	if err := t.ExecuteTemplate(&b, root, view); err != nil {
		p.w.log.Error("template", "request", c.GetString("request"), "page", name, "cause", err)
		c.String(http.StatusInternalServerError, "Something went wrong in the program. What you saved before is safe.")
		return
	}
	page := splitAtForms(b.Bytes())
	p.w.cachePage(c, status, page)
	sendPage(c, status, page)
}

// sendPage answers with a page, its forms each with a key of its own and, where it was
// refused, filled in as it was sent.
func sendPage(c *gin.Context, status int, parts [][]byte) {
	page := withKeys(parts)
	if status >= http.StatusBadRequest && c.Request.Method == http.MethodPost {
		page = repopulate(page, c.Request.URL.Path, c.Request.PostForm)
	}
	c.Header("Vary", "HX-Request")
	c.Data(status, "text/html; charset=utf-8", page)
}

func navOf(p string) string {
	switch {
	case p == "/", strings.HasPrefix(p, "/calendar"):
		return "today"
	case strings.HasPrefix(p, "/records"):
		return "records"
	case strings.HasPrefix(p, "/classes"):
		return "classes"
	case strings.HasPrefix(p, "/library"):
		return "library"
	case p == "/lever":
		return "lever"
	case p == "/me",
		p == "/settings",
		p == "/search",
		strings.HasPrefix(p, "/people"),
		p == "/trail",
		p == "/copies",
		p == "/exchange",
		strings.HasPrefix(p, "/outbox"):
		return ""
	}
	return "clients"
}

// becauseWords joins a plan's reason lines into one line.
func becauseWords(lines []string) string {
	words := make([]string, 0, 2)
	for _, l := range lines {
		if len(words) == 2 {
			break
		}
		words = append(words, app.BecauseWords(l))
	}
	return strings.Join(words, ", ")
}

// age in years on a date, from the birth year alone.
func age(birthYear int, today civil.Day) string {
	if birthYear == 0 {
		return ""
	}
	return fmt.Sprint(today.Year() - birthYear)
}
