package formats

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"restbend/core/home"
)

// MaxBytes is the largest file that is read.
const MaxBytes = 1 << 20

// deepest is how far values may stand within each other.
const deepest = 32

// read reads a whole file of the named format before anything of it is believed. A
// refusal is an *Invalid.
func read(name string, b []byte, into any) error {
	if err := whole(b); err != nil {
		return err
	}
	if err := Validate(name, b); err != nil {
		return err
	}
	return misfit(json.Unmarshal(b, into))
}

// ReadDiary reads what came back from home, as published; its sense is for home.Diary.Check.
func ReadDiary(b []byte) (home.Diary, error) {
	var d home.Diary
	err := read("diary", b, &d)
	return d, err
}

// ReadPlain reads JSON of no published format: the whole of it first, then every field
// that is asked for and no other. A refusal is an *Invalid.
func ReadPlain(b []byte, into any) error {
	if err := whole(b); err != nil {
		return err
	}
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	err := d.Decode(into)
	if field, ok := strings.CutPrefix(fmt.Sprint(err), "json: unknown field "); err != nil && ok {
		return &Invalid{strings.Trim(field, `"`), "is not a field that is known here"}
	}
	return misfit(err)
}

// misfit turns what the schema let pass and the program cannot hold into a refusal.
func misfit(err error) error {
	var kind *json.UnmarshalTypeError
	var own *Invalid
	switch {
	case err == nil:
		return nil
	case errors.As(err, &own):
		return own
	case errors.As(err, &kind):
		expected := map[string]string{"int": "a whole number written without a point", "float64": "a number", "string": "a text",
			"bool": "true or false"}[kind.Type.String()]
		if expected == "" {
			expected = "something else"
		}
		return &Invalid{kind.Field, fmt.Sprintf("expected %s, found %s", expected, strings.TrimPrefix(kind.Value, "number "))}
	}
	return &Invalid{"", "the file cannot be read: " + strings.TrimPrefix(err.Error(), "json: ")}
}

// whole reads the text of a file from end to end: plain text, one JSON value, no field
// given twice at any depth, no number out of reach.
func whole(b []byte) error {
	if len(b) > MaxBytes {
		return &Invalid{"", fmt.Sprintf("the file is larger than %d KB", MaxBytes/1024)}
	}
	if len(bytes.TrimSpace(b)) == 0 {
		return &Invalid{"", "the file is empty; expected JSON"}
	}
	if !utf8.Valid(b) {
		at := 0
		for at < len(b) {
			r, n := utf8.DecodeRune(b[at:])
			if r == utf8.RuneError && n <= 1 {
				break
			}
			at += n
		}
		return &Invalid{"", fmt.Sprintf("the file holds bytes that are no text at line %d; expected UTF-8", lineOf(b, at))}
	}
	d := json.NewDecoder(bytes.NewReader(b))
	d.UseNumber()
	w := walker{d, b}
	if err := w.value("", 0); err != nil {
		return err
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return &Invalid{
			"",
			fmt.Sprintf("the file goes on after its end, at line %d; expected one value", lineOf(b, int(d.InputOffset()))),
		}
	}
	return nil
}

func lineOf(b []byte, at int) int { return 1 + bytes.Count(b[:min(at, len(b))], []byte("\n")) }

type walker struct {
	*json.Decoder
	text []byte
}

// next is the next token; what is no JSON is a refusal.
func (w walker) next() (json.Token, error) {
	t, err := w.Token()
	if err != nil {
		return nil, w.broken()
	}
	return t, nil
}

// broken says where the text stops being JSON.
func (w walker) broken() error {
	at := int(w.InputOffset())
	var s *json.SyntaxError
	if probe := json.Unmarshal(w.text, new(any)); errors.As(probe, &s) {
		at = int(s.Offset)
		if at >= len(w.text) {
			return &Invalid{"", fmt.Sprintf("the file is not valid JSON at line %d: it ends too early", lineOf(w.text, at))}
		}
		at = max(0, at-1) // the offset is after what was read last
	}
	near := []rune(string(w.text[at:min(len(w.text), at+40)]))
	near = near[:min(len(near), 12)]
	return &Invalid{
		"",
		fmt.Sprintf("the file is not valid JSON at line %d, near %q", lineOf(w.text, at), strings.TrimSpace(string(near))),
	}
}

// value walks one value of the file.
func (w walker) value(path string, depth int) error {
	if depth > deepest {
		return &Invalid{"", fmt.Sprintf("values stand more than %d deep within each other", deepest)}
	}
	t, err := w.next()
	if err != nil {
		return err
	}
	switch x := t.(type) {
	case string:
		return plainAt(path, x)
	case json.Number:
		if f, err := strconv.ParseFloat(x.String(), 64); err != nil || math.IsInf(f, 0) {
			return &Invalid{path, "is a number out of all reach"}
		}
	case json.Delim:
		seen := map[string]bool{}
		for i := 0; w.More(); i++ {
			at := fmt.Sprintf("%s[%d]", path, i)
			if x == '{' {
				key, err := w.next()
				if err != nil {
					return err
				}
				name := key.(string) // in an object the first of two is a text, or there is an error
				if err := plainAt(path, name); err != nil {
					return err
				}
				at = join(path, name)
				if seen[name] {
					return &Invalid{at, "is given twice; expected it once"}
				}
				seen[name] = true
			}
			if err := w.value(at, depth+1); err != nil {
				return err
			}
		}
		_, err = w.next() // its end
		return err
	}
	return nil
}

func plainAt(path, text string) error {
	if wrong := NotPlain(text); wrong != "" {
		return &Invalid{path, wrong}
	}
	return nil
}

// NotPlain says what makes a text something else than plain text: bytes that are none,
// characters that steer, marks that turn the direction of what is read. Empty for plain
// text.
func NotPlain(text string) string {
	if !utf8.ValidString(text) {
		return "holds bytes that are no text; expected UTF-8"
	}
	for _, r := range text {
		switch {
		case r == '\n' || r == '\r' || r == '\t':
		case unicode.Is(unicode.Bidi_Control, r):
			return fmt.Sprintf("holds an unseen mark (U+%04X) that turns the direction of reading; expected plain text", r)
		case unicode.IsControl(r) || r == '\u200b' || r == '\ufeff' || r == utf8.RuneError || r >= '\ue000' && r <= '\uf8ff':
			return fmt.Sprintf("holds a character that cannot be shown (U+%04X); expected plain text", r)
		}
	}
	return ""
}
