package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/lesson"
	"restbend/formats"
	"restbend/store"
)

// A lesson while it is taught: its marks, changes of the plan within it, and what other
// screens of the same lesson are told.

// hub passes what happens in lessons on to every page that shows them.
type hub struct {
	mu    sync.Mutex
	pages map[string]map[chan event]bool // by plan
	state map[string]json.RawMessage     // where each lesson stands, as its teacher's page said last
}

// event is one thing that a page is told.
type event struct {
	Kind string // state, marks, order or plan
	Data any
}

func newHub() *hub {
	return &hub{pages: map[string]map[chan event]bool{}, state: map[string]json.RawMessage{}}
}

func (h *hub) tell(plan string, e event) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for page := range h.pages[plan] {
		select {
		case page <- e:
		default: // a page that does not listen asks for everything when it comes back
		}
	}
}

func (h *hub) join(plan string) (page chan event, leave func()) {
	h.mu.Lock()
	defer h.mu.Unlock()
	page = make(chan event, 64)
	if h.pages[plan] == nil {
		h.pages[plan] = map[chan event]bool{}
	}
	h.pages[plan][page] = true
	if s, ok := h.state[plan]; ok {
		page <- event{"state", s}
	}
	return page, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.pages[plan], page)
	}
}

// follow streams what happens in a lesson as server-sent events.
func (w *site) follow(c *gin.Context) {
	if _, err := w.Store.Plan(c.Request.Context(), c.Param("id")); err != nil {
		w.refused(c, err)
		return
	}
	page, leave := w.hub.join(c.Param("id"))
	defer leave()
	h := c.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	out := http.NewResponseController(c.Writer)
	alive := time.NewTicker(15 * time.Second)
	defer alive.Stop()
	send := func(text string) bool {
		_ = out.SetWriteDeadline(time.Now().Add(20 * time.Second)) // where the server has one
		if _, err := io.WriteString(c.Writer, text); err != nil {
			return false
		}
		return out.Flush() == nil
	}
	if !send(fmt.Sprintf("event: time\ndata: %q\n\n", w.Now().UTC().Format(time.RFC3339Nano))) { // a tablet's clock may be wrong
		return
	}
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-alive.C:
			if !send(": here\n\n") {
				return
			}
		case e := <-page:
			b, err := json.Marshal(e.Data)
			if err != nil || !send(fmt.Sprintf("event: %s\ndata: %s\n\n", e.Kind, b)) {
				return
			}
		}
	}
}

// maxMarks is the largest call of marks that is read, in bytes.
const maxMarks = 1 << 20

// readJSON reads a JSON body; a refusal has been answered when it is false.
func (w *site) readJSON(c *gin.Context, into any) bool {
	b, err := io.ReadAll(c.Request.Body)
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		c.JSON(
			http.StatusRequestEntityTooLarge,
			gin.H{"error": fmt.Sprintf("what was sent is larger than %d KB; nothing of it was kept", maxMarks/1024)},
		)
		return false
	case err != nil:
		c.JSON(http.StatusBadRequest, gin.H{"error": "what was sent broke off; nothing of it was kept"})
		return false
	}
	if err := formats.ReadPlain(b, into); err != nil {
		c.JSON(http.StatusUnprocessableEntity, gin.H{"error": err.Error()})
		return false
	}
	return true
}

// answer says an error in JSON.
func (w *site) answer(c *gin.Context, err error) {
	status, sentence := w.sentence(c, err)
	c.AbortWithStatusJSON(status, gin.H{"error": sentence})
}

// addMarks keeps marks: 200 with the ids of all, or 422 with those that were kept and each
// that was refused.
func (w *site) addMarks(c *gin.Context) {
	var sent struct {
		Marks []json.RawMessage `json:"marks"`
	}
	if !w.readJSON(c, &sent) {
		return
	}
	if len(sent.Marks) > app.MostMarks {
		w.answer(c,
			&formats.Invalid{Path: "marks", Want: fmt.Sprintf("expected at most %d at once, found %d", app.MostMarks, len(sent.Marks))},
		)
		return
	}
	var marks []lesson.Mark
	var at []int // where each stood
	var unread []app.RefusedMark
	for i, raw := range sent.Marks {
		var m lesson.Mark
		if err := formats.ReadPlain(raw, &m); err != nil {
			var invalid *formats.Invalid
			errors.As(err, &invalid)
			unread = append(unread, app.RefusedMark{Index: i, Field: invalid.Path, Want: invalid.Want})
			continue
		}
		marks, at = append(marks, m), append(at, i)
	}
	kept, refused, err := w.KeepMarks(c.Request.Context(), c.Param("id"), marks)
	if err != nil {
		w.answer(c, err)
		return
	}
	for i := range refused {
		refused[i].Index = at[refused[i].Index]
	}
	refused = append(unread, refused...)
	if len(kept) > 0 {
		w.hub.tell(c.Param("id"), event{"marks", gin.H{"ids": kept, "from": c.GetHeader("X-Page")}})
	}
	if len(refused) > 0 {
		first := refused[0]
		c.JSON(
			http.StatusUnprocessableEntity,
			gin.H{"kept": kept, "refused": refused, "error": fmt.Sprintf("mark %d, %s: %s", first.Index, first.Field, first.Want)},
		)
		return
	}
	c.JSON(http.StatusOK, gin.H{"kept": kept})
}

