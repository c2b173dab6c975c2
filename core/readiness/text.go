package readiness

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"restbend/core/limit"
)

// Phrase is something in a free text that matters, as clients say it.
type Phrase struct {
	ID       string   `yaml:"id"`
	Say      []string `yaml:"say"` // see pattern
	Question string   `yaml:"question"`
	// Holds is the answer to the question at which nothing is planned: yes to a sign, no to
	// whether a doctor has agreed. Sign is the warning sign that it then is; may be empty.
	Holds string `yaml:"holds"`
	Sign  string `yaml:"sign,omitempty"`
	// Lasting says that it matters also when it is over.
	Lasting bool `yaml:"lasting,omitempty"`

	find []pattern
}

// pattern is one way to say a phrase. Most texts do not have its stem, which is quicker to see
// than that they do not match.
type pattern struct {
	stem string // the longest word, or beginning of a word, that is in every match
	*regexp.Regexp
}

func (p pattern) index(line string) []int {
	if !strings.Contains(line, p.stem) {
		return nil
	}
	return p.FindStringIndex(line)
}

func (p pattern) matches(line string) bool { return p.index(line) != nil }

// AnswersToWords are the words that an answer of yes or no may begin with.
type AnswersToWords struct {
	Yes []string `yaml:"yes"`
	No  []string `yaml:"no"`
}

// Find is what was found in a text.
type Find struct {
	Phrase *Phrase
	Words  string // of the text
}

// text is one free text of a client.
type text struct{ field, says string }

// texts are the free texts of a client.
func texts(c limit.Client) []text {
	var out []text
	all := c.Texts()
	for _, field := range slices.Sorted(maps.Keys(all)) {
		if strings.TrimSpace(all[field]) != "" {
			out = append(out, text{field, all[field]})
		}
	}
	return out
}

// negators deny what follows them in the same clause; over says that something is past.
var (
	negators = []string{"no", "not", "never", "without", "nor", "none", "denies", "deny", "dont", "doesnt", "didnt", "isnt",
		"arent", "wasnt", "havent", "hasnt", "hadnt", "wont", "aint", "negative"}
	over = regexp.MustCompile(
		`(?:^| )(years? ago|decades? ago|as a child|as a (girl|boy|teenager)|in my (teens|twenties|thirties|youth)|long ago|used ` +
			`to|ago and (gone|healed|over)|in (19|20)\d\d|had (it|that) once|all gone|fully healed|years back|when i was (young|a ` +
			`child|little|at school)|after my \w+ (pregnancy|child|baby)|since (my|the) \w*\s?(pregnancy|child|baby|birth)|grown ` +
			`up)(?: |$)`,
	)
	turns = regexp.MustCompile(`[.;:!?\n]+| (?:but|however|although|though|except|yet|now)(?: |$)`)
)

// others are somebody else's illnesses, up to the word that says what they are.
var others = regexp.MustCompile(
	`(?:^| )(mum|mom|mother|dad|father|sister|brother|husband|wife|partner|aunt|uncle|` +
		`gran|grandmother|grandfather|friend|neighbour)s? (has|have|had|got|died|was|is)(?: |$)`,
)

// reach is how many words before a find are looked at for a denial, and short how many words
// a list goes on with after a comma for the denial to go on too.
const (
	reach = 7
	short = 3
)

// Read finds what matters in a free text, in the order of the rules, each once. What is
// denied is not found, nor what is over and no longer matters.
func (r *Rules) Read(says string) []Find {
	var out []Find
	for _, clause := range turns.Split(" "+strings.ToLower(says)+" ", -1) {
		pieces := strings.Split(clause, ",")
		denied := false
		for n, piece := range pieces {
			line := plainWords(piece)
			goesOn := denied && len(strings.Fields(line)) <= short // no numbness, tingling or weakness
			for i := range r.Phrases {
				p := &r.Phrases[i]
				if slices.ContainsFunc(out, func(f Find) bool { return f.Phrase == p }) {
					continue
				}
				if words := p.in(line, goesOn); words != "" {
					out = append(out, Find{p, words})
				} else if n > 0 && !goesOn { // a phrase may run over a comma
					if words := p.in(plainWords(pieces[n-1]+" "+piece), false); words != "" {
						out = append(out, Find{p, words})
					}
				}
			}
			denied = goesOn || beginsDenied(line)
		}
	}
	slices.SortStableFunc(out, func(a, b Find) int { return r.index(a.Phrase) - r.index(b.Phrase) })
	return out
}

