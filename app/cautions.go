package app

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/limit"
)

// Cautions are what bears on a client today whatever is done, for every page on which
// work is planned or taught, the most pressing first: raised risks, conditions that pull
// two ways, rules that somebody loosened, and what a reading or age has set.
func Cautions(set limit.Set, book limit.Book) []string {
	var out []string
	say := func(text string) {
		if !slices.Contains(out, text) {
			out = append(out, text)
		}
	}
	for _, r := range set.Refer() {
		say(r.Text)
	}
	for _, r := range set.Risks {
		if r.Level == "raised" && r.Within == "" {
			say(r.Because)
		}
	}
	for _, text := range set.Conflicts {
		say(text)
	}
	for _, k := range set.Cleared {
		why := k.Rule
		if r := book.Rule(k.Rule); r != nil {
			why = r.Reason
		}
		say(fmt.Sprintf("Loosened: “%s”, cleared by %s on %s.", why, k.By, k.On))
	}
	return out
}

// WhenToStop and WhenToCall stand on everything that is taught from or taken home.
const WhenToStop = "Stop at sharp pain, tingling, dizziness, a held breath or the first loss of form."

// WhenToCall names the warning signs that are urgent.
var WhenToCall = func() string {
	var signs []string
	for _, f := range limit.RedFlags {
		if f.Urgent {
			signs = append(signs, f.Name)
		}
	}
	last := len(signs) - 1
	return "See a doctor today for " + strings.Join(signs[:last], ", ") + " or " + signs[last] + "."
}()
