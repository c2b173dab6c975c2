// Package exchange takes what Rest Bend holds out in open formats, and in again: the whole
// studio as one archive, tables for a spreadsheet, calendars and cue tracks.
package exchange

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"

	"restbend/docs/schema"
	"restbend/store"
)

// Manifest is restbend.archive/1: what is in an archive, and how it is told whether it is
// whole.
type Manifest struct {
	Format string         `json:"format"`
	MadeOn string         `json:"made_on"`
	Schema int64          `json:"schema"` // of the database it was made from
	Files  []ManifestFile `json:"files"`
}

// ManifestFile is one file of an archive.
type ManifestFile struct {
	Name   string `json:"name"`
	Rows   int    `json:"rows"`
	SHA256 string `json:"sha256"`
}

const (
	archiveFormat = "restbend.archive/1"
	manifestName  = "manifest.json"
	// Bounds that no archive of a studio comes near: a file that grows past them is meant
	// to fill the disk or the memory.
	mostOfFile = 2 << 30
	mostOfLine = 8 << 20
	mostFiles  = 200
)

// Report says what became of each row that was taken in.
type Report struct {
	Taken, Same int
	Refused     []Refusal
	Cut         int      // refusals that are not listed
	New         []string // ids of the clients that were taken
	Lacks       []string // what the file does not carry of the clients in it, each a line
}

// Refusal is one row that was not taken, by file and line.
type Refusal struct {
	File string
	Line int
	Why  string
}

// mostRefusals is how many are listed.
const mostRefusals = 200

func (r *Report) refuse(file string, line int, why string) {
	if len(r.Refused) >= mostRefusals {
		r.Cut++
		return
	}
	r.Refused = append(r.Refused, Refusal{file, line, why})
}

// Words say a report in a sentence.
func (r Report) Words() string {
	return fmt.Sprintf("%d taken, %d there already, %d refused.", r.Taken, r.Same, len(r.Refused)+r.Cut)
}

// Archive writes the whole studio as one zip. day is the day it is made on.
func Archive(ctx context.Context, s *store.Store, w io.Writer, day string) error {
	z := zip.NewWriter(w)
	m := Manifest{Format: archiveFormat, MadeOn: day, Files: []ManifestFile{}}
	err := s.Snapshot(ctx, func(s *store.Store) (err error) {
		if m.Schema, err = s.SchemaVersion(ctx); err != nil {
			return err
		}
		for _, table := range store.Exported {
			f, err := archiveTable(ctx, s, z, table)
			if err != nil {
				return err
			}
			m.Files = append(m.Files, f)
		}
		return nil
	})
	if err != nil {
		return err
	}
	if err := archiveSchemas(z, &m); err != nil {
		return err
	}
	doc, err := json.MarshalIndent(m, "", " ")
	if err != nil {
		return err
	}
	f, err := create(z, manifestName)
	if err != nil {
		return err
	}
	if _, err := f.Write(append(doc, '\n')); err != nil {
		return err
	}
	return z.Close()
}

// create begins a file without a time, so that the same rows make the same bytes.
func create(z *zip.Writer, name string) (io.Writer, error) {
	return z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate})
}

// counted hashes and counts what is written through it.
type counted struct {
	w    io.Writer
	hash hash.Hash
}

func (c counted) Write(b []byte) (int, error) {
	c.hash.Write(b)
	return c.w.Write(b)
}

func archiveTable(ctx context.Context, s *store.Store, z *zip.Writer, table string) (ManifestFile, error) {
	m := ManifestFile{Name: "data/" + table + ".jsonl"}
	f, err := create(z, m.Name)
	if err != nil {
		return m, err
	}
	out := counted{f, sha256.New()}
	buffered := bufio.NewWriterSize(out, 64<<10)
	encode := json.NewEncoder(buffered)
	encode.SetEscapeHTML(false)
	err = s.EachRow(ctx, table, func(r store.Row) error {
		m.Rows++
		return encode.Encode(r)
	})
	if err == nil {
		err = buffered.Flush()
	}
	m.SHA256 = hex.EncodeToString(out.hash.Sum(nil))
	return m, err
}

func archiveSchemas(z *zip.Writer, m *Manifest) error {
	names, err := fs.Glob(schema.Files, "*.json")
	if err != nil {
		return err
	}
	for _, name := range names {
		b, err := fs.ReadFile(schema.Files, name)
		if err != nil {
			return err
		}
		f, err := create(z, "schema/"+name)
		if err != nil {
			return err
		}
		if _, err := f.Write(b); err != nil {
			return err
		}
		sum := sha256.Sum256(b)
		m.Files = append(m.Files, ManifestFile{"schema/" + name, 0, hex.EncodeToString(sum[:])})
	}
	return nil
}

// Bad is an archive that cannot be taken in, with the file in it and what was expected.
type Bad struct{ File, Want string }

func (b *Bad) Error() string { return b.File + ": " + b.Want }

// Options of taking in.
type Options struct {
	DryRun bool // say what would be, and change nothing
	Partly bool // take what can be taken, where some rows are refused
}

