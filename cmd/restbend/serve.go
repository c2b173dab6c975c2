package main

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	netmail "net/mail"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"syscall"
	"time"

	"filippo.io/age"

	"restbend/backup"
	"restbend/formats"
	"restbend/mail"
	"restbend/web"
)

// server is what both servers take.
type server struct {
	Addr string `default:"127.0.0.1:8080" help:"Address to serve on. Port 0 picks a free one."`
	Data string `help:"Folder of the database." placeholder:"DIR"`
}

type serveCommand struct {
	server
	Studios     string        `help:"Serve each studio that has a folder in this one, as FOLDER.NAME." placeholder:"DIR"`
	Names       []string      `name:"name" help:"Name that the site is reached by, such as studio.example.org." placeholder:"HOST"`
	TLSCert     string        `name:"tls-cert" help:"Certificate to serve TLS with." placeholder:"FILE"`
	TLSKey      string        `name:"tls-key" help:"Its key." placeholder:"FILE"`
	Proxies     []string      `name:"behind" help:"Address of a proxy in front of this, which does TLS and says who asks." placeholder:"IP"`
	Copies      string        `help:"Folder for copies; without one they lie beside the database." placeholder:"DIR"`
	CopiesEvery time.Duration `name:"copies-every" default:"24h" help:"How often a copy is made; 0 for never." placeholder:"TIME"`
	CopiesDays  int           `name:"copies-days" default:"60" help:"How many days the oldest is kept." placeholder:"DAYS"`
	Follow      string        `help:"Folder or s3://BUCKET/PATH to write every change to, unencrypted." placeholder:"TARGET"`
	Metrics     string        `help:"Address of this machine to show counts on, at /metrics." placeholder:"ADDR"`
	Key         string        `help:"Key that copies are encrypted with; see new-key." placeholder:"FILE"`
	SMTP        string        `name:"smtp" help:"Mail server, with TLS; without one nothing is sent." placeholder:"HOST:PORT"`
	SMTPUser    string        `name:"smtp-user" help:"User there; the password is in RESTBEND_SMTP_PASSWORD." placeholder:"NAME"`
	MailFrom    string        `name:"mail-from" help:"The studio's address." placeholder:"ADDRESS"`
}

//revive:disable-next-line:cyclomatic One check for each flag, each with its own sentence.
func (c serveCommand) Run(s streams) error {
	dir, err := dataFolder(c.Data)
	if err != nil {
		return err
	}
	if c.Studios != "" {
		if info, err := os.Stat(c.Studios); err != nil || !info.IsDir() || c.Data != "" {
			return &formats.Invalid{Path: "--studios", Want: "expected a folder that is there, and no --data beside it"}
		}
	}
	u := web.Setup{Names: c.Names, Proxies: c.Proxies, Secure: c.TLSCert != "" || len(c.Proxies) > 0, Word: rand.Text()}
	if (c.TLSCert == "") != (c.TLSKey == "") {
		return &formats.Invalid{Path: "--tls-cert", Want: "goes with --tls-key; expected both or neither"}
	}
	for _, p := range c.Proxies {
		if net.ParseIP(p) == nil {
			return &formats.Invalid{Path: "--behind", Want: fmt.Sprintf("%q is no address; expected one such as 127.0.0.1", p)}
		}
	}
	if u.Secure && len(c.Names) == 0 {
		return &formats.Invalid{
			Path: "--name",
			Want: "is missing; expected the name that the site is reached by, such as studio.example.org",
		}
	}
	if !u.Secure && (len(c.Names) > 0 || !web.LoopbackAddr(c.Addr)) {
		return &formats.Invalid{
			Path: "--addr",
			Want: fmt.Sprintf(
				"%s would be reached from elsewhere in plain text; expected an address of this machine alone such as 127.0.0.1:8080, "+
					"or --tls-cert and --tls-key, or --behind a proxy that does TLS",
				c.Addr,
			),
		}
	}
	if c.Metrics != "" && !web.LoopbackAddr(c.Metrics) {
		return &formats.Invalid{
			Path: "--metrics",
			Want: fmt.Sprintf("%q is not an address of this machine alone; expected one such as 127.0.0.1:9090", c.Metrics),
		}
	}
	if c.CopiesEvery < 0 || c.CopiesEvery > 0 && c.CopiesEvery < time.Minute {
		return &formats.Invalid{Path: "--copies-every", Want: "expected a minute or more, or 0"}
	}
	if c.CopiesDays < 1 || c.CopiesDays > 3650 {
		return &formats.Invalid{Path: "--copies-days", Want: fmt.Sprintf("expected 1 to 3650, found %d", c.CopiesDays)}
	}
	if c.CopiesEvery > 0 {
		u.Copies = &backup.Keeper{Data: dir, Dir: c.Copies, Every: c.CopiesEvery, Days: c.CopiesDays, Now: time.Now}
		if c.Copies == "" {
			u.Copies.Dir = filepath.Join(dir, "copies")
		}
		if u.Copies.Key, err = readKey(c.Key); err != nil {
			return err
		}
	}
	letters := web.Post{From: c.MailFrom}
	if c.SMTP != "" {
		host, port, err := net.SplitHostPort(c.SMTP)
		number, err2 := strconv.Atoi(port)
		if err != nil || err2 != nil || host == "" || number < 1 || number > 65535 {
			return &formats.Invalid{
				Path: "--smtp",
				Want: fmt.Sprintf("%q is no server; expected a name and a port such as mail.example.org:587", c.SMTP),
			}
		}
		if a, err := netmail.ParseAddress(c.MailFrom); err != nil || a.Address != c.MailFrom {
			return &formats.Invalid{
				Path: "--mail-from",
				Want: fmt.Sprintf("%q is no address; a mail server wants one to send from", c.MailFrom),
			}
		}
		letters.Server = mail.Server{Host: host, Port: number, User: c.SMTPUser, Password: os.Getenv("RESTBEND_SMTP_PASSWORD")}
	}
	u.Post = letters
	return c.run(s, dir, serving{u, c.Studios, c.Copies, c.Follow, c.Metrics}, c.TLSCert, c.TLSKey)
}

