package web

import (
	"context"
	"html/template"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/draw"
	"restbend/store"
)

// What a day allows, as one line on every page that plans or teaches.

// dayLine is that line: the mark with its word, why, whom to tell and what to do instead.
type dayLine struct {
	Status  string
	Word    string
	Mark    template.HTML
	Because []string
	Tell    []readiness.Message
	Instead []string
	Asks    []dayAsk
	// Client is whose line it is, where its questions can be answered on the page.
	Client string
	By     string // who answers
	Today  string
	Asked  bool           // warning signs were asked about
	Flags  []standingFlag // that no clinician has cleared
	// Quiet leaves out a day that is ready.
	Quiet bool
}

// dayAsk is a question, with how it is answered.
type dayAsk struct {
	readiness.Question
	Text  bool // it is about a find in free text
	Agree int  // the number of the other condition from 1 that it is about
}

// standingFlag is a warning sign that stands.
type standingFlag struct{ ID, Name string }

// dayOf is the line of a client's day. With questions and forms it is for the client's own
// page.
func (w *site) dayOf(r readiness.Readiness) dayLine {
	d := dayLine{Status: string(r.Status), Word: dayWord(r), Mark: template.HTML(draw.SVGDay(string(r.Status))), Tell: r.Tell,
		Instead: r.Instead}
	for _, b := range r.Because {
		d.Because = append(d.Because, b.Text)
	}
	for _, q := range r.Asks {
		a := dayAsk{Question: q, Text: q.Found != "" && !strings.HasPrefix(q.Field, "pain") && !strings.Contains(q.Field, ".")}
		if n, ok := strings.CutPrefix(q.Field, "other_conditions["); ok && strings.HasPrefix(q.Question, "Who has agreed") {
			i, err := strconv.Atoi(strings.TrimSuffix(n, "]"))
			if err == nil {
				a.Agree, a.Text = i+1, false
			}
		}
		d.Asks = append(d.Asks, a)
	}
	return d
}

// dayWord is the word of a status, with where to where that is known.
func dayWord(r readiness.Readiness) string {
	if r.Status != readiness.Refer {
		return string(r.Status)
	}
	for _, m := range r.Tell {
		switch m.Who {
		case "emergency":
			return "refer: emergency, now"
		case "doctor":
			if m.When == "today" {
				return "refer: a doctor, today"
			}
		}
	}
	return "refer"
}

// clientDay is the line with what can be answered on the client's page.
func (w *site) clientDay(c *gin.Context, k store.Client, r readiness.Readiness) dayLine {
	d := w.dayOf(r)
	d.Client, d.By, d.Today, d.Asked = k.ID, visitorOf(c).Name, w.Today().String(), k.Client.RedFlags != nil
	for _, id := range k.Client.OpenFlags(w.Today()) {
		name := strings.ReplaceAll(id, "_", " ")
		if f, known := limit.FindRedFlag(id); known {
			name = f.Name
		}
		d.Flags = append(d.Flags, standingFlag{id, name})
	}
	return d
}

// askedAll, answerText, agreed and clearFlag take the answers of a client's page.
func (w *site) askedAll(c *gin.Context) {
	w.changeReadiness(c, w.idempotentOnly(c, func(ctx context.Context) error { return w.AskedAll(ctx, c.Param("id")) }))
}

func (w *site) answerText(c *gin.Context) {
	answer := strings.TrimSpace(c.PostForm("words"))
	if answer == "" {
		answer = c.PostForm("answer")
	}
	w.changeReadiness(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.AnswerText(ctx, c.Param("id"), limit.Answer{Field: c.PostForm("field"), Found: c.PostForm("found"), Answer: answer,
			By: c.PostForm("by")})
	}))
}

func (w *site) agreed(c *gin.Context) {
	n, err := strconv.Atoi(c.PostForm("n"))
	if err != nil {
		n = 0
	}
	w.changeReadiness(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Agree(ctx, c.Param("id"), n-1, limit.Agreed{By: c.PostForm("by"), On: c.PostForm("on"),
			Note: strings.TrimSpace(c.PostForm("note"))})
	}))
}

func (w *site) clearFlag(c *gin.Context) {
	w.changeReadiness(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.ClearFlag(ctx, c.Param("id"), limit.FlagCleared{Flag: c.PostForm("flag"), By: c.PostForm("by"), On: c.PostForm("on"),
			Said: c.PostForm("said")})
	}))
}

// changeReadiness leads back to where the answer was given, or shows the client with what
// was wrong.
func (w *site) changeReadiness(c *gin.Context, err error) {
	if err == nil {
		to := "/clients/" + c.Param("id")
		if back := c.PostForm("back"); back != "" {
			to = onward(back)
		}
		c.Redirect(http.StatusSeeOther, to)
		return
	}
	w.changeClearances(c, err)
}

// notToday shows why there is no lesson on a day and what to do instead.
func (w *site) notToday(c *gin.Context, k store.Client, r readiness.Readiness) {
	w.pages.render(c, http.StatusUnprocessableEntity, "nottoday", gin.H{"Client": k, "Day": w.clientDay(c, k, r), "Call": w.CallWhen()})
}