func (r *Rules) index(p *Phrase) int {
	return slices.IndexFunc(r.Phrases, func(o Phrase) bool { return o.ID == p.ID })
}

// in finds a phrase in a clause; empty where it is not there, denied or over.
func (p *Phrase) in(line string, denied bool) string {
	if denied {
		return ""
	}
	for _, x := range p.find {
		at := x.index(line)
		if at == nil {
			continue
		}
		if !p.Lasting && over.MatchString(line) || others.MatchString(line) {
			return ""
		}
		before := strings.Fields(line[:at[0]])
		if len(before) > reach {
			before = before[len(before)-reach:]
		}
		if slices.ContainsFunc(before, func(w string) bool { return slices.Contains(negators, w) }) {
			continue
		}
		return strings.TrimSpace(line[at[0]:at[1]])
	}
	return ""
}

func beginsDenied(line string) bool {
	words := strings.Fields(line)
	return slices.ContainsFunc(words[:min(len(words), 4)], func(w string) bool { return slices.Contains(negators, w) })
}

var contractions = strings.NewReplacer("'", "", "’", "", "cannot", "cant", "can not", "cant")

// plainWords are the words of a text in lower case, parted by single spaces.
func plainWords(says string) string {
	says = contractions.Replace(strings.ToLower(says))
	return strings.Join(strings.FieldsFunc(says, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// covered says whether the lists know anything of a text.
func (r *Rules) covered(says string) bool {
	line := plainWords(says)
	if slices.ContainsFunc(r.plain, func(x pattern) bool { return x.matches(line) }) {
		return true
	}
	for i := range r.Phrases { // denied, or over
		if slices.ContainsFunc(r.Phrases[i].find, func(x pattern) bool { return x.matches(line) }) {
			return true
		}
	}
	return false
}

// freeText asks about what the free texts say and nobody has answered. An answer at which
// the phrase holds refers, or is the warning sign.
func (k *assessment) freeText() {
	for _, t := range texts(k.client) {
		found := k.Read(t.says)
		for _, f := range found {
			switch k.answered(t.field, f) {
			case "":
				k.restrict(Ask, "text."+f.Phrase.ID, ownSource, fmt.Sprintf("“%s”: %s", f.Words, f.Phrase.Question))
				k.asks(t.field, f.Words, f.Phrase.Question)
			case f.Phrase.Holds:
				k.restrict(
					Refer,
					"text."+f.Phrase.ID,
					ownSource,
					fmt.Sprintf("“%s”: %s The answer was %s. No session is planned.", f.Words,
						f.Phrase.Question, f.Phrase.Holds),
				)
				k.tellOfSign(f)
			}
		}
		if len(found) == 0 && !k.covered(t.says) && !slices.ContainsFunc(k.client.Answers,
			func(a limit.Answer) bool { return a.Field == t.field }) {
			k.asks(t.field, "", fmt.Sprintf("“%s” was not understood here: please read it.", t.says))
		}
	}
}

func (k *assessment) tellOfSign(f Find) {
	if sign, known := limit.FindRedFlag(f.Phrase.Sign); known {
		k.tellOf(sign.When, sign.Name)
		return
	}
	k.tell("doctor", "before_next", fmt.Sprintf("“%s”: the doctor looks at it before the next session.", f.Words))
}

// answered is the last answer to a find, as yes, no or another word; empty for none.
func (k *assessment) answered(field string, f Find) string {
	out := ""
	for _, a := range k.client.Answers {
		if a.Field != field || plainWords(a.Found) != f.Words || strings.TrimSpace(a.Answer) == "" {
			continue
		}
		first := strings.Fields(plainWords(a.Answer) + " -")[0]
		switch {
		case slices.Contains(k.Answers.Yes, first):
			out = "yes"
		case slices.Contains(k.Answers.No, first):
			out = "no"
		default:
			out = "said"
		}
	}
	return out
}