type demoCommand struct{ server }

func (c demoCommand) Run(s streams) error {
	dir := c.Data
	if dir == "" {
		tmp, err := os.MkdirTemp("", "restbend-demo-")
		if err != nil {
			return fmt.Errorf("making a folder for the demo: %w", err)
		}
		defer os.RemoveAll(tmp)
		dir = tmp
	}
	if !web.LoopbackAddr(c.Addr) {
		return &formats.Invalid{
			Path: "--addr",
			Want: fmt.Sprintf(
				"%q is not an address of this machine alone; in the demo nobody signs in, so expected one such as 127.0.0.1:8080",
				c.Addr,
			),
		}
	}
	return c.run(s, dir, serving{Setup: web.Setup{Demo: true}}, "", "")
}

// serving is what a server serves: one studio, or many in the folders of one.
type serving struct {
	web.Setup
	many   string // the folder that holds them; empty for one
	copies string // the folder of all their copies; empty where each has its own inside
	follow string // where every change is written too, at once
	counts string // the address that counts are asked for at
}

// run serves until it is interrupted, then lets open requests finish.
func (c server) run(s streams, dir string, u serving, cert, key string) error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	log := slog.New(slog.NewTextHandler(s.err, &slog.HandlerOptions{Level: slog.LevelInfo}))
	judge, err := loadJudge()
	if err != nil {
		return err
	}
	u.Figures = web.NewFigures(judge.Library)
	go func() {
		u.Figures.Warm()
		debug.FreeOSMemory() // the start makes much garbage, and then no more
	}()
	var handler http.Handler
	if u.many != "" {
		m := &rooms{dir: u.many, under: u.Names, idle: 15 * time.Minute, log: log, now: map[string]*guests{}}
		m.open = func(dir string) (*room, error) {
			own := u.Setup
			name := filepath.Base(dir)
			own.Names = nil
			for _, n := range append([]string{"localhost"}, u.Names...) {
				own.Names = append(own.Names, name+"."+n)
			}
			own.Copies = copiesFor(u.Copies, dir, u.copies)
			follow := ""
			if u.follow != "" {
				follow = backup.Under(u.follow, name)
			}
			return openRoom(ctx, dir, judge, log, own, follow)
		}
		go m.run(ctx)
		defer m.tidy(time.Now().AddDate(1, 0, 0))
		handler = m
	} else {
		r, err := openRoom(ctx, dir, judge, log, u.Setup, u.follow)
		if err != nil {
			return err
		}
		defer r.close()
		handler = r
		if people, err := r.db.People(ctx); err != nil {
			return err
		} else if len(people) == 0 && len(u.Names) > 0 {
			fmt.Fprintf(s.out, "Nobody works here yet. Who begins the studio needs the first word: %s\n", u.Word)
		}
	}
	listener, err := net.Listen("tcp", c.Addr)
	if err != nil {
		return &formats.Invalid{
			Path: "--addr",
			Want: fmt.Sprintf("cannot listen on %s: %v; another program may be using it, try --addr 127.0.0.1:0", c.Addr, err),
		}
	}
	// Pages that listen to a lesson end with the program, not ten seconds after it.
	srv := &http.Server{
		Handler:           handler,
		BaseContext:       func(net.Listener) context.Context { return ctx },
		ReadHeaderTimeout: 5 * time.Second,
		ReadTimeout:       20 * time.Second,
		WriteTimeout:      30 * time.Second,
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    32 << 10,
		ErrorLog:          slog.NewLogLogger(log.Handler(), slog.LevelWarn),
	}
	fmt.Fprintf(s.out, "Rest Bend is at %s\nStop it with Ctrl+C.\n", address(u.Setup, cert != "", listener.Addr()))
	failed := make(chan error, 2)
	if u.counts != "" {
		mux := http.NewServeMux()
		mux.Handle("/metrics", web.Metrics())
		counts := &http.Server{Addr: u.counts, Handler: mux, ReadHeaderTimeout: 5 * time.Second, WriteTimeout: 20 * time.Second}
		go func() { failed <- counts.ListenAndServe() }()
		defer counts.Close()
	}
	go func() {
		if cert != "" {
			failed <- srv.ServeTLS(listener, cert, key)
			return
		}
		failed <- srv.Serve(listener)
	}()
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-ctx.Done():
	}
	closing, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	if err := srv.Shutdown(closing); err != nil && !errors.Is(err, http.ErrServerClosed) {
		return fmt.Errorf("stopping: %w", err)
	}
	return nil
}

// address is where a browser finds the site.
func address(u web.Setup, tls bool, at net.Addr) string {
	_, port, _ := net.SplitHostPort(at.String()) // it listens there
	switch {
	case tls:
		return "https://" + net.JoinHostPort(u.Names[0], port)
	case len(u.Names) > 0:
		return "https://" + u.Names[0] + ", by the proxy in front of " + at.String()
	}
	return "http://" + at.String()
}

// readKey reads a key that is named; none where none is.
func readKey(file string) (*age.X25519Identity, error) {
	if file == "" {
		return nil, nil
	}
	key, err := backup.ReadKey(file)
	return key, plainly("--key", err)
}
