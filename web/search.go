package web

import (
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/find"
)

// mostHits is how many of each kind a search shows.
const mostHits = 8

// hits are what was found of one kind.
type hits struct {
	Kind string
	Of   []find.Doc
	More string // address of the rest; empty for none
}

// search looks among clients, exercises, what they serve, conditions, pages and records for
// words, however they are put.
func (w *site) search(c *gin.Context) {
	q := strings.TrimSpace(c.Query("q"))
	if len(q) > 200 {
		q = strings.ToValidUTF8(q[:200], "")
	}
	found, meant := w.finder.Find(q, 60)
	var groups []hits
	if q != "" {
		clients, all, err := w.Store.ClientPage(c.Request.Context(), q, "", "", mostHits)
		if err != nil {
			w.refused(c, err)
			return
		}
		if len(clients) > 0 {
			g := hits{Kind: "Clients"}
			for _, k := range clients {
				g.Of = append(g.Of,
					find.Doc{
						Title: k.Client.Client.Name,
						Sub:   w.Library.Conditions.Words(k.Client.Client),
						Link:  "/clients/" + url.PathEscape(k.ID),
					},
				)
			}
			if all > len(clients) {
				g.More = "/clients?" + url.Values{"q": {q}}.Encode()
			}
			groups = append(groups, g)
		}
	}
	who := visitorOf(c)
	for _, h := range found { // in the order in which the best of each kind came
		if h.Kind == "Pages" && !who.Role.May(w.takes[h.Link]) { // not for this role
			continue
		}
		i := slices.IndexFunc(groups, func(g hits) bool { return g.Kind == h.Kind })
		if i < 0 {
			i = len(groups)
			groups = append(groups, hits{Kind: h.Kind})
		}
		if len(groups[i].Of) < mostHits {
			groups[i].Of = append(groups[i].Of, h.Doc)
		} else if h.Kind == "Exercises" {
			groups[i].More = "/library?" + url.Values{"words": {q}}.Encode()
		}
	}
	if words := strings.Fields(q); len(words) > 0 {
		some, _, err := w.Store.RecordsWith(c.Request.Context(), words, "1990-01-01", "9999", 0, 4)
		if err != nil {
			w.refused(c, err)
			return
		}
		g := hits{Kind: "Records"}
		for _, r := range some {
			if !slices.ContainsFunc(g.Of, func(d find.Doc) bool { return d.Link == "/records/"+r.ID }) {
				g.Of = append(g.Of,
					find.Doc{Title: r.Name + ", " + dateWords(r.On), Sub: "taught " + ago(r.On, w.Today()), Link: "/records/" + r.ID},
				)
			}
		}
		if len(g.Of) > 0 {
			g.More = "/records?" + url.Values{"q": {q}, "from": {"1990-01-01"}}.Encode()
			groups = append(groups, g)
		}
	}
	w.pages.render(c, http.StatusOK, "search", gin.H{"Q": q, "Groups": groups, "Meant": meant})
}
