package verdict

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/driver"
)

// surroundings says what water, an old lamp and what it is fed from ask for.
func (j *judge) surroundings() {
	wet := j.wet()
	mains := j.mainsFeed()
	if wet {
		f := Finding{Code: "near-water", Severity: Note, Stage: "source", Pointer: "/conditions/nearWater", Title: "Over water",
			Why: "Hang cables in a drip loop below their sockets, keep supply and joints in a box that is sealed, and fasten what must not fall in."}
		if mains != nil {
			f.Severity, f.Node = Caution, mains.ID
			f.Why += " Feed it through a residual-current device that was tested; unplug before a hand goes into the water. Local codes and a licensed person decide."
		}
		j.add(f)
	}
	for _, id := range j.order {
		p := j.nodes[id]
		if bare := p.node.Strip != nil || p.node.Array != nil; bare && p.driver == nil && acceptsMains(p.feed) {
			f := Finding{Code: "live-emitters", Severity: Caution, Stage: "emitters", Node: id, Pointer: p.pointer, Title: "Live to the touch",
				Why: fmt.Sprintf("%s hangs straight on the mains: it is live along its whole length, and where it is cut. Seal its ends and keep it out of reach, or take one for a low voltage behind an isolated supply.", p.node.Called())}
			if wet {
				f.Severity, f.Why = Stop, fmt.Sprintf("%s hangs straight on the mains, and water is near: take one for a low voltage behind an isolated supply.", p.node.Called())
			}
			j.add(f)
		}
		if p.node.Driver == nil || !acceptsMains(p.feed) || p.driver != nil {
			continue
		}
		if d := j.data(p.node.Driver.PartID).Driver; d != nil {
			j.onMains(id, p, d)
		}
	}
	j.oldLamp()
}

// mainsFeed is the first feed that the wall may feed; nil if none does.
func (j *judge) mainsFeed() *design.Feed {
	v := j.model.Variant()
	for i := range v.Feeds {
		if acceptsMains(&v.Feeds[i]) {
			return &v.Feeds[i]
		}
	}
	return nil
}

// oldLamp says what an old lamp may hold.
func (j *judge) oldLamp() {
	b := &j.light.Brief
	if b.Was == "" {
		return
	}
	say := func(code string, severity Severity, title, why string) {
		j.add(Finding{Code: code, Severity: severity, Stage: "source", Pointer: "/brief/was", Title: title, Why: why})
	}
	for _, keeps := range b.Keeps {
		if keeps == "housing" || keeps == "reflector" {
			say("old-paint", Note, "Old paint may hold lead", "Wet it before sanding or drilling, keep the dust off hands and food, and do not burn it off.")
			break
		}
	}
	if b.Was == "tube" {
		say("old-tube", Caution, "The old tube holds mercury", "Take it out whole and hand it in where lamps are collected. If one breaks: air the room, leave it for a quarter of an hour, and gather the pieces without a vacuum cleaner.")
		say("old-capacitor", Caution, "Its gear may hold a charge", "Capacitors of a ballast or an igniter stay charged after it is unplugged: discharge them through a resistor and measure before touching.")
	}
}

// looseArrays tells of emitters whose current nothing sets: none, and no resistor, between
// them and what gives the voltage.
func (j *judge) looseArrays() {
	for _, id := range j.order {
		p := j.nodes[id]
		if p.node.Array == nil || p.node.Array.PartID == "" || j.limited(&p) {
			continue
		}
		if p.driver != nil && j.has("no-ballast") {
			continue // said of the driver that lets everything through
		}
		j.add(Finding{Code: "no-ballast", Severity: Caution, Stage: "emitters", Node: id, Pointer: p.pointer + "/array/ballastOhm", Title: "Nothing sets the current",
			Why: "The source's own resistance is all that limits it: it is bright when fresh, fades as the source drains, and warms towards more current. A driver holds it; a resistor at least limits it."})
	}
}

// limited tells whether something on the way to an array sets or limits its current.
func (j *judge) limited(p *place) bool {
	if r := p.node.Array.BallastOhm; r != nil && *r > 0 {
		return true
	}
	for above := p.driver; above != nil; above = above.driver {
		part := j.data(above.node.Driver.PartID).Driver
		if part == nil || j.limits(part, above.node.Driver) || j.reaches(above.node.ID, driver.ConstantCurrent) {
			return true // one that is not chosen yet is told as such
		}
	}
	if len(p.feed.Sources) == 0 {
		return true
	}
	s := p.feed.Sources[0].Supply
	return s != nil && s.MaxCurrentA != nil
}

// limits tells a driver that sets or limits the current of what hangs on it.
func (j *judge) limits(d *design.Driver, use *design.DriverUse) bool {
	switch d.Family {
	case "none", "dropper":
		return false
	case "resistor":
		r := d.ResistanceOhm
		if use.ResistanceOhm != nil {
			r = use.ResistanceOhm
		}
		return r != nil && *r > 0
	case "voltage":
		return driver.SetCurrentA(d, use) != nil || d.MaxCurrentA != nil || len(d.Limits) > 0 || d.FoldbackA != nil || d.HeldOutputW != nil
	}
	return true
}

// loose tells whether an array below hangs there with nothing that sets its current.
func (j *judge) loose(nodes []design.Node) bool {
	for i := range nodes {
		p := j.nodes[nodes[i].ID]
		if nodes[i].Array != nil && nodes[i].Array.PartID != "" && !j.limited(&p) || j.loose(nodes[i].Loads) {
			return true
		}
	}
	return false
}
