package library

import (
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// expected is one entry of figures.yaml.
type expected struct {
	Why        string           `yaml:"why"`
	Pain       *int             `yaml:"pain"`
	Strict     bool             `yaml:"strict"`
	Place      string           `yaml:"place"`
	Conditions []map[string]any `yaml:"conditions"`
	Tolerates  map[string]bool  `yaml:"tolerates"`
	Measures   []map[string]any `yaml:"measures"`
	Screens    []map[string]any `yaml:"screens"`
	Rows       []string         `yaml:"rows"`
	Session    []string         `yaml:"session"`
	Refer      []string         `yaml:"refer"`
}

// client is the entry's client, as a file would have it.
func (e expected) client(t *testing.T) limit.Client {
	t.Helper()
	pain := 1
	if e.Pain != nil {
		pain = *e.Pain
	}
	b, err := json.Marshal(
		map[string]any{"height_cm": 170, "mass_kg": 70, "pain": map[string]int{"now": pain}, "strict": e.Strict, "place": e.Place,
			"conditions": e.Conditions, "tolerates": e.Tolerates, "measures": e.Measures, "screens": e.Screens},
	)
	require.NoError(t, err)
	var c limit.Client
	require.NoError(t, json.Unmarshal(b, &c), e.Why)
	return c
}

// line writes a row as figures.yaml does.
func line(l limit.Limit) string {
	out := l.Quantity
	if l.Bar {
		out = "bar " + out
	}
	if l.When != exercise.WhenAny {
		out += " " + string(l.When)
	}
	switch v := l.Max.(type) {
	case float64:
		if l.Quantity == "lumbar_moment" { // written as a share of weight × height
			v = float64(int(v/exercise.NewtonMetres(1, 170, 70)*1000+0.5)) / 1000
		}
		out += fmt.Sprintf(" %g", v)
	case string:
		out += " " + v
	default:
		out += " no"
	}
	if l.With != nil {
		out += fmt.Sprintf(" (%s %g)", l.With.Quantity, l.With.Over)
	}
	if len(l.Needs) > 0 {
		out += " (" + strings.Join(l.Needs, ", ") + ")"
	}
	return out
}

// TestSafetyFiguresOfEveryCondition holds every row of every condition against the table that
// was written by another hand: none is missing, none is milder, none is there for
// nothing.
func TestSafetyFiguresOfEveryCondition(t *testing.T) {
	l := load(t)
	text, err := os.ReadFile("testdata/figures.yaml")
	require.NoError(t, err)
	var table []expected
	require.NoError(t, yaml.UnmarshalWithOptions(text, &table, yaml.Strict()))
	spoken := map[string]bool{}
	for _, e := range table {
		set := limit.For(e.client(t), l.Conditions, today)
		var rows, session, refer []string
		for row := range set.Rows() {
			rows = append(rows, line(row))
			for _, r := range row.Reasons {
				spoken[r.Rule] = true
			}
		}
		for _, k := range set.Session() {
			if k.Count != limit.WristSeconds { // holds for everybody
				session = append(session, fmt.Sprintf("%s %g", k.Count, k.Max))
				spoken[k.Reasons[0].Rule] = true
			} else {
				assert.Equal(t, 90.0, k.Max)
			}
		}
		for _, r := range set.Refer() {
			refer = append(refer, r.Rule)
			spoken[r.Rule] = true
		}
		assert.ElementsMatch(t, e.Rows, rows, e.Why)
		assert.ElementsMatch(t, e.Session, session, e.Why)
		assert.ElementsMatch(t, e.Refer, refer, e.Why)
	}
	for _, d := range l.Conditions {
		for _, r := range d.Rules {
			limits := len(r.Limits)+len(r.Session) > 0 || r.Refer
			assert.True(t, spoken[r.ID] || !limits, "%s is in no entry of figures.yaml", r.ID)
		}
	}
}

// wanted are the purposes that each condition asks for, written down from the published
// table.
var wanted = map[string]string{
	"low_back_pain":         "mobility_flexion_extension deep_core hip_extension gait",
	"disc_sciatica":         "deep_core hip_hinge back_extensor_endurance hip_extension",
	"extension_sensitive":   "decompression deep_core hip_mobility hip_extension mobility_flexion_extension",
	"osteopenia":            "leg_strength back_extensor_endurance upper_back_posture balance arm_loading",
	"osteoporosis":          "upper_back_posture back_extensor_endurance leg_strength balance hip_hinge arm_loading",
	"scoliosis":             "mobility_side_bend lateral_stability breath upper_back_posture",
	"spinal_fusion":         "anti_rotation anti_extension dissociation hip_hinge",
	"sacroiliac":            "coordination decompression deep_core hip_abduction gait",
	"hypermobility":         "coordination deep_core lateral_stability hip_abduction balance",
	"hip_replacement":       "hip_extension hip_abduction leg_strength balance gait",
	"hip_osteoarthritis":    "hip_mobility hip_abduction hip_extension leg_strength",
	"knee_osteoarthritis":   "leg_strength hip_abduction hip_extension balance",
	"shoulder_pain":         "shoulder_mobility upper_back_posture",
	"wrist_pain":            "",
	"neck_pain":             "neck_mobility upper_back_posture relaxation",
	"raised_blood_pressure": "breath gait relaxation",
	"falls_risk":            "balance leg_strength gait calf_strength transfers",
	"deconditioned":         "leg_strength gait breath hip_extension",
	"desk_stiffness": "mobility_flexion_extension mobility_rotation mobility_side_bend upper_back_posture hip_mobility " +
		"neck_mobility",
	"pregnant":                    "",
	"abdominal_surgery_or_hernia": "breath deep_core gait",
	"diastasis":                   "deep_core breath lateral_stability",
	"prolapse_or_leakage":         "breath deep_core hip_abduction hip_extension",
	"discectomy_or_laminectomy":   "deep_core hip_hinge gait hip_extension",
	"knee_replacement":            "leg_strength hip_abduction balance gait calf_strength hamstring_length",
	"rotator_cuff_repair":         "upper_back_posture shoulder_mobility",
	"peripheral_neuropathy":       "balance calf_strength gait ankle_mobility",
	"dizziness_or_medication":     "balance breath",
	"parkinsons":                  "mobility_rotation upper_back_posture balance gait transfers",
	"stroke":                      "balance gait leg_strength coordination",
	"multiple_sclerosis":          "balance gait breath leg_strength",
	"glaucoma_or_eye_surgery":     "",
	"reflux":                      "",
	"ankylosing_spondylitis":      "mobility_flexion_extension mobility_rotation upper_back_posture breath hip_mobility",
	"rheumatoid_arthritis":        "hip_mobility shoulder_mobility leg_strength",
	"anticoagulants":              "balance",
	"cancer_in_bone":              "",
	"heart_disease":               "gait breath leg_strength",
	"persistent_fatigue":          "breath relaxation",
	"lymphoedema":                 "breath shoulder_mobility ankle_mobility",
	"osteoarthritis_hand":         "",
	"aneurysm":                    "breath gait mobility_flexion_extension",
	"breast_surgery":              "shoulder_mobility upper_back_posture breath",
	"diabetes":                    "leg_strength gait balance",
	"epilepsy":                    "leg_strength gait",
	"fibromyalgia":                "gait breath leg_strength relaxation",
	"frozen_shoulder":             "shoulder_mobility upper_back_posture",
	"hernia":                      "breath deep_core leg_strength gait",
	"hip_fracture_fixed":          "hip_extension hip_abduction leg_strength balance gait",
	"kyphoplasty":                 "upper_back_posture back_extensor_endurance leg_strength balance hip_hinge",
	"lateral_hip_pain":            "hip_abduction hip_extension leg_strength",
	"lung_disease":                "breath leg_strength gait upper_back_posture",
	"memory_loss":                 "leg_strength balance gait",
	"pacemaker":                   "gait leg_strength shoulder_mobility",
	"positional_vertigo":          "balance gait",
	"postnatal":                   "deep_core breath hip_extension upper_back_posture",
	"recent_clot":                 "calf_strength gait ankle_mobility breath",
	"recent_fracture":             "balance breath",
	"recent_heart_operation":      "gait breath leg_strength",
	"shoulder_replacement":        "upper_back_posture shoulder_mobility",
	"stoma":                       "deep_core breath gait",
}

func TestWhatEveryConditionWants(t *testing.T) {
	for _, d := range load(t).Conditions {
		var got []string
		for _, n := range limit.For(limit.Client{Conditions: []limit.Condition{{ID: d.ID}}}, limit.Conditions{d}, today).Needs {
			got = append(got, string(n.Purpose))
		}
		want, known := wanted[d.ID]
		assert.True(t, known, d.ID)
		assert.ElementsMatch(t, strings.Fields(want), got, d.ID)
	}
	set := func(id string) limit.Limits {
		return limit.For(limit.Client{Conditions: []limit.Condition{{ID: id}}}, load(t).Conditions, today)
	}
	assert.True(t, set("deconditioned").FirstRungs && set("deconditioned").EvenRest, "first rungs only, rest 1:1")
	assert.False(t,
		slices.ContainsFunc(
			[]string{"osteoporosis", "neck_pain"},
			func(id string) bool { return set(id).FirstRungs || set(id).EvenRest },
		),
	)
}
