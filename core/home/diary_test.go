package home_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/home"
)

var programme = home.Programme{Items: []home.Item{{Variant: "bridge"}, {Variant: "heel_slide"}, {Variant: "open_book"}}}

// TestACodeReadsBack: whatever was noted of done, pain and soreness comes back from the code.
func TestACodeReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := home.Diary{Format: "restbend.diary/1", Home: "h", Entries: []home.Entry{}}
		for _, day := range rapid.SliceOfNDistinct(rapid.IntRange(1, 28), 1, 8, rapid.ID).Draw(t, "days") {
			e := home.Entry{
				On:   "2026-11-" + string(rune('0'+day/10)) + string(rune('0'+day%10)),
				Done: []string{},
				Sore: rapid.Bool().Draw(t, "sore"),
			}
			for _, it := range programme.Items {
				if rapid.Bool().Draw(t, "done") {
					e.Done = append(e.Done, it.Variant)
				}
			}
			if rapid.Bool().Draw(t, "asked") {
				pain := rapid.IntRange(0, 10).Draw(t, "pain")
				e.Pain = &pain
			}
			d.Entries = append(d.Entries, e)
		}
		back, err := home.Decode(d.Code(programme), "h", programme)
		require.NoError(t, err)
		assert.Equal(t, d, back)
	})
	for _, bad := range []string{"", "soup", "261399AB2", "261125ZZ2", "261125AF2", "261125AB11", "261125AB"} {
		_, err := home.Decode(bad, "h", programme)
		assert.ErrorContains(t, err, "code", bad)
	}
}

// TestADiaryIsChecked: days to come, two entries a day, pain out of reach and exercises of
// another programme are named.
func TestADiaryIsChecked(t *testing.T) {
	six, twelve := 6, 12
	good := home.Diary{
		Format:  "restbend.diary/1",
		Home:    "h",
		Entries: []home.Entry{{On: "2026-11-23", Done: []string{"bridge"}, Pain: &six}, {On: "2026-11-24", Done: []string{}}},
	}
	require.NoError(t, good.Check(programme, today))
	worst, ok := good.Worst("2026-11-22", 2)
	assert.True(t, ok)
	assert.Equal(t, 6, worst)
	_, ok = good.Worst("2026-11-23", 2)
	assert.False(t, ok)
	for says, change := range map[string]func(*home.Diary){
		"format":             func(d *home.Diary) { d.Format = "diary" },
		"entries: 0":         func(d *home.Diary) { d.Entries = nil },
		"entries[0].on":      func(d *home.Diary) { d.Entries[0].On = "2026-11-26" },
		"entries[1].on":      func(d *home.Diary) { d.Entries[1].On = "2026-11-23" },
		"entries[0].pain":    func(d *home.Diary) { d.Entries[0].Pain = &twelve },
		"entries[0].where":   func(d *home.Diary) { d.Entries[0].Where = "soul" },
		"entries[0].done[0]": func(d *home.Diary) { d.Entries[0].Done = []string{"curl_up"} },
	} {
		d := good
		d.Entries = append([]home.Entry{}, good.Entries...)
		change(&d)
		assert.ErrorContains(t, d.Check(programme, today), says)
	}
}

// FuzzDecode: whatever is read out, it is a diary or a sentence that names the code.
func FuzzDecode(f *testing.F) {
	f.Add("261125ABC2s 2611260-")
	f.Fuzz(func(t *testing.T, code string) {
		d, err := home.Decode(code, "h", programme)
		if err != nil {
			assert.ErrorContains(t, err, "code")
			return
		}
		assert.NotEmpty(t, d.Entries)
	})
}
