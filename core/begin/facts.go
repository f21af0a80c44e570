package begin

import (
	"fmt"
	"slices"
	"strings"

	"photherm/core/design"
)

// Facts are what a person says of a light that is to be; each may be empty. Lines are in
// people's words and units: "4 × 18650, 2 Ah", "10 W, 9–12 V".
type Facts struct {
	Way      string        `json:"way" enum:"lamp,parts,meter,strip,boards" doc:"How it begins: an old lamp to rebuild, parts in the drawer, a lamp and a meter, strip, boards over an area"`
	Name     string        `json:"name,omitempty" maxLength:"120" doc:"What the light is called"`
	Source   string        `json:"source,omitempty" maxLength:"300" doc:"What feeds it, or shall"`
	Was      string        `json:"was,omitempty" maxLength:"300" doc:"A lamp and a meter: what fed it before. An old lamp: what made the light, in watts"`
	Emitters string        `json:"emitters,omitempty" maxLength:"300" doc:"Emitters by their label; boards; strip by the metre"`
	Driver   string        `json:"driver,omitempty" maxLength:"300" doc:"Driver, by what it is and what it is set to"`
	Body     string        `json:"body,omitempty" maxLength:"300" doc:"What carries the heat: mass, surface, K/W"`
	Readings string        `json:"readings,omitempty" maxLength:"3000" doc:"Volts and amperes, in any order"`
	Pieces   string        `json:"pieces,omitempty" maxLength:"300" doc:"Strip: how many pieces of what length"`
	Area     string        `json:"area,omitempty" maxLength:"300" doc:"Boards: length × width; an old lamp: the room there is"`
	Hours    string        `json:"hours,omitempty" maxLength:"100" doc:"Hours lit, a day"`
	Light    string        `json:"light,omitempty" enum:"bulb,tube,flame" doc:"An old lamp: what made the light"`
	Keeps    []string      `json:"keeps,omitempty" nullable:"false" maxItems:"10" doc:"An old lamp: switch, reflector, housing, what stays"`
	Wet      string        `json:"wet,omitempty" enum:"dry,damp,splashed,over-water,under-water" doc:"How wet it gets"`
	Dimmed   bool          `json:"dimmed,omitempty" doc:"Behind a wall dimmer"`
	Parts    []design.Part `json:"parts,omitempty" nullable:"false" maxItems:"20" doc:"Parts picked from those at hand, in any order"`
}

// Begun is a light made of facts.
type Begun struct {
	Light      *design.Light     `json:"light"`
	Understood map[string]string `json:"understood" doc:"By fact: what its words were taken to mean"`
	Unused     map[string]string `json:"unused" doc:"By fact: words and figures in it that changed nothing, with dots between"`
	Remarks    []Remark          `json:"remarks" nullable:"false" doc:"What in the facts does not agree, or was not understood"`
}

// Remark is one thing in the words of a fact that does not agree, or was not understood.
type Remark struct {
	Fact string `json:"fact" doc:"Which fact it is about"`
	Why  string `json:"why" doc:"What is to be said better"`
}

// For makes a light of the facts. An error is a way that does not exist, or, as a
// design.Problems, a figure beyond what a light can be: what was not said, or not
// understood, is assumed and listed.
func For(f Facts) (*Begun, error) {
	b := &builder{facts: f, light: &design.Light{Format: design.Format, Version: design.Version, Name: f.Name, Progress: "idea", Parts: []design.Part{}}, begun: &Begun{Understood: map[string]string{}, Unused: map[string]string{}, Remarks: []Remark{}}}
	b.light.Variants = []design.Variant{{ID: "a", Name: "First idea", Bodies: []design.Body{}, Feeds: []design.Feed{}}}
	b.v = &b.light.Variants[0]
	b.light.Conditions.AmbientC = 20
	b.assume("/conditions/ambientC", "a room; nobody said where it will be")
	switch f.Wet {
	case "over-water", "under-water":
		b.light.Conditions.NearWater = true
		if f.Wet == "under-water" {
			b.light.Brief.Wet = f.Wet
		}
	default:
		b.light.Brief.Wet = f.Wet
	}
	name := map[string]string{"lamp": "Rebuilt lamp", "parts": "Light from the drawer", "meter": "Measured lamp", "strip": "Strip light", "boards": "Lit area"}[f.Way]
	if name == "" {
		return nil, fmt.Errorf("a light does not begin with %q", f.Way)
	}
	if b.light.Name == "" {
		b.light.Name = name
	}
	switch f.Way {
	case "lamp":
		b.lamp()
	case "meter":
		b.meter()
	case "strip":
		b.strip()
	default:
		b.parts()
	}
	b.notUnderstood()
	b.tellUnused()
	b.begun.Light = b.light
	if err := whole(b.light); err != nil {
		return nil, err
	}
	return b.begun, nil
}

