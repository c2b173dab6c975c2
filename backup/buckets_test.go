//go:build s3

package backup

import (
	"net/http/httptest"
	"testing"

	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
	"github.com/stretchr/testify/require"
)

// TestAFollowerHasItAllInABucket is TestAFollowerHasItAll with an object store.
func TestAFollowerHasItAllInABucket(t *testing.T) {
	bucket := s3mem.New()
	require.NoError(t, bucket.CreateBucket("studio"))
	srv := httptest.NewServer(gofakes3.New(bucket).Server())
	defer srv.Close()
	t.Setenv("AWS_CA_BUNDLE", "") // of the machine that tests
	t.Setenv("AWS_ACCESS_KEY_ID", "stand-in")
	t.Setenv("AWS_SECRET_ACCESS_KEY", "stand-in")
	hasItAll(t, "s3://studio/loft?endpoint="+srv.URL+"&forcePathStyle=true&region=here")
}
