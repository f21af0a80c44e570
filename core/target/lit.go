// Package target answers where the light of a solved light goes, and whether it comes where it
// is wanted: a beam over ground, an area in lux or photons, the ground round a lantern, along a
// strip, a tank from its side and its bottom; what would mend it; and what it looks like.
//
// It asks the chain how much light leaves each string at an instant, photometry what that light
// weighs, and lighting where it goes. Coordinates are metres from the middle of what is lit, x
// along its length, y across, z up from the lit plane, the ground, or the surface of the water.
package target

import (
	"context"
	"fmt"
	"math"
	"strings"

	"gonum.org/v1/gonum/spatial/r3"

	"photherm/core/chain"
	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/lighting"
	"photherm/core/photometry"
)

// A Glow is light of one spectrum out of one node.
type Glow struct {
	Node     string  `json:"node" doc:"Id"`
	Name     string  `json:"name"`
	Lumens   float64 `json:"lumens" doc:"Out of the optic of all that are equal, lm, of all the lights there are"`
	spectrum *photometry.Spectrum
	photons  [lighting.Bands]float64 // µmol/s for each lumen
}

// A point is where a share of a glow leaves.
type point struct {
	lighting.Lamp
	glow  int
	stand int
}

// Lit is the light of a variant at an instant, with where it comes from.
type Lit struct {
	Light   *design.Light
	Variant *design.Variant
	AtS     float64
	InputW  float64
	Glows   []Glow
	Lights  int      // equal lights there are
	Taken   []string // what is taken of where things sit, as nobody said it
	Dark    string   // why there is no light; empty: there is
	Unknown string   // whose spectrum is not known; empty: photons can be told
	Fault   string   // why it cannot be followed; empty: it can

	points []point
}

// mostPoints is how many points of light are followed (chosen: a map of them takes about a
// second).
const mostPoints = 20000

// ReferenceS is when a light is compared with what is wanted of it, s after switch-on (ANSI/PLATO
// FL 1 reads lumens and candela from 30 s on).
const ReferenceS = 30

// Of is the light at an instant of a run, s after switch-on. Where a light has only begun there is
// none, and Dark says why.
func Of(ctx context.Context, run *chain.Run, atS float64) (*Lit, error) {
	m := run.Model
	end := run.T[len(run.T)-1]
	out := &Lit{Light: m.Light(), Variant: m.Variant(), AtS: min(max(atS, 0), end), Lights: 1}
	figures := map[string]map[string]float64{}
	record := run.At(out.AtS)
	for i, c := range m.Columns() {
		if figures[c.Owner] == nil {
			figures[c.Owner] = map[string]float64{}
		}
		figures[c.Owner][c.Figure] = record[i]
	}
	out.InputW = figures[""]["inputW"]
	for i := range out.Variant.Bodies {
		out.Lights = max(out.Lights, len(out.Variant.StandsOf(out.Variant.Bodies[i].ID)))
	}
	unknown := []string{}
	for k := range m.Network().Nodes {
		n := &m.Network().Nodes[k]
		if !n.Chosen || n.Kind != circuit.Array && n.Kind != circuit.Strip && n.Kind != circuit.Load {
			continue
		}
		use := nodeOf(out.Variant, n.ID)
		if use == nil {
			continue
		}
		flux := figures[n.ID]["fluxLm"] * n.Times
		if !(flux > 0) {
			continue
		}
		parts, err := out.glowsOf(use, n, figures[n.ID], flux)
		if err != nil {
			out.Fault = err.Error()
			continue
		}
		for _, g := range parts {
			if g.spectrum == nil {
				unknown = append(unknown, g.Name)
			}
		}
		if err := out.place(ctx, m, use, n, figures[n.ID], parts); err != nil {
			if ctx.Err() != nil {
				return nil, err
			}
			out.Fault = err.Error()
		}
	}
	if len(out.points) == 0 && out.Fault == "" {
		out.Dark = run.Answers().FluxWhy
		if out.Dark == "" {
			out.Dark = "nothing gives light at this instant"
		}
	}
	if len(unknown) > 0 {
		out.Unknown = strings.Join(unknown, ", ")
	}
	return out, nil
}

func nodeOf(v *design.Variant, id string) *design.Node {
	for n := range design.Nodes(v) {
		if n.ID == id {
			return n
		}
	}
	return nil
}

