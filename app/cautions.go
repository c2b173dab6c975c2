package app

import (
	"strings"

	"restbend/core/limit"
)

// WhenToStop stands on everything that is taught from or taken home.
const WhenToStop = "Stop at sharp pain, tingling, dizziness, a held breath or the first loss of form."

// CallWhen are the warning signs that cannot wait, in two short lists: an emergency, now, with
// the number that the studio has set, and a doctor, today.
func (j *Judge) CallWhen() []string {
	number := ""
	if n := j.days.Load().Emergency; n != "" {
		number = ", ring " + n
	}
	return []string{"Emergency, now" + number + ": " + signsThat(limit.Now) + ".", "Doctor, today: " + signsThat(limit.SameDay) + "."}
}

// signsThat lists the signs that somebody has to look at so soon.
func signsThat(when string) string {
	var signs []string
	for _, f := range limit.RedFlags {
		if f.When == when {
			signs = append(signs, f.Name)
		}
	}
	last := len(signs) - 1
	return strings.Join(signs[:last], ", ") + " or " + signs[last]
}
