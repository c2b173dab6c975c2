package web

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"image/png"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/formats"
	"restbend/store"
)

// Who works here: the first owner, one's own page, and the owner's pages of everybody and
// of what was done.

// waitWords say how long to wait.
func waitWords(d time.Duration) string {
	if d > 90*time.Second {
		return fmt.Sprintf("%d minutes", int(d.Minutes()+0.5))
	}
	return fmt.Sprintf("%d seconds", int(d.Seconds()+0.999))
}

func waitSeconds(d time.Duration) string { return strconv.Itoa(int(d.Seconds() + 0.999)) }

// firstPage asks who owns a studio that has nobody yet.
func (w *site) firstPage(c *gin.Context) { w.showFirst(c, http.StatusOK, "") }

func (w *site) showFirst(c *gin.Context, status int, refusal string) {
	all, err := w.Store.People(c.Request.Context())
	if err != nil {
		w.refused(c, err)
		return
	}
	if len(all) > 0 {
		c.Redirect(http.StatusSeeOther, "/sign-in")
		return
	}
	here := loopbackHost(c.Request.RemoteAddr) && !w.setup.Secure
	w.pages.render(c, status, "first", gin.H{"Refusal": refusal, "Here": here, "Shortest": app.Shortest, "Word": c.Query("word")})
}

func (w *site) first(c *gin.Context) {
	here := loopbackHost(c.Request.RemoteAddr) && !w.setup.Secure
	if !here && (w.setup.Word == "" || c.PostForm("word") != w.setup.Word) {
		w.showFirst(c,
			http.StatusUnprocessableEntity,
			"The first word is not the one that the program wrote when it started. Nothing was saved.",
		)
		return
	}
	if c.PostForm("password") != c.PostForm("again") {
		w.showFirst(c, http.StatusUnprocessableEntity, "Password: the two differ. Nothing was saved.")
		return
	}
	id, err := w.idempotent(c, func(ctx context.Context) (string, error) {
		return w.Begin(ctx,
			c.PostForm("studio"),
			store.Person{Name: c.PostForm("name"), Login: c.PostForm("login")},
			c.PostForm("password"),
		)
	})
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showFirst(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	p, err := w.Store.Person(c.Request.Context(), id)
	if err == nil {
		err = w.letIn(c, p)
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/")
}

// me is one's own page: how one signs in.
func (w *site) me(c *gin.Context) { w.showMe(c, http.StatusOK, "") }

func (w *site) showMe(c *gin.Context, status int, refusal string) {
	who := visitorOf(c)
	page := gin.H{
		"Who":      who,
		"Refusal":  refusal,
		"Done":     c.Query("done"),
		"Idle":     w.idleMinutes(c.Request.Context()),
		"Shortest": app.Shortest,
	}
	if who.Once == "" && !who.Demo {
		secret, address, err := app.NewOnce(w.Store.Setting(c.Request.Context(), "studio"), who.Login)
		if given := c.PostForm("secret"); given != "" && err == nil { // a wrong code keeps the picture
			secret = given
			address = "otpauth://totp/" + url.PathEscape("Rest Bend:"+who.Login) + "?" + url.Values{
				"secret": {secret},
				"issuer": {"Rest Bend"},
			}.Encode()
		}
		picture, err2 := oncePicture(address)
		if err := errors.Join(err, err2); err != nil {
			w.refused(c, err)
			return
		}
		page["Secret"], page["Picture"] = secret, picture
	}
	w.pages.render(c, status, "me", page)
}

// oncePicture is a picture that a telephone reads the secret of one-time codes from.
func oncePicture(address string) (template.URL, error) {
	key, err := app.OncePicture(address)
	if err != nil {
		return "", err
	}
	img, err := key.Image(220, 220)
	if err != nil {
		return "", err
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		return "", err
	}
	return template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(b.Bytes())), nil
}

func (w *site) changeMe(c *gin.Context) {
	who := visitorOf(c)
	if who.Demo {
		w.showMe(c, http.StatusUnprocessableEntity, "In the demo nobody signs in, so there is nothing to change here.")
		return
	}
	again := c.PostForm("again")
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		now := c.PostForm("now")
		switch c.Param("what") {
		case "password":
			if c.PostForm("password") != again {
				return &formats.Invalid{Path: "password", Want: "the two differ"}
			}
			return w.ChangePassword(ctx, who.ID, now, c.PostForm("password"))
		case "short":
			return w.SetShort(ctx, who.ID, now, c.PostForm("short"))
		case "once":
			return w.SetOnce(ctx, who.ID, now, c.PostForm("secret"), c.PostForm("code"))
		case "everywhere":
			return w.SignOutEverywhere(ctx, who.ID)
		}
		return store.ErrNotFound
	})
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showMe(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	p, err := w.Store.Person(c.Request.Context(), who.ID)
	if err == nil {
		err = w.letIn(c, p) // this session goes on
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/me?done="+url.QueryEscape(c.Param("what")))
}

// people are all who work in the studio.
func (w *site) people(c *gin.Context) { w.showPeople(c, http.StatusOK, "") }

func (w *site) showPeople(c *gin.Context, status int, refusal string) {
	all, err := w.Store.People(c.Request.Context())
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, status, "people", gin.H{"People": all, "Roles": app.Roles, "Refusal": refusal, "Shortest": app.Shortest})
}