// notUnderstood remarks on what was said and came to nothing.
func (b *builder) notUnderstood() {
	f := &b.facts
	for _, x := range []struct{ fact, line, ask string }{
		{"source", f.Source, "say cells by number and size, an adapter by its volts, or the wall"}, {"emitters", f.Emitters, "say volts, amperes or watts"},
		{"driver", f.Driver, "say linear, resistor, step-down or step-up, and what it is set to"}, {"body", f.Body, "say its K/W, its surface, or a plate as 100 × 80 × 3 mm"},
		{"readings", f.Readings, "say volts and amperes, as 5 V 0.4 A"}, {"pieces", f.Pieces, "say how many of what length, as 2 × 1.5 m"},
		{"area", f.Area, "say its length and width with a unit"}, {"hours", f.Hours, "say how many hours a day"},
	} {
		told := b.begun.Understood[x.fact] != "" || slices.ContainsFunc(b.begun.Remarks, func(r Remark) bool { return r.Fact == x.fact })
		// A number and a wiring are of the parts that were picked.
		told = told || len(f.Parts) > 0 && parse(x.line).bare()
		if line := strings.TrimSpace(x.line); line != "" && !told {
			b.remark(x.fact, "“%s” tells nothing that is understood here: %s.", line, x.ask)
		}
	}
}

// whole checks that what was begun is a light: figures may have been said that are beyond
// what one can be. The error is a design.Problems then.
func whole(light *design.Light) error {
	data, err := design.Encode(light)
	if err != nil {
		return design.Problems{{Message: "a figure is beyond what a light can be"}} // no number at all
	}
	_, err = design.Decode(data)
	return err
}

// builder puts a light together.
type builder struct {
	facts Facts
	light *design.Light
	v     *design.Variant
	begun *Begun
	lines []heardLine
	// volts of the wall socket that feeds it; 0: none does
	mainsV float64
}

func (b *builder) assume(at, why string, args ...any) {
	b.v.Assumed = append(b.v.Assumed, design.Assumption{At: at, Why: fmt.Sprintf(why, args...)})
}

func (b *builder) understood(fact, as string, args ...any) {
	b.begun.Understood[fact] = fmt.Sprintf(as, args...)
}

func (b *builder) remark(fact, why string, args ...any) {
	b.begun.Remarks = append(b.begun.Remarks, Remark{Fact: fact, Why: fmt.Sprintf(why, args...)})
}

// part puts a part into the light under an id.
func (b *builder) part(p design.Part) {
	b.light.Parts = append(b.light.Parts, p)
}

// picked is the first part of a kind that was picked.
func (b *builder) picked(kind string) *design.Part {
	for i := range b.facts.Parts {
		if p := &b.facts.Parts[i]; p.Kind() == kind {
			return p
		}
	}
	return nil
}

// read parses the words of a fact and tells of figures that have no unit.
func (b *builder) read(fact, line string) *said {
	s := parse(line)
	b.lines = append(b.lines, heardLine{fact, s})
	for _, x := range s.unread {
		b.remark(fact, "%s of what? Give its unit.", x)
	}
	return s
}
