package web

import (
	"bytes"
	"context"
	"database/sql"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/store"
)

// TestTheTrail: what was seen and changed is in it, and a change from outside shows.
func TestTheTrail(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	ctx := context.Background()
	x.add("olive", "owner")
	v := x.as("olive")
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	k := all[0]
	v.get("/clients/" + k.ID)
	v.get("/clients/" + k.ID)
	v.post("/clients/"+k.ID+"/surfaces", url.Values{"surface": {"62"}})
	v.get("/clients/" + k.ID + "/out/client.json")
	lines, err := x.Store.Trail(ctx, k.ID, 0, 20)
	require.NoError(t, err)
	var what []string
	for _, l := range lines {
		what = append(what, l.Name+" "+l.What)
	}
	assert.Equal(t, []string{"The olive took out her data", "The olive entered a surface", "The olive looked at her page"}, what)
	_, body := v.get("/trail")
	assert.Contains(t, body, "entered a surface")
	assert.NotContains(t, body, "changed the database")
	n, seal, err := x.Store.CheckTrail(ctx)
	require.NoError(t, err)
	assert.Positive(t, n)
	assert.Len(t, seal, 64)
	changes := []string{"UPDATE trail SET what = 'did nothing' WHERE seq = 2", "DELETE FROM trail WHERE seq = 2"}
	for _, q := range changes {
		require.Error(t, outside(t, x.dir, q), "not even by hand, as long as the database looks after it")
	}
	require.NoError(t, outside(t, x.dir, "DROP TRIGGER trail_stays", "DROP TRIGGER trail_is_whole"))
	for _, q := range changes {
		require.NoError(t, outside(t, x.dir, q))
		_, _, err = x.Store.CheckTrail(ctx)
		assert.ErrorIs(t, err, store.ErrTrail)
	}
	_, body = v.get("/trail")
	assert.Contains(t, body, "changed the database with another program")
}

// TestErasedIsGone: after a client was erased no byte of the database names her, and a copy
// from before is told of until it goes.
func TestErasedIsGone(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	ctx := context.Background()
	x.add("olive", "owner")
	v := x.as("olive")
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	k := all[0]
	holds := func() bool {
		found := false
		for _, f := range []string{"restbend.db", "restbend.db-wal"} {
			b, err := os.ReadFile(filepath.Join(x.dir, f))
			require.NoError(t, err)
			found = found || bytes.Contains(b, []byte(k.Client.Name)) || bytes.Contains(b, []byte(k.ID+`"`))
		}
		return found
	}
	require.True(t, holds())
	status, _, body := v.post("/copies", nil)
	require.Equal(t, http.StatusSeeOther, status, body)
	x.clock = x.clock.Add(time.Second)

	// Kept and not used.
	v.post("/clients/"+k.ID+"/rights/restrict", nil)
	status, _, body = v.post("/clients/"+k.ID+"/plans", url.Values{"minutes": {"30"}})
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, body, "kept and not used")
	status, _, _ = v.post("/clients/"+k.ID+"/rights/restrict", url.Values{"lift": {"yes"}})
	assert.Equal(t, http.StatusSeeOther, status)
	_, _, body = v.post("/clients/"+k.ID+"/rights/consent", url.Values{"consent": {"keeping"}, "given": {"yes"}, "on": {"2027-11-20"}})
	assert.Contains(t, body, "expected a day up to today")

	_, _, body = v.post("/clients/"+k.ID+"/erase", url.Values{"name": {"Somebody"}, "why": {"she asked"}})
	assert.Contains(t, body, "written out")
	_, _, body = v.post("/clients/"+k.ID+"/erase", url.Values{"name": {k.Client.Name}, "why": {"asked by " + k.Client.Name}})
	assert.Contains(t, body, "do not name her")
	status, to, body := v.post("/clients/"+k.ID+"/erase", url.Values{"name": {k.Client.Name}, "why": {"she asked for it"}})
	require.Equal(t, http.StatusSeeOther, status, body)
	assert.False(t, holds(), "no byte of hers")
	status, _ = v.get("/clients/" + k.ID)
	assert.Equal(t, http.StatusNotFound, status)
	_, body = v.get(to)
	assert.Contains(t, body, "she asked for it")
	assert.Contains(t, body, "may hold her until")
	_, body = v.get("/trail")
	assert.Contains(t, body, "a client who was erased")
}

// outside changes the database as another program would.
func outside(t *testing.T, dir string, queries ...string) error {
	t.Helper()
	db, err := sql.Open("sqlite", filepath.Join(dir, "restbend.db")+"?_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	defer db.Close()
	for _, q := range queries {
		if _, err := db.ExecContext(context.Background(), q); err != nil {
			return err
		}
	}
	return nil
}
