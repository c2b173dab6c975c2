package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/home"
	"restbend/core/limit"
	"restbend/exchange"
	"restbend/formats"
	"restbend/handout"
	"restbend/store"
	"restbend/web"
)

type exportCommand struct {
	What string `arg:"" name:"what" help:"studio, the id of a client, or a client file."`
	As   string `required:"" enum:"archive,json,csv,ics,vtt,pdf,html,svg,png,fhir" help:"of a studio archive, csv or ics"`
	Out  string `required:"" placeholder:"PATH" help:"The file to write; one that is not there yet."`
	Data string `help:"Folder of the database." placeholder:"DIR"`
	day
}

func (c exportCommand) Run(s streams) error {
	on, err := c.date()
	if err != nil {
		return err
	}
	if _, err := os.Stat(c.Out); err == nil {
		return &formats.Invalid{Path: "out", Want: c.Out + " is there already; name a file that is not"}
	}
	var b bytes.Buffer
	switch {
	case c.What == "studio":
		err = c.studio(&b, on)
	case strings.HasSuffix(c.What, ".json") || c.What == "-":
		err = c.file(&b, s)
	default:
		err = c.client(&b, on)
	}
	if err != nil {
		return err
	}
	if err := writeWhole(c.Out, b.Bytes()); err != nil {
		return &formats.Invalid{Path: "out", Want: err.Error()}
	}
	fmt.Fprintf(s.out, "Written to %s.\n", c.Out)
	return nil
}

// writeWhole writes a file that nobody else may read, whole or not at all.
func writeWhole(path string, b []byte) error {
	part, err := os.CreateTemp(filepath.Dir(path), ".restbend-*")
	if err != nil {
		return err
	}
	defer os.Remove(part.Name()) // nothing is there any more once it is in its place
	if _, err := part.Write(b); err != nil {
		part.Close()
		return err
	}
	if err := part.Close(); err != nil {
		return err
	}
	return os.Rename(part.Name(), path)
}

// as refuses a form that there is not for what is asked.
func (c exportCommand) as(known ...string) error {
	if slices.Contains(known, c.As) {
		return nil
	}
	return &formats.Invalid{
		Path: "as",
		Want: fmt.Sprintf("%s is not made of %s; expected one of %s", c.As, c.What, strings.Join(known, ", ")),
	}
}

// opened is the database of a folder that has one.
func opened(ctx context.Context, named string) (*app.Studio, error) {
	dir, err := dataFolder(named)
	if err != nil {
		return nil, err
	}
	if _, err := os.Stat(filepath.Join(dir, "restbend.db")); err != nil {
		return nil, &formats.Invalid{Path: "data", Want: "there is no database in " + dir}
	}
	s, err := store.Open(ctx, dir)
	if err != nil {
		return nil, plainly("data", err)
	}
	j, err := app.NewJudge()
	if err != nil {
		return nil, err
	}
	return app.NewStudio(ctx, j, s, time.Now), nil
}

func (c exportCommand) studio(w io.Writer, on civil.Day) error {
	if err := c.as("archive", "csv", "ics"); err != nil {
		return err
	}
	ctx := context.Background()
	s, err := opened(ctx, c.Data)
	if err != nil {
		return err
	}
	defer s.Store.Close()
	switch c.As {
	case "archive":
		return exchange.Archive(ctx, s.Store, w, on.String())
	case "csv":
		return exchange.Tables(ctx, s, w)
	}
	all, err := s.Store.Clients(ctx)
	if err != nil {
		return err
	}
	return exchange.CalendarOf(ctx, s.Store, w, all, time.Local)
}

func (c exportCommand) client(w io.Writer, on civil.Day) error {
	if err := c.as("json", "ics", "fhir", "vtt", "pdf", "html", "svg", "png"); err != nil {
		return err
	}
	ctx := context.Background()
	s, err := opened(ctx, c.Data)
	if err != nil {
		return err
	}
	defer s.Store.Close()
	k, err := s.Store.Client(ctx, c.What)
	if errors.Is(err, store.ErrNotFound) {
		return &formats.Invalid{Path: "what", Want: c.What + " is no client of this database, and no file ending in .json"}
	}
	if err != nil {
		return err
	}
	switch c.As {
	case "json":
		return printJSON(w, k.Client)
	case "ics":
		return exchange.CalendarOf(ctx, s.Store, w, []store.Client{k}, time.Local)
	case "fhir":
		return exchange.Bundle(ctx, s, w, k)
	case "vtt":
		plans, err := s.Store.PlansOf(ctx, k.ID)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(plans, func(p store.Plan) bool { return !p.Taught() })
		if i < 0 {
			return &formats.Invalid{Path: "what", Want: "nothing is planned for this client"}
		}
		return exchange.Track(w, plans[i].Plan)
	}
	homes, err := s.Store.HomesOf(ctx, k.ID)
	if err != nil {
		return err
	}
	if len(homes) == 0 {
		return &formats.Invalid{Path: "what", Want: "nothing is at home with this client; make a programme first"}
	}
	h := handout.Heading{
		ID:     homes[0].ID,
		Client: k.Client.Name,
		Studio: s.Store.Setting(ctx, "studio"),
		On:     longDay(homes[0].On),
		Again:  longDay(homes[0].Programme.AskAgainOn),
	}
	return c.sheet(w, s.Judge, homes[0].Programme, h)
}

