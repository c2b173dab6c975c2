package web

import (
	"encoding/json"
	"net/url"
	"os"
	"strconv"
	"strings"
	"testing"

	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/formats"
)

// FuzzReadIntake: whatever is posted, the form is read without harm, and what is not
// marked as wrong is a client whose file is plain text.
func FuzzReadIntake(f *testing.F) {
	f.Add(full().Encode())
	f.Add("name=x&conditions=osteoporosis&osteoporosis.t_score=-2%2C5&pain_now=3")
	f.Add("conditions=scoliosis&scoliosis.thoracic=left&scoliosis.thoracic_cobb=1e9&owned.surface_cm=4;5")
	kept, err := os.ReadFile("testdata/intake.corpus") // what a long run found worth keeping
	if err != nil {
		f.Fatal(err)
	}
	for _, line := range strings.Split(strings.TrimSpace(string(kept)), "\n") {
		text, err := strconv.Unquote(line)
		if err != nil {
			f.Fatalf("%s: %v", line, err)
		}
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, body string) {
		form, err := url.ParseQuery(body)
		if err != nil {
			return // refused before it is read
		}
		in := readIntake(judge.Library.Conditions, form, limit.Client{Format: "restbend.client/1"}, 2026)
		in.idle(judge.Conditions, form, nil)
		if len(in.Wrong) > 0 {
			return
		}
		b, err := json.Marshal(in.Client)
		if err != nil {
			t.Fatal(err)
		}
		if formats.Validate("client", b) == nil {
			_ = judge.Check(in.Client, civil.Of(now)) // may be refused, not harmed
		}
	})
}
