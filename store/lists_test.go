package store

import (
	"context"
	"database/sql"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestListsAreFoundByIndex: SQLite says how it would answer what the lists ask for, and
// nowhere walks through a table or sorts one.
func TestListsAreFoundByIndex(t *testing.T) {
	ctx := context.Background()
	s := open1(t, t.TempDir())
	defer s.Close()
	for name, args := range map[string][]any{
		"client_page":     {"", "", "%", "", "", 5},
		"clients_of_late": {"", "", 5},
		"plans_coming":    {"k", 5},
		"plans_taught":    {"k", 5},
		"taught_count":    {"k"},
		"plan_heads_of":   {"k", 5},
		"visits_on":       {"2026-11-24", "", "", 5},
		"count_on":        {"2026-11-24", "", ""},
		"to_follow_up":    {"2026-11-14", "2026-11-24", "", "", "", "", 5},
		"record_page":     {"2026-01-01", "2027-01-01", "", "", "", 5},
		"record_hits":     {"a", 5, "2026-01-01", "2027-01-01", "", "", 5},
		"additions_of":    {"[]"},
		"records_of":      {"k"},
		"classes":         {"2026-11-24", "2026-11-24", "", ""},
		"plans_between":   {"2026-11-24", "2026-12-24", "", ""},
	} {
		rows, err := s.read.(*sql.DB).QueryContext(ctx, "EXPLAIN QUERY PLAN "+s.query(name), args...)
		require.NoError(t, err, name)
		for rows.Next() {
			var id, parent, unused int
			var step string
			require.NoError(t, rows.Scan(&id, &parent, &unused, &step))
			walks := strings.HasPrefix(step, "SCAN ") &&
				!strings.Contains(step, "VIRTUAL TABLE") // a virtual one is the words, or the ids asked for
			assert.False(t, walks, "%s: %s", name, step)
			sorts := strings.HasPrefix(step, "USE TEMP B-TREE FOR ORDER BY") // of all, not of the last terms
			small := name == "visits_on" || name == "plans_between" || name == "classes" || name == "additions_of"
			assert.False(t, sorts && !small, "%s: %s", name, step)
		}
		require.NoError(t, rows.Close())
	}
}