// glowsOf splits the light of a node by spectrum.
func (l *Lit) glowsOf(use *design.Node, n *circuit.Node, figures map[string]float64, flux float64) ([]Glow, error) {
	name := use.Called()
	one := func(of *design.Spectrum, lumens float64, called string) (Glow, error) {
		g := Glow{Node: use.ID, Name: called, Lumens: lumens}
		if of == nil {
			return g, nil
		}
		s, err := photometry.New(of)
		if err != nil {
			return g, fmt.Errorf("%s: %w", called, err)
		}
		if per := s.EfficacyLmPerW(); per > 0 {
			g.spectrum = s
			for b, nm := range bandsNm {
				g.photons[b] = s.Photons(nm[0], nm[1]) / per
			}
		}
		return g, nil
	}
	switch {
	case use.Array != nil:
		parts := []string{use.Array.PartID}
		for _, more := range use.Array.Mixed {
			parts = append(parts, more.PartID)
		}
		shares := make([]float64, len(parts))
		shares[0] = 1
		if kinds := n.Arr.Kinds(); kinds > 1 && kinds == len(parts) {
			sum := 0.0
			for k := range kinds {
				shares[k] = 0
				for g := range n.Arr.Groups {
					shares[k] += kindLm(figures, n, g, k)
				}
				sum += shares[k]
			}
			for k := range shares {
				shares[k] /= max(sum, 1e-12)
			}
		}
		var out []Glow
		for k, id := range parts {
			part := l.Light.Part(id)
			if part == nil || part.Emitter == nil || shares[k] <= 0 {
				continue
			}
			called := name
			if len(parts) > 1 {
				called = fmt.Sprintf("%s, %s", name, part.Name)
			}
			g, err := one(part.Emitter.Spectrum, flux*shares[k], called)
			if err != nil {
				return nil, err
			}
			out = append(out, g)
		}
		return out, nil
	case use.Strip != nil:
		var of *design.Spectrum
		if part := l.Light.Part(use.Strip.PartID); part != nil && part.Strip != nil {
			of = part.Strip.Spectrum
		}
		g, err := one(of, flux, name)
		return []Glow{g}, err
	}
	g, err := one(nil, flux, name)
	return []Glow{g}, err
}

// kindLm is the light of one kind of emitters in all strings of a group.
func kindLm(figures map[string]float64, n *circuit.Node, group, kind int) float64 {
	x := figures[fmt.Sprintf("string%dkind%dLm", group, kind)] * float64(n.Arr.Groups[group].Strings)
	if math.IsNaN(x) {
		return 0
	}
	return x
}

// bandsNm are the bands that water and plants tell apart, nm.
var bandsNm = [lighting.Bands][2]int{{400, 500}, {500, 600}, {600, 700}, {700, 750}}

// weigh is the lamps with their light counted in another quantity than lumens: weight is what a
// lumen of a glow counts for.
func (l *Lit) weigh(weight func(*Glow) float64) []lighting.Lamp {
	out := make([]lighting.Lamp, 0, len(l.points))
	for i := range l.points {
		lamp := l.points[i].Lamp
		lamp.Lumens *= weight(&l.Glows[l.points[i].glow])
		out = append(out, lamp)
	}
	return out
}

func lumens(*Glow) float64 { return 1 }

// photonsOf is µmol/s for each lumen, 400 to 700 nm.
func photonsOf(g *Glow) float64 { return g.photons[0] + g.photons[1] + g.photons[2] }

// Lumens is all the light there is.
func (l *Lit) Lumens() float64 {
	sum := 0.0
	for i := range l.Glows {
		sum += l.Glows[i].Lumens
	}
	return sum
}

// sumOver adds up something that goes with the lumens of each glow.
func (l *Lit) sumOver(weight func(*Glow) float64) float64 {
	sum := 0.0
	for i := range l.Glows {
		sum += l.Glows[i].Lumens * weight(&l.Glows[i])
	}
	return sum
}

// A pose is where something is and how it looks and lies.
type pose struct {
	at          r3.Vec
	axis, along r3.Vec
}

func (p pose) across() r3.Vec { return r3.Cross(p.along, p.axis) }

// out is where something at a place on the face of a body lies.
func (p pose) out(along, across, forward float64) r3.Vec {
	return r3.Add(p.at, r3.Add(r3.Scale(along, p.along), r3.Add(r3.Scale(across, p.across()), r3.Scale(forward, p.axis))))
}

// turn is a direction in the frame of a body.
func (p pose) turn(v r3.Vec) r3.Vec {
	return r3.Add(r3.Scale(v.X, p.along), r3.Add(r3.Scale(v.Y, p.across()), r3.Scale(-v.Z, p.axis)))
}

// leaning is a frame that looks down, leans and turns, degrees.
func leaning(at r3.Vec, tiltDeg, turnDeg, rollDeg float64) pose {
	up, y := r3.Vec{Z: 1}, r3.Vec{Y: 1}
	rad := math.Pi / 180
	own := r3.NewRotation(-rollDeg*rad, r3.Vec{Z: -1})
	lean := r3.NewRotation(-tiltDeg*rad, y)
	round := r3.NewRotation(turnDeg*rad, up)
	all := func(v r3.Vec) r3.Vec { return round.Rotate(lean.Rotate(own.Rotate(v))) }
	return pose{at: at, axis: all(r3.Vec{Z: -1}), along: all(r3.Vec{X: 1})}
}
