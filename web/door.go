package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"restbend/app"
	"restbend/copies"
	"restbend/store"
)

// The door: who is let in, to what, and what the trail says of it. Every request passes it.

// Setup is what a site is given beside its studio.
type Setup struct {
	Post     Post
	Figures  *Figures         // nil: the site has its own
	Sessions scs.Store        // nil: they are forgotten with the program
	Demo     bool             // whoever asks on this machine is the owner
	Secure   bool             // it is reached by TLS alone
	Names    []string         // it is reached by beside this machine's own
	Proxies  []string         // whose word on the reader's address holds
	Word     string           // what the first owner must show from elsewhere than this machine
	Follower *copies.Follower // nil where changes are not written elsewhere at once
	Copies   *copies.Keeper   // nil where none are made
}

// How long somebody stays signed in, and how often her being there is noted.
const (
	signedIn  = 12 * time.Hour
	noted     = time.Minute
	usualIdle = 20 // minutes until a screen is locked
)

func newSessions(u Setup) *scs.SessionManager {
	m := scs.New()
	if u.Sessions != nil {
		m.Store = u.Sessions
	}
	m.Lifetime = signedIn
	m.HashTokenInStore = true
	m.Cookie.Name, m.Cookie.HttpOnly, m.Cookie.SameSite, m.Cookie.Secure, m.Cookie.Path = "restbend", true, http.SameSiteLaxMode, u.Secure, "/"
	if u.Secure {
		m.Cookie.Name = "__Host-restbend"
	}
	return m
}

// visitor is who asks.
type visitor struct {
	store.Person
	Role   app.Role
	Demo   bool // let in without signing in
	Locked bool
}

// Reads says that she looks and changes nothing.
func (v visitor) Reads() bool { return v.Role.May(app.Read) && !v.Role.May(app.Work) }

// Sees says that she has clients to look at; Keeps, that she looks after the studio.
func (v visitor) Sees() bool  { return v.Role.May(app.Read) }
func (v visitor) Keeps() bool { return v.Role.May(app.Keep) }

// visitorOf is who asks; nobody before the door.
func visitorOf(c *gin.Context) visitor {
	v, _ := c.Get("visitor")
	who, _ := v.(visitor)
	return who
}

// recognise finds out who asks, from her session.
func (w *site) recognise(c *gin.Context) (visitor, bool, error) {
	token, _ := c.Cookie(w.sessions.Cookie.Name) // none is a new session
	ctx, err := w.sessions.Load(c.Request.Context(), token)
	if err != nil {
		return visitor{}, false, err
	}
	c.Request = c.Request.WithContext(ctx)
	if id := w.sessions.GetString(ctx, "person"); id != "" {
		p, err := w.Store.Person(ctx, id)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return visitor{}, false, err
		}
		if err == nil && p.Gone == "" && p.Epoch == w.sessions.GetInt(ctx, "epoch") {
			v := visitor{Person: p, Role: app.RoleOf(p.Role)}
			return v, true, w.stillThere(c, &v)
		}
	}
	if w.setup.Demo && loopbackHost(c.Request.RemoteAddr) && w.sessions.GetString(ctx, "left") == "" {
		v := visitor{Demo: true, Role: app.RoleOf("owner")}
		all, err := w.Store.People(ctx)
		for _, p := range all {
			if p.Role == "owner" && p.Gone == "" {
				v.Person = p
				break
			}
		}
		return v, true, err
	}
	return visitor{}, false, nil
}

// stillThere notes that somebody is there, or finds her screen locked.
func (w *site) stillThere(c *gin.Context, v *visitor) error {
	ctx := c.Request.Context()
	now, seen := w.Now(), time.Unix(w.sessions.GetInt64(ctx, "seen"), 0)
	if v.Locked = w.sessions.GetBool(ctx, "locked") || now.Sub(seen) > time.Duration(w.idleMinutes(ctx))*time.Minute; v.Locked {
		return nil
	}
	if now.Sub(seen) > noted || seen.After(now) {
		w.sessions.Put(ctx, "seen", now.Unix())
		return w.saveSession(c)
	}
	return nil
}

func (w *site) idleMinutes(ctx context.Context) int {
	n, ok := readNumber(w.Store.Setting(ctx, "idle_minutes"))
	if !ok || n < 1 || n > 240 {
		return usualIdle
	}
	return int(n)
}

// saveSession keeps a session that was changed, and gives the browser its cookie.
func (w *site) saveSession(c *gin.Context) error {
	ctx := c.Request.Context()
	if w.sessions.Status(ctx) == scs.Destroyed {
		w.sessions.WriteSessionCookie(ctx, c.Writer, "", time.Time{})
		return nil
	}
	token, until, err := w.sessions.Commit(ctx)
	if err == nil {
		w.sessions.WriteSessionCookie(ctx, c.Writer, token, until)
	}
	return err
}

