package formats

import (
	"math"
	"slices"

	"restbend/core/body"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/readiness"
)

// Catalog is restbend.catalog/1.
type Catalog struct {
	Format   string           `json:"format"`
	Variants []CatalogVariant `json:"variants"`
}

// CatalogVariant is one variant as published. Quantities are for a body of
// default height and mass.
type CatalogVariant struct {
	Variant        string                   `json:"variant"`
	Family         string                   `json:"family"`
	Name           string                   `json:"name"`
	Position       exercise.Position        `json:"position"`
	EndPosition    exercise.Position        `json:"end_position"`
	Places         []exercise.Place         `json:"places"`
	Equipment      []string                 `json:"equipment"`
	EquipmentOneOf [][]string               `json:"equipment_one_of"`
	Purposes       []exercise.Purpose       `json:"purposes"`
	Phases         []exercise.Phase         `json:"phases"`
	Sided          bool                     `json:"sided"`
	SideMeans      string                   `json:"side_means,omitempty"`
	Chain          string                   `json:"chain"`
	Base           string                   `json:"base_of_support"`
	Demand         float64                  `json:"demand"`
	Next           []string                 `json:"next"`
	Swaps          []string                 `json:"swaps"`
	MayAdapt       []string                 `json:"may_adapt"`
	Dose           map[string]exercise.Dose `json:"dose"`
	Cues           []string                 `json:"cues"`
	Faults         []exercise.Fault         `json:"faults"`
	Stop           []string                 `json:"stop"`
	Why            string                   `json:"why"`
	Complaints     []exercise.Complaint     `json:"complaints"`
	SmallSteps     []exercise.SmallStep     `json:"small_steps"`    // inside the rung, easier first
	Earn           *exercise.Earn           `json:"earn,omitempty"` // of what follows; left out at the top
	Quantities     exercise.Quantities      `json:"quantities"`
}

// NewCatalog publishes the variants.
func NewCatalog(variants []*exercise.Variant) Catalog {
	out := Catalog{Format: "restbend.catalog/1", Variants: []CatalogVariant{}}
	for _, v := range variants {
		m := v.Plain().Measured
		base := m.Word("base_of_support")
		var earn *exercise.Earn
		if len(v.Next) > 0 {
			earn = &v.Earn
		}
		out.Variants = append(out.Variants, CatalogVariant{
			Variant:        v.ID,
			Family:         v.Family,
			Name:           v.Name,
			Position:       v.Position,
			EndPosition:    v.EndPosition,
			Places:         v.Places,
			Equipment:      full(v.Equipment),
			EquipmentOneOf: full(v.EquipmentOneOf),
			Purposes:       v.Purposes,
			Phases:         v.Phases,
			Sided:          v.Sided(),
			SideMeans:      v.SideMeans,
			Chain:          v.Chain,
			Base:           base,
			Demand:         math.Round(m.Demand()*10) / 10,
			Next:           full(v.NextIDs()),
			Swaps:          full(v.Swaps),
			MayAdapt:       full(v.MayAdapt),
			Dose:           map[string]exercise.Dose{"studio": v.Studio, "home": v.Home},
			Cues:           v.Cues,
			Faults:         full(v.Faults),
			Stop:           full(v.Stop),
			Why:            v.Why,
			Earn:           earn,
			Complaints:     full(v.Complaints),
			SmallSteps:     full(v.SmallSteps()),
			Quantities:     m.For(limit.DefaultHeightCM, limit.DefaultMassKG),
		})
	}
	return out
}

// full is the list, never null in JSON.
func full[T any](s []T) []T {
	if s == nil {
		return []T{}
	}
	return s
}

// Lever is restbend.lever/1: shares of body weight, which sum to 1.
type Lever struct {
	Format        string  `json:"format"`
	HandsShare    float64 `json:"hands_share"`
	ForearmsShare float64 `json:"forearms_share"`
	ToesShare     float64 `json:"toes_share"`
	KneesShare    float64 `json:"knees_share"`
	LumbarMoment  float64 `json:"lumbar_moment_nm"`
	TrunkAngle    float64 `json:"trunk_angle_deg"`
	// Of the disc between L4 and L5, in newtons and in multiples of quiet standing.
	LumbarCompressionN float64 `json:"lumbar_compression_n"`
	LumbarCompression  float64 `json:"lumbar_compression"`
}

