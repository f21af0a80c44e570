// Package chain couples the power tree of a light with its heat path: the state at
// rest, the course in time, what happens on the way, and the ledger of energy.
//
// Temperatures and the states of the sources are the state; what flows at one state is
// asked of package circuit. Every other question of the program is asked of this solver.
package chain

import (
	"fmt"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/heat"
)

// Missing says what cannot be computed, or not surely, and what would mend it.
type Missing = circuit.Missing

// air is where a link ends that carries heat out of the light.
const air = -1

// A lump is one temperature of the heat path.
type lump struct {
	owner  string
	name   string // of what it is, in a sentence
	jPerK  float64
	bearsC float64 // above this no state is a state; what has a limit of its own is judged by it
}

// link carries heat between lumps; to the air.
type link struct {
	from, to int
	law      heat.Link
	blower   int     // node whose voltage drives it; −1: none
	startV   float64 // below which that stands still
}

// A way is that of the heat from an array's junctions through its board to a body.
type way struct {
	node, junction, board, body int // lumps
	up, down                    int // links: junction to board, board to body
}

// A board carries a share of an array's strings.
type board struct {
	lump  int
	share float64
}

// A Model is a compiled variant. It is not changed by solving and may be shared.
type Model struct {
	net      *circuit.Network
	light    *design.Light
	options  Options
	laws     *circuit.Laws
	beside   circuit.Beside
	bodies   []int // lump of each body; −1: temperature cannot be told
	lumps    []lump
	links    []link
	junction []int // lump of each node's junctions, or the first of them; −1: not known
	board    []int
	under    [][]int          // links of a node whose last layer is how what it is on spreads its heat
	spots    [][]int          // lumps of an array's kinds of emitters within its groups of strings, where they have their own; −1: none
	boards   [][]board        // of arrays with spots: one, or one of each seat
	seats    [][]int          // of the groups of strings of an array whose strings have seats
	origin   [][]int          // the group that each of those was parted from
	seatOf   map[string][]int // of the strings of such arrays, by their ids
	ways     []way
	plates   []plate
	lowers   []lowering
	inner    []int // lump of the air inside each body that others stand in; −1: none
	keeps    []int // lump of the air that takes up a node's light too; −1: it leaves
	bodyOf   []int // lump of the body each node sits on; −1: the surroundings
	cellBody []int // of each feeder
	ambientC float64
	dries    bool // a body of it is wet: it may be cooler than the air
	startC   float64
	states   int // of the sources; temperatures follow
	missing  []Missing
	stale    []design.Correction
	applied  []design.Correction
	factors  map[string]float64
	places   []place
	columns  []Column
	readers  []reader
}

// Missing lists what the document lacks.
func (m *Model) Missing() []Missing { return m.missing }

// Variant is the compiled variant.
func (m *Model) Variant() *design.Variant { return m.net.Variant }

// Light is the document.
func (m *Model) Light() *design.Light { return m.light }

// Options are those the model was compiled with.
func (m *Model) Options() Options { return m.options }

// Network is the power tree alone.
func (m *Model) Network() *circuit.Network { return m.net }

// StartC is the temperature of the light at switch-on, °C.
func (m *Model) StartC() float64 { return m.startC }

// At is the pointer of the compiled variant.
func (m *Model) At() string { return fmt.Sprintf("/variants/%d", m.options.Variant) }
