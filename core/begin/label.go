package begin

import (
	"fmt"
	"regexp"
	"strings"

	"photherm/core/design"
	"photherm/core/units"
)

// What the label of a driver says beside its current: which inputs it takes, and how many LEDs in a
// row it is for.
var (
	inputSaid = regexp.MustCompile(`(?i)\b(?:in(?:put)?\s*[:=]?\s*([\d.,]+)(?:\s*V?\s*(?:-|–|to)\s*([\d.,]+))?\s*V(?:DC|AC)?\b|([\d.,]+)(?:\s*V?\s*(?:-|–|to)\s*([\d.,]+))?\s*V(?:DC|AC)?\s+in(?:put)?\b|(?:AC\s*[:=]?\s*)?\b([89]\d|1\d\d)\s*V?\s*(?:-|–|~|to)\s*(2\d\d|3\d\d)\s*V(?:AC)?\b)`)
	ofWatts   = regexp.MustCompile(`(?i)\(?\b(\d{1,2})\s*(?:-|–|~|to)\s*(\d{1,2})\)?\s*(?:[×x*]|pcs|pieces)\s*(?:[\d.,]+\s*(?:-|–)\s*)?[\d.,]+\s*W(?:atts?)?\b`)
	wattsOf   = regexp.MustCompile(`(?i)\b(?:[\d.,]+\s*(?:-|–)\s*)?[\d.,]+\s*W\s*[×x*]\s*\(?(\d{1,2})\s*(?:-|–|~|to)\s*(\d{1,2})\)?`)
	eachWatts = regexp.MustCompile(`(?i)\b(\d{1,2})()\s*[×x*]\s*[\d.,]+\s*W(?:atts?)?\b`)
	setSaid   = regexp.MustCompile(`(?i)\bset\s+(?:to\s+|at\s+)?([\d.,]+\s*m?A)\b`)
	rowOfLEDs = regexp.MustCompile(`(?i)\b(?:for\s+|drives?\s+)?(\d{1,2})\s*(?:-|–|~|to)\s*(\d{1,2})\s*(?:pcs\s+|white\s+|power\s+)*(?:LEDs?|emitters)\b(?:\s+(?:out(?:put)?|in\s+series|in\s+a\s+row))?`)
)

// A range of volts as high as the wall's is the input where it is said to alternate, or where the
// output is said too; alone it is the window of a driver for long strings.
var (
	alternatingSaid = regexp.MustCompile(`(?i)AC`)
	voltsSaid       = regexp.MustCompile(`(?i)\d\s*V\b`)
)

// labelHighV is what makers of drivers count a white die as at most, whose least is dieV (common
// practice: 6 to 10 LEDs are 18 to 36 V).
const labelHighV = 3.6

// A driverLabel is what such a label says.
type driverLabel struct {
	fromLEDs, toLEDs float64 // 0: not said
	inMinV, inMaxV   *float64
}

// driverLabelOf takes off a line what would be taken for the driver's output.
func driverLabelOf(line string) (label driverLabel, rest string) {
	for _, row := range []*regexp.Regexp{ofWatts, wattsOf, rowOfLEDs, eachWatts} {
		if m := row.FindStringSubmatch(line); m != nil && (m[2] == "" || atof(m[1]) <= atof(m[2])) && label.toLEDs == 0 {
			label.fromLEDs, label.toLEDs = atof(m[1]), max(atof(m[1]), atof(m[2]))
			line = row.ReplaceAllString(line, " ")
		}
	}
	if m := inputSaid.FindStringSubmatch(line); m != nil && (m[5] == "" || alternatingSaid.MatchString(m[0]) || voltsSaid.MatchString(inputSaid.ReplaceAllString(line, " "))) {
		low, high := m[1]+m[3]+m[5], m[2]+m[4]+m[6]
		label.inMaxV = ptr(atof(low))
		if high != "" {
			label.inMinV, label.inMaxV = ptr(atof(low)), ptr(atof(high))
		}
		line = inputSaid.ReplaceAllString(line, " ")
	}
	return label, line
}

// dutySaid is how much of the time it is lit, where it is dimmed by switching.
var dutySaid = regexp.MustCompile(`(?i)\b(?:(?:PWM|duty(?:\s+cycle)?|dimm?ed)\b\s*(?:(?:PWM|duty|dimmed|cycle|to|at|of|[:=])\s*)*([\d.,]+)\s*%|([\d.,]+)\s*%\s*(?:PWM|duty(?:\s+cycle)?)\b)`)

// dutyOf takes it off a line: as a share it would be taken for an efficiency.
func dutyOf(line string) (rest string, duty float64) {
	m := dutySaid.FindStringSubmatch(line)
	if m == nil {
		return line, 0
	}
	duty = atof(m[1]+m[2]) / 100
	if duty <= 0 || duty > 1 {
		return line, 0
	}
	return dutySaid.ReplaceAllString(line, " "), duty
}

// put sets what was said on a driver. One input alone is what it is made for, and limits nothing.
func (l driverLabel) put(d *design.Driver) {
	if l.inMinV != nil && *l.inMinV < *l.inMaxV {
		d.InputMinV, d.InputMaxV = l.inMinV, l.inMaxV
	}
	if l.toLEDs > 0 && d.Family == "window" {
		d.MinVoltageV, d.MaxVoltageV = ptr(round3(l.fromLEDs*dieV)), ptr(round3(l.toLEDs*labelHighV))
	}
}

// words tell what was understood of it.
func (l driverLabel) words() string {
	var out strings.Builder
	if l.toLEDs > 0 {
		if out.WriteString(", for "); l.fromLEDs < l.toLEDs {
			fmt.Fprintf(&out, "%g to ", l.fromLEDs)
		}
		fmt.Fprintf(&out, "%s in a row", count(int(l.toLEDs), "LED"))
	}
	switch {
	case l.inMinV != nil:
		fmt.Fprintf(&out, ", from an input of %s to %s", units.Volts(*l.inMinV), units.Volts(*l.inMaxV))
	case l.inMaxV != nil:
		fmt.Fprintf(&out, ", from %s", units.Volts(*l.inMaxV))
	}
	return out.String()
}
