// Package find looks for words among titles and texts: in any form of a word, with a slip of
// the finger, and by what people in a trade say for it.
package find

import (
	"math"
	"slices"
	"strings"
	"unicode"

	"github.com/kljensen/snowball/english"
)

// Doc is something that can be found.
type Doc struct {
	ID    string // what sayings point to
	Kind  string // groups what is found
	Title string
	Also  []string // other names
	Text  string   // what else it says
	Link  string
	Sub   string // a line under its title
}

// Saying is what people say, and where that leads: straight to ids, in this order, and to
// other words.
type Saying struct {
	Say   []string `yaml:"say"`
	To    []string `yaml:"to"`
	Means []string `yaml:"means"`
}

// Hit is a document that was found; more is better.
type Hit struct {
	Doc
	Score float64
}

// How much a word counts, by where it stands, and by how well it matches.
const (
	inTitle, inAlso, inText = 6.0, 4.0, 1.0
	beginning, slipped      = 0.7, 0.45
	said                    = 40.0 // straight from a saying
)

// Index is what is looked through.
type Index struct {
	docs    []entry
	sayings []saying
	often   map[string]int // in how many documents a stem is
	byID    map[string]int
}

type entry struct {
	Doc
	words  map[string]float64 // the weight of each stem
	length int                // of the title, in words
}

type saying struct {
	say   [][]string // stems
	to    []string
	means [][]string
}

// New indexes documents.
func New(docs []Doc, sayings []Saying) *Index {
	x := &Index{often: map[string]int{}, byID: map[string]int{}}
	for i, d := range docs {
		e := entry{Doc: d, words: map[string]float64{}, length: len(stems(d.Title))}
		put := func(text string, weight float64) {
			for _, s := range stems(text) {
				e.words[s] = math.Max(e.words[s], weight)
			}
		}
		put(d.Text, inText)
		for _, a := range d.Also {
			put(a, inAlso)
		}
		put(d.Title, inTitle)
		for s := range e.words {
			x.often[s]++
		}
		x.docs = append(x.docs, e)
		x.byID[d.ID] = i
	}
	for _, s := range sayings {
		k := saying{to: s.To}
		for _, text := range s.Say {
			k.say = append(k.say, stems(text))
		}
		for _, text := range s.Means {
			k.means = append(k.means, stems(text))
		}
		x.sayings = append(x.sayings, k)
	}
	return x
}

// Find looks for words and gives back at most so many documents, the best first, and what
// was looked for in place of a word that is nowhere; empty where all were found.
func (x *Index) Find(query string, most int) (hits []Hit, meant string) {
	asked := stems(query)
	if len(asked) == 0 {
		return nil, ""
	}
	score := map[int]float64{}
	add := func(i int, v float64) { score[i] = math.Max(score[i], v) }
	for _, s := range x.sayings {
		for _, say := range s.say {
			at := within(asked, say)
			if at < 0 {
				continue
			}
			rest := slices.Concat(asked[:at], asked[at+len(say):])
			for n, id := range s.to {
				if i, ok := x.byID[id]; ok {
					add(i, said+5*float64(len(say))-float64(n)+x.rate(i, rest, false)) // more words are more meant
				}
			}
			for _, m := range s.means {
				words := slices.Concat(rest, m)
				for i := range x.docs {
					if v := x.rate(i, words, true); v > 0 {
						add(i, 0.9*v)
					}
				}
			}
		}
	}
	words, changed := x.mended(asked)
	for i := range x.docs {
		if v := x.rate(i, words, true); v > 0 {
			add(i, v)
		}
	}
	if changed {
		meant = strings.Join(words, " ")
		if len(score) == 0 {
			meant = ""
		}
	}
	for i, v := range score {
		hits = append(hits, Hit{x.docs[i].Doc, v})
	}
	slices.SortFunc(hits, func(a, b Hit) int {
		if a.Score != b.Score {
			if a.Score > b.Score {
				return -1
			}
			return 1
		}
		return strings.Compare(a.Title, b.Title)
	})
	return hits[:min(len(hits), most)], meant
}