// door lets those in who have the right, to what is about clients that they work with.
func (w *site) door(r route) gin.HandlerFunc {
	kind := ""
	if part := strings.Split(r.path, "/"); len(part) > 2 && part[2] == ":id" {
		switch part[1] {
		case "clients", "plans", "records", "homes", "classes", "intakes":
			kind = part[1]
		}
	}
	return func(c *gin.Context) {
		v, in, err := w.recognise(c)
		if err != nil {
			w.refused(c, err)
			return
		}
		c.Set("visitor", v)
		if r.right == app.Anybody {
			return
		}
		switch {
		case !in:
			w.askIn(c)
			return
		case v.Locked && r.right != app.Own && !(r.method == http.MethodPost && strings.HasSuffix(r.path, "/marks")): // a lesson goes on
			w.askUnlock(c)
			return
		case !v.Role.May(r.right):
			fail(c, http.StatusForbidden, "You are here as "+v.Role.Words+", who "+v.Role.Does+".")
			return
		}
		a := store.Actor{Person: v.ID, Name: v.Name, All: v.Role.May(app.Keep), At: w.Now()}
		var about []string
		if kind != "" {
			about, err = w.Store.About(store.As(c.Request.Context(), a), kind, c.Param("id"))
			if err != nil {
				w.refused(c, err)
				return
			}
		}
		if len(about) > 0 {
			a.Client = about[0]
		}
		if c.Request.Method == http.MethodPost {
			a.Doing = r.says
			if r.right == app.Work && !strings.Contains(r.path, "/rights") && w.isRestricted(c, about) {
				return
			}
		}
		ctx := store.As(c.Request.Context(), a)
		if c.Request.Method == http.MethodPost {
			ctx = context.WithoutCancel(ctx) // a change is made, also when whoever asked for it has left
		}
		c.Request = c.Request.WithContext(ctx)
		if c.Next(); c.Writer.Status() >= http.StatusBadRequest || r.says == "" {
			return
		}
		for i, id := range about {
			if c.Request.Method == http.MethodGet || i > 0 {
				w.looked(c, a, id, r.says)
			}
		}
		if len(about) == 0 && c.Request.Method == http.MethodGet {
			w.looked(c, a, "", r.says)
		}
	}
}

// looked notes in the trail that somebody saw something of a client, once an hour.
func (w *site) looked(c *gin.Context, a store.Actor, client, says string) {
	key := strings.Join([]string{a.Person, client, says, a.At.Format("2006-01-02T15")}, " ")
	if known, _ := w.noticed.ContainsOrAdd(key, struct{}{}); known {
		return
	}
	a.Client, a.Doing = client, says
	if err := w.Store.Note(c.Request.Context(), a); err != nil {
		w.log.Error("trail", "request", c.GetString("request"), "cause", err)
	}
}

// isRestricted has refused to change what a client asked to be left alone.
func (w *site) isRestricted(c *gin.Context, about []string) bool {
	for _, id := range about {
		since, err := w.Store.Restricted(c.Request.Context(), id)
		if err != nil {
			w.refused(c, err)
			return true
		}
		if since != "" {
			fail(c, http.StatusConflict, "This client asked on "+dateWords(since[:min(len(since), 10)])+" that her data is kept and not used. Nothing was changed; her page on rights lifts it.")
			return true
		}
	}
	return false
}

// onward is where somebody goes after the door: a page of this site, or today.
func onward(to string) string {
	u, err := url.Parse(to)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") || strings.ContainsAny(to, "\\\n\r") {
		return "/"
	}
	return to
}

// askIn sends to where one signs in; what was being sent comes along.
func (w *site) askIn(c *gin.Context) {
	all, err := w.Store.People(c.Request.Context())
	if err != nil {
		w.refused(c, err)
		return
	}
	at := "/sign-in"
	if len(all) == 0 {
		at = "/first"
	}
	w.sendTo(c, at, "Sign in, and what you sent can be sent again.", http.StatusUnauthorized)
}

// askUnlock sends to where a screen is unlocked.
func (w *site) askUnlock(c *gin.Context) {
	w.sendTo(c, "/locked", "Your screen was locked while you were away. Nothing of what you sent is lost.", http.StatusLocked)
}

func (w *site) sendTo(c *gin.Context, at, says string, status int) {
	c.Abort()
	to := c.Request.URL.RequestURI()
	if c.GetHeader("HX-Request") == "true" {
		to = c.GetHeader("HX-Current-URL")
		if u, err := url.Parse(to); err == nil {
			to = u.RequestURI()
		}
		c.Header("HX-Redirect", at+"?to="+url.QueryEscape(onward(to)))
		c.Status(status)
		return
	}
	if c.Request.Method == http.MethodGet || c.Request.Method == http.MethodHead {
		c.Redirect(http.StatusSeeOther, at+"?to="+url.QueryEscape(to))
		return
	}
	if c.ContentType() == "application/json" {
		c.String(status, says)
		return
	}
	fields := []field{}
	for name, values := range c.Request.PostForm {
		for _, v := range values {
			fields = append(fields, field{name, v})
		}
	}
	w.showDoor(c, status, doorPage{Locked: at == "/locked", Fields: fields, Path: to, Refusal: says})
}

// field is one that was sent and is kept until it can be sent again.
type field struct{ Name, Value string }

// doorPage is where one signs in or unlocks.
type doorPage struct {
	Locked        bool
	To, Login     string
	Refusal       string
	Fields        []field // of a form that was sent in vain
	Path          string  // where it was sent to
	Person        string
	Studio        string
	Demo, Further bool
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
	login, p := c.PostForm("login"), doorPage{To: onward(c.PostForm("to")), Login: c.PostForm("login"), Fields: carried(c), Path: onward(c.PostForm("path"))}
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
	if err == nil && who.Demo { // or she would be let in again at once
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
