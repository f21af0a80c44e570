package bench

import (
	"fmt"
	"math"

	"photherm/core/chain"
	"photherm/core/design"
	"photherm/core/heat"
)

// A warmFree is a figure of the heat that may move.
type warmFree struct {
	label, pointer string
	now, sigma     float64
	log            bool    // by a factor; else added
	least, most    float64 // its ends, if it has any
}

func (f *warmFree) value(theta float64) float64 {
	if f.log {
		return f.now * math.Exp(f.sigma*theta)
	}
	x := f.now + f.sigma*theta
	if f.most > f.least {
		x = min(max(x, f.least), f.most)
	}
	return x
}

// openHeat is the model of a light, and the figures of its heat that may move as its document has
// them: an earlier log may have corrected them, and what is fitted now takes its place.
func openHeat(light *design.Light, variant int) (*chain.Model, []warmFree, error) {
	unweighed := blind(light, variant)
	raw, err := chain.Compile(light, chain.Options{Variant: variant, Raw: true})
	if err != nil {
		return nil, nil, err
	}
	m, err := chain.Compile(light, chain.Options{Variant: variant})
	return m, freeHeat(raw, unweighed), err
}

// blind gives bodies that nobody weighed a heat capacity to begin from, and tells which.
func blind(light *design.Light, variant int) map[string]bool {
	unweighed := map[string]bool{}
	v := &light.Variants[variant]
	for i := range v.Bodies {
		b := v.Bodies[i]
		b.Shape = light.ShapeOf(&b)
		if _, ok := heat.CapacityJPerK(&b); !ok {
			v.Bodies[i].HeatJPerK, unweighed[b.ID] = new(float64(blindJPerK)), true
		}
	}
	return unweighed
}

// freeHeat are the figures of a light's heat that may move.
func freeHeat(m *chain.Model, unweighed map[string]bool) (out []warmFree) {
	light, v := m.Light(), m.Variant()
	for i := range v.Bodies {
		b := v.Bodies[i]
		at := "/variants/" + v.ID + "/bodies/" + b.ID
		power := 0.0
		if b.FilmPower != nil {
			power = *b.FilmPower
		}
		switch {
		case b.KPerW != nil:
			if b.FilmPower == nil {
				power = sinkPower
			}
			out = append(out, warmFree{label: "K/W of " + b.Name, pointer: at + "/kPerW", now: *b.KPerW, sigma: sinkFree, log: true}, warmFree{label: "how its cooling grows with its rise, " + b.Name, pointer: at + "/measuredPower", now: power, sigma: sinkPowerFree, least: -0.3, most: 0.4})
		case b.Shape != nil || light.ShapeOf(&b) != nil:
			shape := light.ShapeOf(&b)
			share := 1.0
			if b.Shape != nil && b.Shape.FilmShare != nil {
				share = *b.Shape.FilmShare
			}
			if b.FilmPower == nil {
				power = stillPower - ownPower(shape)
			}
			out = append(out, warmFree{label: "cooling of " + b.Name, pointer: at + "/shape/measuredFilm", now: share, sigma: heat.OffShare(shape), log: true}, warmFree{label: "how its cooling grows with its rise, " + b.Name, pointer: at + "/measuredPower", now: power, sigma: powerFree, least: -0.3, most: 0.4})
		}
		if shape := light.ShapeOf(&b); b.KPerW == nil && b.Shape != nil && shape.Kind != "cooler" {
			out = append(out, warmFree{label: "emissivity of " + b.Name, pointer: at + "/shape/emissivity", now: heat.EmissivityOf(shape), sigma: emissivityFree, least: 0.01, most: 1})
		}
		with := b
		with.Shape = light.ShapeOf(&b)
		if c, ok := heat.CapacityJPerK(&with); ok && c > 0 {
			sigma := capacityFree
			if unweighed[b.ID] {
				sigma = capacityBlind
			}
			out = append(out, warmFree{label: "heat capacity of " + b.Name, pointer: at + "/heatCapacityJPerK", now: c, sigma: sigma, log: true})
		}
		for k := range b.Joints {
			if r, ok := heat.JointKPerW(&b.Joints[k].Joint); ok && r > 0 {
				out = append(out, warmFree{label: "joint of " + b.Name, pointer: fmt.Sprintf("%s/joints/%d/joint/kPerW", at, k), now: r, sigma: jointFree, log: true})
			}
		}
	}
	for n := range design.Nodes(v) {
		if n.Array == nil || n.Array.Joint == nil {
			continue
		}
		if r, ok := heat.JointKPerW(n.Array.Joint); ok && r > 0 {
			for i := range v.Feeds {
				if design.FindNode(v.Feeds[i].Loads, n.ID) != nil {
					out = append(out, warmFree{label: "joint under " + n.Called(), pointer: "/variants/" + v.ID + "/feeds/" + v.Feeds[i].ID + "/loads/" + n.ID + "/array/joint/kPerW", now: r, sigma: jointFree, log: true})
				}
			}
		}
	}
	return out
}

// stillPower is the middle of the powers of a rise that laws of still air have.
const stillPower = 0.265

// ownPower is the power with which the film of a drawn body grows with its rise about 30 K; what
// is blown, or stands in channels, has its own law: as much as the middle.
func ownPower(s *design.Shape) float64 {
	law, lacks := heat.NewBody(s, 1)
	if len(lacks) > 0 {
		return stillPower
	}
	if p, ok := law.StillPower(); ok {
		return p
	}
	return stillPower
}