// file is a client file: the programme made for it on the day, or the file itself as it is
// read.
func (c exportCommand) file(w io.Writer, s streams) error {
	if err := c.as("json", "vtt", "pdf", "html", "svg", "png"); err != nil {
		return err
	}
	j, client, on, err := clientFile{Client: c.What, day: c.day}.read(s)
	if err != nil {
		return err
	}
	switch c.As {
	case "json":
		return printJSON(w, client)
	case "vtt":
		p, err := j.Plan(client, app.Wish{Minutes: client.Minutes, Place: client.Place, Approach: client.Approach}, nil, on)
		if err = referred(err, p.Status); err != nil {
			return err
		}
		return exchange.Track(w, p)
	}
	p, err := homeOf(j, client, on)
	if err != nil {
		return err
	}
	return c.sheet(w, j, p, handout.Heading{ID: "file", Client: client.Name, On: longDay(on.String()), Again: longDay(p.AskAgainOn)})
}

func homeOf(j *app.Judge, client limit.Client, on civil.Day) (home.Programme, error) {
	r, err := j.Home(client, nil, on, 0, 0)
	if err != nil {
		return home.Programme{}, err
	}
	p := j.WithCare(home.Make(r))
	switch p.Status {
	case "refer", "stop", "ask":
		return p, errRefer
	case "infeasible":
		return p, &formats.Invalid{Path: "what", Want: strings.Join(p.Notes, " ")}
	}
	return p, nil
}

func (c exportCommand) sheet(w io.Writer, j *app.Judge, p home.Programme, h handout.Heading) error {
	if c.As == "html" {
		b, err := handout.File(p, h, j.Library)
		if err == nil {
			_, err = w.Write(b)
		}
		return err
	}
	s, err := handout.Sheet(p, h, j.Library, handout.Options{Font: web.SheetFont()})
	if err != nil {
		return err
	}
	switch c.As {
	case "svg":
		return s.SVG(w, 0)
	case "png":
		return s.PNG(w, 0, 6)
	}
	return s.PDF(w)
}

func longDay(on string) string {
	t, err := civil.Parse(on)
	if err != nil {
		return on
	}
	return t.Format("2 January 2006")
}

type importCommand struct {
	Files  []string `arg:"" name:"path" help:"Archives (.zip), tables of clients (.csv) or client files (.json)."`
	DryRun bool     `name:"dry-run" help:"Say what would be taken, and change nothing."`
	Partly bool     `help:"Take what can be taken, where some is refused."`
	Data   string   `help:"Folder of the database." placeholder:"DIR"`
}

func (c importCommand) Run(s streams) error {
	ctx := context.Background()
	dir, err := dataFolder(c.Data)
	if err != nil {
		return err
	}
	db, err := store.Open(ctx, dir)
	if err != nil {
		return plainly("data", err)
	}
	defer db.Close()
	j, err := app.NewJudge()
	if err != nil {
		return err
	}
	studio := app.NewStudio(ctx, j, db, time.Now)
	refused := 0
	for _, name := range c.Files {
		r, err := c.take(ctx, studio, name)
		var bad *exchange.Bad
		if errors.As(err, &bad) {
			return &formats.Invalid{Path: name, Want: bad.Error()}
		}
		if err != nil {
			return err
		}
		for _, k := range r.Refused {
			fmt.Fprintf(s.out, "%s, line %d: %s\n", k.File, k.Line, k.Why)
		}
		if r.Cut > 0 {
			fmt.Fprintf(s.out, "and %d more.\n", r.Cut)
		}
		for _, line := range r.Lacks {
			fmt.Fprintf(s.out, "%s: %s\n", name, line)
		}
		refused += len(r.Refused) + r.Cut
		words := r.Words()
		switch {
		case c.DryRun:
			words = "Would be: " + words
		case len(r.Refused) > 0 && !c.Partly:
			words += " Nothing was taken, since not all could be; --partly takes the rest."
		}
		fmt.Fprintf(s.out, "%s: %s\n", name, words)
	}
	if refused > 0 && !c.Partly && !c.DryRun {
		return &formats.Invalid{Path: "path", Want: fmt.Sprintf("%d rows were refused, and nothing of their files was taken", refused)}
	}
	return nil
}

func (c importCommand) take(ctx context.Context, studio *app.Studio, name string) (exchange.Report, error) {
	o := exchange.Options{DryRun: c.DryRun, Partly: c.Partly}
	file, err := os.Open(name)
	if err != nil {
		return exchange.Report{}, &exchange.Bad{File: "file", Want: "cannot be opened: " + err.Error()}
	}
	defer file.Close()
	info, err := file.Stat()
	if err != nil || !info.Mode().IsRegular() {
		return exchange.Report{}, &exchange.Bad{File: "file", Want: "is no file"}
	}
	switch ending := strings.ToLower(filepath.Ext(name)); ending {
	case ".zip":
		return exchange.TakeArchive(ctx, studio.Store, file, info.Size(), o)
	case ".csv", ".json":
		b, err := io.ReadAll(io.LimitReader(file, 64<<20))
		if err != nil {
			return exchange.Report{}, err
		}
		if ending == ".csv" {
			return exchange.TakeClients(ctx, studio, filepath.Base(name), b, o)
		}
		return exchange.TakeClientFile(ctx, studio, filepath.Base(name), b, o)
	default:
		return exchange.Report{}, &exchange.Bad{
			File: "file",
			Want: fmt.Sprintf("%q is no ending that is known; expected .zip, .csv or .json", ending),
		}
	}
}
