package find

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

var shelf = New([]Doc{
	{ID: "bridge", Title: "Bridge", Also: []string{"seat and back of the legs"}, Text: "Lift the pelvis off the mat."},
	{ID: "bridge_held", Title: "Bridge, held", Text: "Stay up for a few breaths."},
	{ID: "half_squat_chair", Title: "Half squat to a chair", Also: []string{"leg strength"}},
	{ID: "knees", Title: "Both knees to the chest", Text: "easing the back; stretching"},
	{ID: "bone", Title: "Fragile bone", Also: []string{"osteoporosis"}},
}, []Saying{{Say: []string{"sit to stand", "chair stand"}, To: []string{"half_squat_chair"}},
	{Say: []string{"glutes"}, Means: []string{"seat"}}})

func first(q string) string {
	hits, _ := shelf.Find(q, 3)
	if len(hits) == 0 {
		return ""
	}
	return hits[0].ID
}

func TestFind(t *testing.T) {
	for q, want := range map[string]string{
		"bridge": "bridge", "Bridges": "bridge", "bridge held": "bridge_held", "brigde": "bridge", "osteoporsis": "bone", "osteop": "bone",
		"sit-to-stand": "half_squat_chair", "chiar": "half_squat_chair", "glutes": "bridge", "stretch": "knees", "the knee": "knees",
		"": "", "of the": "", "zebra": "", "bridge zebra": "",
	} {
		assert.Equal(t, want, first(q), q)
	}
	_, meant := shelf.Find("brigde", 3)
	assert.Equal(t, "bridg", meant)
	_, meant = shelf.Find("bridge", 3)
	assert.Empty(t, meant)
	assert.Equal(t, 1, apart("chair", "chiar"))
	assert.Equal(t, 3, apart("a", "abcdef"))
}
