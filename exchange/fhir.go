package exchange

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/samply/golang-fhir-models/fhir-models/fhir"

	"restbend/app"
	"restbend/core/home"
	"restbend/core/limit"
	"restbend/store"
)

// A client as a bundle of FHIR R4: who it is, what was said and measured, what is wanted,
// what is at home and what was done. Nothing in it is a diagnosis of this program: conditions
// are as they were told.

// space makes the ids of what has none of its own, the same for the same content.
var space = uuid.MustParse("7b9f2f5e-5f0b-4d6a-9f0e-2f1d6f6b8a11")

// loinc are the codes of what has one (LOINC; from memory).
var loinc = map[string]fhir.Coding{
	"pain": {
		System:  ptr("http://loinc.org"),
		Code:    ptr("72514-3"),
		Display: ptr("Pain severity - 0-10 verbal numeric rating [Score] - Reported"),
	},
	"height": {System: ptr("http://loinc.org"), Code: ptr("8302-2"), Display: ptr("Body height")},
	"mass":   {System: ptr("http://loinc.org"), Code: ptr("29463-7"), Display: ptr("Body weight")},
}

// ucum are the units of measures (UCUM), by the ending of their id.
var ucum = []struct{ ending, code, words string }{
	{"_s", "s", "s"},
	{"_deg", "deg", "degrees"},
	{"_cm", "cm", "cm"},
	{"_seconds", "s", "s"},
}

func ptr[T any](v T) *T { return &v }

type bundle struct {
	fhir.Bundle
	patient fhir.Reference
	err     error
}

// add puts a resource into the bundle under an id of its own.
func (b *bundle) add(id string, resource any) {
	doc, err := json.Marshal(resource)
	if err != nil {
		b.err = err
		return
	}
	b.Entry = append(b.Entry, fhir.BundleEntry{FullUrl: ptr("urn:uuid:" + id), Resource: doc})
}

func idOf(parts ...any) string { return uuid.NewSHA1(space, []byte(fmt.Sprint(parts...))).String() }

func words(text string) fhir.CodeableConcept { return fhir.CodeableConcept{Text: ptr(text)} }

// Bundle writes what is known of a client.
func Bundle(ctx context.Context, s *app.Studio, w io.Writer, k store.Client) error {
	records, err := s.Store.RecordsOf(ctx, k.ID)
	if err != nil {
		return err
	}
	homes, err := s.Store.HomesOf(ctx, k.ID)
	if err != nil {
		return err
	}
	b := bundle{
		Bundle:  fhir.Bundle{Type: fhir.BundleTypeCollection, Timestamp: ptr(s.Now().UTC().Format(time.RFC3339))},
		patient: fhir.Reference{Reference: ptr("urn:uuid:" + k.ID)},
	}
	b.person(k)
	for _, c := range k.Client.Conditions {
		text := c.ID
		if d := s.Library.Conditions.Condition(c.ID); d != nil {
			text = d.Name
		}
		b.add(
			idOf(k.ID, "condition", c.ID),
			fhir.Condition{
				Id:      ptr(idOf(k.ID, "condition", c.ID)),
				Subject: b.patient,
				Code:    ptr(words(text)),
				VerificationStatus: &fhir.CodeableConcept{
					Coding: []fhir.Coding{
						{System: ptr("http://terminology.hl7.org/CodeSystem/condition-ver-status"), Code: ptr("unconfirmed")},
					},
				},
				ClinicalStatus: &fhir.CodeableConcept{
					Coding: []fhir.Coding{{System: ptr("http://terminology.hl7.org/CodeSystem/condition-clinical"), Code: ptr("active")}},
				},
			},
		)
	}
	for i, m := range k.Client.Measures {
		b.measure(k.ID, i, m)
	}
	for _, g := range k.Client.Goals {
		b.add(
			idOf(k.ID, "goal", g),
			fhir.Goal{
				Id:              ptr(idOf(k.ID, "goal", g)),
				Subject:         b.patient,
				LifecycleStatus: fhir.GoalLifecycleStatusActive,
				Description:     words(g.Words()),
			},
		)
	}
	if k.Client.GoalText != "" {
		b.add(
			idOf(k.ID, "wanted"),
			fhir.Goal{
				Id:              ptr(idOf(k.ID, "wanted")),
				Subject:         b.patient,
				LifecycleStatus: fhir.GoalLifecycleStatusActive,
				Description:     words(k.Client.GoalText),
			},
		)
	}
	for _, h := range homes {
		b.plan(h)
	}
	for _, r := range records {
		b.record(r)
	}
	if b.err != nil {
		return b.err
	}
	e := json.NewEncoder(w)
	e.SetIndent("", " ")
	return e.Encode(b.Bundle)
}