// marks gives back all that is kept, in order.
func (w *site) marks(c *gin.Context) {
	if _, err := w.Store.Plan(c.Request.Context(), c.Param("id")); err != nil {
		w.answer(c, err)
		return
	}
	marks, err := w.Store.Marks(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.answer(c, err)
		return
	}
	c.JSON(http.StatusOK, gin.H{"marks": append([]lesson.Mark{}, marks...)})
}

// recordNow is the record folded from the marks as it stands.
func (w *site) recordNow(c *gin.Context) {
	r, err := w.RecordNow(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.answer(c, err)
		return
	}
	c.JSON(http.StatusOK, r)
}

// within changes the plan while it is taught and answers with the new lesson; what is
// barred is refused with the reason.
func (w *site) within(c *gin.Context) {
	var ask struct {
		Kind    string `json:"kind"`
		Item    string `json:"item"`
		Was     string `json:"was"`
		Variant string `json:"variant"`
		Minutes int    `json:"minutes"`
	}
	if !w.readJSON(c, &ask) {
		return
	}
	row, err := w.Store.Plan(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.answer(c, err)
		return
	}
	if ask.Item == "" {
		w.answer(c, &formats.Invalid{Path: "item", Want: "is missing; expected the id of an exercise of this plan"})
		return
	}
	e := app.Edit{Kind: ask.Kind, ID: ask.Item, Was: ask.Was, Variant: ask.Variant, Minutes: ask.Minutes, Teaching: true}
	if _, err := w.EditPlan(c.Request.Context(), row.ID, row.Revision, e); err != nil {
		w.answer(c, err)
		return
	}
	w.lessonNow(c)
	w.hub.tell(row.ID, event{"plan", gin.H{"from": c.GetHeader("X-Page")}})
}

// lessonNow answers with the lesson as it stands.
func (w *site) lessonNow(c *gin.Context) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	t, err := w.teaching(c.Request.Context(), row, client, r, visitorOf(c).Look)
	if err != nil {
		w.answer(c, err)
		return
	}
	c.JSON(http.StatusOK, t)
}

// stands takes where the lesson stands from the page that teaches it, and order what a
// remote control asks of that page; both are passed on and not kept.
func (w *site) stands(c *gin.Context) {
	var state json.RawMessage
	if !w.readJSON(c, &state) {
		return
	}
	if len(state) > 2000 {
		w.answer(c, &formats.Invalid{Path: "state", Want: "expected at most 2000 characters"})
		return
	}
	w.hub.mu.Lock()
	if len(w.hub.state) > 500 { // lessons of weeks ago
		clear(w.hub.state)
	}
	w.hub.state[c.Param("id")] = state
	w.hub.mu.Unlock()
	w.hub.tell(c.Param("id"), event{"state", state})
	c.Status(http.StatusNoContent)
}

// orders are what a remote control can ask for.
var orders = []string{"toggle", "next", "back", "side", "form", "pain"}

func (w *site) order(c *gin.Context) {
	var ask struct {
		Do string `json:"do"`
	}
	if !w.readJSON(c, &ask) {
		return
	}
	for _, o := range orders {
		if ask.Do == o {
			w.hub.tell(c.Param("id"), event{"order", ask})
			c.Status(http.StatusNoContent)
			return
		}
	}
	w.answer(c,
		&formats.Invalid{Path: "do", Want: fmt.Sprintf("%q is not known; expected one of %s", ask.Do, strings.Join(orders, ", "))},
	)
}

// addSeries keeps what a device measured.
func (w *site) addSeries(c *gin.Context) {
	var x store.Series
	if !w.readJSON(c, &x) {
		return
	}
	if err := w.KeepSeries(c.Request.Context(), c.Param("id"), x); err != nil {
		w.answer(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// secondScreen is what the client sees, and remote what the instructor holds.
func (w *site) secondScreen(c *gin.Context) { w.besideLesson(c, "screen") }

func (w *site) remote(c *gin.Context) { w.besideLesson(c, "remote") }

func (w *site) besideLesson(c *gin.Context, page string) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	t, err := w.teaching(c.Request.Context(), row, client, r, visitorOf(c).Look)
	if err != nil {
		w.refused(c, err)
		return
	}
	t.Marks = nil // nobody else's to see
	w.pages.render(c, http.StatusOK, page, gin.H{"Row": row, "Client": client, "Lesson": t})
}
