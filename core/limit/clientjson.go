package limit

import (
	"encoding/json"
	"fmt"
)

// Fields of a client file that may be written in two ways.

// UnmarshalJSON reads one place or a list.
func (w *Wheres) UnmarshalJSON(b []byte) error {
	var one string
	if json.Unmarshal(b, &one) == nil {
		*w = nil
		if one != "" {
			*w = Wheres{one}
		}
		return nil
	}
	var list []string
	if err := json.Unmarshal(b, &list); err != nil {
		return fmt.Errorf("expected a place of the body or a list of them: %w", err)
	}
	*w = list
	return nil
}

// MarshalJSON writes one place as a word.
func (w Wheres) MarshalJSON() ([]byte, error) {
	if len(w) == 1 {
		return json.Marshal(w[0])
	}
	return json.Marshal([]string(w))
}

// UnmarshalJSON reads true, false, or months and milligrams a day.
func (s *Steroids) UnmarshalJSON(b []byte) error {
	*s = Steroids{}
	if json.Unmarshal(b, &s.Taken) == nil {
		return nil
	}
	var of struct {
		Months  float64 `json:"months"`
		MgDaily float64 `json:"mg_daily"`
	}
	if err := json.Unmarshal(b, &of); err != nil {
		return fmt.Errorf("expected true, false, or months and mg_daily: %w", err)
	}
	*s = Steroids{true, of.Months, of.MgDaily}
	return nil
}

// MarshalJSON writes them as they are known.
func (s Steroids) MarshalJSON() ([]byte, error) {
	if s.Months == 0 && s.MgDaily == 0 {
		return json.Marshal(s.Taken)
	}
	return json.Marshal(map[string]float64{"months": s.Months, "mg_daily": s.MgDaily})
}
