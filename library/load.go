// Package library holds the exercise library and the rules as files, and their
// loader. Files are checked and every variant is measured when they are
// loaded; a mistake names the file, the line or the variant and the field.
package library

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"slices"
	"sort"
	"sync"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"

	"restbend/core/body"
	"restbend/core/exercise"
	"restbend/core/limit"
)

//go:embed limbs.yaml poses.yaml stand_ins.yaml complaints.yaml families conditions
var embedded embed.FS

// Library is everything that is taught and the rules it is judged by.
type Library struct {
	Families   []*exercise.Family
	Variants   []*exercise.Variant // of all families, in file order
	Conditions limit.Conditions    // the conditions with their rules
	StandIns   map[string][]string // what can stand in at home for equipment
	Hash       string              // of the files it came from
	byID       map[string]*exercise.Variant
}

// Variant finds a variant by its id; nil when there is none.
func (l *Library) Variant(id string) *exercise.Variant { return l.byID[id] }

// Load is the library that is built into the program: as it was kept, or where it has
// changed since, read and measured again.
func Load() (*Library, error) {
	if l, err := restore(embedded, snapshotFile); l != nil || err != nil {
		return l, err
	}
	return LoadFrom(embedded)
}

// LoadFrom reads a library from files laid out like the built-in ones:
// limbs.yaml, poses.yaml, families/*.yaml and conditions/*.yaml. With an error about the variants
// it still returns what could be read, for tools that show authors their poses;
// the program itself refuses such a library.
func LoadFrom(files fs.FS) (*Library, error) {
	l := &Library{byID: map[string]*exercise.Variant{}}
	hash := sha256.New()
	read := func(name string, into any) error {
		b, err := fs.ReadFile(files, name)
		if err != nil {
			return err
		}
		hash.Write(b)
		return decode(name, b, into)
	}
	var limbs namedLimbs
	if err := read("limbs.yaml", &limbs); err != nil {
		return nil, err
	}
	var named map[string]poseFile
	if err := read("poses.yaml", &named); err != nil {
		return nil, err
	}
	poses, err := basePoses(named, limbs)
	if err != nil {
		return nil, fmt.Errorf("poses.yaml: %w", err)
	}
	var wrong []error
	if err := read("stand_ins.yaml", &l.StandIns); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	var complaints []exercise.ComplaintRule
	if err := read("complaints.yaml", &complaints); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	for e := range l.StandIns {
		if !slices.Contains(exercise.Equipment, e) {
			return nil, fmt.Errorf("stand_ins.yaml: %q is not one of %v", e, exercise.Equipment)
		}
	}
	names, err := fs.Glob(files, "families/*.yaml")
	if err != nil {
		return nil, err
	}
	sort.Strings(names)
	texts := make([][]byte, len(names))
	for i, name := range names {
		if texts[i], err = fs.ReadFile(files, name); err != nil {
			return nil, err
		}
		hash.Write(texts[i])
	}
	// Reading and measuring take the time, and families do not depend on one
	// another.
	built := make([]*exercise.Family, len(names))
	unread, mistakes := make([]error, len(names)), make([]error, len(names))
	var working sync.WaitGroup
	for i := range names {
		working.Go(func() {
			var written familyFile
			if unread[i] = decodePlainly(names[i], texts[i], &written); unread[i] == nil {
				built[i], mistakes[i] = written.build(poses, limbs)
			}
		})
	}
	working.Wait()
	if err := errors.Join(unread...); err != nil {
		return nil, err
	}
	for i, family := range built {
		if mistakes[i] != nil {
			wrong = append(wrong, placed(names[i], mistakes[i]))
		}
		if family == nil {
			continue
		}
		l.Families = append(l.Families, family)
		for _, v := range family.Variants {
			if l.byID[v.ID] != nil {
				return nil, fmt.Errorf("%s: variant %s: this id is already taken", names[i], v.ID)
			}
			l.byID[v.ID] = v
			l.Variants = append(l.Variants, v)
		}
	}
	if l.Conditions, err = readConditions(files, hash); err != nil {
		return nil, err
	}
	if len(wrong) == 0 {
		if err := l.pathed(complaints); err != nil {
			return nil, err
		}
	}
	l.Hash = hex.EncodeToString(hash.Sum(nil))[:16]
	return l, errors.Join(append(wrong, l.check())...)
}

// placed says in which file, and where known at which line, each mistake is.
func placed(name string, err error) error {
	var all []error
	if joined, ok := err.(interface{ Unwrap() []error }); ok {
		all = joined.Unwrap()
	} else {
		all = []error{err}
	}
	for i, e := range all {
		var m *mistake
		if errors.As(e, &m) {
			if m.at > 0 {
				all[i] = fmt.Errorf("%s:%d: %w", name, m.at, e)
				continue
			}
		}
		all[i] = fmt.Errorf("%s: %w", name, e)
	}
	return errors.Join(all...)
}

// decode reads one file strictly; errors name the file and the line.
func decode(name string, b []byte, into any) error {
	d := yaml.NewDecoder(bytes.NewReader(b), yaml.Strict(), yaml.DisallowUnknownField())
	if err := d.Decode(into); err != nil && !errors.Is(err, io.EOF) {
		return fmt.Errorf("%s: %s", name, yaml.FormatError(err, false, true))
	}
	return nil
}

// decodePlainly is decode for a file whose parts are kept as they are written, in which
// names for parts (&name, *name) are taken out first.
func decodePlainly(name string, b []byte, into any) error {
	file, err := parser.ParseBytes(b, 0)
	if err == nil && len(file.Docs) == 1 && file.Docs[0].Body != nil {
		err = yaml.NodeToValue(plainly(file.Docs[0].Body, map[string]ast.Node{}), into, yaml.Strict(), yaml.DisallowUnknownField())
	}
	if err != nil {
		return fmt.Errorf("%s: %s", name, yaml.FormatError(err, false, true))
	}
	return nil
}

// basePoses resolves the poses that build on one another.
func basePoses(named map[string]poseFile, limbs namedLimbs) (map[string]body.Pose, error) {
	out := map[string]body.Pose{}
	var resolve func(name string, seen []string) (body.Pose, error)
	resolve = func(name string, seen []string) (body.Pose, error) {
		if p, ok := out[name]; ok {
			return p, nil
		}
		f, ok := named[name]
		if !ok {
			return body.Pose{}, fmt.Errorf("from: there is no base pose %q", name)
		}
		if slices.Contains(seen, name) {
			return body.Pose{}, fmt.Errorf("from: %s builds on itself", name)
		}
		var under body.Pose
		if f.From != "" {
			p, err := resolve(f.From, append(seen, name))
			if err != nil {
				return p, err
			}
			under = p
		}
		p, err := f.over(under, limbs)
		if err != nil {
			return p, fmt.Errorf("%s: %w", name, err)
		}
		out[name] = p
		return p, nil
	}
	for name := range named {
		if _, err := resolve(name, nil); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// check looks at what only the whole library can tell: that the ids variants
// point to exist.
func (l *Library) check() error {
	for _, v := range l.Variants {
		for _, list := range []struct {
			field string
			ids   []string
		}{{"next", v.NextIDs()}, {"swaps", v.Swaps}} {
			for _, id := range list.ids {
				if l.byID[id] == nil {
					return fmt.Errorf("variant %s: %s: there is no variant %q", v.ID, list.field, id)
				}
			}
		}
	}
	return nil
}
