package library

import (
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
)

// TestCuesReadEasily holds what is said to clients to plain English by Flesch's
// reading ease (206.835 - 1.015 words per sentence - 84.6 syllables per word,
// from memory); 80 is usually called easy, 60 to 70 plain.
func TestCuesReadEasily(t *testing.T) {
	assert.InDelta(t, 116, flesch("The cat sat on the mat."), 1, "six words of one syllable")
	assert.Less(t, flesch("Immediately re-establish proprioceptive awareness of intervertebral articulation."), 0.0)
	lib := load(t)
	for _, v := range lib.Variants {
		cues := strings.Join(v.Cues, ". ")
		assert.GreaterOrEqual(t, flesch(cues), 70.0, "%s: %s", v.ID, cues)
		assert.GreaterOrEqual(t, flesch(v.SetUp), 60.0, "%s: %s", v.ID, v.SetUp)
	}
}

// TestPicturesAreNotUsedTwice keeps a client from hearing the same picture for two
// different movements; rungs of one family may share theirs.
func TestPicturesAreNotUsedTwice(t *testing.T) {
	lib := load(t)
	said := map[string]string{}
	for _, v := range lib.Variants {
		if family, ok := said[v.Image]; ok {
			assert.Equal(t, family, v.Family, "%s: %s", v.ID, v.Image)
		}
		said[v.Image] = v.Family
	}
}

// flesch counts a syllable for every run of vowels but a silent last e.
func flesch(text string) float64 {
	words, syllables := 0, 0
	sentences := 0
	for _, s := range strings.FieldsFunc(text, func(r rune) bool { return strings.ContainsRune(".!?;:", r) }) {
		fields := strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return !unicode.IsLetter(r) && r != '\'' })
		if len(fields) == 0 {
			continue
		}
		sentences++
		for _, w := range fields {
			words++
			count, in := 0, false
			for _, r := range w {
				vowel := strings.ContainsRune("aeiouy", r)
				if vowel && !in {
					count++
				}
				in = vowel
			}
			if strings.HasSuffix(w, "e") && !strings.HasSuffix(w, "le") && count > 1 {
				count--
			}
			syllables += max(1, count)
		}
	}
	if words == 0 {
		return 0
	}
	return 206.835 - 1.015*float64(words)/float64(sentences) - 84.6*float64(syllables)/float64(words)
}
