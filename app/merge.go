package app

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"

	"restbend/core/limit"
)

// Clash is what two windows say differently of a client: nothing of it was saved.
type Clash struct {
	// Fields are the client file's fields, each with what it was, what the other window
	// made of it and what this one says, in words.
	Fields []ClashField
	// Merged is the client with mine in these fields and theirs in those that only they
	// changed.
	Merged limit.Client
}

// ClashField is one field of a clash.
type ClashField struct{ Field, Was, Theirs, Mine string }

func (c *Clash) Error() string {
	var words []string
	for _, f := range c.Fields {
		words = append(words, fmt.Sprintf("%s was %s and is %s by now; here it is %s", f.Field, f.Was, f.Theirs, f.Mine))
	}
	return "changed in another window in the meantime: " + strings.Join(words, "; ")
}

// Merge puts together what two windows made of one client: mine where it differs from
// the base, theirs elsewhere. Fields that both changed, each in another way, are a *Clash.
func Merge(base, mine, theirs limit.Client) (limit.Client, error) {
	var docs [3]map[string]any
	for i, c := range []limit.Client{base, mine, theirs} {
		b, err := json.Marshal(c)
		if err == nil {
			err = json.Unmarshal(b, &docs[i])
		}
		if err != nil {
			return limit.Client{}, err
		}
	}
	var out limit.Client
	clash := &Clash{}
	keys := map[string]bool{}
	for _, d := range docs {
		for k := range d {
			keys[k] = true
		}
	}
	for _, k := range slices.Sorted(maps.Keys(keys)) {
		was, is, other := docs[0][k], docs[1][k], docs[2][k]
		switch {
		case reflect.DeepEqual(was, is): // not touched here
			docs[1][k] = other
		case !reflect.DeepEqual(was, other) && !reflect.DeepEqual(is, other):
			clash.Fields = append(clash.Fields, ClashField{strings.ReplaceAll(k, "_", " "), plainly(was), plainly(other), plainly(is)})
		}
		if docs[1][k] == nil {
			delete(docs[1], k)
		}
	}
	b, err := json.Marshal(docs[1])
	if err == nil {
		err = json.Unmarshal(b, &out)
	}
	if err == nil && len(clash.Fields) > 0 {
		clash.Merged, err = out, clash
	}
	return out, err
}

// plainly says a value of a file in words.
func plainly(v any) string {
	switch x := v.(type) {
	case nil:
		return "empty"
	case bool:
		return map[bool]string{true: "yes", false: "no"}[x]
	case string:
		return "“" + x + "”"
	case []any:
		var words []string
		for _, e := range x {
			words = append(words, strings.Trim(plainly(e), "“”"))
		}
		return strings.Join(words, ", ")
	case map[string]any:
		var words []string
		for _, k := range slices.Sorted(maps.Keys(x)) {
			if k == "id" {
				words = append([]string{strings.ReplaceAll(strings.Trim(plainly(x[k]), "“”"), "_", " ")}, words...)
				continue
			}
			words = append(words, strings.ReplaceAll(k, "_", " ")+" "+strings.Trim(plainly(x[k]), "“”"))
		}
		return strings.Join(words, " ")
	}
	return fmt.Sprint(v)
}
