package reading

import (
	"math"
	"slices"
)

// A Tool is something to measure with, as it comes without a certificate.
type Tool struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Quantity string `json:"quantity" enum:"voltage,current,resistance,power,temperature,illuminance,ppfd,light,duration" doc:"What it measures"`
	Care     string `json:"care,omitempty" doc:"What it misleads on, or wants"`

	share float64 // ± of what is read, of 1
	add   float64 // ± whatever is read, SI
	parts float64 // counts of its display: its last digit follows the range; 0: step says it
	step  float64 // last digit, SI
	most  float64 // it reads no more, SI; 0: no limit
	least float64 // it is for no less, SI
}

// tools, of each quantity the best first. Shares, counts and what misleads are common practice;
// a thermocouple's ±2.5 K is IEC 60584-1, class 2 (from memory); that a hand bears metal of
// 43 °C for long, 51 °C for a minute and none above 60 °C follows EN ISO 13732-1 (from memory).
var tools = []Tool{
	{ID: "multimeter-v", Name: "multimeter, volts", Quantity: "voltage", share: 0.01, parts: 2000, Care: "On anything that is switched it shows an average: read at full level."},
	{ID: "supply-v", Name: "display of a bench supply", Quantity: "voltage", share: 0.02, step: 0.1, Care: "It shows its own terminals, not the other end of the leads."},
	{ID: "tester-v", Name: "voltage tester with lamps", Quantity: "voltage", share: 0.3, step: 3, Care: "It tells that there is voltage, and about how much."},

	{ID: "multimeter-a", Name: "multimeter in one wire, amperes", Quantity: "current", share: 0.015, parts: 2000, most: 10, Care: "Leads in the ampere jack; back to volts at once afterwards."},
	{ID: "shunt", Name: "multimeter across a shunt resistor", Quantity: "current", share: 0.02, parts: 2000, Care: "Take its own volts into account where little is left over."},
	{ID: "clamp", Name: "clamp meter for direct current", Quantity: "current", share: 0.03, step: 0.01, Care: "Set it to zero just before; wind the wire through it five times for small currents."},
	{ID: "supply-a", Name: "display of a bench supply", Quantity: "current", share: 0.03, step: 0.01},
	{ID: "inline-w", Name: "power meter at the wall, over the voltage", Quantity: "current", share: 0.1, add: 0.02, Care: "The adapter's own loss is in it."},

	{ID: "insulation-tester", Name: "insulation tester", Quantity: "resistance", share: 0.05, parts: 2000, least: 3e5, Care: "At the test voltage your code asks for, usually 500 V: driver and emitters off the wires that are tested, hands off, discharge afterwards."},
	{ID: "ohmmeter", Name: "multimeter, ohms", Quantity: "resistance", share: 0.01, parts: 2000, add: 0.1, Care: "Short the leads first and subtract; power off, capacitors empty."},
	{ID: "four-wire", Name: "milliohmmeter with four wires", Quantity: "resistance", share: 0.01, step: 1e-4, most: 100},

	{ID: "wall-meter", Name: "power meter at the wall", Quantity: "power", share: 0.02, step: 0.1, add: 0.2, Care: "Below some watts, and on adapters without correction, it shows what it likes."},
	{ID: "volts-amps", Name: "volts times amperes", Quantity: "power", share: 0.02, step: 0.01, Care: "For direct current; read both at once."},
	{ID: "house-meter", Name: "meter of the house, all else off", Quantity: "power", share: 0.05, step: 1, Care: "Count its turns or pulses for some minutes."},

	{ID: "thermocouple", Name: "thermocouple, glued or taped on", Quantity: "temperature", add: 2.5, step: 0.1, Care: "Pressed on with a dab of paste, its wire along the metal for a centimetre."},
	{ID: "infrared", Name: "infrared thermometer", Quantity: "temperature", add: 3, share: 0.02, step: 0.1, Care: "Bare metal mirrors the room: stick tape on it and read that."},
	{ID: "hand", Name: "a hand", Quantity: "temperature", add: 6, Care: "As long as you like: about 43 °C and less. Some seconds: 44 to 55 °C. Not at all: 60 °C and more; then do not try again."},

	{ID: "clock", Name: "a clock, somebody near", Quantity: "duration", add: 60},
	{ID: "looks", Name: "a look now and then", Quantity: "duration", add: 600, Care: "It went out between two looks: type the middle."},

	{ID: "luxmeter", Name: "lux meter", Quantity: "illuminance", share: 0.1, parts: 2000, Care: "On blue or red light alone it is far off."},
	{ID: "phone-lux", Name: "phone's light sensor", Quantity: "illuminance", share: 0.3, step: 1, Care: "Not the camera: that sets its own exposure."},

	{ID: "quantum", Name: "quantum sensor, 400 to 700 nm", Quantity: "ppfd", share: 0.08, step: 1, Care: "Under water, one that is made for it, and its factor for water."},
	{ID: "luxmeter-photons", Name: "lux meter, by the lux a photon of this spectrum makes", Quantity: "ppfd", share: 0.2, Care: "Blue and red mislead it: for white light only."},

	{ID: "luxmeter-twice", Name: "lux meter at one place, twice", Quantity: "light", share: 0.03, Care: "Same place, same lamp position; room dark."},
	{ID: "eye", Name: "the eye, side by side", Quantity: "light", share: 0.25, Care: "Less than a quarter apart is hardly seen."},
}

// Tools are all there are, of each quantity the best first.
func Tools() []Tool { return slices.Clone(tools) }

// For are the tools that measure a quantity of about a size and are at hand, the best first;
// no list of what is at hand means all are. Where none is at hand it is all of them: a plan
// that says nothing helps nobody.
func For(quantity string, size float64, have []string) []Tool {
	var all, out []Tool
	for _, t := range tools {
		if t.Quantity != quantity || t.most > 0 && math.Abs(size) > t.most || math.Abs(size) < t.least {
			continue
		}
		if all = append(all, t); len(have) == 0 || slices.Contains(have, t.ID) {
			out = append(out, t)
		}
	}
	if len(out) == 0 {
		return all
	}
	return out
}

// ByID is a tool; nil: there is none.
func ByID(id string) *Tool {
	for i := range tools {
		if tools[i].ID == id {
			return &tools[i]
		}
	}
	return nil
}

// Step is the last digit of its display where it reads a value, SI; 0: it has none.
func (t *Tool) Step(value float64) float64 {
	if t.parts <= 0 || value == 0 {
		return t.step
	}
	top := t.parts / 1000
	return math.Pow(10, math.Ceil(math.Log10(math.Abs(value)/top)-1e-9)) / 1000
}

// Within is how far it may be off at a value, ±, SI: its share, what it adds, and the step
// of its display, of which a reading is off by step/√12 (GUM, JCGM 100:2008, 4.3.7).
func (t *Tool) Within(value float64) float64 {
	return math.Hypot(math.Hypot(t.share*value, t.add), t.Step(value)/math.Sqrt(12))
}

// Range is what to set a meter with ranges to for a value, SI; 0: there is nothing to set.
func (t *Tool) Range(value float64) float64 {
	if t.parts <= 0 || value == 0 {
		return 0
	}
	return t.parts * t.Step(value)
}
