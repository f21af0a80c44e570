// Package heat answers how heat goes from where it arises to the air: joints,
// bodies, and what a hand bears.
package heat

import "photherm/core/design"

// JointKPerW is the resistance of a joint, K/W: as given, or of a layer
// R = t/(k·A·coverage) + contact/(A·coverage). Absent data: 0, ok false.
func JointKPerW(j *design.Joint) (kPerW float64, ok bool) {
	switch {
	case j == nil:
		return 0, false
	case j.KPerW != nil:
		return *j.KPerW, true
	case j.ThicknessM == nil || j.Conductivity == nil || j.AreaM2 == nil:
		return 0, false
	}
	area := *j.AreaM2
	if j.Coverage != nil {
		area *= *j.Coverage
	}
	kPerW = *j.ThicknessM / (*j.Conductivity * area)
	if j.ContactM2KPer != nil {
		kPerW += *j.ContactM2KPer / area
	}
	return kPerW, true
}

// AluminiumJPerKgK is the specific heat of aluminium, J/(kg·K) (CRC Handbook of
// Chemistry and Physics: 897).
const AluminiumJPerKgK = 900

// CapacityJPerK is a body's heat capacity, J/K; ok false if unknown.
func CapacityJPerK(b *design.Body) (jPerK float64, ok bool) {
	if b.HeatJPerK != nil {
		return *b.HeatJPerK, true
	}
	c := float64(AluminiumJPerKgK)
	if b.Shape != nil {
		c = MaterialOf(b.Shape).JPerKgK
	}
	if b.SpecificJPerK != nil {
		c = *b.SpecificJPerK
	}
	if b.MassKg != nil {
		return *b.MassKg * c, true
	}
	if b.Shape == nil {
		return 0, false
	}
	body, lacks := NewBody(b.Shape, 1)
	if len(lacks) > 0 {
		return 0, false
	}
	kg, ok := body.MassKg(b.Shape)
	return kg * c, ok
}
