// Package circuit answers what flows in the power tree of a light at given
// temperatures and charges: the voltage of every bus and the current of every branch.
//
// Every node of the tree draws a current from its bus as a function of the bus
// voltage. A bus is one scalar equation: what its feeders offer = what its loads draw;
// the highest stable crossing is taken. A driver in control parts the tree: what it
// feeds does not depend on what feeds it. Between two such cuts the buses joined by
// resistances are a region, and all its voltages are found together, at a cost that
// grows with its size (region.go); where that is not sure of the highest crossing, the
// bus is searched from no load downwards (scan.go).
package circuit

import (
	"photherm/core/array"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/source"
)

// A Kind is what a node is.
type Kind int

// The kinds. A dimmer of the mains is a Switch with Dimmer set.
const (
	Switch Kind = iota
	Driver
	Array
	Strip
	Load
	Aux
)

// Fault states of a node, as a slot holds them.
const (
	OK = iota
	Short
	Open
)

// A Node is a place in the tree, with its law.
type Node struct {
	ID, Name, Pointer string
	Kind              Kind
	Feed, Parent      int // Parent −1: hangs on the feed
	KidLo, KidHi      int // nodes it feeds are contiguous
	BodyID            string
	Count             float64 // equal ones side by side: all figures are those of one
	Times             float64 // of them in the whole light, those it hangs on counted too

	monotone     bool // draws no less the higher the voltage
	kidsMonotone bool

	Fault     float64 // OK, Short or Open
	SeriesOhm float64 // a bad joint

	ContactOhm float64 // switch
	Off        bool    // switch: it is open
	Dimmer     bool    // a switch that is a phase-cut dimmer
	OnLine     bool    // it hangs on the mains, with nothing between that converts

	Drv   driver.Driver
	Cycle float64 // driver: share of the time it is on where it locks out and starts over and over; 0: it does not
	Level float64 // driver: to what it is dimmed itself; dimmer: where it stands

	Strip array.Strip

	Arr        array.Law
	Chosen     bool // array, strip, load: it can be computed
	Optic      float64
	CountsHeat bool    // all input is heat
	RatedA     float64 // of the emitter as mounted; 0: unknown
	BinV       float64 // spread of its forward voltage, ±
	SameBin    bool
	OwnKPerW   float64 // case to where heat is shared with other strings

	Load     []design.LoadPoint
	Beyond   Beyond
	LoadLm   float64
	Scale    float64 // load or auxiliary: multiplies the draw
	CurrentA float64 // auxiliary
	StandbyA float64 // auxiliary: while its feed is switched off
	StartV   float64
	Nominal  Operating // of a driver: where it works at the light's nominal point; zero: it does not
}

// A Feed is where power comes in.
type Feed struct {
	ID, Name, Pointer string
	KidLo, KidHi      int
	FeederLo          int // its feeders are contiguous
	FeederHi          int
	off               bool // switched off: nothing but auxiliaries gets power
	mains             bool // its source in use is the mains
}

// Mains tells that it runs from the mains.
func (f *Feed) Mains() bool { return f.mains }

// A Feeder is a source on the bus of a feed.
type Feeder struct {
	SourceID string
	Feed     int
	BodyID   string
	Law      source.Law
	At       int // its states begin here among those of all sources
	Cut      bool
	Cycle    float64 // share of the time it is on where it cuts off and comes back over and over; 0: it does not
	IsPack   bool
	dark     bool // in the dark part of its cycle
}

// States is the part of all sources' states that is this one's.
func (f *Feeder) States(all []float64) []float64 { return all[f.At : f.At+f.Law.States()] }

// A Missing says what cannot be computed, or not surely, and what would mend it.
type Missing struct {
	Node    string `json:"node" doc:"Id of the node, source or body it concerns"`
	Pointer string `json:"pointer" doc:"JSON Pointer to where the figure belongs"`
	Why     string `json:"why" doc:"One sentence"`
}

// A Network is a compiled power tree. It is not changed by solving and may be shared.
type Network struct {
	Light   *design.Light
	Variant *design.Variant
	Nodes   []Node
	Feeds   []Feed
	Feeders []Feeder
	States  int // of all sources
	Charge  float64
	Missing []Missing
}

// Find is the index of a node of a kind; −1 if there is none.
func (n *Network) Find(id string, kind Kind) int {
	for k := range n.Nodes {
		if n.Nodes[k].ID == id && n.Nodes[k].Kind == kind {
			return k
		}
	}
	return -1
}

// DisplayName is what a node is called.
func (n *Node) DisplayName() string {
	if n.Name != "" {
		return n.Name
	}
	return n.ID
}

// A NodePoint is the operating point of a node.
type NodePoint struct {
	InV, InA, OutV, OutA, LossW float64
	InnerV                      float64 // at the node itself, behind a bad joint
	Mode                        driver.Mode
	InW, OutW, JointW           float64 // JointW: of LossW, in a bad joint or ballast
	FluxLm, RadiantW, OpticW    float64 // leaving the emitters; lost in the optic
	FarV                        float64 // strip: the lowest voltage at a segment
}

// A FeedPoint is the operating point of a feed.
type FeedPoint struct {
	BusV, BusA, BusW float64
}

// A FeederPoint is the operating point of a source.
type FeederPoint struct {
	OpenV, CurrentA float64
	BusW            float64 // what it gives to the bus
	LossW           float64 // in its terminal resistance
	GivenW          float64 // by its law, what it loses in that included
}
