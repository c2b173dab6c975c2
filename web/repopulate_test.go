package web

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"restbend/store"
)

// control is a field of a form as a page shows it.
type control struct {
	name, kind string
	options    []string // what can be chosen, or the value of a box
}

// formsOf are the forms of a page that change something, by action.
func formsOf(t *testing.T, page string) []*html.Node {
	t.Helper()
	doc, err := html.Parse(strings.NewReader(page))
	require.NoError(t, err)
	var out []*html.Node
	for n := range elements(doc) {
		if n.DataAtom == atom.Form && attr(n, "method") == "post" {
			out = append(out, n)
		}
	}
	return out
}

// controls are the fields of a form that a user fills in, each once.
func controls(form *html.Node) []control {
	var out []control
	for n := range elements(form) {
		c := control{name: attr(n, "name")}
		switch {
		case c.name == "" || attr(n, "type") == "hidden" || n.DataAtom == atom.Button:
			continue
		case n.DataAtom == atom.Select:
			c.kind = "select"
			for o := range elements(n) {
				if o.DataAtom == atom.Option {
					c.options = append(c.options, valueOf(o))
				}
			}
		case n.DataAtom == atom.Textarea:
			c.kind = "text"
		case attr(n, "type") == "radio": // one of several
			if at := slices.IndexFunc(out, func(o control) bool { return o.name == c.name }); at >= 0 {
				out[at].options = append(out[at].options, attr(n, "value"))
				continue
			}
			c.kind, c.options = "select", []string{attr(n, "value")}
		case attr(n, "type") == "checkbox":
			c.kind, c.options = "box", []string{attr(n, "value")}
		default:
			c.kind = "text"
		}
		out = append(out, c)
	}
	return out
}

func names(form *html.Node) []string {
	var out []string
	for _, c := range controls(form) {
		out = append(out, c.name)
	}
	return out
}

// filled is a form with every field answered, each with something of its own, and its
// hidden fields as they are.
func filled(form *html.Node) url.Values {
	v := shown(form)
	for i, c := range controls(form) {
		switch c.kind {
		case "select":
			v.Set(c.name, c.options[len(c.options)-1])
		case "box":
			if !slices.Contains(v[c.name], c.options[0]) {
				v.Add(c.name, c.options[0])
			}
		default:
			if v.Get(c.name) == "" {
				v.Set(c.name, fmt.Sprint(i%7+3))
			}
		}
	}
	return v
}

// shown is what a form would send as it stands.
func shown(form *html.Node) url.Values {
	v := url.Values{}
	for n := range elements(form) {
		name := attr(n, "name")
		if name == "" || n.DataAtom == atom.Button {
			continue
		}
		switch n.DataAtom {
		case atom.Select:
			chosen := ""
			for o := range elements(n) {
				if o.DataAtom == atom.Option && (chosen == "" || has(o, "selected")) {
					chosen = valueOf(o)
					if has(o, "selected") {
						break
					}
				}
			}
			v.Add(name, chosen)
		case atom.Textarea:
			text := ""
			for d := range n.Descendants() {
				text += d.Data
			}
			v.Add(name, text)
		case atom.Input:
			if kind := attr(n, "type"); kind == "checkbox" || kind == "radio" {
				if has(n, "checked") {
					v.Add(name, attr(n, "value"))
				}
				continue
			}
			v.Add(name, attr(n, "value"))
		}
	}
	return v
}

func has(n *html.Node, key string) bool {
	return slices.ContainsFunc(n.Attr, func(a html.Attribute) bool { return a.Key == key })
}

// TestEveryFieldOfEveryFormSurvivesARefusal: each form of each page is filled in whole,
// one field after the other is given what no field takes, and where that is refused the
// form comes back with every answer as it was given.
func TestEveryFieldOfEveryFormSurvivesARefusal(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	odette, plan := client(t, s, "Odette"), planned(t, s, "Odette")
	records, err := s.Store.RecordsOf(context.Background(), odette)
	require.NoError(t, err)
	refusals, forms := 0, map[string]bool{}
	for _, page := range []string{"/clients/new", "/clients/" + odette + "/edit", "/clients/" + odette, "/clients/" + odette + "/screens",
		"/plans/" + plan.ID, "/plans/" + plan.ID + "/check", "/plans/" + plan.ID + "/wrap-up", "/records/" + records[0].ID,
		"/records/" + records[0].ID + "/correct", "/settings"} {
		_, body := get(t, srv.URL+page)
		for _, form := range formsOf(t, body) {
			action := attr(form, "action")
			fields := controls(form)
			if len(fields) == 0 {
				continue
			}
			tried := map[string]bool{}
			for _, wrong := range fields {
				if tried[wrong.name] { // the boxes of one name ask the same
					continue
				}
				tried[wrong.name] = true
				v := filled(form)
				v.Set("key", store.NewID())
				v.Set(wrong.name, "\\n~ nothing of the kind ~")
				resp, again := ask(t, http.MethodPost, srv.URL+action, v, nil)
				if resp.StatusCode < 400 { // a text takes anything; what the form offers may be another by now
					_, body = get(t, srv.URL+page)
					var like []*html.Node
					for _, f := range formsOf(t, body) {
						if attr(f, "action") == action {
							like = append(like, f)
						}
					}
					if at := slices.IndexFunc(
						like,
						func(f *html.Node) bool { return reflect.DeepEqual(names(f), names(form)) },
					); at >= 0 {
						form = like[at]
					} else if len(like) == 1 {
						form = like[0]
					}
					continue
				}
				require.Less(t, resp.StatusCode, 500, "%s %s", action, wrong.name)
				lost, found := []string{"the whole form"}, false
				for _, f := range formsOf(t, again) {
					if attr(f, "action") != action {
						continue
					}
					got, missing := shown(f), []string{}
					for name := range v {
						if name == "key" || name == "revision" || name == wrong.name && wrong.kind != "text" {
							continue
						}
						if !assert.ObjectsAreEqual(slices.Sorted(slices.Values(v[name])), slices.Sorted(slices.Values(got[name]))) {
							missing = append(missing, fmt.Sprintf("%s: %q became %q", name, v[name], got[name]))
						}
					}
					if !found || len(missing) < len(lost) {
						lost, found = missing, true
					}
				}
				assert.Empty(t, lost, "%s, refused for %s", action, wrong.name)
				assert.Contains(t, again, `role="alert"`, "%s: %s is refused without a word", action, wrong.name)
				refusals++
				forms[action] = true
			}
		}
	}
	t.Logf("%d refusals of %d forms", refusals, len(forms))
	assert.Greater(t, refusals, 60)
	assert.GreaterOrEqual(t, len(forms), 9)
}