func (w *site) addPerson(c *gin.Context) {
	id, err := w.idempotent(c, func(ctx context.Context) (string, error) {
		return w.AddPerson(ctx,
			store.Person{Name: c.PostForm("name"), Login: c.PostForm("login"), Role: c.PostForm("role")},
			c.PostForm("password"),
		)
	})
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showPeople(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/people/"+url.PathEscape(id))
}

// with is a client whom somebody works with, or may.
type with struct {
	ID, Name string
	On       bool
}

func (w *site) person(c *gin.Context) { w.showPerson(c, http.StatusOK, "") }

func (w *site) showPerson(c *gin.Context, status int, refusal string) {
	p, err := w.Store.Person(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	hers, err := w.Store.ClientsOfLate(store.As(c.Request.Context(), store.Actor{Person: p.ID}), -1)
	if err != nil {
		w.refused(c, err)
		return
	}
	var ids []string
	on := map[string]bool{}
	for _, k := range hers {
		ids, on[k.ID] = append(ids, k.ID), true
	}
	all, err := w.choices(c.Request.Context(), ids...)
	if err != nil {
		w.refused(c, err)
		return
	}
	var clients []with
	for _, k := range all {
		clients = append(clients, with{k.ID, k.Client.Name, on[k.ID]})
	}
	w.pages.render(c,
		status,
		"person",
		gin.H{
			"Person":   p,
			"Roles":    app.Roles,
			"Clients":  clients,
			"All":      app.RoleOf(p.Role).May(app.Keep),
			"Sees":     app.RoleOf(p.Role).May(app.Read),
			"Refusal":  refusal,
			"Done":     c.Query("done"),
			"Shortest": app.Shortest,
		},
	)
}

func (w *site) changePerson(c *gin.Context) {
	id := c.Param("id")
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		switch c.Param("what") {
		case "who":
			return w.ChangePerson(ctx, id, c.PostForm("name"), c.PostForm("login"), c.PostForm("role"))
		case "clients":
			return w.WorksWith(ctx, id, c.PostFormArray("shown"), c.PostFormArray("client"))
		case "password":
			return w.GivePassword(ctx, id, c.PostForm("password"))
		case "away":
			return w.Leave(ctx, id, c.PostForm("back") == "")
		}
		return store.ErrNotFound
	})
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showPerson(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/people/"+url.PathEscape(id)+"?done="+url.QueryEscape(c.Param("what")))
}

// pageOfTrail is how many lines of the trail a page has.
const pageOfTrail = 100

// trailLine is a line of the trail with the client's name, if the client is still there.
type trailLine struct {
	store.Line
	Client string
}

// trail shows who did what, of one client or of all.
func (w *site) trail(c *gin.Context) {
	before, _ := strconv.ParseInt(c.Query("before"), 10, 64) // or the last ones
	of := c.Query("client")
	lines, err := w.Store.Trail(c.Request.Context(), of, before, pageOfTrail+1)
	if err != nil {
		w.refused(c, err)
		return
	}
	n, seal, err := w.Store.CheckTrail(c.Request.Context())
	broken := ""
	if errors.Is(err, store.ErrTrail) {
		broken, err = app.Capital(err.Error()), nil
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	next := ""
	if len(lines) > pageOfTrail {
		lines = lines[:pageOfTrail]
		next = "/trail?" + url.Values{"client": {of}, "before": {strconv.FormatInt(lines[pageOfTrail-1].Seq, 10)}}.Encode()
	}
	names := map[string]string{}
	rows := make([]trailLine, len(lines))
	for i, l := range lines {
		if _, known := names[l.Client]; !known && l.Client != "" {
			k, err := w.Store.Client(c.Request.Context(), l.Client)
			switch {
			case err == nil:
				names[l.Client] = k.Client.Name
			case errors.Is(err, store.ErrNotFound):
				names[l.Client] = "a client who was erased"
			default:
				w.refused(c, err)
				return
			}
		}
		rows[i] = trailLine{l, names[l.Client]}
	}
	w.pages.render(c,
		http.StatusOK,
		"trail",
		gin.H{"Lines": rows, "Of": of, "Name": names[of], "Next": next, "Count": n, "Seal": seal[:min(len(seal), 16)], "Broken": broken},
	)
}
