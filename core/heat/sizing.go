package heat

import "photherm/core/design"

// The area rule (common practice): so much surface for each heat watt, in still air and with
// a fan.
const (
	inch2         = 0.0254 * 0.0254
	PassiveM2PerW = 17 * inch2
	FanM2PerW     = 6 * inch2
)

// Lengths between which one is looked for, m: those that a shape may have.
const (
	shortestLengthM = 1e-3
	mostLengthM     = 20
	sizingSteps     = 60
)

// A Sizing is a body held against the heat it must carry, by both schools.
type Sizing struct {
	HeatW    float64  `json:"heatW" doc:"Heat that arises on it, W"`
	SunW     float64  `json:"sunW" doc:"Heat that the sun brings on top, W: physics counts it, the area rule knows none"`
	AirC     float64  `json:"airC" doc:"The air around it: of a body in a housing or tent that in there, °C"`
	LimitC   float64  `json:"limitC" doc:"How warm it may get, °C"`
	AreaM2   float64  `json:"areaM2" doc:"Its surface, m²"`
	WithFan  bool     `json:"withFan" doc:"Whether air is driven over it"`
	RuleM2   float64  `json:"ruleM2" doc:"Surface that the area rule asks for, m²"`
	RuleW    float64  `json:"ruleW" doc:"Heat that the area rule allows it, W"`
	EndsAtC  *float64 `json:"endsAtC" doc:"Where physics has it come to rest, °C; null: beyond 500 K above the air"`
	RuleEndC *float64 `json:"ruleEndsAtC" doc:"Where physics has a body of the same make rest whose surface is what the area rule asks for, °C"`
	PhysicsW float64  `json:"physicsW" doc:"Heat it carries at its limit by physics, W"`

	RuleLengthM    *float64 `json:"ruleLengthM" doc:"Length of it to buy by the area rule, m; null: its length is not what sizes it"`
	PhysicsLengthM *float64 `json:"physicsLengthM" doc:"Length to buy by physics, m; null: its length is not what sizes it, or none is enough"`
	SureLengthM    *float64 `json:"sureLengthM" doc:"The same with what physics may be off by in hand, m"`
	OffShare       float64  `json:"offShare" doc:"What physics may be off by here (common practice)"`
	BestSpacingM   *float64 `json:"bestSpacingM" doc:"Spacing of thin fins at which this envelope gives most at that temperature, m; null: it has no drawn fins"`
	BestFins       *int     `json:"bestFins" doc:"How many of its fins give most on this base; null: it has no drawn fins"`
	BestEndsAtC    *float64 `json:"bestEndsAtC" doc:"Where it would come to rest with so many, °C"`
	SpacingM       *float64 `json:"spacingM" doc:"Spacing of its fins, m"`
	StoppedC       *float64 `json:"stoppedC" doc:"Where it comes to rest with its fan stopped, °C; null: it has none, or beyond 500 K above the air"`
	KPerW          *float64 `json:"kPerW" doc:"What that comes to at rest, K/W"`
}

// Surroundings are what is around a body that is sized.
type Surroundings struct {
	AirC     float64 // of the air around it, °C
	SunW     float64 // that its surface takes up from the sun, W
	DriveV   float64 // of its fan
	Pressure float64 // over that at sea level
	Power    float64 // of its film, as it was measured: Body.Power
}

// body is a shape in them; nil: it lacks what is listed.
func (in *Surroundings) body(s *design.Shape) (b *Body, lacks []string) {
	if b, lacks = NewBody(s, in.Pressure); b != nil {
		b.Power = in.Power
	}
	return b, lacks
}

// endsAt is where a body comes to rest with so much heat of its own, °C; nil: beyond 500 K
// above the air.
func (in *Surroundings) endsAt(b *Body, heatW float64) *float64 {
	if rise, ok := b.RiseAt(heatW+in.SunW, in.AirC, in.DriveV); ok {
		return new(in.AirC + rise)
	}
	return nil
}

// carries is how much heat of its own a body carries at a temperature, W; less than nought:
// the sun alone makes it hotter.
func (in *Surroundings) carries(b *Body, bodyC float64) float64 {
	return b.Watts(bodyC, in.AirC, in.DriveV) - in.SunW
}

