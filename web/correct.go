package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/lesson"
	"restbend/formats"
	"restbend/store"
)

// A record is put right by addition: what it said stays beside it, struck through.

// correctForm asks what was otherwise.
func (w *site) correctForm(c *gin.Context) { w.showCorrect(c, http.StatusOK, "") }

func (w *site) showCorrect(c *gin.Context, status int, refusal string) {
	r, err := w.Store.Record(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	client, err := w.Store.Client(c.Request.Context(), r.ClientID)
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, status, "correct", gin.H{"Record": r, "Client": client, "Ended": endedWords, "Refusal": refusal})
}

// correct adds what the form says to the record.
func (w *site) correct(c *gin.Context) {
	r, err := w.Store.Record(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	k := store.Correction{By: c.PostForm("by"), Why: c.PostForm("why")}
	if k.Record, err = readCorrected(c, r.Record); err == nil {
		err = w.idempotentOnly(c, func(ctx context.Context) error { return w.Correct(ctx, r.ID, k) })
	}
	w.added(c, err, w.showCorrect, "")
}

// added ends what was added to a record: the record, or the form again with the reason.
func (w *site) added(c *gin.Context, err error, again func(*gin.Context, int, string), part string) {
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid):
		_, sentence := w.sentence(c, err)
		again(c, http.StatusUnprocessableEntity, sentence)
	case err != nil:
		w.refused(c, err)
	default:
		c.Redirect(http.StatusSeeOther, "/records/"+c.Param("id")+part)
	}
}

// readCorrected is the record as the form says it was.
func readCorrected(c *gin.Context, r lesson.Record) (lesson.Record, error) {
	var err error
	for _, p := range []struct {
		field, words string
		into         **int
	}{{"before", "pain before", &r.Pain.Before}, {"during", "pain during", &r.Pain.During}, {"after", "pain after", &r.Pain.After}} {
		if *p.into, err = painField(c, p.field, p.words); err != nil {
			return r, err
		}
	}
	r.Notes, r.Items = strings.TrimSpace(c.PostForm("notes")), slices.Clone(r.Items)
	for i := range r.Items {
		it := &r.Items[i]
		at := strconv.Itoa(i + 1)
		name := strings.TrimSpace(it.Name + " " + it.Side)
		if it.Ended = c.PostForm("ended-" + at); !slices.ContainsFunc(endedWords, func(e endedWord) bool { return e.ID == it.Ended }) {
			return r, &formats.Invalid{Path: name, Want: fmt.Sprintf("how it ended is not known: %q", it.Ended)}
		}
		typed := strings.TrimSpace(c.PostForm("repetitions-" + at))
		if it.Repetitions, err = strconv.Atoi(typed); err != nil || it.Repetitions < 0 || it.Repetitions > 500 {
			return r, &formats.Invalid{
				Path: name,
				Want: fmt.Sprintf("expected repetitions as a whole number from 0 to 500, found %q", typed),
			}
		}
		typed = c.PostForm("seconds-" + at)
		seconds, ok := readNumber(typed)
		if !ok || seconds < 0 || seconds > 3600 {
			return r, &formats.Invalid{Path: name, Want: fmt.Sprintf("expected seconds from 0 to 3600, found %q", typed)}
		}
		if typed != fmt.Sprintf("%.0f", it.Seconds) { // as it was shown
			it.Seconds = seconds
		}
		if it.Skipped = it.Repetitions == 0 && it.Seconds == 0; it.Skipped {
			it.Sets = 0
		} else if it.Sets == 0 {
			it.Sets = 1
		}
		if it.Skipped && it.Ended == "done" {
			return r, &formats.Invalid{
				Path: name,
				Want: "nothing of it was done, and it ended clean; expected how far it went, or left out",
			}
		}
	}
	return r, nil
}

// was is a value of a record: what it was before, where it was corrected, and what it is.
type was struct {
	Before []string // struck through, oldest first
	Now    string
}

// history is a value through the corrections of a record.
func history(r store.Record, value func(lesson.Record) string) was {
	w := was{Now: value(r.Record)}
	for i, k := range r.Corrections {
		before, after := value(k.Was), w.Now
		if i+1 < len(r.Corrections) {
			after = value(r.Corrections[i+1].Was)
		}
		if before != after {
			w.Before = append(w.Before, before)
		}
	}
	return w
}

// painWas are the pain figures of a record with what stood before.
func painWas(r store.Record) map[string]was {
	of := func(value func(lesson.Pain) *int) was {
		return history(r, func(x lesson.Record) string {
			if v := value(x.Pain); v != nil {
				return strconv.Itoa(*v)
			}
			return "not said"
		})
	}
	return map[string]was{
		"Before": of(func(p lesson.Pain) *int { return p.Before }),
		"During": of(func(p lesson.Pain) *int { return p.During }),
		"After":  of(func(p lesson.Pain) *int { return p.After }),
	}
}

// addNote adds a sentence to a record.
func (w *site) addNote(c *gin.Context) {
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		return w.AddNote(ctx, c.Param("id"), store.Note{By: c.PostForm("by"), Text: c.PostForm("note")})
	})
	w.added(c, err, w.showRecord, "#notes")
}
