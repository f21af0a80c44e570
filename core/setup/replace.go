package setup

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/reading"
	"photherm/core/root"
	"photherm/core/units"
)

// ofPart is a reading that stands in for a figure of the driver's part.
func (b *bench) ofPart(figure, label string, value float64, read string) *reading.Replacement {
	return &reading.Replacement{Figures: []reading.Figure{{Pointer: b.partPointer() + "/driver/" + figure, Value: value, At: "/parts/" + b.node.Driver.PartID + "/driver/" + figure}}, Label: label, Read: "read " + read + " while it was set up"}
}

// ofUse is a reading that stands in for a setting of the driver.
func (b *bench) ofUse(figure, label string, value float64, read string) *reading.Replacement {
	return &reading.Replacement{Figures: []reading.Figure{{Pointer: b.pointer + "/driver/" + figure, Value: value, At: "/feeds/" + b.feed.ID + "/loads/" + b.node.ID + "/driver/" + figure}}, Label: label, Read: "read " + read + " while it was set up"}
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
		return b.ofUse("setCurrentA", read+" as the current it is set to", actual, read)
	}
	return r
}

// A follower is a figure of something that hangs where a reading is taken and has a share in
// what is read: at t it takes more than now, at −t less.
type follower struct {
	pointer, at string
	now         float64
	of          func(t float64) float64
	low, high   float64 // range of t in which it is still that thing
}

// followers are what hangs on nodes, as far as their current flows through it, and whether a
// reading there tells of them alone: behind a further driver, it tells of that one too.
func (b *bench) followers(nodes []design.Node, at, path string) (out []follower, alone bool) {
	for i := range nodes {
		n, here := &nodes[i], fmt.Sprintf("%s/loads/%d", at, i)
		if n.Switch != nil && n.Switch.Open {
			continue
		}
		mine, ok := b.follower(n, here, path)
		below, okBelow := b.followers(n.Loads, here, path)
		if !ok || !okBelow {
			return nil, false
		}
		out = append(append(out, mine...), below...)
	}
	return out, true
}

// follower is one node by itself, at its pointer; nothing: it has no such figure.
func (b *bench) follower(n *design.Node, pointer, path string) (out []follower, alone bool) {
	switch {
	case n.Driver != nil:
		return nil, false
	case n.Array != nil:
		if b.parts[n.Array.PartID] == nil {
			return nil, false
		}
		was := 0.0
		if n.Array.OffsetV != nil {
			was = *n.Array.OffsetV
		}
		const figure = "/array/measuredOffsetV"
		return []follower{{pointer: pointer + figure, at: path + n.ID + figure, now: was, of: func(t float64) float64 { return was - t*mostOffV }, low: (was - mostOffV) / mostOffV, high: (was + mostOffV) / mostOffV}}, true
	case n.Load != nil:
		was := 1.0
		if n.Load.Draws != nil {
			was = *n.Load.Draws
		}
		const figure = "/load/measuredDraw"
		return []follower{{pointer: pointer + figure, at: path + n.ID + figure, now: was, of: func(t float64) float64 { return was * math.Pow(farLoad, t) }, low: -1 - math.Log(was)/math.Log(farLoad), high: 1 - math.Log(was)/math.Log(farLoad)}}, true
	case n.Strip != nil:
		part := b.parts[n.Strip.PartID]
		if part == nil || part.Strip == nil {
			return nil, false
		}
		figure, was := "powerWPerM", part.Strip.PerMetreW
		if was == nil {
			figure, was = "currentAPerM", part.Strip.PerMetreA
		}
		if was == nil || *was <= 0 {
			return nil, false
		}
		return []follower{{pointer: b.pointerOfPart(part.ID) + "/strip/" + figure, at: "/parts/" + part.ID + "/strip/" + figure, now: *was, of: func(t float64) float64 { return *was * math.Pow(farStrip, t) }, low: -1, high: 1}}, true
	}
	return nil, true
}

// How far what hangs on a driver may be off its data and still be taken for it: forward voltage
// of an emitter, V (chosen: a bin is a tenth of a volt or two; a colour is half a volt), and how
// many times what a load or a strip takes (chosen).
const (
	mostOffV = 0.5
	farLoad  = 2.0
	farStrip = 2.0
)

// fromBelow lets what was read stand in for the figures of what hangs on the driver, or of the
// node itself where there is none: emitters by their forward voltage, loads and strips by what
// they take. Where there are several, nothing tells which of them is off, so all are, alike.
// Expect tells what would be read with changes of theirs.
func (b *bench) fromBelow(r *reading.Reading, expect func(changes ...chain.Variation) float64) *reading.Reading {
	path := "/feeds/" + b.feed.ID + "/loads/"
	list, alone := b.follower(b.node, b.pointer, path)
	if b.node.Driver != nil {
		list, alone = b.followers(b.node.Loads, b.pointer, path)
	}
	seen := map[string]bool{}
	list = slices.DeleteFunc(list, func(f follower) bool { // two strips of one part are one figure
		defer func() { seen[f.pointer] = true }()
		return seen[f.pointer]
	})
	if !alone || len(list) == 0 || r.Expected <= 0 {
		return r
	}
	low, high := math.Inf(-1), math.Inf(1)
	for _, f := range list {
		low, high = max(low, f.low), min(high, f.high)
	}
	r.Replace = func(actual float64) *reading.Replacement {
		over := func(t float64) float64 {
			changes := make([]chain.Variation, len(list))
			for i, f := range list {
				changes[i] = chain.Variation{Pointer: f.pointer, Op: chain.Set, Value: f.of(t)}
			}
			return expect(changes...) - actual
		}
		fl, fh := over(low), over(high)
		if !(low < high && fl*fh < 0) {
			return nil // that is something else, not this a little off
		}
		t := root.Bracketed(over, low, fl, high, fh, 1e-6)
		out := &reading.Replacement{Label: labelOf(list, t), Read: "read " + reading.Say(r.Quantity, actual) + " while it was set up"}
		for _, f := range list {
			out.Figures = append(out.Figures, reading.Figure{Pointer: f.pointer, Value: f.of(t), At: f.at})
		}
		return out
	}
	return r
}

// labelOf says what followers become at t.
func labelOf(list []follower, t float64) string {
	var emitters, others []follower
	for _, f := range list {
		if strings.HasSuffix(f.pointer, "/measuredOffsetV") {
			emitters = append(emitters, f)
		} else {
			others = append(others, f)
		}
	}
	var words []string
	switch n := len(emitters); {
	case n == 1:
		words = append(words, fmt.Sprintf("%+.3g V for each emitter", -t*mostOffV))
	case n > 1:
		words = append(words, fmt.Sprintf("%+.3g V for each emitter of all %d arrays", -t*mostOffV, n))
	}
	switch n := len(others); {
	case n > 1:
		words = append(words, fmt.Sprintf("%.3g times what each of %d takes", math.Pow(farLoad, t), n))
	case n == 1:
		value := others[0].of(t)
		switch pointer := others[0].pointer; {
		case strings.HasSuffix(pointer, "/powerWPerM"):
			words = append(words, units.Watts(value)+" for a metre")
		case strings.HasSuffix(pointer, "/currentAPerM"):
			words = append(words, units.Amps(value)+" for a metre")
		default:
			words = append(words, fmt.Sprintf("%.3g times its readings", value))
		}
	}
	return strings.Join(words, ", ")
}
