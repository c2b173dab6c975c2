package web

import (
	"context"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
)

// TestASeatRestsTheLegs: whoever bears five minutes on two feet sits down between, the page
// says why, and offers nothing for the seat by itself.
func TestASeatRestsTheLegs(t *testing.T) {
	t.Parallel()
	s := newLocked(t)
	ctx := context.Background()
	s.add("olive", "owner")
	five := 5.0
	id, err := s.AddClient(ctx, limit.Client{Format: "restbend.client/1", Name: "Hyacinth Overlander", RedFlags: []string{},
		Place: "standing", Minutes: 30, Equipment: []string{"chair"}, Tolerates: limit.Tolerates{StandingMinutes: &five}})
	require.NoError(t, err)
	v := s.as("olive")
	status, at, _ := v.do(
		"POST",
		"/clients/"+id+"/plans",
		url.Values{"minutes": {"30"}, "place": {"standing"}, "approach": {"steady"}, "pain_now": {"0"}},
	)
	require.Equal(t, 303, status)
	row, err := s.Store.Plan(ctx, strings.TrimPrefix(at, "/plans/"))
	require.NoError(t, err)
	n := 0
	for i, it := range row.Plan.Items {
		if it.Seat {
			n = i + 1
			break
		}
	}
	require.Positive(t, n, "there is a seat")
	_, _, page := v.do("GET", at+"?item="+strconv.Itoa(n), nil)
	assert.Contains(t, page, "Sit down and let the legs rest.")
	assert.Contains(t, page, "It rests the legs between two stretches on two feet")
	assert.Contains(t, page, "5 minutes on two feet at a stretch are the most.")
	assert.NotContains(t, page, `data-key="Delete"`)
	_, _, paper := v.do("GET", at+"/print", nil)
	assert.Contains(t, paper, "Sit down and let the legs rest.")
	assert.Contains(t, paper, "<p>Emergency, now")
	status, _, page = v.do("POST", at+"/edit", url.Values{"revision": {"1"}, "item": {strconv.Itoa(n)}, "kind": {"remove"}})
	assert.Equal(t, 422, status)
	assert.Contains(t, page, "this seat rests the legs")
}
