package home

import "restbend/core/lesson"

// cleanPain is the pain up to which an exercise counts as done clean (contract).
const cleanPain = 2

// Clean are the exercises that records say were done clean at least once: every set done,
// on both sides where there are two, and hardly any pain.
func Clean(records []lesson.Record) map[string]bool {
	out := map[string]bool{}
	for _, r := range records {
		if r.Pain.During != nil && *r.Pain.During > cleanPain {
			continue
		}
		broke := map[string]bool{}
		for _, it := range r.Items {
			if it.Skipped || it.Ended != "done" || it.Pain != nil && it.Pain.Score > cleanPain {
				broke[it.Variant] = true
			}
		}
		for _, it := range r.Items {
			if !broke[it.Variant] {
				out[it.Variant] = true
			}
		}
	}
	return out
}
