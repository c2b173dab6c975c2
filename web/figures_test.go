package web

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/draw"
)

// TestFiguresAreKeptWithinABound: what was drawn is found again; of more than are kept
// the oldest go and are drawn anew under the same address; a film whose stills are gone
// is drawn anew, not shown with holes.
func TestFiguresAreKeptWithinABound(t *testing.T) {
	f := newFigures(judge.Library)
	first := f.thumb("bird_dog_leg")
	require.NotEmpty(t, first.URL)
	assert.Greater(t, first.W, 20.0)
	assert.Greater(t, first.H, 20.0)
	assert.Equal(t, first, f.thumb("bird_dog_leg"))
	assert.Equal(t, Figure{}, f.thumb("gone"), "of what has left the library there is none")

	f.byHash = bounded[string, []byte](3)
	assert.False(t, f.has(first.URL))
	assert.Equal(t, first, f.thumb("bird_dog_leg"))
	assert.True(t, f.has(first.URL))
	for _, id := range []string{"cat_cow", "bridge", "heel_slide", "curl_up"} {
		f.thumb(id)
	}
	assert.Equal(t, 3, f.byHash.Len())
	assert.False(t, f.has(first.URL), "the oldest")

	f = newFigures(judge.Library)
	w := want{variant: "sit_to_stand", theme: draw.Light}
	film := f.film(w)
	require.NotEmpty(t, film)
	f.byHash.Remove(nameOf(film[2].URL[len(figurePath):]))
	again := f.film(w)
	assert.Equal(t, film, again)
	assert.True(t, f.has(film[2].URL))
	assert.Nil(t, f.film(want{variant: "gone"}))

	var drawing sync.WaitGroup // at once, and while films are drawn
	f = newFigures(judge.Library)
	for range 4 {
		drawing.Go(func() { assert.Equal(t, film, f.film(w)) })
		drawing.Go(func() { assert.Equal(t, first, f.thumb("bird_dog_leg")) })
	}
	drawing.Wait()
}
