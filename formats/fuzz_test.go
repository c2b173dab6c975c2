package formats

import (
	"encoding/json"
	"errors"
	"os"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

var machine = regexp.MustCompile(`(^|: )json: |unmarshal|strconv|Go value|goroutine`)

// FuzzReadClient: whatever is read, it is refused in a sentence or taken as it was meant,
// so that written and read again it is the same.
func FuzzReadClient(f *testing.F) {
	for _, seed := range []string{`{}`, `{"format":"restbend.client/1"}`, `{"format":"restbend.client/1","pain":{"now":3},` +
		`"measures":[{"id":"breath_seconds","value":4.2,"on":"2026-11-02"}]}`,
		`{"format":"restbend.client/1","conditions":[{"id":"scoliosis","curves":[{"region":"thoracic","convex":"left",` +
			`"cobb_deg":20}]},{"id":"osteoporosis","t_score":-2.9}],"goals":["balance"]}`,
		`{"format":"restbend.client/1","rungs":[{"family":"bridge","variant":"bridge_low","dose":{"kind":"repetitions",` +
			`"repetitions":8,"seconds":6}}],"tolerates":{"floor":false}}`} {
		f.Add([]byte(seed))
	}
	corpus(f, "testdata/client.corpus")
	f.Fuzz(func(t *testing.T, in []byte) {
		c, err := ReadClient(in, today)
		refusal(t, err)
		if err != nil {
			return
		}
		out, err := json.Marshal(c)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := ReadClient(out, today); err != nil {
			t.Fatalf("%s was taken, and written as %s it is refused: %v", in, out, err)
		}
	})
}

// FuzzReadRecord is the same for records.
func FuzzReadRecord(f *testing.F) {
	for _, seed := range []string{`{}`, `{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"a","ended":"form",` +
		`"side":"left","repetitions":3}],"pain":{"before":3,"after":0}}`,
		`{"format":"restbend.record/1","on":"2026-11-24","items":[],"follow_up":{"hours_to_settle":2,"kind":"pain"}}`} {
		f.Add([]byte(seed))
	}
	corpus(f, "testdata/record.corpus")
	f.Fuzz(func(t *testing.T, in []byte) {
		r, err := ReadRecord(in, today)
		refusal(t, err)
		if err != nil {
			return
		}
		out, err := json.Marshal(r)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := ReadRecord(out, today); err != nil {
			t.Fatalf("%s was taken, and written as %s it is refused: %v", in, out, err)
		}
	})
}

// corpus adds what a long run found worth keeping: a quoted text a line.
func corpus(f *testing.F, file string) {
	b, err := os.ReadFile(file)
	if err != nil {
		f.Fatal(err)
	}
	for _, line := range strings.Split(strings.TrimSpace(string(b)), "\n") {
		text, err := strconv.Unquote(line)
		if err != nil {
			f.Fatalf("%s: %s: %v", file, line, err)
		}
		f.Add([]byte(text))
	}
}

// refusal holds an error to what a person can use.
func refusal(t *testing.T, err error) {
	t.Helper()
	var invalid *Invalid
	if err != nil && (!errors.As(err, &invalid) || invalid.Want == "" || machine.MatchString(err.Error())) {
		t.Fatalf("no sentence for people: %v", err)
	}
}
