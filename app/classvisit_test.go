package app

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/civil"
	"restbend/core/limit"
)

// TestAWordToTheRoomTakesNothingBack that somebody said by name earlier on the day.
func TestAWordToTheRoomTakesNothingBack(t *testing.T) {
	day := civil.Date(2026, 11, 24)
	eight, pulse, two := 8, 131, 2
	c := limit.Client{
		Pain: limit.Pain{Now: &eight, On: day.String()},
		Today: &limit.Today{
			On:    day.String(),
			Where: []string{"low_back"},
			Dizzy: true,
			Pulse: &pulse,
			New:   []string{"numbness", "fever_unwell"},
		},
	}
	said := answersOn(c, day)
	assert.Equal(t, Visit{Asked: true, Pain: 8, Where: []string{"low_back"}, Dizzy: true, Pulse: &pulse, New: []string{"numbness"}}, said)
	assert.Equal(t, Visit{Asked: true}, answersOn(c, day.AddDate(0, 0, 1)), "on another day it is history")

	signed := ClassAnswer{Sign: "chest_pain_at_rest"}.applyTo(said)
	assert.Equal(t, 8, signed.Pain, "a sign says nothing of pain")
	assert.Equal(t, []string{"chest_pain_at_rest"}, signed.RedFlags)
	assert.False(t, signed.Asked)

	less := ClassAnswer{Pain: &two}.applyTo(said)
	assert.Equal(t, 2, less.Pain)
	assert.Empty(t, less.Where, "where it hurt belongs to the pain before")
	assert.Equal(t, &pulse, less.Pulse)
}
