package array

import (
	"math"

	"photherm/core/design"
	"photherm/core/photometry"
)

// A Strip is flexible strip cut to pieces in parallel: along each piece a ladder
// of equal segments, joined by the copper of two tracks. A segment, LEDs with a
// resistor, takes a current in proportion to the voltage above its knee.
//
// A piece fed from both ends at one voltage is symmetric: it is two halves.
type Strip struct {
	RatedV    float64
	SegmentA  float64 // of a segment at the rated voltage
	KneeV     float64
	CopperOhm float64   // there and back, of one segment's length
	LeadOhm   float64   // to each fed end
	SegmentLm float64   // at the rated voltage; 0: unknown
	LmPerW    float64   // of radiated power; 0: unknown
	CutM      float64   // length of a segment
	PiecesM   []float64 // as they were asked for
	ladders   []ladder
}

// ladder is a run of segments fed at one end; times of them are alike.
type ladder struct {
	piece    int // of those asked for
	segments int
	shared   bool // the far segment takes half of its current from the other end
	times    float64

	// The ladder is linear above its knee: for each volt its feed stands above it so
	// much flows, the far segment stands so far above it, and so much light is made.
	perV, farPerV, lmPerV float64
}

// linear works out what the ladder makes of a volt above the knee.
func (s *Strip) linear(l ladder) ladder {
	feedV, a, lm := s.march(l, s.KneeV+1, nil)
	above := feedV - s.KneeV
	l.perV, l.farPerV, l.lmPerV = a/above, 1/above, lm/above
	return l
}

// CommonKneeShare is the share of the rated voltage at which a strip begins to
// light, its law drawn straight, if its data are silent (common practice: three
// white LEDs of 3.1 V and a resistor on 12 V).
const CommonKneeShare = 0.77

// NewStrip makes a strip from the document. The gaps are what is missing.
func NewStrip(part *design.Strip, use *design.StripUse) (s Strip, missing []design.Gap) {
	s = Strip{RatedV: part.VoltageV, KneeV: CommonKneeShare * part.VoltageV, CutM: part.CutM, PiecesM: use.PiecesM}
	if part.KneeV != nil {
		s.KneeV = *part.KneeV
	}
	switch {
	case part.PerMetreA != nil:
		s.SegmentA = *part.PerMetreA * part.CutM
	case part.PerMetreW != nil:
		s.SegmentA = *part.PerMetreW / part.VoltageV * part.CutM
	default:
		missing = append(missing, design.Gap{Figure: "powerWPerM", Why: "what the strip takes for each metre is not known"})
	}
	if part.LoopOhm != nil {
		s.CopperOhm = *part.LoopOhm * part.CutM
	} else {
		missing = append(missing, design.Gap{Figure: "loopOhmPerM", Why: "the copper of the strip is not known: taken as perfect"})
	}
	if part.Spectrum != nil {
		if spectrum, err := photometry.New(part.Spectrum); err == nil {
			s.LmPerW = spectrum.EfficacyLmPerW()
		}
	}
	if use.LeadOhm != nil {
		s.LeadOhm = *use.LeadOhm
	}
	if part.FluxLmPer != nil {
		s.SegmentLm = *part.FluxLmPer * part.CutM
	} else {
		missing = append(missing, design.Gap{Figure: "fluxLmPerM", Why: "the light of the strip is not known"})
	}
	for i, m := range use.PiecesM {
		n := Segments(m, part.CutM)
		switch {
		case n == 0:
		case use.BothEnds:
			s.ladders = append(s.ladders, s.linear(ladder{piece: i, segments: (n + 1) / 2, shared: n%2 == 1, times: 2}))
		default:
			s.ladders = append(s.ladders, s.linear(ladder{piece: i, segments: n, times: 1}))
		}
	}
	return s, missing
}

// Segments is how many whole segments a piece has: it can only be cut between
// them.
func Segments(lengthM, cutM float64) int { return int(math.Floor(lengthM/cutM*(1+1e-9) + 1e-9)) }

func (s *Strip) segmentA(v float64) float64 {
	return s.SegmentA * max(0, v-s.KneeV) / (s.RatedV - s.KneeV)
}

// march goes from the far segment of a ladder to its feed: what voltage and
// current it needs there for the far segment to stand at farV. The voltage of each
// segment is written to volts, the fed one first, if it has room for them.
func (s *Strip) march(l ladder, farV float64, volts []float64) (feedV, feedA, lm float64) {
	v, i := farV, 0.0
	for k := range l.segments {
		if len(volts) >= l.segments {
			volts[l.segments-1-k] = v
		}
		a := s.segmentA(v)
		if k == 0 && l.shared {
			a /= 2
		}
		i += a
		if s.SegmentA > 0 {
			lm += s.SegmentLm * a / s.SegmentA
		}
		if k < l.segments-1 {
			v += i * s.CopperOhm
		}
	}
	return v + i*(s.CopperOhm/2+s.LeadOhm), i, lm
}

// far is the voltage at the far segment of a ladder fed with v.
func (s *Strip) far(l ladder, v float64) float64 {
	if v <= s.KneeV {
		return v
	}
	return s.KneeV + l.farPerV*(v-s.KneeV)
}

// Draw is what all pieces take at a voltage, A, and its slope, A/V; at the knee the
// slope is that below it.
func (s *Strip) Draw(voltageV float64) (a, slope float64) {
	if voltageV <= s.KneeV {
		return 0, 0
	}
	for _, l := range s.ladders {
		slope += l.times * l.perV
	}
	return slope * (voltageV - s.KneeV), slope
}

// Light is the flux of all pieces at a voltage, lm, in proportion to the current
// of each segment, and the lowest voltage at a segment.
func (s *Strip) Light(voltageV float64) (fluxLm, farV float64) {
	farV = voltageV
	for _, l := range s.ladders {
		fluxLm += l.times * l.lmPerV * max(0, voltageV-s.KneeV)
		farV = min(farV, s.far(l, voltageV))
	}
	return fluxLm, farV
}

// FarLight is the light of the darkest segment relative to one at the rated
// voltage.
func (s *Strip) FarLight(farV float64) float64 {
	if s.SegmentA <= 0 {
		return 0
	}
	return s.segmentA(farV) / s.SegmentA
}
