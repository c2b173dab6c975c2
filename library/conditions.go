package library

import (
	"cmp"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/parser"

	"restbend/core/limit"
)

// readConditions reads conditions/*.yaml, one condition with its rules in each, and checks
// them. The texts are added to the hash in the order of their names.
func readConditions(files fs.FS, hash io.Writer) (limit.Conditions, error) {
	names, err := fs.Glob(files, "conditions/*.yaml")
	if err != nil {
		return nil, err
	}
	texts := make([][]byte, len(names))
	for i, name := range names {
		if texts[i], err = fs.ReadFile(files, name); err != nil {
			return nil, err
		}
		hash.Write(texts[i])
	}
	conditions, unread := make(limit.Conditions, len(names)), make([]error, len(names))
	var working sync.WaitGroup
	for i := range names {
		working.Go(func() { unread[i] = decode(names[i], texts[i], &conditions[i]) })
	}
	working.Wait()
	if err := errors.Join(unread...); err != nil {
		return nil, err
	}
	for i := range conditions {
		conditions[i].Complete()
	}
	for i, d := range conditions {
		if file := strings.TrimSuffix(path.Base(names[i]), ".yaml"); d.ID != file {
			return nil, fmt.Errorf("%s: condition: %q is not what the file is called", names[i], d.ID)
		}
	}
	if i, err := conditions.Check(); err != nil {
		return nil, atLine(names[i], texts[i], err)
	}
	slices.SortFunc(conditions, func(a, b limit.Description) int { return cmp.Compare(a.Order, b.Order) })
	return conditions, nil
}

// atLine puts the file and the line before a mistake that names its path; of a path that
// is not there, the line of what it would be part of.
func atLine(name string, text []byte, err error) error {
	var m *limit.Mistake
	if !errors.As(err, &m) {
		return fmt.Errorf("%s: %w", name, err)
	}
	file, parsing := parser.ParseBytes(text, 0)
	if parsing != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	for at := m.Path; at != ""; at = at[:max(0, strings.LastIndexAny(at, ".["))] {
		where, err := yaml.PathString("$." + at)
		if err != nil {
			continue
		}
		if node, err := where.FilterFile(file); err == nil && node != nil && node.GetToken() != nil {
			return fmt.Errorf("%s:%d: %w", name, node.GetToken().Position.Line, m)
		}
	}
	return fmt.Errorf("%s: %w", name, err)
}
