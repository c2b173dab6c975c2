package library

import (
	"fmt"

	"restbend/core/exercise"
)

// pathed gives every variant what to try where it is felt in the wrong place, by the rules
// of complaints.yaml. A rule that is wrong is refused with its number and field.
func (l *Library) pathed(rules []exercise.ComplaintRule) error {
	var families []string
	for _, f := range l.Families {
		families = append(families, f.ID)
	}
	for i, r := range rules {
		if err := r.Check(families); err != nil {
			return fmt.Errorf("complaints.yaml: [%d].%w", i, err)
		}
	}
	for _, v := range l.Variants {
		v.Complaints = exercise.Complaints(rules, v, l.Variants)
	}
	return nil
}
