package target

import (
	"fmt"

	"photherm/core/design"
	"photherm/core/lighting"
)

// A OneOptic is the light with another optic on all its emitters.
type OneOptic struct {
	Name       string   `json:"name"`
	Own        bool     `json:"own" doc:"Whether it is what the light has"`
	Lumens     float64  `json:"lumens" doc:"That leave the light"`
	WidthDeg   float64  `json:"widthDeg" doc:"Full width at half of its peak, degrees"`
	PeakCd     float64  `json:"peakCd"`
	DistanceM  float64  `json:"distanceM"`
	SpotM      float64  `json:"spotAt10M" doc:"How wide its beam is at 10 m"`
	Nodes      []string `json:"nodes" nullable:"false" doc:"Ids of the arrays it is put on"`
	Kind       string   `json:"kind" enum:"bare,lens,smooth-reflector,textured-reflector" doc:"Of the optic that is tried; empty: its own"`
	Deg        float64  `json:"deg" doc:"Beam of the lens, or spot of the reflector; 0: none"`
	Efficiency float64  `json:"efficiency" doc:"Share of the light that leaves it"`
}

// A tried optic, and what share of the light leaves it where the light's own optic is of another
// kind (common practice: moulded lenses let 85 to 92 % out; polished aluminium reflects about
// 88 %, and a textured one scatters some of it back).
type triedOptic struct {
	kind  string
	deg   []float64
	share float64
}

// What is tried (common practice: what is sold).
var triedOptics = []triedOptic{
	{"lens", []float64{8, 12, 20, 30, 45, 60, 90}, 0.88},
	{"smooth-reflector", []float64{5, 8, 12}, 0.85},
	{"textured-reflector", []float64{8, 12, 20, 30}, 0.82},
	{"bare", []float64{0}, 1},
}

var opticWords = map[string]string{"lens": "a lens of %g°", "smooth-reflector": "a smooth reflector, spot %g°", "textured-reflector": "a textured reflector, spot %g°"}

// kindOfOptic is what the light of an array leaves through.
func kindOfOptic(n *design.Node) string {
	switch {
	case n.Optic != nil && n.Optic.Kind != "":
		return n.Optic.Kind
	case n.Array.BeamDeg != nil:
		return "lens"
	}
	return "bare"
}

// With is a light's node with an optic on it, as it is compared: all else of its optic stays, its
// cover and where it looks.
func (o *OneOptic) With(n design.Node) design.Node {
	a, optic := *n.Array, design.Optic{}
	if n.Optic != nil {
		optic = *n.Optic
	}
	a.BeamDeg, a.OpticEfficient = nil, nil
	optic.Kind, optic.SpotDeg, optic.Table = o.Kind, nil, nil
	switch o.Kind {
	case "lens":
		a.BeamDeg = &o.Deg
	case "smooth-reflector", "textured-reflector":
		optic.SpotDeg = &o.Deg
	default:
		optic.SpillDeg, optic.SpotShare = nil, nil
	}
	if o.Efficiency < 1 {
		a.OpticEfficient = &o.Efficiency
	}
	n.Array, n.Optic = &a, &optic
	return n
}

// otherOptics are the light's own optic and others on all its arrays, the narrowest of each kind
// first. A light of other things than arrays, or of optics of several kinds or efficiencies, has
// its own alone.
func (l *Lit) otherOptics(b *Beam) []OneOptic {
	out := []OneOptic{{Name: "as it is", Own: true, Lumens: l.Lumens(), WidthDeg: b.WidthDeg, PeakCd: b.PeakCd, DistanceM: b.DistanceM, SpotM: lighting.WidthAt(b.WidthDeg, 10), Nodes: []string{}, Efficiency: 1}}
	nodes, own, now := map[string]*design.Node{}, "", 1.0
	ids := []string{}
	for i := range l.Glows {
		n := design.FindNode(l.loads(), l.Glows[i].Node)
		if n == nil || n.Array == nil {
			return out
		}
		lets := 1.0
		if n.Array.OpticEfficient != nil {
			lets = *n.Array.OpticEfficient
		}
		if own != "" && (kindOfOptic(n) != own || lets != now) {
			return out
		}
		own, now = kindOfOptic(n), lets
		if nodes[n.ID] == nil {
			ids = append(ids, n.ID)
		}
		nodes[n.ID] = n
	}
	for _, tried := range triedOptics {
	angles:
		for _, deg := range tried.deg {
			o := OneOptic{Kind: tried.kind, Deg: deg, Nodes: ids, Efficiency: tried.share, Name: "bare"}
			if words := opticWords[tried.kind]; words != "" {
				o.Name = fmt.Sprintf(words, deg)
			}
			if own == tried.kind {
				o.Efficiency = now
			}
			lamps, put := l.weigh(lumens), map[string]*lighting.Distribution{}
			for i := range lamps {
				n := nodes[l.Glows[l.points[i].glow].Node]
				if put[n.ID] == nil {
					use := o.With(*n)
					d, _, err := Optic(&use)
					if err != nil || now <= 0 {
						continue angles // its spill is narrower than this spot, or it lets nothing out
					}
					put[n.ID] = d
				}
				lamps[i].Optic, lamps[i].Lumens = put[n.ID], lamps[i].Lumens*o.Efficiency/now
				o.Lumens += lamps[i].Lumens
			}
			far := farOf(lamps)
			cd, toward := far.Peak()
			if !(cd > 0) {
				continue
			}
			o.PeakCd, o.DistanceM, o.WidthDeg = cd, lighting.BeamDistance(cd), widthOf(far, toward, cd/2)
			o.SpotM = lighting.WidthAt(o.WidthDeg, 10)
			out = append(out, o)
		}
	}
	return out
}

func (l *Lit) loads() (all []design.Node) {
	for i := range l.Variant.Feeds {
		all = append(all, l.Variant.Feeds[i].Loads...)
	}
	return all
}
