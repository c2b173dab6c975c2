package civil_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/civil"
)

func Example() {
	day, _ := civil.Parse("2026-02-28")
	fmt.Println(day.AddDate(0, 0, 1), day.Weekday(), civil.Date(2026, time.March, 3).Since(day))
	// Output: 2026-03-01 Saturday 3
}

func TestADayIsThatOfTheClockItIsReadFrom(t *testing.T) {
	late := time.Date(2026, 11, 30, 23, 30, 0, 0, time.UTC)
	assert.Equal(t, "2026-11-30", civil.Of(late).String())
	assert.Equal(t, "2026-12-01", civil.Of(late.In(time.FixedZone("far east", 13*3600))).String())
	assert.Equal(t, civil.Date(2026, 12, 1), civil.Of(late.In(time.FixedZone("far east", 13*3600))), "zones leave no trace")
}

func TestNoDayIsEmpty(t *testing.T) {
	assert.True(t, civil.Day{}.IsZero())
	assert.Empty(t, civil.Day{}.String())
	for _, text := range []string{"", "2026-02-30", "2026-2-3", "01/02/2026", "2026-02-03T00:00:00Z", "0000-01-01"} {
		d, err := civil.Parse(text)
		assert.ErrorContains(t, err, "expected YYYY-MM-DD", text)
		assert.True(t, d.IsZero())
	}
}

func TestDaysAreReadBackAndCount(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := civil.Date(rapid.IntRange(1, 9998).Draw(t, "year"), time.Month(rapid.IntRange(1, 12).Draw(t, "month")),
			rapid.IntRange(1, 28).Draw(t, "day"))
		back, err := civil.Parse(d.String())
		require.NoError(t, err)
		assert.Equal(t, d, back)
		n := rapid.IntRange(-400, 400).Draw(t, "days")
		later := d.AddDate(0, 0, n)
		assert.Equal(t, n, later.Since(d))
		assert.Equal(t, n > 0, later.After(d))
		assert.Equal(t, n < 0, later.Before(d))
	})
}
