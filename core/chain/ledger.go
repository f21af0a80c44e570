package chain

import "math"

// An Entry is one line of a ledger.
type Entry struct {
	Name  string  `json:"name" doc:"What it is"`
	Value float64 `json:"value" doc:"In the ledger's unit"`
}

// A Ledger sets what came in against where it went. The two sides are computed
// apart: energy from the charge of the packs and the heat from temperatures, the
// rest from the operating points in between. So it can fail to close, and then
// something is wrong in the model.
type Ledger struct {
	Unit    string  `json:"unit" doc:"W for a moment, J for a run"`
	In      []Entry `json:"in" nullable:"false"`
	Out     []Entry `json:"out" nullable:"false"`
	Closure float64 `json:"closure" doc:"(in − out) over all that moved in; should be within ±0.001"`
}

// newLedger balances in against out; what is small against least is rounding.
func newLedger(unit string, least float64, in, out []Entry) Ledger {
	total, gone, moved := 0.0, 0.0, 0.0 // moved: a pack that is charged counts as much as what charges it
	for _, e := range in {
		total += e.Value
		moved += math.Abs(e.Value)
	}
	for _, e := range out {
		gone += e.Value
	}
	l := Ledger{Unit: unit, In: in, Out: out}
	l.Closure = (total - gone) / max(moved, math.Abs(gone), least, 1e-12)
	return l
}

// OpenShare is how far apart the two sides of a ledger may be (chosen: 0.1 %).
const OpenShare = 1e-3

// leastW is against what a gap counts at least, that of a run over its time (chosen): a thousandth of
// it is what a µK left open makes in a body that is well cooled.
const leastW = 1e-2

// Closes tells whether the two sides agree.
func (l *Ledger) Closes() bool { return math.Abs(l.Closure) <= OpenShare }

// powerLedger is the ledger of a steady operating point: what the sources give,
// OCV times current, against light and the heat that reaches the air.
func (s *Solver) powerLedger(rec []float64) Ledger {
	n := len(rec)
	in, lost := s.supplied()
	for i := range s.Feeders {
		f := &s.Feeders[i]
		if f.IsPack {
			in += f.Law.RestV(f.States(s.y)) * s.FeederAt[i].CurrentA
		}
	}
	return newLedger("W", leastW, []Entry{{"sources", in}}, []Entry{
		{"light", rec[n-totalLightW]},
		{"heat to the air", rec[n-totalAirW]},
		{"heat to the surroundings", rec[n-totalLooseW]},
		{"heat in the supplies", lost},
	})
}

// supplied is what the laws of sources without states give, and what of it is lost in
// them, W.
func (s *Solver) supplied() (givenW, lostW float64) {
	for i := range s.Feeders {
		if !s.Feeders[i].IsPack {
			givenW += s.FeederAt[i].GivenW
			lostW += s.FeederAt[i].LossW
		}
	}
	return givenW, lostW
}

// leftW is what hard work leaves in the cells for good, W.
func (s *Solver) leftW() float64 {
	w := 0.0
	for i := range s.Feeders {
		f := &s.Feeders[i]
		w += f.Law.LeftW(f.States(s.y), s.CellC[i], s.FeederAt[i].CurrentA)
	}
	return w
}