// TakeArchive takes an archive in: rows that are there already stay, and one that is there
// with another content is refused. Where a row is refused nothing is taken, unless Partly.
func TakeArchive(ctx context.Context, s *store.Store, file io.ReaderAt, size int64, o Options) (Report, error) {
	var r Report
	z, err := zip.NewReader(file, size)
	if err != nil {
		return r, &Bad{"archive", "it is no zip file, or is cut short"}
	}
	files, m, err := whole(ctx, s, z)
	if err != nil {
		return r, err
	}
	err = s.TakeIn(ctx, func(t *store.Taker) error {
		for _, table := range store.Exported {
			name := "data/" + table + ".jsonl"
			f := files[name]
			if f == nil {
				continue
			}
			i := slices.IndexFunc(m.Files, func(k ManifestFile) bool { return k.Name == name })
			if err := takeTable(t, f, m.Files[i], table, &r); err != nil {
				return err
			}
		}
		if o.DryRun || len(r.Refused) > 0 && !o.Partly {
			return store.ErrKept
		}
		return nil
	})
	if errors.Is(err, store.ErrKept) {
		err = nil
	}
	return r, err
}

// whole finds the files of an archive and reads its manifest.
func whole(ctx context.Context, s *store.Store, z *zip.Reader) (map[string]*zip.File, Manifest, error) {
	var m Manifest
	files := map[string]*zip.File{}
	if len(z.File) > mostFiles {
		return nil, m, &Bad{"archive", fmt.Sprintf("%d files are too many; expected at most %d", len(z.File), mostFiles)}
	}
	for _, f := range z.File {
		clean := path.Clean(f.Name)
		switch {
		case clean != f.Name || path.IsAbs(clean) || strings.HasPrefix(clean, "..") || strings.Contains(f.Name, `\`):
			return nil, m, &Bad{f.Name, "its path leads out of the archive"}
		case files[f.Name] != nil:
			return nil, m, &Bad{f.Name, "it is there twice"}
		case f.UncompressedSize64 > mostOfFile:
			return nil, m, &Bad{f.Name, fmt.Sprintf("it is %d MB large; expected less than %d", f.UncompressedSize64>>20, mostOfFile>>20)}
		}
		files[f.Name] = f
	}
	if files[manifestName] == nil {
		return nil, m, &Bad{manifestName, "is missing: this is no archive of a studio"}
	}
	b, err := small(files[manifestName])
	if err != nil {
		return nil, m, err
	}
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	if err := d.Decode(&m); err != nil {
		return nil, m, &Bad{manifestName, "cannot be read as a manifest"}
	}
	now, err := s.SchemaVersion(ctx)
	switch {
	case err != nil:
		return nil, m, err
	case m.Format != archiveFormat:
		return nil, m, &Bad{manifestName, fmt.Sprintf("format: %q; expected %s", m.Format, archiveFormat)}
	case m.Schema > now:
		return nil, m, &Bad{
			manifestName,
			fmt.Sprintf("schema: %d is of a later version of Rest Bend; this one knows up to %d", m.Schema, now),
		}
	case m.Schema < firstSchema:
		return nil, m, &Bad{manifestName, fmt.Sprintf("schema: %d; expected %d to %d", m.Schema, firstSchema, now)}
	}
	for _, k := range m.Files {
		if files[k.Name] == nil {
			return nil, m, &Bad{k.Name, "is named in the manifest and missing"}
		}
	}
	for name := range files {
		if name != manifestName && !slices.ContainsFunc(m.Files, func(k ManifestFile) bool { return k.Name == name }) {
			return nil, m, &Bad{name, "is not named in the manifest"}
		}
	}
	return files, m, nil
}

// firstSchema is the schema of the first archives.
const firstSchema = 8

// small reads a file that has to be small.
func small(f *zip.File) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, &Bad{f.Name, "cannot be unpacked"}
	}
	defer r.Close()
	b, err := io.ReadAll(io.LimitReader(r, 1<<20+1))
	if err != nil || len(b) > 1<<20 {
		return nil, &Bad{f.Name, "cannot be unpacked, or is larger than 1 MB"}
	}
	return b, nil
}

func takeTable(t *store.Taker, f *zip.File, m ManifestFile, table string, r *Report) error {
	in, err := f.Open()
	if err != nil {
		return &Bad{f.Name, "cannot be unpacked"}
	}
	defer in.Close()
	sum := sha256.New()
	lines := bufio.NewScanner(io.TeeReader(io.LimitReader(in, mostOfFile), sum))
	lines.Buffer(make([]byte, 64<<10), mostOfLine)
	n := 0
	for lines.Scan() {
		n++
		row, err := store.ReadRow(lines.Bytes())
		if err != nil {
			r.refuse(f.Name, n, err.Error())
			continue
		}
		verdict, why, err := t.Take(table, row)
		switch {
		case err != nil:
			return err
		case verdict == store.Taken:
			r.Taken++
			if id, ok := row["id"].(string); ok && table == "clients" {
				r.New = append(r.New, id)
			}
		case verdict == store.Same:
			r.Same++
		case table == "settings": // this studio's own stay
			r.Same++
		default:
			r.refuse(f.Name, n, why)
		}
	}
	switch err := lines.Err(); {
	case errors.Is(err, bufio.ErrTooLong):
		return &Bad{f.Name, fmt.Sprintf("line %d is longer than %d MB", n+1, mostOfLine>>20)}
	case err != nil:
		return &Bad{f.Name, "cannot be unpacked: it is cut short or damaged"}
	case hex.EncodeToString(sum.Sum(nil)) != m.SHA256:
		return &Bad{f.Name, "it is not what the manifest says: it was changed or damaged"}
	case n != m.Rows:
		return &Bad{f.Name, fmt.Sprintf("%d rows; the manifest says %d", n, m.Rows)}
	}
	return nil
}
