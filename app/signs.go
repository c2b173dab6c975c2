package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"restbend/core/limit"
	"restbend/formats"
)

// Red flags, clearances and open questions, as they are answered.

// Warn adds a warning sign to a client, as it shows.
func (s *Studio) Warn(ctx context.Context, clientID, flag string) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		if _, known := limit.FindRedFlag(flag); !known {
			return &formats.Invalid{Path: "flag", Want: fmt.Sprintf("%q is no warning sign", flag)}
		}
		*c = withSigns(*c, []string{flag})
		on := s.Today().String()
		today := limit.Today{On: on}
		if c.Today != nil && c.Today.On == on {
			today = *c.Today
		}
		if !slices.Contains(today.New, flag) {
			today.New = append(slices.Clone(today.New), flag)
		}
		c.Today = &today
		return nil
	})
}

// ClearFlag writes down a clinician's word on a warning sign: it stays listed, and no longer
// stands in the way until it is there again. Without a day it is today's.
func (s *Studio) ClearFlag(ctx context.Context, clientID string, word limit.FlagCleared) error {
	word.By, word.Said = strings.TrimSpace(word.By), strings.TrimSpace(word.Said)
	flag, known := limit.FindRedFlag(word.Flag)
	switch {
	case !known:
		return &formats.Invalid{Path: "warning sign", Want: fmt.Sprintf("%q is not known", word.Flag)}
	case word.By == "":
		return &formats.Invalid{Path: "who cleared it", Want: "expected the name of the doctor or clinician"}
	case word.Said == "":
		return &formats.Invalid{Path: "what was said", Want: "expected their words, such as “scan clear, exercise as before”"}
	}
	if word.On == "" {
		word.On = s.Today().String()
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		if !slices.Contains(c.RedFlags, word.Flag) {
			return &formats.Invalid{Path: "warning sign", Want: flag.Name + " is not marked for this client"}
		}
		c.FlagsCleared = slices.DeleteFunc(slices.Clone(c.FlagsCleared), func(f limit.FlagCleared) bool { return f.Flag == word.Flag })
		c.FlagsCleared = append(c.FlagsCleared, word)
		if t := c.Today; t != nil { // it was said before the clinician looked
			today := *t
			today.New = slices.DeleteFunc(slices.Clone(t.New), func(id string) bool { return id == word.Flag })
			c.Today = &today
		}
		return nil
	})
}

// AskedAll writes down that a client was asked about all warning signs and has none.
func (s *Studio) AskedAll(ctx context.Context, clientID string) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		*c = withSigns(*c, nil)
		return nil
	})
}

// AnswerText settles what was found in a free text of a client.
func (s *Studio) AnswerText(ctx context.Context, clientID string, a limit.Answer) error {
	a.Answer, a.By = strings.TrimSpace(a.Answer), strings.TrimSpace(a.By)
	switch {
	case a.Answer == "" || len(a.Answer) > 500:
		return &formats.Invalid{Path: "answer", Want: "expected 1 to 500 characters"}
	case a.By == "":
		return &formats.Invalid{Path: "who answered", Want: "expected a name"}
	}
	a.On = s.Today().String()
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		c.Answers = slices.DeleteFunc(
			slices.Clone(c.Answers),
			func(o limit.Answer) bool { return o.Field == a.Field && o.Found == a.Found },
		)
		c.Answers = append(c.Answers, a)
		return nil
	})
}

// Agree writes down who agreed to exercise with a condition that is not known here.
func (s *Studio) Agree(ctx context.Context, clientID string, n int, word limit.Agreed) error {
	if word.By = strings.TrimSpace(word.By); word.By == "" {
		return &formats.Invalid{Path: "who agreed", Want: "expected a name"}
	}
	if word.On == "" {
		word.On = s.Today().String()
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		if n < 0 || n >= len(c.OtherConditions) {
			return &formats.Invalid{Path: "condition", Want: "is not there any more; reload the page"}
		}
		c.OtherConditions = slices.Clone(c.OtherConditions)
		c.OtherConditions[n].Agreed = &word
		return nil
	})
}

// keepWarnings keeps what a changed file must not lose without a word: a warning sign that
// was said stays until somebody clears it, and an answer stands as long as the text it is
// about.
func keepWarnings(c, before limit.Client) limit.Client {
	if len(before.RedFlags) > 0 {
		c = withSigns(c, nil)
		for _, id := range before.RedFlags {
			if !slices.Contains(c.RedFlags, id) {
				c.RedFlags = append(c.RedFlags, id)
			}
		}
	}
	was, is := c.Texts(), before.Texts()
	c.Answers = slices.DeleteFunc(slices.Clone(c.Answers), func(a limit.Answer) bool { return was[a.Field] != is[a.Field] })
	if len(c.Answers) == 0 {
		c.Answers = nil
	}
	return c
}
