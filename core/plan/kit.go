package plan

import (
	"slices"

	"restbend/core/exercise"
)

// Available says whether the place, and what the client has, allow the
// variant.
func Available(v *exercise.Variant, place exercise.Place, has []string) bool {
	if !place.Holds(v.Position) || !slices.Contains(v.Places, place) {
		return false
	}
	kit := slices.Concat(has, place.OwnEquipment())
	have := func(e string) bool { return e == "wall" || slices.Contains(kit, e) }
	for _, e := range v.Equipment {
		// On a bed or table the mat is not wanted: the surface is there.
		if e == "mat" && (place == "bed" || place == "table") {
			continue
		}
		if !have(e) {
			return false
		}
	}
	for _, oneOf := range v.EquipmentOneOf {
		if !slices.ContainsFunc(oneOf, have) {
			return false
		}
	}
	return true
}

// kit is what there is to work with.
func (r Request) kit() []string {
	if r.atHand != nil {
		return r.atHand
	}
	return r.allKit()
}

// allKit is the client's equipment; at home everyday things stand in for more.
func (r Request) allKit() []string {
	if !r.Home {
		return r.Client.Equipment
	}
	out := slices.Clone(r.Client.Equipment)
	for _, e := range exercise.Equipment {
		if len(r.lib.StandIns[e]) > 0 && !slices.Contains(out, e) && !slices.Contains(bigThings, e) {
			out = append(out, e)
		}
	}
	return out
}

// Offers says whether a variant can be done in the place of the request with what
// there is.
func Offers(r Request, lib Library, v *exercise.Variant) bool {
	r.lib = lib
	return r.available(v)
}

// bigThings nobody improvises: they are there or they are not.
var bigThings = []string{"mat", "table", "bed"}