// Size holds a shape against heat and a highest temperature. What the shape still lacks is
// listed; there is no sizing then.
func Size(s *design.Shape, heatW, limitC float64, in Surroundings) (*Sizing, []string) {
	b, lacks := in.body(s)
	if b == nil {
		return nil, lacks
	}
	airC, driveV := in.AirC, in.DriveV
	out := &Sizing{HeatW: heatW, SunW: in.SunW, AirC: airC, LimitC: limitC, AreaM2: b.AreaM2, WithFan: b.flow(driveV) > 0 || b.speed > 0}
	out.OffShare = offShare(s, out.WithFan)
	perW := PassiveM2PerW
	if out.WithFan {
		perW = FanM2PerW
	}
	out.RuleM2, out.RuleW = heatW*perW, b.AreaM2/perW
	out.EndsAtC = in.endsAt(b, heatW)
	if all := heatW + in.SunW; out.EndsAtC != nil && all > 0 {
		out.KPerW = new((*out.EndsAtC - airC) / all)
	}
	if heatW > 0 && b.AreaM2 > 0 {
		// A like surface that many times as large carries its share of the heat.
		out.RuleEndC = in.endsAt(b, heatW*b.AreaM2/out.RuleM2)
	}
	if limitC > airC {
		out.PhysicsW = max(in.carries(b, limitC), 0)
	}
	if s.Fan != nil && !s.Fan.Stopped {
		still := *s
		still.Fan = nil
		if calm, _ := in.body(&still); calm != nil {
			out.StoppedC = in.endsAt(calm, heatW)
		}
	}
	if b.fins != nil && out.EndsAtC != nil && *out.EndsAtC > airC {
		out.SpacingM = new(b.fins.spacingM)
		out.BestSpacingM = new(BestSpacing(*out.EndsAtC, airC, b.fins.lengthM, in.Pressure))
		out.bestFins(s, &in)
	}
	if s.LengthM != nil && (s.Kind == "profile" || s.Kind == "fins") && heatW > 0 {
		out.RuleLengthM = new(*s.LengthM * out.RuleM2 / b.AreaM2)
		out.PhysicsLengthM = longEnough(s, heatW, limitC, &in)
		out.SureLengthM = longEnough(s, heatW/(1-out.OffShare)+in.SunW*out.OffShare/(1-out.OffShare), limitC, &in)
	}
	return out, nil
}

// OffShare is how far off the laws of a shape may be.
func OffShare(s *design.Shape) float64 {
	return offShare(s, s.Fan != nil && !s.Fan.Stopped || s.SpeedMS != nil && *s.SpeedMS > 0)
}

// offShare is how far off the laws may be: of upright surfaces in still air, blown, and of
// channels that do not stand (common practice).
func offShare(s *design.Shape, blown bool) float64 {
	switch {
	case blown:
		return 0.25
	case s.Pose != "" && s.Pose != "upright" && (s.Kind == "fins" || s.Kind == "profile"):
		return 0.3
	}
	return 0.15
}

// leastGapM is how narrow a gap between fins may be (common practice: below that dust and
// milling stop it).
const leastGapM = 1e-3

// bestFins looks for the number of fins on a base that gives most at the temperature that it
// then comes to.
func (z *Sizing) bestFins(s *design.Shape, in *Surroundings) {
	other, at := *s, *z.EndsAtC
	for range 3 {
		best, most := 0, 0.0
		for n := 2; float64(n)**s.FinThickM+float64(n-1)*leastGapM <= *s.WidthM; n++ {
			other.Fins = n
			b, _ := in.body(&other)
			if w := b.Watts(at, in.AirC, in.DriveV); w > most {
				best, most = n, w
			}
		}
		if best == 0 {
			return
		}
		other.Fins = best
		b, _ := in.body(&other)
		ends := in.endsAt(b, z.HeatW)
		if ends == nil {
			return
		}
		at = *ends
		z.BestFins, z.BestEndsAtC = new(best), ends
	}
}

// longEnough is the shortest length of a shape that carries heat at a limit, m; nil: none.
func longEnough(s *design.Shape, heatW, limitC float64, in *Surroundings) *float64 {
	carries := func(lengthM float64) float64 {
		cut := *s
		cut.LengthM = &lengthM
		b, _ := in.body(&cut)
		return in.carries(b, limitC)
	}
	low, high := float64(shortestLengthM), float64(mostLengthM)
	if limitC <= in.AirC || carries(high) < heatW {
		return nil
	}
	for range sizingSteps {
		if mid := (low + high) / 2; carries(mid) < heatW {
			low = mid
		} else {
			high = mid
		}
	}
	return &high
}
