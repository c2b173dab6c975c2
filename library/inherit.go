package library

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
)

// written is a mapping as it stands in a file, before anybody knows what it means: what
// a variant leaves out is filled in from its sibling and its family here, so that only
// whole variants are decoded, and every field keeps its place in the file.
type written struct{ fields []*ast.MappingValueNode }

// UnmarshalYAML keeps the mapping as it is.
func (w *written) UnmarshalYAML(node ast.Node) error {
	switch n := node.(type) {
	case *ast.MappingNode:
		w.fields = n.Values
	case *ast.MappingValueNode:
		w.fields = []*ast.MappingValueNode{n}
	case *ast.NullNode:
	default:
		return fmt.Errorf("expected fields, found %s", node.Type())
	}
	return nil
}

func keyOf(f *ast.MappingValueNode) string { return f.Key.GetToken().Value }

func (w written) field(name string) *ast.MappingValueNode {
	for _, f := range w.fields {
		if keyOf(f) == name {
			return f
		}
	}
	return nil
}

// word is the text of a field; empty when there is none.
func (w written) word(name string) string {
	if f := w.field(name); f != nil {
		return f.Value.GetToken().Value
	}
	return ""
}

// inside is the mapping under a field.
func (w written) inside(name string) written {
	var in written
	if f := w.field(name); f != nil {
		_ = in.UnmarshalYAML(f.Value) // what is no mapping is refused when it is decoded
	}
	return in
}

// replace puts a field in the place of the one of its name, or at the end.
func (w *written) replace(f *ast.MappingValueNode) {
	w.fields = slices.Clone(w.fields)
	if i := slices.IndexFunc(w.fields, func(o *ast.MappingValueNode) bool { return keyOf(o) == keyOf(f) }); i >= 0 {
		w.fields[i] = f
		return
	}
	w.fields = append(w.fields, f)
}

// under is a copy of a field with another mapping under it.
func under(f *ast.MappingValueNode, in written) *ast.MappingValueNode {
	copied := *f
	copied.Value = in.node(f)
	return &copied
}

// node is the mapping as a node, at the place of the given one.
func (w written) node(at ast.Node) ast.Node {
	return ast.Mapping(at.GetToken(), false, w.fields...)
}

var (
	// own fields are nobody else's.
	own = []string{"id", "name", "like", "eyes_closed"}
	// sides go together: what left means, whom it serves and what it does to a curve.
	sides = []string{"left", "serves_other", "curve"}
)

// inherit fills in the fields that are left out from another mapping: all but its own
// and those named. Poses are taken one by one, if a step goes there; how the figure is
// shown, part by part.
func (w *written) inherit(from written, but ...string) {
	sided := w.field("left") != nil
	for _, f := range from.fields {
		name := keyOf(f)
		if slices.Contains(own, name) || slices.Contains(but, name) || slices.Contains(sides, name) && sided {
			continue
		}
		mine := w.field(name)
		switch {
		case name == "poses":
			// below, once the steps are known
		case mine == nil:
			w.replace(f)
		case name == "show":
			in := w.inside(name)
			for _, part := range from.inside(name).fields {
				if in.field(keyOf(part)) == nil {
					in.replace(part)
				}
			}
			w.replace(under(mine, in))
		}
	}
	poses := w.inside("poses")
	for _, pose := range from.inside("poses").fields {
		if poses.field(keyOf(pose)) == nil && w.goesTo(keyOf(pose)) {
			poses.replace(pose)
		}
	}
	if f := w.field("poses"); f != nil {
		w.replace(under(f, poses))
	} else if f := from.field("poses"); f != nil && len(poses.fields) > 0 {
		w.replace(under(f, poses))
	}
}

// goesTo says whether the movement has a pose of that name.
func (w written) goesTo(pose string) bool {
	if pose == "start" {
		return true
	}
	steps, ok := fieldValue(w.field("steps")).(*ast.SequenceNode)
	return ok && slices.ContainsFunc(steps.Values, func(n ast.Node) bool {
		var step written
		return step.UnmarshalYAML(n) == nil && step.word("to") == pose
	})
}

func fieldValue(f *ast.MappingValueNode) ast.Node {
	if f == nil {
		return nil
	}
	return f.Value
}

// into decodes the whole mapping strictly.
func (w written) into(at ast.Node, v any) error {
	return yaml.NodeToValue(w.node(at), v, yaml.Strict(), yaml.DisallowUnknownField())
}

// place begins an error that names what is wrong: a pose, or a field.
var place = regexp.MustCompile(`^(poses?)[. ](\w+)|^(\w+)[.:\[ ]`)

// line is where a mistake is: at the pose or field that it names, or at the variant.
func (w written) line(err error) int {
	at := w.field("id")
	if m := place.FindStringSubmatch(err.Error()); m != nil {
		if f := w.inside("poses").field(m[2]); m[2] != "" && f != nil {
			at = f
		} else if f := w.field(m[3]); m[3] != "" && f != nil {
			at = f
		}
	}
	if at == nil {
		return 0
	}
	return at.Key.GetToken().Position.Line
}

// plainly takes names out of a tree: each alias becomes what it stands for.
func plainly(n ast.Node, named map[string]ast.Node) ast.Node {
	switch v := n.(type) {
	case *ast.AnchorNode:
		value := plainly(v.Value, named)
		named[v.Name.GetToken().Value] = value
		return value
	case *ast.AliasNode:
		if value := named[v.Value.GetToken().Value]; value != nil {
			return value
		}
	case *ast.MappingNode:
		for _, f := range v.Values {
			f.Value = plainly(f.Value, named)
		}
	case *ast.MappingValueNode:
		v.Value = plainly(v.Value, named)
	case *ast.SequenceNode:
		for i := range v.Values {
			v.Values[i] = plainly(v.Values[i], named)
		}
	}
	return n
}

// firstLine is an error of decoding in one line, without the picture of the source.
func firstLine(err error) error {
	line, _, _ := strings.Cut(yaml.FormatError(err, false, false), "\n")
	return fmt.Errorf("%s", line)
}
