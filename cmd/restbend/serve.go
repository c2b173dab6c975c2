package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/mail"
	"os"
	"os/signal"
	"path/filepath"
	"strconv"
	"syscall"
	"time"

	"restbend/app"
	"restbend/demo"
	"restbend/formats"
	"restbend/post"
	"restbend/store"
	"restbend/web"
)

// server is what both servers take.
type server struct {
	Addr string `default:"127.0.0.1:8080" help:"Address to serve on; this machine only. Port 0 picks a free one."`
	Data string `help:"Folder of the database." placeholder:"DIR"`
}

type serveCommand struct {
	server
	SMTP     string `name:"smtp" help:"Mail server to send letters by, HOST:PORT, with TLS; without it nothing is ever sent." placeholder:"HOST:PORT"`
	SMTPUser string `name:"smtp-user" help:"User at the mail server; the password is read from RESTBEND_SMTP_PASSWORD." placeholder:"NAME"`
	MailFrom string `name:"mail-from" help:"The studio's address." placeholder:"ADDRESS"`
}

func (c serveCommand) Run(s streams) error {
	dir, err := dataFolder(c.Data)
	if err != nil {
		return err
	}
	letters := web.Post{From: c.MailFrom}
	if c.SMTP != "" {
		host, port, err := net.SplitHostPort(c.SMTP)
		number, err2 := strconv.Atoi(port)
		if err != nil || err2 != nil || host == "" || number < 1 || number > 65535 {
			return &formats.Invalid{Path: "--smtp", Want: fmt.Sprintf("%q is no server; expected a name and a port such as mail.example.org:587", c.SMTP)}
		}
		if a, err := mail.ParseAddress(c.MailFrom); err != nil || a.Address != c.MailFrom {
			return &formats.Invalid{Path: "--mail-from", Want: fmt.Sprintf("%q is no address; a mail server wants one to send from", c.MailFrom)}
		}
		letters.Server = post.Server{Host: host, Port: number, User: c.SMTPUser, Password: os.Getenv("RESTBEND_SMTP_PASSWORD")}
	}
	return c.run(s, dir, false, letters)
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
	return c.run(s, dir, true, web.Post{})
}

// run serves until it is interrupted, then lets open requests finish.
func (c server) run(s streams, dir string, fill bool, letters web.Post) error {
	if !web.LoopbackAddr(c.Addr) {
		return &formats.Invalid{Path: "--addr", Want: fmt.Sprintf("%q is not an address of this machine alone; there are no accounts yet, so expected one such as 127.0.0.1:8080", c.Addr)}
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	log := slog.New(slog.NewTextHandler(s.err, &slog.HandlerOptions{Level: slog.LevelInfo}))
	judge, err := loadJudge()
	if err != nil {
		return err
	}
	db, err := store.Open(ctx, dir)
	if err != nil {
		return err
	}
	defer db.Close()
	if fill {
		clients, err := db.Clients(ctx)
		if err == nil && len(clients) == 0 {
			err = demo.Fill(ctx, judge, db, time.Now())
		}
		if err != nil {
			return fmt.Errorf("filling the demo: %w", err)
		}
	}
	letters.Folder = post.Folder{Dir: filepath.Join(dir, "outbox")}
	handler, err := web.New(&app.Studio{Judge: judge, Store: db, Now: time.Now}, log, letters)
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", c.Addr)
	if err != nil {
		return &formats.Invalid{Path: "--addr", Want: fmt.Sprintf("cannot listen on %s: %v; another program may be using it, try --addr 127.0.0.1:0", c.Addr, err)}
	}
	// Pages that listen to a lesson end with the program, not ten seconds after it.
	srv := &http.Server{Handler: handler, BaseContext: func(net.Listener) context.Context { return ctx }, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 20 * time.Second,
		WriteTimeout: 30 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 32 << 10, ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelWarn)}
	fmt.Fprintf(s.out, "Rest Bend is at http://%s\nStop it with Ctrl+C.\n", listener.Addr())
	failed := make(chan error, 1)
	go func() { failed <- srv.Serve(listener) }()
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
