package setup

import (
	"fmt"
	"math"

	"photherm/core/units"
)

// Nobody at the bench is told to exceed a rating: what is wanted is brought down to what the emitters
// bear, and a step that would still pass it is not done.

// bearable finds what the emitters bear at the driver's output, as the light is set, undimmed from a
// full source.
func (b *bench) bearable() {
	b.mostA = math.Inf(1)
	s := b.undimmed()
	record := make([]float64, len(b.model.Columns()))
	s.OperatingPoint(1, b.light.Conditions.AmbientC, record)
	share, out := b.model.Bears(b.node.ID, record), column(b.model, record, b.node.ID, "peakA")
	if math.IsInf(share, 1) || out <= 0 {
		return
	}
	// Alike strings share what comes; of what it is set to, no more than that.
	b.mostA = share * out
	b.wantedA = min(b.wantedA, b.mostA)
}

// spare leaves out what would send more through the emitters than they bear.
func (b *bench) spare(p *Plan) {
	for i := range p.Procedures {
		for k := range p.Procedures[i].Steps {
			s := &p.Procedures[i].Steps[k]
			if s.Reading == nil || s.Reading.Quantity != "current" || withoutEmitters[s.ID] || !(s.Reading.Expected > b.mostA*(1+meterShare)) {
				continue
			}
			s.Do = fmt.Sprintf("Leave this out: %s would flow, and the emitters bear %s. Change the light first.", units.Amps(s.Reading.Expected), units.Amps(b.mostA))
			s.Reading, s.Caution = nil, ""
		}
	}
}

// withoutEmitters are steps in which no emitter hangs on the output.
var withoutEmitters = map[string]bool{"short": true, "dummy": true}
