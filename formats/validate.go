// Package formats reads and writes Rest Bend's files. What comes in is checked
// against the published JSON Schemas and then for sense; a refusal names the
// field by its path and says what was expected.
package formats

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"

	"restbend/docs/schema"
)

// Invalid is a refusal of input: where, and what was expected.
type Invalid struct {
	Path string // such as conditions[2].id; empty for the file as a whole
	Want string // a sentence
}

func (e *Invalid) Error() string {
	if e.Path == "" {
		return e.Want
	}
	return e.Path + ": " + e.Want
}

// schemas are the published ones by name, each compiled when it is first wanted. There
// are as many as there are files, and none changes.
var schemas = func() map[string]func() (*jsonschema.Schema, error) {
	out := map[string]func() (*jsonschema.Schema, error){}
	for _, name := range []string{"client", "plan", "limits", "check", "catalog", "record", "lever", "next", "home", "diary", "class",
		"course"} {
		out[name] = sync.OnceValues(func() (*jsonschema.Schema, error) { return compile(name) })
	}
	return out
}()

func compile(name string) (*jsonschema.Schema, error) {
	file := "restbend." + name + "-1.json"
	b, err := schema.Files.ReadFile(file)
	if err != nil {
		return nil, err
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
	if err != nil {
		return nil, fmt.Errorf("schema %s: %w", file, err)
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource(file, doc); err != nil {
		return nil, err
	}
	s, err := c.Compile(file)
	if err != nil {
		return nil, fmt.Errorf("schema %s: %w", file, err)
	}
	return s, nil
}

// Validate checks JSON against the published schema of the name (client, plan,
// limits, check, catalog or record). A refusal is an *Invalid.
func Validate(name string, b []byte) error {
	known, ok := schemas[name]
	if !ok {
		return fmt.Errorf("there is no schema %q", name)
	}
	s, err := known()
	if err != nil {
		return err
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(b))
	if err != nil {
		return walker{json.NewDecoder(bytes.NewReader(b)), b}.broken()
	}
	err = s.Validate(doc)
	var v *jsonschema.ValidationError
	if errors.As(err, &v) {
		return first(v)
	}
	return err
}

// first turns the first concrete mistake into a path and a sentence.
func first(v *jsonschema.ValidationError) *Invalid {
	for len(v.Causes) > 0 {
		v = v.Causes[0]
	}
	path := pathOf(v.InstanceLocation)
	switch k := v.ErrorKind.(type) {
	case *kind.Required:
		return &Invalid{join(path, k.Missing[0]), "is missing"}
	case *kind.AdditionalProperties:
		return &Invalid{join(path, k.Properties[0]), "is not a field of this format"}
	case *kind.Enum:
		words := make([]string, len(k.Want))
		for i, w := range k.Want {
			words[i] = fmt.Sprint(w)
		}
		return &Invalid{path, fmt.Sprintf("%v is not known; expected one of %s", k.Got, strings.Join(words, ", "))}
	case *kind.Const:
		return &Invalid{path, fmt.Sprintf("expected %v, found %v", k.Want, k.Got)}
	case *kind.Type:
		want := make([]string, len(k.Want))
		for i, w := range k.Want {
			want[i] = kindWords(w)
		}
		got := kindWords(k.Got)
		if k.Got == "number" && slices.Contains(k.Want, "integer") {
			got = "one with a fraction"
		}
		return &Invalid{path, fmt.Sprintf("expected %s, found %s", strings.Join(want, " or "), got)}
	case *kind.Minimum:
		if metres, _ := k.Got.Float64(); strings.HasSuffix(path, "height_cm") && metres > 0.5 && metres < 2.6 {
			return &Invalid{
				path,
				fmt.Sprintf("%s looks like metres; expected centimetres, such as %.0f", decimal(k.Got.FloatString(3)), 100*metres),
			}
		}
		return &Invalid{path, fmt.Sprintf("must be at least %s, found %s", k.Want.RatString(), decimal(k.Got.FloatString(3)))}
	case *kind.Maximum:
		return &Invalid{path, fmt.Sprintf("must be at most %s, found %s", k.Want.RatString(), decimal(k.Got.FloatString(3)))}
	case *kind.Pattern:
		return &Invalid{path, patternWords(k.Want) + ", found " + fmt.Sprintf("%q", k.Got)}
	case *kind.MaxLength:
		return &Invalid{path, fmt.Sprintf("must be at most %d characters long, is %d", k.Want, k.Got)}
	case *kind.MinLength:
		return &Invalid{path, "must not be empty"}
	case *kind.MinItems:
		return &Invalid{path, fmt.Sprintf("must have at least %d entries, has %d", k.Want, k.Got)}
	case *kind.UniqueItems:
		return &Invalid{path, "has an entry twice; expected each once"}
	case *kind.MaxItems:
		return &Invalid{path, fmt.Sprintf("must have at most %d entries, has %d", k.Want, k.Got)}
	}
	return &Invalid{path, "is not as the format expects: " + v.Error()}
}

// kindWords name a kind of value.
func kindWords(kind string) string {
	words, ok := map[string]string{"integer": "a whole number", "number": "a number", "string": "a text", "boolean": "true or false",
		"array": "a list", "object": "an object in braces", "null": "nothing"}[kind]
	if !ok {
		return kind
	}
	return words
}

func decimal(s string) string { return strings.TrimRight(strings.TrimRight(s, "0"), ".") }

func patternWords(p string) string {
	if strings.Contains(p, "/") {
		return "expected a reading such as 128/78"
	}
	return "expected a date as YYYY-MM-DD"
}

func pathOf(location []string) string {
	out := ""
	for _, l := range location {
		if l != "" && strings.Trim(l, "0123456789") == "" {
			out += "[" + l + "]"
		} else {
			out = join(out, l)
		}
	}
	return out
}

func join(path, field string) string {
	if path == "" {
		return field
	}
	return path + "." + field
}
