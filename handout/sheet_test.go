package handout_test

import (
	"bytes"
	"io"
	"os"
	"strings"
	"testing"

	"github.com/ledongthuc/pdf"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/limit"
	"restbend/handout"
)

var today = civil.Date(2026, 11, 25)

func programme(t testing.TB) (home.Programme, *app.Judge) {
	j, err := app.NewJudge()
	require.NoError(t, err)
	c := limit.Client{
		Place:      "mat",
		Equipment:  []string{"mat", "chair", "band"},
		Goals:      []exercise.Purpose{"deep_core", "balance", "upper_back_posture"},
		Conditions: []limit.Condition{limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", false)},
	}
	r, err := j.Home(c, nil, today, 5, 7)
	require.NoError(t, err)
	p := j.WithCare(home.Make(r))
	require.Equal(t, "ready", p.Status, p.Notes)
	return p, j
}

func font(t testing.TB) []byte {
	b, err := os.ReadFile("../web/static/vendor/atkinson/latin.ttf")
	require.NoError(t, err)
	return b
}

var heading = handout.Heading{ID: "h1", Client: "Odette Brambling", Studio: "Lantern Loft", On: "25 November 2026", Again: "9 December"}

// TestASheetIsOneOrTwoPages in both sizes, and in large print no more than four.
func TestASheetIsOneOrTwoPages(t *testing.T) {
	p, j := programme(t)
	for _, size := range []string{"", "a4", "letter"} {
		s, err := handout.Sheet(p, heading, j.Library, handout.Options{Size: size, Font: font(t)})
		require.NoError(t, err)
		assert.LessOrEqual(t, s.Pages(), 2, size)
		b, err := s.Bytes()
		require.NoError(t, err)
		assert.True(t, bytes.HasPrefix(b, []byte("%PDF-")))
		large, err := handout.Sheet(p, heading, j.Library, handout.Options{Size: size, Large: true, Font: font(t)})
		require.NoError(t, err)
		assert.LessOrEqual(t, large.Pages(), 4, size)
		assert.Greater(t, large.Pages(), 1)
	}
	_, err := handout.Sheet(p, heading, j.Library, handout.Options{Size: "a9", Font: font(t)})
	assert.ErrorContains(t, err, "size")
}

// TestASheetReadsBack: a reader that is not ours finds the pages and, in the order in which
// they are read, the words.
func TestASheetReadsBack(t *testing.T) {
	p, j := programme(t)
	s, err := handout.Sheet(p, heading, j.Library, handout.Options{Font: font(t)})
	require.NoError(t, err)
	b, err := s.Bytes()
	require.NoError(t, err)
	r, err := pdf.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	assert.Equal(t, s.Pages(), r.NumPage())
	plain, err := r.GetPlainText()
	require.NoError(t, err)
	all, err := io.ReadAll(plain)
	require.NoError(t, err)
	words := strings.Join(strings.Fields(string(all)), "")
	at := -1
	for _, want := range []string{"Odette Brambling", "About", p.Items[0].Name, p.Items[1].Name, "Not for now", "When to stop",
		"The day after a lesson"} {
		found := strings.Index(words, strings.ReplaceAll(want, " ", ""))
		assert.Greater(t, found, at, want)
		at = found
	}
	assert.NotContains(t, words, "osteoporosis", "no diagnosis unless it is wished")
}

func BenchmarkSheet(b *testing.B) {
	p, j := programme(b)
	f := font(b)
	for b.Loop() {
		s, err := handout.Sheet(p, heading, j.Library, handout.Options{Font: f})
		if err == nil {
			_, err = s.Bytes()
		}
		if err != nil {
			b.Fatal(err)
		}
	}
}
