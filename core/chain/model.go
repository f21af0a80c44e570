// Package chain compiles a light to a numeric model and solves it: the operating
// point of the whole power tree coupled with the heat path, at rest and in time.
//
// Every node of the tree draws a current from its bus as a function of the bus
// voltage. A bus is one scalar equation: what its feeder offers = what its loads
// draw; the highest stable crossing is taken. Temperatures and charge are the
// state. Every other question of the program is asked of this solver.
package chain

import (
	"photherm/core/array"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/source"
)

type nodeKind int

const (
	switchNode nodeKind = iota
	driverNode
	arrayNode
	stripNode
	loadNode
	auxNode
)

// Fault states of a node, as a slot holds them.
const (
	faultOK = iota
	faultShort
	faultOpen
)

// noBody marks heat that goes to the surroundings.
const noBody = -1

type node struct {
	id, name, pointer string
	kind              nodeKind
	feed, parent      int // parent -1: hangs on the feed
	kidLo, kidHi      int // nodes it feeds are contiguous
	body              int
	monotone          bool // draws more the higher the voltage
	kidsMonotone      bool

	fault     float64 // faultOK, faultShort or faultOpen
	seriesOhm float64

	contactOhm float64 // switch
	open       float64 // switch: 1 is open
	dimmer     bool    // a switchNode that is a phase-cut dimmer

	drv   driver.Driver
	level float64 // driver: to what it is dimmed itself; dimmer: where it stands

	strip array.Strip

	arr        array.Law
	chosen     bool // array: an emitter is chosen
	optic      float64
	junction   int // thermal nodes; -1: not known
	board      int
	countsHeat bool    // all input is heat
	ratedA     float64 // of the emitter as mounted; 0: unknown
	binV       float64 // spread of its forward voltage, ±
	sameBin    bool
	ownKPerW   float64 // case to where heat is shared with other strings

	load     []design.LoadPoint
	loadCP   bool
	loadLm   float64
	scale    float64 // load or auxiliary: multiplies the draw
	currentA float64 // auxiliary
	standbyA float64 // auxiliary: while its feed is switched off
	startV   float64
}

type feed struct {
	id, name, pointer string
	kidLo, kidHi      int
	kind              sourceKind
	sourceID          string
	pack              source.Pack
	supplyV           float64
	supplyOhm         float64
	supplyLimitA      float64
	supplyRatedA      float64
	charge            int // index of its charge in the state; -1: none
	polar             int // index of the voltage on R1C1; -1: none
	body              int
	cut               bool // its protection has cut it off
	off               bool // switched off: nothing but auxiliaries gets power
}

type sourceKind int

const (
	noSource sourceKind = iota
	packSource
	supplySource
)

// thermal is one lump of the heat path.
type thermal struct {
	owner string
	jPerK float64
}

// link carries heat between lumps; to -1 is the air.
type link struct {
	from, to int
	parts    [2]resistance
	wPerK    float64
}

// resistance is one of two in series; share of them stand in parallel.
type resistance struct {
	pointer string
	kPerW   float64
	share   float64
}

// Missing says what cannot be computed, or not surely, and what would mend it.
type Missing struct {
	Node    string `json:"node" doc:"Id of the node, source or body it concerns"`
	Pointer string `json:"pointer" doc:"JSON Pointer to where the figure belongs"`
	Why     string `json:"why" doc:"One sentence"`
}

// A Model is a compiled variant. It is not changed by solving and may be shared.
type Model struct {
	light    *design.Light
	variant  *design.Variant
	nodes    []node
	feeds    []feed
	bodies   []int // thermal lump of each body; -1: temperature cannot be told
	lumps    []thermal
	links    []link
	ambientC float64
	startC   float64
	charge   float64
	states   int // charge and polarisation; temperatures follow
	missing  []Missing
	slots    map[string][]slot
	columns  []Column
}

// Missing lists what the document lacks.
func (m *Model) Missing() []Missing { return m.missing }

// Variant is the compiled variant.
func (m *Model) Variant() *design.Variant { return m.variant }

// Light is the document.
func (m *Model) Light() *design.Light { return m.light }