// rate is how well a document answers words; 0 where it lacks one and needs all.
func (x *Index) rate(i int, words []string, all bool) float64 {
	e := &x.docs[i]
	sum := 0.0
	for n, w := range words {
		best := e.words[w] * x.rare(w)
		if best == 0 && n == len(words)-1 && len(w) > 2 { // the last may not be typed to its end
			for s, weight := range e.words {
				if strings.HasPrefix(s, w) {
					best = math.Max(best, beginning*weight*x.rare(s))
				}
			}
		}
		if best == 0 && all {
			return 0
		}
		sum += best
	}
	return sum / (1 + 0.06*float64(e.length))
}

// rare is what a word counts by how few have it.
func (x *Index) rare(stem string) float64 {
	n := x.often[stem]
	if n == 0 {
		return 0
	}
	return 0.3 + math.Log(1+float64(len(x.docs))/float64(n))/math.Log(1+float64(len(x.docs)))
}

// mended puts the nearest known word in the place of each that is nowhere.
func (x *Index) mended(words []string) ([]string, bool) {
	out, changed := slices.Clone(words), false
	for n, w := range words {
		if x.often[w] > 0 || len(w) < 4 {
			continue
		}
		started := n == len(words)-1 && slices.ContainsFunc(x.docs, func(e entry) bool {
			for s := range e.words {
				if strings.HasPrefix(s, w) {
					return true
				}
			}
			return false
		})
		if started {
			continue
		}
		best, far, often := "", 3, 0
		for s, k := range x.often {
			d := apart(w, s)
			if most := 1 + len(w)/7; d > most {
				continue
			}
			if d < far || d == far && (k > often || k == often && s < best) {
				best, far, often = s, d, k
			}
		}
		if best != "" {
			out[n], changed = best, true
		}
	}
	return out, changed
}

// within is where a run of words begins in others; −1 where it is not.
func within(words, run []string) int {
	for i := 0; len(run) > 0 && i+len(run) <= len(words); i++ {
		if slices.Equal(words[i:i+len(run)], run) {
			return i
		}
	}
	return -1
}

// idle are words that say nothing of what is looked for.
var idle = map[string]bool{
	"a":       true,
	"an":      true,
	"the":     true,
	"of":      true,
	"for":     true,
	"with":    true,
	"and":     true,
	"or":      true,
	"to":      true,
	"in":      true,
	"on":      true,
	"my":      true,
	"her":     true,
	"his":     true,
	"is":      true,
	"exercis": true,
	"i":       true,
}

// stems are the words of a text without their endings; a hyphen parts words.
func stems(text string) []string {
	var out []string
	for _, w := range strings.FieldsFunc(strings.ToLower(strings.ReplaceAll(text, "’", "'")),
		func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '\'' }) {
		w = strings.TrimSuffix(strings.Trim(w, "'"), "'s")
		if s := english.Stem(w, false); s != "" && !idle[s] {
			out = append(out, s)
		}
	}
	return out
}

// apart is how many slips of the finger lie between two words: a letter wrong, too much, too
// few, or two the wrong way round.
func apart(a, b string) int {
	x, y := []rune(a), []rune(b)
	if d := len(x) - len(y); d > 2 || d < -2 {
		return 3
	}
	rows := make([][]int, len(x)+1)
	for i := range rows {
		rows[i] = make([]int, len(y)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(x); i++ {
		for j := 1; j <= len(y); j++ {
			same := 1
			if x[i-1] == y[j-1] {
				same = 0
			}
			rows[i][j] = min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+same)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				rows[i][j] = min(rows[i][j], rows[i-2][j-2]+1)
			}
		}
	}
	return rows[len(x)][len(y)]
}
