package main

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/gofrs/flock"

	"restbend/app"
	"restbend/backup"
	"restbend/demo"
	"restbend/formats"
	"restbend/mail"
	"restbend/store"
	"restbend/web"
)

// room is one studio that is open: its database, who is signed in, its copies, its pages.
type room struct {
	http.Handler
	db       *store.Store
	lock     *flock.Flock
	signed   *sql.DB
	sessions *sqlite3store.SQLite3Store
	follower *backup.Follower
	stop     context.CancelFunc
	work     sync.WaitGroup // what it does by itself
}

// openRoom opens the studio in a folder, followed to a target where one is named. What it does by itself ends with close.
func openRoom(ctx context.Context, dir string, judge *app.Judge, log *slog.Logger, u web.Setup, follow string) (*room, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	r := &room{lock: flock.New(filepath.Join(dir, "restbend.lock")), stop: func() {}}
	got, err := r.lock.TryLock()
	if err != nil {
		return nil, fmt.Errorf("locking the data folder: %w", err)
	}
	if !got {
		return nil, &formats.Invalid{
			Path: "--data",
			Want: fmt.Sprintf("another Rest Bend serves %s already; stop it first, or name another folder", dir),
		}
	}
	if err := r.open(ctx, dir, judge, log, u, follow); err != nil {
		return nil, errors.Join(err, r.close())
	}
	return r, nil
}

func (r *room) open(ctx context.Context, dir string, judge *app.Judge, log *slog.Logger, u web.Setup, follow string) (err error) {
	if r.db, err = store.Open(ctx, dir); err != nil {
		return plainly("--data", err)
	}
	if u.Demo {
		u.Filling = new(web.Filling)
		u.Filling.Say("The demo is being filled.")
		if err := demo.Begin(ctx, judge, r.db, time.Now()); err != nil {
			return fmt.Errorf("filling the demo: %w", err)
		}
	}
	if r.signed, err = store.OpenSessions(ctx, dir); err != nil {
		return err
	}
	r.sessions = sqlite3store.New(r.signed)
	u.Sessions = r.sessions
	u.Post.Folder = mail.Folder{Dir: filepath.Join(dir, "outbox")}
	if follow != "" {
		if r.follower, err = backup.Follow(ctx, dir, follow, log); err != nil {
			return plainly("--follow", err)
		}
		u.Follower = r.follower
	}
	if r.Handler, err = web.New(app.NewStudio(ctx, judge, r.db, time.Now), log, u); err != nil {
		return err
	}
	going, stop := context.WithCancel(ctx)
	r.stop = stop
	if u.Demo {
		r.work.Go(func() { r.fill(going, judge, log, u.Filling) })
	}
	r.work.Go(func() { r.thin(going, log) })
	if u.Copies != nil {
		r.work.Go(func() { u.Copies.Run(going, log) })
	}
	return nil
}

// fill plays the story of the demo into the database, while pages are shown already.
func (r *room) fill(ctx context.Context, judge *app.Judge, log *slog.Logger, f *web.Filling) {
	begun := time.Now()
	err := demo.FillInSteps(ctx, judge, r.db, begun, func(next string) { f.Say("The demo is being filled: " + next) })
	switch {
	case ctx.Err() != nil:
	case err != nil:
		log.Error("filling the demo", "cause", err)
		f.Say("The demo could not be filled to its end; the program says why where it was started.")
	default:
		f.Say("")
		log.Info("the demo is filled", "took", time.Since(begun).Round(10*time.Millisecond))
	}
}

// thin lets go, once a day, of what only served work that is a month old.
func (r *room) thin(ctx context.Context, log *slog.Logger) {
	for {
		if _, err := r.db.Prune(ctx, time.Now().AddDate(0, -1, 0)); err != nil && ctx.Err() == nil {
			log.Error("thinning", "cause", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(24 * time.Hour):
		}
	}
}

func (r *room) close() error {
	r.stop()
	r.work.Wait()
	var err error
	if r.sessions != nil {
		r.sessions.StopCleanup()
	}
	if r.signed != nil {
		err = r.signed.Close()
	}
	if r.follower != nil {
		err = errors.Join(err, r.follower.Close())
	}
	if r.db != nil {
		err = errors.Join(err, r.db.Close())
	}
	return errors.Join(err, r.lock.Unlock())
}

// rooms are many studios in folders beside one another, each under a name of its own: what
// stands before the site's name. A folder is opened when somebody asks for it, and closed
// when nobody has for a while.
type rooms struct {
	dir   string
	under []string // names of the site
	idle  time.Duration
	open  func(dir string) (*room, error)
	log   *slog.Logger

	mu  sync.Mutex
	now map[string]*guests
}

// guests are the requests in a room.
type guests struct {
	room  *room
	here  int
	since time.Time // of the last
}

var roomName = regexp.MustCompile(`^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$`)

// nameOf is the studio that a Host header asks for.
func (m *rooms) nameOf(host string) (string, bool) {
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	for _, under := range append([]string{"localhost"}, m.under...) {
		if name, ok := strings.CutSuffix(strings.ToLower(host), "."+strings.ToLower(under)); ok && roomName.MatchString(name) {
			return name, true
		}
	}
	return "", false
}

func (m *rooms) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	name, ok := m.nameOf(r.Host)
	dir := filepath.Join(m.dir, name)
	if ok {
		info, err := os.Stat(dir)
		ok = err == nil && info.IsDir()
	}
	if !ok {
		if r.URL.Path == "/healthz" {
			fmt.Fprintln(w, "ok")
			return
		}
		http.Error(w, "There is no studio under this name.", http.StatusNotFound)
		return
	}
	g, err := m.enter(name, dir)
	if err != nil {
		m.log.Error("opening a studio", "studio", name, "cause", err)
		http.Error(w,
			"This studio cannot be opened just now. Whoever looks after it finds the cause in the log.",
			http.StatusServiceUnavailable,
		)
		return
	}
	defer m.leave(g)
	g.room.ServeHTTP(w, r)
}

func (m *rooms) enter(name, dir string) (*guests, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	g := m.now[name]
	if g == nil {
		r, err := m.open(dir)
		if err != nil {
			return nil, err
		}
		g = &guests{room: r}
		m.now[name] = g
	}
	g.here++
	return g, nil
}

func (m *rooms) leave(g *guests) {
	m.mu.Lock()
	defer m.mu.Unlock()
	g.here--
	g.since = time.Now()
}

// tidy closes the rooms that nobody has asked for since a moment, and says how many are open
// still.
func (m *rooms) tidy(since time.Time) int {
	m.mu.Lock()
	defer m.mu.Unlock()
	for name, g := range m.now {
		if g.here == 0 && !g.since.After(since) {
			if err := g.room.close(); err != nil {
				m.log.Error("closing a studio", "studio", name, "cause", err)
			}
			delete(m.now, name)
		}
	}
	return len(m.now)
}

// run tidies until the context ends.
func (m *rooms) run(ctx context.Context) {
	for t := time.NewTicker(min(m.idle, time.Minute)); ; {
		select {
		case <-ctx.Done():
			t.Stop()
			return
		case <-t.C:
			m.tidy(time.Now().Add(-m.idle))
		}
	}
}

// copiesFor are the copies of one of many studios.
func copiesFor(k *backup.Keeper, data, under string) *backup.Keeper {
	if k == nil {
		return nil
	}
	own := &backup.Keeper{Data: data, Dir: filepath.Join(data, "copies"), Every: k.Every, Days: k.Days, Key: k.Key, Now: k.Now}
	if under != "" {
		own.Dir = filepath.Join(under, filepath.Base(data))
	}
	return own
}
