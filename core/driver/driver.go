// Package driver answers what each driver family does between the bus it hangs
// on and the bus it makes: the envelope it offers its load, what it takes from
// its input, what it loses as heat, and the mode it is in.
package driver

// A Family is a way of making emitter current.
type Family int

// The families.
const (
	Absent Family = iota // not chosen yet: nothing passes
	None                 // straight through
	Resistor
	Linear
	Buck
	Voltage
	Dropper // a fixed voltage in series
	Boost   // constant current, step-up
	BuckBoost
	Window // constant current from the mains inside a window of output voltage
)

// A Mode is what a driver is doing.
type Mode int

// The modes.
const (
	Off Mode = iota
	PassThrough
	ConstantCurrent
	DropOut
	LockedOut
	ConstantVoltage
	Uncontrolled // a step-up whose input stands above its output: it conducts
	Hiccup       // outside its window of output voltage it tries again and again
	WattLimit    // a supply that holds itself to a power
	Foldback     // a supply whose limit falls with its voltage
)

// Modes counts the modes.
const Modes = int(Foldback) + 1

func (m Mode) String() string {
	return [...]string{"off", "pass-through", "constant current", "drop-out", "locked out", "constant voltage", "uncontrolled", "hiccup", "watt limit", "foldback"}[m]
}

// WireOhm stands for a connection taken as ideal.
const WireOhm = 1e-6
