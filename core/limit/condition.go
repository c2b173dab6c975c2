package limit

import (
	"encoding/json"
	"maps"
	"slices"
)

// Condition is a condition's id with what was answered about it, by the fields of its
// description: a word is a string, yes or no a bool, a figure a float64, curves a
// []Curve. In a file it is one flat object.
type Condition struct {
	ID      string
	details map[string]any
}

// Curve is one curve of a scoliosis: the side it bulges to and its angle by the
// Cobb method, 0 when it was never measured.
type Curve struct {
	Region  string  `json:"region"`
	Convex  string  `json:"convex"`
	CobbDeg float64 `json:"cobb_deg,omitempty"`
}

// With is the condition with one more answer, or another one; nil and "" take it away.
func (k Condition) With(field string, answer any) Condition {
	k.details = maps.Clone(k.details)
	if k.details == nil {
		k.details = map[string]any{}
	}
	switch v := answer.(type) {
	case int:
		answer = float64(v)
	case []Curve:
		answer = slices.Clone(v)
		if len(v) == 0 {
			answer = nil
		}
	}
	if answer == nil || answer == "" {
		delete(k.details, field)
		return k
	}
	k.details[field] = answer
	return k
}

// Word is the answer to a field of words; empty when nothing was said.
func (k Condition) Word(field string) string {
	v, _ := k.details[field].(string)
	return v
}

// Figure is the answer to a field of numbers.
func (k Condition) Figure(field string) (v float64, said bool) {
	v, said = k.details[field].(float64)
	return
}

// Yes is the answer to a field of yes or no.
func (k Condition) Yes(field string) (yes, said bool) {
	yes, said = k.details[field].(bool)
	return
}

// Curves are the curves answered to a field.
func (k Condition) Curves(field string) []Curve {
	v, _ := k.details[field].([]Curve)
	return slices.Clone(v)
}

// Answered names the fields that were answered, in alphabetical order.
func (k Condition) Answered() []string { return slices.Sorted(maps.Keys(k.details)) }

// MarshalJSON writes the flat object.
func (k Condition) MarshalJSON() ([]byte, error) {
	flat := maps.Clone(k.details)
	if flat == nil {
		flat = map[string]any{}
	}
	flat["id"] = k.ID
	return json.Marshal(flat)
}

// UnmarshalJSON reads the flat object. Whether the fields are known and the answers
// are of their kind is for Conditions.CheckClient to say.
func (k *Condition) UnmarshalJSON(b []byte) error {
	var raw map[string]json.RawMessage
	if err := json.Unmarshal(b, &raw); err != nil {
		return err
	}
	*k = Condition{}
	for field, text := range raw {
		if field == "id" {
			if err := json.Unmarshal(text, &k.ID); err != nil {
				return err
			}
			continue
		}
		var answer any
		if text[0] == '[' {
			var curves []Curve
			if err := json.Unmarshal(text, &curves); err != nil {
				return err
			}
			answer = curves
		} else if err := json.Unmarshal(text, &answer); err != nil {
			return err
		}
		*k = k.With(field, answer)
	}
	return nil
}
