package exchange

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"io"
	"time"

	"restbend/app"
	"restbend/core/limit"
	"restbend/formats"
	"restbend/store"
)

// Tables writes the tables of a studio as one zip.
func Tables(ctx context.Context, s *app.Studio, w io.Writer) error {
	all, err := s.Store.Clients(ctx)
	if err != nil {
		return err
	}
	names := map[string]string{}
	var records []store.Record
	for _, k := range all {
		names[k.ID] = k.Client.Name
		of, err := s.Store.RecordsOf(ctx, k.ID)
		if err != nil {
			return err
		}
		records = append(records, of...)
	}
	z := zip.NewWriter(w)
	for _, t := range []Table{Clients(all), Measures(all), Records(names, records), Shelf(s.Library)} {
		f, err := create(z, t.Name)
		if err != nil {
			return err
		}
		if err := t.Write(f); err != nil {
			return err
		}
	}
	return z.Close()
}

// CalendarOf writes the sessions and home days of clients.
func CalendarOf(ctx context.Context, s *store.Store, w io.Writer, all []store.Client, place *time.Location) error {
	var booked []Booked
	for _, k := range all {
		plans, err := s.EveryPlanOf(ctx, k.ID)
		if err != nil {
			return err
		}
		homes, err := s.HomesOf(ctx, k.ID)
		if err != nil {
			return err
		}
		booked = append(booked, Booked{k.Client.Name, plans, homes})
	}
	return Calendar(w, booked, place)
}

// ClientFile writes a client as restbend.client/1.
func ClientFile(w io.Writer, c limit.Client) error {
	c.Format = "restbend.client/1"
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(c)
}

// TakeClientFile adds the client of a file (restbend.client/1), unless one of that name and
// year of birth is there.
func TakeClientFile(ctx context.Context, s *app.Studio, name string, b []byte, o Options) (Report, error) {
	var r Report
	c, err := s.Judge.Client(b, s.Today())
	var invalid *formats.Invalid
	if errors.As(err, &invalid) {
		r.refuse(name, 1, invalid.Error())
		return r, nil
	}
	if err != nil {
		return r, err
	}
	if c.Name == "" {
		r.refuse(name, 1, "name: is missing; a client of the book has one")
		return r, nil
	}
	all, err := s.Store.Clients(ctx)
	if err != nil {
		return r, err
	}
	for _, k := range all {
		if k.Client.Name == c.Name && k.Client.BirthYear == c.BirthYear {
			r.Same++
			return r, nil
		}
	}
	r.Taken++
	if o.DryRun {
		return r, nil
	}
	err = s.Store.Change(ctx, func(t *store.Tx) error {
		id, err := t.AddClient(c, s.Now())
		r.New = append(r.New, id)
		return err
	})
	return r, err
}

// Whole writes all that is held of a client as one zip of the published formats: the client,
// plans, records, programmes for home and what came back from there.
func Whole(ctx context.Context, s *app.Studio, w io.Writer, k store.Client) error {
	z := zip.NewWriter(w)
	put := func(name string, doc any) error {
		f, err := create(z, name)
		if err != nil {
			return err
		}
		e := json.NewEncoder(f)
		e.SetIndent("", " ")
		return e.Encode(doc)
	}
	k.Client.Format = "restbend.client/1"
	if err := put("client.json", k.Client); err != nil {
		return err
	}
	plans, err := s.Store.EveryPlanOf(ctx, k.ID)
	if err != nil {
		return err
	}
	for _, p := range plans {
		if err := put("plans/"+p.On+"-"+p.ID+".json", p.Plan); err != nil {
			return err
		}
	}
	records, err := s.Store.RecordsOf(ctx, k.ID)
	if err != nil {
		return err
	}
	for _, r := range records {
		if err := put("records/"+r.Record.On+"-"+r.ID+".json", r.Record); err != nil {
			return err
		}
	}
	homes, err := s.Store.HomesOf(ctx, k.ID)
	if err != nil {
		return err
	}
	for _, h := range homes {
		if err := put("homes/"+h.On+"-"+h.ID+".json", h.Programme); err != nil {
			return err
		}
		diaries, err := s.Store.DiariesOf(ctx, h.ID)
		if err != nil {
			return err
		}
		for _, d := range diaries {
			if err := put("diaries/"+d.ID+".json", d.Diary); err != nil {
				return err
			}
		}
	}
	return z.Close()
}
