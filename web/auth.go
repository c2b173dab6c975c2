package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/backup"
	"restbend/store"
)

// The door: who is let in, to what, and what the trail says of it. Every request passes it.

// Setup is what a site is given beside its studio.
type Setup struct {
	Post     Post
	Figures  *Figures         // nil: the site has its own
	Sessions scs.Store        // nil: they are forgotten with the program
	Demo     bool             // whoever asks on this machine is the owner
	Filling  *Filling         // of the demo; nil for none
	Secure   bool             // it is reached by TLS alone
	Names    []string         // it is reached by beside this machine's own
	Proxies  []string         // whose word on the reader's address holds
	Word     string           // what the first owner must show from elsewhere than this machine
	Follower *backup.Follower // nil where changes are not written elsewhere at once
	Copies   *backup.Keeper   // nil where none are made
}

// How long somebody stays signed in, and how often their presence is noted.
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
	m.Cookie.Name, m.Cookie.HttpOnly, m.Cookie.SameSite, m.Cookie.Secure, m.Cookie.Path = "restbend", true, http.SameSiteLaxMode,
		u.Secure, "/"
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
	Look   app.Look
}

// Reads says that the person may look and change nothing.
func (v visitor) Reads() bool { return v.Role.May(app.Read) && !v.Role.May(app.Work) }

// Sees says that the person may see clients; Keeps, that they look after the studio.
func (v visitor) Sees() bool  { return v.Role.May(app.Read) }
func (v visitor) Keeps() bool { return v.Role.May(app.Keep) }

// visitorOf is who asks; nobody before the door.
func visitorOf(c *gin.Context) visitor {
	v, _ := c.Get("visitor")
	who, _ := v.(visitor)
	return who
}

// authenticate finds out who is asking, from the session.
func (w *site) authenticate(c *gin.Context) (visitor, bool, error) {
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
			v := visitor{Person: p, Role: app.RoleOf(p.Role), Look: w.LookOf(ctx, p.ID)}
			return v, true, w.extendSession(c, &v)
		}
	}
	if w.setup.Demo && loopbackHost(c.Request.RemoteAddr) && w.sessions.GetString(ctx, "left") == "" {
		v := visitor{Demo: true, Role: app.RoleOf("owner")}
		all, err := w.Store.People(ctx)
		for _, p := range all {
			if p.Role == "owner" && p.Gone == "" {
				v.Person, v.Look = p, w.LookOf(ctx, p.ID)
				break
			}
		}
		return v, true, err
	}
	return visitor{}, false, nil
}

// extendSession notes that somebody is there, or finds the screen locked.
func (w *site) extendSession(c *gin.Context, v *visitor) error {
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

// authorize lets those in who have the right, to what is about clients that they work with.
//
//revive:disable-next-line:cyclomatic One case for each way in, in the order that decides.
func (w *site) authorize(r route) gin.HandlerFunc {
	kind := ""
	if part := strings.Split(r.path, "/"); len(part) > 2 && part[2] == ":id" {
		switch part[1] {
		case "clients", "plans", "records", "homes", "classes", "intakes":
			kind = part[1]
		}
	}
	return func(c *gin.Context) {
		v, in, err := w.authenticate(c)
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
			w.toSignIn(c)
			return
		case v.Locked && r.right != app.Own && !(r.method == http.MethodPost && strings.HasSuffix(r.path, "/marks")): // a lesson goes on
			w.toUnlock(c)
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
		before := w.fileOf(c, kind, c.Param("id"))
		if c.Next(); c.Writer.Status() >= http.StatusBadRequest || r.says == "" {
			return
		}
		w.setFlash(c, r.says, kind, c.Param("id"), before)
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
			fail(c,
				http.StatusConflict,
				"This client asked on "+dateWords(
					since[:min(len(since), 10)],
				)+" that her data is kept and not used. Nothing was changed; her page on rights lifts it.",
			)
			return true
		}
	}
	return false
}

// onward is where somebody goes after the door: a page of this site, or today.
func onward(to string) string {
	u, err := url.Parse(to)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") ||
		strings.ContainsAny(to, "\\\n\r") {
		return "/"
	}
	return to
}

// toSignIn sends to where one signs in; what was being sent comes along.
func (w *site) toSignIn(c *gin.Context) {
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

// toUnlock sends to where a screen is unlocked.
func (w *site) toUnlock(c *gin.Context) {
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