func (b *bundle) person(k store.Client) {
	p := fhir.Patient{Id: ptr(k.ID), Name: []fhir.HumanName{{Text: ptr(k.Client.Name)}}}
	if k.Client.BirthYear > 0 {
		p.BirthDate = ptr(fmt.Sprintf("%04d", k.Client.BirthYear))
	}
	switch k.Client.Sex {
	case "female":
		p.Gender = ptr(fhir.AdministrativeGenderFemale)
	case "male":
		p.Gender = ptr(fhir.AdministrativeGenderMale)
	case "":
	default:
		p.Gender = ptr(fhir.AdministrativeGenderOther)
	}
	b.add(k.ID, p)
	for _, size := range []struct {
		kind, unit string
		value      float64
	}{{"height", "cm", k.Client.HeightCM}, {"mass", "kg", k.Client.MassKG}} {
		if size.value > 0 {
			b.observe(
				idOf(k.ID, size.kind),
				fhir.CodeableConcept{Coding: []fhir.Coding{loinc[size.kind]}},
				"",
				size.value,
				size.unit,
				size.unit,
			)
		}
	}
}

func (b *bundle) observe(id string, code fhir.CodeableConcept, on string, value float64, unit, said string) {
	o := fhir.Observation{Id: ptr(id), Status: fhir.ObservationStatusFinal, Code: code, Subject: ptr(b.patient)}
	if on != "" {
		o.EffectiveDateTime = ptr(on)
	}
	o.ValueQuantity = &fhir.Quantity{Value: ptr(json.Number(fmt.Sprintf("%g", value)))}
	if unit != "" {
		o.ValueQuantity.Unit, o.ValueQuantity.System, o.ValueQuantity.Code = ptr(said), ptr("http://unitsofmeasure.org"), ptr(unit)
	}
	b.add(id, o)
}

func (b *bundle) measure(client string, n int, m limit.Measure) {
	text := strings.ReplaceAll(m.ID, "_", " ")
	for _, more := range []string{m.Variant, m.Activity, m.Side} {
		if more != "" {
			text += ", " + more
		}
	}
	unit, said := "{count}", "count"
	for _, u := range ucum {
		if strings.HasSuffix(m.ID, u.ending) {
			unit, said = u.code, u.words
		}
	}
	b.observe(idOf(client, "measure", n, m.ID, m.On), words(text), m.On, m.Value, unit, said)
}

func (b *bundle) plan(h store.Home) {
	p := fhir.CarePlan{
		Id:      ptr(h.ID),
		Status:  fhir.RequestStatusActive,
		Intent:  fhir.CarePlanIntentPlan,
		Subject: b.patient,
		Title:   ptr("Exercises at home"),
		Created: ptr(h.On),
		Period:  &fhir.Period{Start: ptr(h.On), End: ptr(h.Programme.AskAgainOn)},
	}
	for _, it := range append(append([]home.Item{}, h.Programme.Items...), h.Programme.Micro...) {
		p.Activity = append(p.Activity,
			fhir.CarePlanActivity{
				Detail: &fhir.CarePlanActivityDetail{Status: fhir.CarePlanActivityStatusInProgress, Code: ptr(words(it.Name)),
					Description: ptr(app.DoseWords(it.Dose, it.Sides) + ", " + app.HomeDays(it))},
			},
		)
	}
	b.add(h.ID, p)
}

func (b *bundle) record(r store.Record) {
	var done []fhir.Annotation
	for _, it := range r.Record.Items {
		if it.Skipped {
			continue
		}
		text := fmt.Sprintf("%s: %d × %d", it.Variant, max(1, it.Sets), it.Repetitions)
		if it.Side != "" {
			text += ", " + it.Side
		}
		done = append(done, fhir.Annotation{Text: text + ", ended: " + it.Ended})
	}
	b.add(
		r.ID,
		fhir.Procedure{
			Id:                ptr(r.ID),
			Status:            fhir.EventStatusCompleted,
			Code:              ptr(words("Supervised exercise session")),
			Subject:           b.patient,
			PerformedDateTime: ptr(r.Record.On),
			Note:              done,
		},
	)
	for _, at := range []struct {
		moment string
		pain   *int
	}{{"before the session", r.Record.Pain.Before}, {"during the session", r.Record.Pain.During},
		{"after the session", r.Record.Pain.After}} {
		if at.pain != nil {
			b.observe(
				idOf(r.ID, at.moment),
				fhir.CodeableConcept{Coding: []fhir.Coding{loinc["pain"]}, Text: ptr("Pain " + at.moment)},
				r.Record.On,
				float64(*at.pain),
				"{score}",
				"of 10",
			)
		}
	}
}
