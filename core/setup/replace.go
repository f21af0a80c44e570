package setup

import (
	"fmt"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/root"
	"photherm/core/units"
)

// ofPart is a reading that stands in for a figure of the driver's part.
func (b *bench) ofPart(figure, label string, value float64, read string) *reading.Replacement {
	return &reading.Replacement{Pointer: b.partPointer() + "/driver/" + figure, Label: label, Value: value, At: "/parts/" + b.node.Driver.PartID + "/driver/" + figure, Read: "read " + read + " while it was set up"}
}

// ofNode is a reading that stands in for a figure of a node of the tree.
func (b *bench) ofNode(node, pointer, figure, label string, value float64, read string) *reading.Replacement {
	return &reading.Replacement{Pointer: pointer + figure, Label: label, Value: value, At: "/feeds/" + b.feed.ID + "/loads/" + node + figure, Read: "read " + read + " while it was set up"}
}

// currentIs lets a current that was read stand in for the one that is set, where the
// setting says it all: what the driver cannot hold is no setting.
func (b *bench) currentIs(r *reading.Reading) *reading.Reading {
	if b.wantedA <= 0 || r.Expected < (1-currentShare)*b.wantedA {
		return r
	}
	r.Replace = func(actual float64) *reading.Replacement {
		if actual <= 0 {
			return nil
		}
		read := units.Amps(actual)
		if ohm := b.node.Driver.ProgramOhm; ohm != nil && b.d.ProgramV != nil {
			volts := actual * *ohm * *b.d.ProgramV / b.d.ProgramVolts()
			return b.ofPart("programV", units.Volts(volts)+" as its reference voltage", volts, read)
		}
		return b.ofNode(b.node.ID, b.pointer, "/driver/setCurrentA", read+" as the current it is set to", actual, read)
	}
	return r
}

// emittersOff lets a voltage that was read stand in for the forward voltage of the
// emitters below a driver, where expect tells what would be read with a change of theirs.
func (b *bench) emittersOff(r *reading.Reading, expect func(chain.Variation) float64) *reading.Reading {
	if len(b.node.Loads) != 1 || b.node.Loads[0].Array == nil {
		return r
	}
	return b.offOf(&b.node.Loads[0], b.pointer+"/loads/0", r, expect)
}

// offOf is emittersOff of an array that stands at a pointer: each of its emitters is off
// by as much as makes the reading what is expected.
func (b *bench) offOf(n *design.Node, pointer string, r *reading.Reading, expect func(chain.Variation) float64) *reading.Reading {
	const figure = "/array/measuredOffsetV"
	if b.parts[n.Array.PartID] == nil || r.Expected <= 0 {
		return r
	}
	was := 0.0
	if n.Array.OffsetV != nil {
		was = *n.Array.OffsetV
	}
	r.Replace = func(actual float64) *reading.Replacement {
		over := func(offV float64) float64 {
			return expect(chain.Variation{Pointer: pointer + figure, Op: chain.Set, Value: offV}) - actual
		}
		low, high := over(-mostOffV), over(mostOffV)
		if !(low < 0 && high > 0) {
			return nil // that is another emitter, not this one a little off
		}
		each := root.Bracketed(over, -mostOffV, low, mostOffV, high, 1e-5)
		return b.ofNode(n.ID, pointer, figure, fmt.Sprintf("%+.3g V for each emitter", each-was), each, units.Volts(actual))
	}
	return r
}

// mostOffV is how far forward voltage may be off what its part says, V (chosen: a bin is
// a tenth of a volt or two; a colour is half a volt).
const mostOffV = 0.5

// loadDraws lets a current that was read stand in for what a measured load draws here, as a
// share of its readings; expect tells what would be read with another share.
func (b *bench) loadDraws(n *design.Node, pointer string, r *reading.Reading, expect func(chain.Variation) float64) *reading.Reading {
	const figure = "/load/measuredDraw"
	if r.Expected <= 0 {
		return r
	}
	r.Replace = func(actual float64) *reading.Replacement {
		over := func(share float64) float64 {
			return expect(chain.Variation{Pointer: pointer + figure, Op: chain.Set, Value: share}) - actual
		}
		low, high := over(1/farLoad), over(farLoad)
		if !(low < 0 && high > 0) {
			return nil // that is another load
		}
		share := root.Bracketed(over, 1/farLoad, low, farLoad, high, 1e-5)
		return b.ofNode(n.ID, pointer, figure, fmt.Sprintf("%.3g times its readings", share), share, units.Amps(actual))
	}
	return r
}

// farLoad is how many times off its readings a load may be and still be taken for it (chosen).
const farLoad = 2.0

// oneLoadDraws is loadDraws of the one measured load below a driver.
func (b *bench) oneLoadDraws(r *reading.Reading) *reading.Reading {
	if len(b.node.Loads) != 1 || b.node.Loads[0].Load == nil {
		return r
	}
	return b.loadDraws(&b.node.Loads[0], b.pointer+"/loads/0", r, func(draw chain.Variation) float64 { return b.probe(draw).OutA })
}

// stripDraws lets a current that was read stand in for what a metre of the one strip below
// takes, by its watts or its amperes.
func (b *bench) stripDraws(r *reading.Reading) *reading.Reading {
	if len(b.node.Loads) != 1 || b.node.Loads[0].Strip == nil {
		return r
	}
	id := b.node.Loads[0].Strip.PartID
	part := b.parts[id]
	if part == nil || part.Strip == nil || r.Expected <= 0 {
		return r
	}
	figure, was, say := "powerWPerM", part.Strip.PerMetreW, units.Watts
	if was == nil {
		figure, was, say = "currentAPerM", part.Strip.PerMetreA, units.Amps
	}
	if was == nil || *was <= 0 {
		return r
	}
	at := "/parts/" + id + "/strip/" + figure
	r.Replace = func(actual float64) *reading.Replacement {
		over := func(perMetre float64) float64 {
			return b.probe(chain.Variation{Pointer: at, Op: chain.Set, Value: perMetre}).OutA - actual
		}
		low, high := *was/farStrip, *was*farStrip
		fl, fh := over(low), over(high)
		if !(fl < 0 && fh > 0) {
			return nil // that is another strip, or another length of it
		}
		perMetre := root.Bracketed(over, low, fl, high, fh, 1e-6**was)
		return &reading.Replacement{Pointer: b.pointerOfPart(id) + "/strip/" + figure, Label: say(perMetre) + " for a metre", Value: perMetre, At: at, Read: "read " + units.Amps(actual) + " while it was set up"}
	}
	return r
}

// farStrip is how many times off its data a strip may be and still be taken for it (chosen).
const farStrip = 2
