package web

import (
	"errors"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"restbend/app"
	"restbend/store"
)

// Signing in and out, locking and unlocking, and what was sent in vain meanwhile.

// field is one that was sent and is kept until it can be sent again.
type field struct{ Name, Value string }

// doorPage is where one signs in or unlocks.
type doorPage struct {
	Locked    bool
	To, Login string
	Refusal   string
	Fields    []field // of a form that was sent in vain
	Path      string  // where it was sent to
	Person    string
	Studio    string
	Demo      bool
}

func (w *site) showDoor(c *gin.Context, status int, p doorPage) {
	p.Person, p.Studio, p.Demo = visitorOf(c).Name, w.Store.Setting(c.Request.Context(), "studio"), w.setup.Demo
	w.pages.render(c, status, "door", p)
}

func (w *site) signInPage(c *gin.Context) {
	w.showDoor(c, http.StatusOK, doorPage{To: onward(c.Query("to"))})
}

// carried are the fields that a form brought along to be sent again.
func carried(c *gin.Context) []field {
	var out []field
	for name, values := range c.Request.PostForm {
		if of, ok := strings.CutPrefix(name, "carried."); ok {
			for _, v := range values {
				out = append(out, field{of, v})
			}
		}
	}
	return out
}

func (w *site) signIn(c *gin.Context) {
	login, p := c.PostForm("login"), doorPage{
		To:     onward(c.PostForm("to")),
		Login:  c.PostForm("login"),
		Fields: carried(c),
		Path:   onward(c.PostForm("path")),
	}
	if wait := w.tries.wait(w.Now(), "in "+strings.ToLower(login), "from "+c.ClientIP()); wait > 0 {
		p.Refusal = "Too many tries. Wait " + waitWords(wait) + ", then try once more."
		c.Header("Retry-After", waitSeconds(wait))
		w.showDoor(c, http.StatusTooManyRequests, p)
		return
	}
	who, err := w.SignIn(c.Request.Context(), login, c.PostForm("password"), c.PostForm("code"), func(person, code string) bool {
		used, _ := w.used.ContainsOrAdd(person+" "+code, struct{}{})
		return used
	})
	if errors.Is(err, app.ErrNotLetIn) {
		w.tries.failed(w.Now(), "in "+strings.ToLower(login), "from "+c.ClientIP())
		if err := w.Store.Note(c.Request.Context(), store.Actor{Name: "somebody", Doing: "was not let in", At: w.Now()}); err != nil {
			w.log.Error("trail", "request", c.GetString("request"), "cause", err)
		}
		p.Refusal = app.Capital(err.Error()) + "."
		w.showDoor(c, http.StatusUnprocessableEntity, p)
		return
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	w.tries.succeeded("in " + strings.ToLower(login))
	if err := w.letIn(c, who); err != nil {
		w.refused(c, err)
		return
	}
	w.goOn(c, p)
}

// letIn begins a session of somebody.
func (w *site) letIn(c *gin.Context, who store.Person) error {
	ctx := c.Request.Context()
	if err := w.sessions.RenewToken(ctx); err != nil {
		return err
	}
	w.sessions.Put(ctx, "person", who.ID)
	w.sessions.Put(ctx, "epoch", who.Epoch)
	w.sessions.Put(ctx, "seen", w.Now().Unix())
	w.sessions.Remove(ctx, "locked")
	w.sessions.Remove(ctx, "left")
	if err := w.saveSession(c); err != nil {
		return err
	}
	return w.Store.Note(c.Request.Context(), store.Actor{Person: who.ID, Name: who.Name, Doing: "signed in", At: w.Now()})
}

// goOn leads on, or offers to send again what was sent in vain.
func (w *site) goOn(c *gin.Context, p doorPage) {
	if len(p.Fields) > 0 {
		w.pages.render(c, http.StatusOK, "again", p)
		return
	}
	c.Redirect(http.StatusSeeOther, p.To)
}

func (w *site) lockedPage(c *gin.Context) {
	w.showDoor(c, http.StatusOK, doorPage{Locked: true, To: onward(c.Query("to"))})
}

// lock locks the screen at hand.
func (w *site) lock(c *gin.Context) {
	w.sessions.Put(c.Request.Context(), "locked", true)
	if err := w.saveSession(c); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/locked?to="+url.QueryEscape(onward(c.PostForm("to"))))
}

func (w *site) unlock(c *gin.Context) {
	who := visitorOf(c)
	p := doorPage{Locked: true, To: onward(c.PostForm("to")), Fields: carried(c), Path: onward(c.PostForm("path"))}
	ctx := c.Request.Context()
	opens, err := w.Unlocks(c.Request.Context(), who.ID, c.PostForm("code"))
	if err != nil {
		w.refused(c, err)
		return
	}
	if !opens {
		tries := w.sessions.GetInt(ctx, "tries") + 1
		w.sessions.Put(ctx, "tries", tries)
		w.sessions.Put(ctx, "locked", true)
		p.Refusal = "That is neither your short code nor your password."
		if tries >= 5 {
			if err := w.sessions.Destroy(ctx); err != nil {
				w.refused(c, err)
				return
			}
			p.Locked, p.Refusal = false, "Five wrong codes: sign in with your password."
		}
		if err := w.saveSession(c); err != nil {
			w.refused(c, err)
			return
		}
		w.showDoor(c, http.StatusUnprocessableEntity, p)
		return
	}
	w.sessions.Remove(ctx, "locked")
	w.sessions.Remove(ctx, "tries")
	w.sessions.Put(ctx, "seen", w.Now().Unix())
	if err := w.saveSession(c); err != nil {
		w.refused(c, err)
		return
	}
	w.goOn(c, p)
}

// signOut ends the session and asks the browser to forget what it holds.
func (w *site) signOut(c *gin.Context) {
	who := visitorOf(c)
	err := w.sessions.Destroy(c.Request.Context())
	if err == nil && who.Demo { // or the demo would sign in again at once
		w.sessions.Put(c.Request.Context(), "left", "yes")
	}
	if err == nil {
		err = w.saveSession(c)
	}
	if err == nil && who.ID != "" {
		err = w.Store.Note(c.Request.Context(), store.Actor{Person: who.ID, Name: who.Name, Doing: "signed out", At: w.Now()})
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	forgetAll(c)
	c.Redirect(http.StatusSeeOther, "/sign-in")
}

// forgetAll asks the browser to forget pages, lessons and marks of this site.
func forgetAll(c *gin.Context) { c.Header("Clear-Site-Data", `"cache", "storage"`) }

// demoIn lets the owner of the demo in again.
func (w *site) demoIn(c *gin.Context) {
	if !w.setup.Demo {
		fail(c, http.StatusNotFound, "There is no such page. The address may be mistyped, or what it showed is gone.")
		return
	}
	if err := w.sessions.Destroy(c.Request.Context()); err != nil {
		w.refused(c, err)
		return
	}
	if err := w.saveSession(c); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/")
}

// tries are failures to get in, by name and by address: after five for a name, and twenty
// from an address, each one more doubles the wait, to a quarter of an hour at most.
type tries struct {
	sync.Mutex
	of *lru.Cache[string, failures]
}

type failures struct {
	n     int
	until time.Time
}

func newTries() *tries { return &tries{of: bounded[string, failures](10000)} }

func (t *tries) wait(now time.Time, keys ...string) time.Duration {
	t.Lock()
	defer t.Unlock()
	longest := time.Duration(0)
	for _, k := range keys {
		f, _ := t.of.Get(k)
		longest = max(longest, f.until.Sub(now))
	}
	return longest
}

func (t *tries) failed(now time.Time, keys ...string) {
	t.Lock()
	defer t.Unlock()
	for _, k := range keys {
		f, _ := t.of.Get(k)
		free := 5
		if strings.HasPrefix(k, "from ") { // a house may have one address
			free = 20
		}
		if f.n++; f.n >= free {
			f.until = now.Add(min(15*time.Minute, 15*time.Second<<min(f.n-free, 6)))
		}
		t.of.Add(k, f)
	}
}

func (t *tries) succeeded(key string) {
	t.Lock()
	defer t.Unlock()
	t.of.Remove(key)
}
