package library

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

var updateSchemas = flag.Bool("schemas", false, "write what the registry and the conditions say into docs/schema")

// object is a JSON object whose fields keep their order.
type object = yaml.MapSlice

// TestSchemasSayWhatTheRegistryAndTheConditionsSay holds the published schemas against
// the registry of quantities and the descriptions of conditions. After adding either:
// go test ./library -run Schemas -schemas
func TestSchemasSayWhatTheRegistryAndTheConditionsSay(t *testing.T) {
	conditions := load(t).Conditions
	var flags []string
	for _, f := range limit.RedFlags {
		flags = append(flags, f.ID)
	}
	numbers := names(func(q exercise.Quantity) bool { return q.Kind == exercise.Number && !q.Inner }, false)
	all := names(func(exercise.Quantity) bool { return true }, false)
	published := names(func(q exercise.Quantity) bool { return !q.Inner }, true)
	for file, says := range map[string]map[string]any{
		"client": {"properties.conditions.items": conditionsSchema(conditions), "properties.red_flags.items.enum": flags,
			"properties.flags_cleared.items.properties.flag.enum": flags, "properties.today.properties.new.items.enum": append(
				slices.Clone(limit.NewSigns), flags...), "properties.instructions.items.properties.quantity": enum(numbers)},
		"limits": {"properties.limits.items.properties.quantity": enum(all), "properties.limits.items.properties.when": enum([]string{
			"any", "loaded", "held", "fast"}),
			"properties.limits.items.properties.with.properties.quantity": enum(names(func(q exercise.Quantity) bool { return q.Moments },
				false)),
			"properties.limits.items.properties.needs.items": enum(names(func(q exercise.Quantity) bool { return q.Aid },
				false)),
			"properties.session.items.properties.count": enum(limit.SessionCounts)},
		"check":   {"properties.verdicts.items.properties.quantities.propertyNames": object{{Key: "enum", Value: published}}},
		"catalog": {"properties.variants.items.properties.quantities.propertyNames": object{{Key: "enum", Value: published}}},
	} {
		path := "../docs/schema/restbend." + file + "-1.json"
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		var doc any
		require.NoError(t, yaml.UnmarshalWithOptions(text, &doc, yaml.UseOrderedMap()))
		for at, value := range says {
			doc = put(t, doc, strings.Split(at, "."), value)
		}
		var b bytes.Buffer
		write(&b, doc, 0)
		b.WriteByte('\n')
		if *updateSchemas {
			require.NoError(t, os.WriteFile(path, b.Bytes(), 0o644))
			continue
		}
		assert.JSONEq(t, string(text), b.String(), "%s is behind: go test ./library -run Schemas -schemas", path)
	}
}

// names are the names of the quantities that are kept, with sides, and with scopes
// where they are wanted.
func names(kept func(exercise.Quantity) bool, scopes bool) []string {
	var out []string
	for _, q := range exercise.Registry {
		sides := []string{""}
		if q.Sided {
			sides = []string{"", "left", "right"}
		}
		for _, side := range sides {
			for _, scope := range q.Scopes {
				if k, err := q.Key(side, scope); err == nil && kept(q) && (scopes || scope == exercise.WhenAny) {
					out = append(out, k.Name())
				}
			}
		}
	}
	return out
}

func enum(words []string) object {
	return object{{Key: "type", Value: "string"}, {Key: "enum", Value: words}}
}

