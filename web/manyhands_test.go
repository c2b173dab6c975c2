package web

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/limit"
	"restbend/store"
)

// TestManyHandsAtOnce: several people look, change and note at the same time in a small studio.
// Nothing is refused but what another was faster with; with the race detector it shows that what
// requests share is shared rightly.
func TestManyHandsAtOnce(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	dir := t.TempDir()
	db, err := store.Open(ctx, dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	s := lockedOn(t, dir, db)
	s.add("olive", "owner")
	id, err := s.AddClient(ctx, limit.Client{Format: "restbend.client/1", Name: "Hyacinth Overlander", RedFlags: []string{},
		Place: "chair", Minutes: 15, Approach: "steady", Equipment: []string{"chair"}})
	require.NoError(t, err)
	today := s.Today().String()
	planID, err := s.AddPlan(ctx, id, app.Wish{Minutes: 15, Place: "chair", Approach: "steady"}, today, "10:00")
	require.NoError(t, err)

	asks := []struct {
		path string
		form url.Values
	}{
		{path: "/"},
		{path: "/clients/" + id},
		{path: "/plans/" + planID},
		{path: "/calendar"},
		{path: "/library?client=" + id},
		{path: "/search?q=hip"},
		{
			"/plans/" + planID + "/edit",
			url.Values{"revision": {"1"}, "item": {"2"}, "kind": {"remove"}},
		},
		{path: "/plans/" + planID + "?item=2"},
		{
			"/settings/look",
			url.Values{"text": {"large"}},
		},
		{"/clients/" + id + "/instructions", url.Values{"quantity": {"lumbar_flexion"}, "max": {"8"}, "by": {"a clinician"}}},
	}
	var hands sync.WaitGroup
	for hand := range 4 {
		v := s.as("olive")
		hands.Go(func() {
			for i := range asks {
				ask := asks[(i+3*hand)%len(asks)]
				method := http.MethodGet
				if ask.form != nil {
					method = http.MethodPost
				}
				status, _, body := v.do(method, ask.path, ask.form)
				allowed := []int{http.StatusOK, http.StatusSeeOther}
				if strings.HasPrefix(ask.path, "/plans/") {
					allowed = append(allowed, http.StatusConflict)
				}
				assert.Contains(t, allowed, status, ask.path+between(body, "<main", "</main>"))
			}
		})
	}
	hands.Wait()
	row, err := db.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, 2, row.Revision, "one of those who took the exercise out was first")
	k, err := db.Client(ctx, id)
	require.NoError(t, err)
	assert.Len(t, k.Client.Instructions, 4, "none of the figures is lost")
}
