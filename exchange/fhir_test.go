package exchange_test

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/samply/golang-fhir-models/fhir-models/fhir"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/exchange"
)

// TestABundleReadsBack: one patient, what was said, measured, wanted, planned and done, each
// under an id of its own and about that patient; the same again for the same client.
func TestABundleReadsBack(t *testing.T) {
	s := studio(t)
	all, err := s.Store.Clients(ctx)
	require.NoError(t, err)
	i := 0
	for n, k := range all {
		if strings.HasPrefix(k.Client.Name, "Odette") {
			i = n
		}
	}
	_, err = s.AddHome(ctx, all[i].ID, 3, 7)
	require.NoError(t, err)
	write := func() []byte {
		var b bytes.Buffer
		require.NoError(t, exchange.Bundle(ctx, s, &b, all[i]))
		return b.Bytes()
	}
	doc := write()
	assert.Equal(t, string(doc), string(write()))
	b, err := fhir.UnmarshalBundle(doc)
	require.NoError(t, err)
	kinds, ids := map[string]int{}, map[string]bool{}
	for _, e := range b.Entry {
		var r struct {
			ResourceType string `json:"resourceType"`
			ID           string `json:"id"`
			Subject      struct {
				Reference string `json:"reference"`
			} `json:"subject"`
		}
		require.NoError(t, json.Unmarshal(e.Resource, &r))
		kinds[r.ResourceType]++
		assert.False(t, ids[r.ID], r.ID)
		ids[r.ID] = true
		assert.Equal(t, "urn:uuid:"+r.ID, *e.FullUrl)
		if r.ResourceType != "Patient" {
			assert.Equal(t, "urn:uuid:"+all[i].ID, r.Subject.Reference, r.ResourceType)
		}
	}
	assert.Equal(t, 1, kinds["Patient"])
	for _, kind := range []string{"Condition", "Observation", "Goal", "CarePlan", "Procedure"} {
		assert.Positive(t, kinds[kind], kind)
	}
	assert.Contains(t, string(doc), `"unconfirmed"`, "what was told is not confirmed here")
}
