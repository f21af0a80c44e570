package array

import (
	"math"

	"photherm/core/design"
	"photherm/core/photometry"
)

// A Strip is flexible strip cut to pieces, each on the bus or chained one after the other
// along a wire: ladders of equal segments, joined by the copper of two tracks. A segment,
// LEDs with a resistor, takes a current in proportion to the voltage above its knee.
type Strip struct {
	RatedV    float64
	SegmentA  float64 // of a segment at the rated voltage
	KneeV     float64
	CopperOhm float64   // there and back, of one segment's length
	LeadOhm   float64   // to each fed end
	LinkOhm   float64   // between chained pieces
	SegmentLm float64   // at the rated voltage; 0: unknown
	LmPerW    float64   // of radiated power; 0: unknown
	CutM      float64   // length of a segment
	PiecesM   []float64 // as they were asked for
	ladders   []ladder
}

// A ladder is pieces one after the other, fed at the first end or at both.
type ladder struct {
	pieces []piece
	both   bool
	// The ladder is linear above its knee: for each volt that its feed stands above it,
	// segments stand so far above it, and so much flows.
	rise   []float64
	perV   float64
	lowest float64 // the least rise
	evenly float64 // the least over the greatest
}

// piece is a run of segments of a ladder.
type piece struct {
	asked    int // of those asked for
	segments int
}

// solve works out what the ladder makes of a volt above the knee: from each end what
// stands there and behind what resistance, segment for segment, and both put together.
// Every step divides, so that it is stable at any length.
func (l *ladder) solve(s *Strip) {
	g := 0.0 // of a segment, A/V
	if s.RatedV > s.KneeV {
		g = s.SegmentA / (s.RatedV - s.KneeV)
	}
	var between []float64 // resistance before each segment
	for i, p := range l.pieces {
		for k := range p.segments {
			ohm := s.CopperOhm
			switch {
			case k == 0 && i == 0:
				ohm = s.CopperOhm/2 + s.LeadOhm
			case k == 0:
				ohm += s.LinkOhm
			}
			between = append(between, ohm)
		}
	}
	n := len(between)
	l.rise = make([]float64, n)
	ends := make([]end, n) // from the far end
	right := end{ohm: math.Inf(1)}
	if l.both {
		right = end{1, s.CopperOhm/2 + s.LeadOhm}
	}
	for k := n - 1; k >= 0; k-- {
		ends[k] = right
		right = right.loaded(g)
		right.ohm += between[k]
	}
	left := end{1, 0}
	l.lowest = 1
	most := 0.0
	for k := range n {
		left.ohm += between[k]
		v := left.meets(ends[k], g)
		l.rise[k] = v
		l.perV += g * v
		l.lowest, most = min(l.lowest, v), max(most, v)
		left = left.loaded(g)
	}
	if l.evenly = 1; most > 0 {
		l.evenly = l.lowest / most
	}
}

// end is what a place sees to one side: a voltage behind a resistance.
type end struct{ v, ohm float64 }

// loaded is the same with a conductance across it.
func (e end) loaded(g float64) end {
	if math.IsInf(e.ohm, 1) {
		if g > 0 {
			return end{0, 1 / g}
		}
		return e
	}
	return end{e.v / (1 + g*e.ohm), e.ohm / (1 + g*e.ohm)}
}

// meets is the voltage where two ends meet, a conductance across them.
func (e end) meets(o end, g float64) float64 {
	switch {
	case e.ohm == 0:
		return e.v
	case o.ohm == 0:
		return o.v
	}
	return (e.v/e.ohm + o.v/o.ohm) / (1/e.ohm + 1/o.ohm + g)
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
	if use.LinkOhm != nil {
		s.LinkOhm = *use.LinkOhm
	}
	for i, m := range use.PiecesM {
		n := Segments(m, part.CutM)
		switch last := len(s.ladders) - 1; {
		case n == 0:
		case use.Chained && last >= 0:
			s.ladders[last].pieces = append(s.ladders[last].pieces, piece{i, n})
		default:
			s.ladders = append(s.ladders, ladder{pieces: []piece{{i, n}}, both: use.BothEnds})
		}
	}
	for i := range s.ladders {
		s.ladders[i].solve(&s)
	}
	return s, missing
}

// Segments is how many whole segments a piece has: it can only be cut between
// them.
func Segments(lengthM, cutM float64) int { return int(math.Floor(lengthM/cutM*(1+1e-9) + 1e-9)) }

func (s *Strip) segmentA(v float64) float64 {
	return s.SegmentA * max(0, v-s.KneeV) / (s.RatedV - s.KneeV)
}

// Draw is what all pieces take at a voltage, A, and its slope, A/V; at the knee the
// slope is that below it.
func (s *Strip) Draw(voltageV float64) (a, slope float64) {
	if voltageV <= s.KneeV {
		return 0, 0
	}
	for i := range s.ladders {
		slope += s.ladders[i].perV
	}
	return slope * (voltageV - s.KneeV), slope
}

// at is the voltage of a place that rises so far for each volt above the knee.
func (s *Strip) at(voltageV, rise float64) float64 {
	if voltageV <= s.KneeV {
		return voltageV
	}
	return s.KneeV + rise*(voltageV-s.KneeV)
}

// Light is the flux of all pieces at a voltage, lm, in proportion to the current
// of each segment, and the lowest voltage at a segment.
func (s *Strip) Light(voltageV float64) (fluxLm, farV float64) {
	a, _ := s.Draw(voltageV)
	if s.SegmentA > 0 {
		fluxLm = s.SegmentLm * a / s.SegmentA
	}
	farV = voltageV
	for i := range s.ladders {
		farV = min(farV, s.at(voltageV, s.ladders[i].lowest))
	}
	return fluxLm, farV
}

// FarLight is the light of the darkest segment relative to the brightest of its piece, or
// of its chain: what the copper leaves, at any voltage.
func (s *Strip) FarLight() float64 {
	far := 1.0
	for i := range s.ladders {
		far = min(far, s.ladders[i].evenly)
	}
	return far
}

// ofRated is the light of a segment at a voltage over one at the rated voltage.
func (s *Strip) ofRated(v float64) float64 {
	if s.SegmentA <= 0 {
		return 0
	}
	return s.segmentA(v) / s.SegmentA
}
