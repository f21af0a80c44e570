package design

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"unicode/utf8"
)

// Kind names what a part is: emitter, driver, cell, strip, load, profile, protection or charger; empty for none.
func (p *Part) Kind() string {
	switch {
	case p.Emitter != nil:
		return "emitter"
	case p.Driver != nil:
		return "driver"
	case p.Cell != nil:
		return "cell"
	case p.Strip != nil:
		return "strip"
	case p.Load != nil:
		return "load"
	case p.Profile != nil:
		return "profile"
	case p.Protect != nil:
		return "protection"
	case p.Charger != nil:
		return "charger"
	}
	return ""
}

// Hash names the state of a part's data: two parts of one hash compute alike.
func (p *Part) Hash() string {
	plain := *p
	plain.ID, plain.Note, plain.Origin = "", "", nil
	data, err := json.Marshal(plain)
	if err != nil {
		return "" // figures that Decode accepts can always be written
	}
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:8])
}

// DecodePart reads one part as Decode reads those of a light, with the same
// messages; its error is a Problems.
func DecodePart(data []byte) (*Part, error) {
	if !utf8.Valid(data) {
		return nil, Problems{{"", "the part is not UTF-8 text"}}
	}
	data, err := PartUpToDate(data)
	if err != nil {
		return nil, err
	}
	tree, err := parse(data)
	if err != nil {
		return nil, err
	}
	c := checker{}
	c.value(tree, reflect.TypeFor[Part](), "", "")
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	p := new(Part)
	if err := json.Unmarshal(data, p); err != nil {
		return nil, Problems{{"", "the part cannot be read: " + err.Error()}}
	}
	c.part(p, "")
	if len(c.problems) > 0 {
		return nil, c.problems
	}
	return p, nil
}

// PartUpToDate brings a stored part of an older version to the newest. A part carries no
// version: what it was called before is known by its name.
func PartUpToDate(data []byte) ([]byte, error) {
	if !bytes.Contains(data, []byte(`"constantPowerBeyond"`)) {
		return data, nil
	}
	var part map[string]any
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.UseNumber()
	if err := dec.Decode(&part); err != nil {
		return data, nil // it is told what is wrong with it where it is read
	}
	loadsGoOn(map[string]any{"parts": []any{part}})
	out, err := json.Marshal(part)
	if err != nil {
		return nil, fmt.Errorf("bringing a part up to date: %w", err)
	}
	return out, nil
}

// UpToDate brings a stored light of an older version to the newest; a light of the
// newest version is returned as it is.
func UpToDate(data []byte) ([]byte, error) {
	var head struct {
		Version int `json:"version"`
	}
	if err := json.Unmarshal(data, &head); err != nil {
		return nil, fmt.Errorf("reading a light: %w", err)
	}
	if head.Version >= Version {
		return data, nil
	}
	if head.Version < 1 {
		return nil, errors.New("reading a light: it has no version")
	}
	return upgrade(data, head.Version)
}

// Lacks names the figures a part still lacks that something is computed or judged
// from, in plain words; a part that lacks nothing can be trusted as far as its basis
// goes.
func (p *Part) Lacks() []string {
	out := []string{}
	need := func(there bool, what string) {
		if !there {
			out = append(out, what)
		}
	}
	switch {
	case p.Emitter != nil:
		e := p.Emitter
		need(len(e.Forward) >= 3, "three points of forward voltage")
		need(e.RatedCurrentA != nil, "rated current")
		need(e.MaxCurrentA != nil, "maximum current")
		need(e.MaxJunctionC != nil, "highest junction temperature")
		need(e.FluxLm != nil, "light")
		need(e.EfficacyLmPerW != nil || e.Spectrum != nil, "spectrum, or lumens per radiated watt")
		need(e.RthKPerW != nil, "thermal resistance")
		need(e.VfVPerK != nil, "forward voltage against temperature")
		need(e.VfBinV != nil, "spread of forward voltage")
	case p.Driver != nil:
		p.Driver.lacks(need)
	case p.Cell != nil:
		c := p.Cell
		need(c.MaxDischargeA != nil, "highest discharge current")
		need(c.Size != "", "size")
		need(len(c.OCV) > 1, "measured open-circuit curve")
	case p.Strip != nil:
		s := p.Strip
		need(s.PerMetreA != nil || s.PerMetreW != nil, "power or current for each metre")
		need(s.LoopOhm != nil, "resistance of its copper")
		need(s.FluxLmPer != nil, "light for each metre")
		need(s.LongestM != nil, "longest run")
	case p.Load != nil:
		need(len(p.Load.Points) >= 3, "three readings of its draw")
		need(p.Load.FluxLm != nil, "light")
	case p.Profile != nil:
		need(p.Profile.PerimeterM != nil, "perimeter")
		need(p.Profile.WidthM != nil && p.Profile.HeightM != nil, "outer width and depth")
		need(p.Profile.KgPerM != nil, "mass of a metre")
		need(p.Profile.BaseM != nil, "thickness of its base")
	case p.Protect != nil:
		need(p.Protect.MaxA != nil, "current at which it trips")
		need(p.Protect.OverCellV != nil, "voltage at which it stops charging")
		need(p.Protect.StandbyA != nil, "own draw")
	case p.Charger != nil:
		need(p.Charger.CurrentA != nil || p.Charger.ProgramV != nil, "current, or the volts of its programming resistor")
		need(p.Charger.InputV != nil, "input voltage")
		need(p.Charger.Kind != "linear" || p.Charger.KPerW != nil, "K/W, for its own heat")
	}
	return out
}

func (d *Driver) lacks(need func(bool, string)) {
	switch d.Family {
	case "none":
		return
	case "resistor":
		need(d.ResistanceOhm != nil, "resistance")
		need(d.RatedW != nil, "rated watts")
		return
	case "dropper":
		need(d.DropV != nil, "voltage it takes")
		return
	case "voltage":
		need(d.SetVoltageV != nil, "output voltage")
		need(d.MaxOutputW != nil, "rated output")
		need(d.MaxCurrentA != nil, "highest current")
	case "window":
		need(d.MinVoltageV != nil && d.MaxVoltageV != nil, "window of output voltage")
		need(d.Class != "", "protection class")
		fallthrough
	default:
		need(d.SetCurrentA != nil || d.MaxCurrentA != nil || d.ProgramV != nil || len(d.JumperA) > 0, "output current")
	}
	if d.Family == "linear" || d.Family == "buck" {
		need(d.HeadroomV != nil, "headroom")
	}
	if d.Family != "linear" {
		need(d.Efficiency != nil, "efficiency")
	}
	need(d.InputMinV != nil, "lowest input")
	need(d.InputMaxV != nil, "highest input")
	need(d.Tolerance != nil, "tolerance of its setting")
	need(d.Dimming != "", "how it is dimmed")
	if d.Dimming == "phase-cut" {
		need(d.CutEdge != "", "edge of the dimmer it takes")
	}
}

// A Gap is a figure that computing wants and the document does not give.
type Gap struct {
	Figure string // its name in the part, or in the use of the part
	InUse  bool   // it is one of the use
	Why    string // what is not known, and what is taken instead
}