// NewLever publishes what a shape asks of a body of the given height and mass.
func NewLever(l body.Lever, heightCM, massKG float64) Lever {
	round := func(v, unit float64) float64 { return math.Round(v/unit) * unit }
	out := Lever{"restbend.lever/1", round(l.Hands, 0.001), round(l.Forearms, 0.001), round(l.Toes, 0.001), round(l.Knees, 0.001),
		round(exercise.NewtonMetres(l.LowBack, heightCM, massKG), 0.1), round(l.TrunkDegrees, 0.1),
		round(l.Compression*massKG*exercise.Gravity, 1), round(l.Compression/body.QuietStanding().Lumbar.Compression, 0.01)}
	return out
}

// Limits is restbend.limits/1.
type Limits struct {
	Format   string         `json:"format"`
	Status   string         `json:"status"`
	Limits   []limit.Limit  `json:"limits"`
	Refer    []limit.Reason `json:"refer"`
	Risks    []limit.Risk   `json:"risks"`
	Needs    []limit.Need   `json:"needs"`
	Defaults []string       `json:"defaults"`
	// Session is what a whole session may hold at most.
	Session []limit.SessionCap `json:"session"`
	// Conflicts say where two conditions pull in opposite directions.
	Conflicts []string            `json:"conflicts"`
	Readiness readiness.Readiness `json:"readiness"`
}

// NewLimits publishes a set; nothing of it where somebody has to be asked first.
func NewLimits(s readiness.Limits) Limits {
	out := Limits{"restbend.limits/1", s.Status(), full(slices.Collect(s.Rows())), full(s.Refer()), full(s.Risks), full(s.Needs),
		full(s.Defaults), full(s.Session()), full(s.Conflicts), s.Readiness}
	if s.Status() != limit.OK {
		out.Limits, out.Needs, out.Session = []limit.Limit{}, []limit.Need{}, []limit.SessionCap{}
	}
	return out
}

// Check is restbend.check/1.
type Check struct {
	Format    string              `json:"format"`
	Status    string              `json:"status"`
	Refer     []limit.Reason      `json:"refer"`
	Verdicts  []CheckVerdict      `json:"verdicts"`
	Readiness readiness.Readiness `json:"readiness"`
}

// CheckVerdict is the verdict on one variant; under adapt, the quantities are
// those after the adaptations.
type CheckVerdict struct {
	Variant     string                `json:"variant"`
	Verdict     exercise.Verdict      `json:"verdict"`
	Adaptations []exercise.Adaptation `json:"adaptations"`
	Reasons     []limit.Reason        `json:"reasons"`
	Quantities  exercise.Quantities   `json:"quantities"`
	// Sides are given only where the two differ; the verdict is then the worse.
	Sides map[string]limit.SideVerdict `json:"sides,omitempty"`
}

// NewCheck judges the variants, done with what there is.
func NewCheck(s readiness.Limits, variants []*exercise.Variant, kit limit.Kit) Check {
	out := Check{"restbend.check/1", s.Status(), full(s.Refer()), []CheckVerdict{}, s.Readiness}
	if s.Status() != limit.OK {
		return out // nothing is judged before somebody was asked
	}
	for i, j := range limit.JudgeAll(s.Limits, variants, kit) {
		v := variants[i]
		out.Verdicts = append(out.Verdicts, CheckVerdict{v.ID, j.Verdict, full(j.Form.Adaptations), full(j.Reasons),
			j.Form.Measured.For(s.HeightCM, s.MassKG), sides(j)})
	}
	return out
}

// sides are the verdicts by side as published, their lists never null.
func sides(j limit.Judgement) map[string]limit.SideVerdict {
	for side, v := range j.Sides {
		v.Reasons = full(v.Reasons)
		j.Sides[side] = v
	}
	return j.Sides
}