// conditionsSchema is a condition of any kind: what each field may be, for whichever
// condition asks for it. Which one does is for the program to check.
func conditionsSchema(conditions limit.Conditions) object {
	var ids []string
	words, order, kinds := map[string][]string{}, []string{}, map[string]limit.Field{}
	for _, d := range conditions {
		ids = append(ids, d.ID)
		for _, f := range d.Fields {
			if _, seen := kinds[f.ID]; !seen {
				order, kinds[f.ID] = append(order, f.ID), f
			}
			if f.Kind == limit.KindSide {
				words[f.ID] = []string{"left", "right", "both"}
			}
			for _, c := range append(slices.Clone(f.Choices), limit.Choice{ID: f.Unknown}) {
				if f.Kind == limit.KindChoice && !slices.Contains(words[f.ID], c.ID) {
					words[f.ID] = append(words[f.ID], c.ID)
				}
			}
		}
	}
	fields := object{
		{Key: "id", Value: enum(ids)},
		{Key: limit.DateField,
			Value: object{{Key: "type", Value: "string"}, {Key: "pattern", Value: `^\d{4}-\d{2}-\d{2}$`}}},
		{
			Key:   limit.ClearedBy,
			Value: object{{Key: "type", Value: "string"}, {Key: "minLength", Value: 1}, {Key: "maxLength", Value: 120}},
		},
		{Key: limit.ClearedOn, Value: object{{Key: "type", Value: "string"}, {Key: "pattern", Value: `^\d{4}-\d{2}-\d{2}$`}}},
	}
	if kinds["months_since"].ID == "" { // time since an operation may be said in months too
		weeks := kinds["weeks_since"]
		order, kinds["months_since"] = append(order, "months_since"), weeks
	}
	for _, id := range order {
		var says object
		switch f := kinds[id]; f.Kind {
		case limit.KindChoice, limit.KindSide:
			says = enum(words[id])
		case limit.KindYesNo:
			says = object{{Key: "type", Value: "boolean"}}
		case limit.KindFigure:
			says = object{{Key: "type", Value: "number"}, {Key: "minimum", Value: *f.Min}, {Key: "maximum", Value: *f.Max}}
		case limit.KindCurves:
			says = object{{Key: "type", Value: "array"}, {Key: "maxItems", Value: len(limit.Regions)}, {Key: "items", Value: object{
				{
					Key:   "type",
					Value: "object",
				},
				{Key: "additionalProperties", Value: false},
				{Key: "required", Value: []string{"region", "convex"}},
				{
					Key: "properties",
					Value: object{
						{Key: "region", Value: enum(limit.Regions)},
						{Key: "convex", Value: enum([]string{"left", "right"})},
						{
							Key:   "cobb_deg",
							Value: object{{Key: "type", Value: "number"}, {Key: "minimum", Value: 0}, {Key: "maximum", Value: 150}},
						},
					},
				},
			}}}
		default:
			says = object{{Key: "type", Value: "string"}, {Key: "maxLength", Value: 20}}
		}
		fields = append(fields, yaml.MapItem{Key: id, Value: says})
	}
	return object{
		{Key: "type", Value: "object"},
		{Key: "additionalProperties", Value: false},
		{Key: "properties", Value: fields},
		{Key: "required", Value: []string{"id"}},
	}
}

// put sets a value in a document by its path.
func put(t *testing.T, doc any, path []string, value any) any {
	o, ok := doc.(object)
	require.True(t, ok, path)
	i := slices.IndexFunc(o, func(m yaml.MapItem) bool { return m.Key == path[0] })
	if len(path) == 1 {
		if i < 0 {
			return append(o, yaml.MapItem{Key: path[0], Value: value})
		}
		o[i].Value = value
		return o
	}
	require.GreaterOrEqual(t, i, 0, "there is no %s", strings.Join(path, "."))
	o[i].Value = put(t, o[i].Value, path[1:], value)
	return o
}

// write writes a document as JSON, one space for each level.
func write(b *bytes.Buffer, doc any, level int) {
	in := "\n" + strings.Repeat(" ", level+1)
	list := func(open, close byte, n int, each func(int)) {
		b.WriteByte(open)
		for i := range n {
			if i > 0 {
				b.WriteByte(',')
			}
			b.WriteString(in)
			each(i)
		}
		if n > 0 {
			b.WriteString(in[:len(in)-1])
		}
		b.WriteByte(close)
	}
	switch v := doc.(type) {
	case object:
		list('{', '}', len(v), func(i int) {
			write(b, fmt.Sprint(v[i].Key), level)
			b.WriteString(": ")
			write(b, v[i].Value, level+1)
		})
	case []any:
		list('[', ']', len(v), func(i int) { write(b, v[i], level+1) })
	case []string:
		list('[', ']', len(v), func(i int) { write(b, v[i], level+1) })
	default:
		e := json.NewEncoder(b)
		e.SetEscapeHTML(false)
		if err := e.Encode(v); err != nil {
			panic(err)
		}
		b.Truncate(b.Len() - 1) // the encoder's new line
	}
}
