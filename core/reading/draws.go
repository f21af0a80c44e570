package reading

import (
	"cmp"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"photherm/core/design"
	"photherm/core/units"
)

// A Draw is a reading of what a lamp draws.
type Draw struct {
	V     float64  `json:"v"`
	A     float64  `json:"a" doc:"Of one that moved, where it began"`
	ToA   *float64 `json:"toA" doc:"Where it moved to; null: it stood"`
	Light *float64 `json:"light" doc:"Light in any unit, the same for all; null: not read"`
}

// mean is the current of a reading.
func (d *Draw) mean() float64 {
	if d.ToA != nil {
		return (d.A + *d.ToA) / 2
	}
	return d.A
}

// A Contradiction is readings that cannot all be right.
type Contradiction struct {
	Why     string  `json:"why" doc:"Which contradict each other, and which to repeat"`
	Repeat  int     `json:"repeat" doc:"Place in the list of the one to repeat, from 0"`
	WouldBe float64 `json:"wouldBeA" doc:"What a smooth law through the others has there, A; 0: they have no law there"`
}

// Readings closer than this are of one voltage; at one voltage they may be so far apart; and a
// current that stands while the voltage rises, or falls, and goes on rising beyond, by so much,
// turns back twice (chosen: a hand meter's last digits, and a lamp warming up).
const (
	sameV     = 0.005
	agreeA    = 0.1
	turnsBack = 0.6 // of the power by which current grows with voltage
)

// ReadDraws reads readings as they are written: pairs of volts and amperes, parted by lines,
// semicolons or dots in the middle; a current as from–to; light, as a bare number, last. The error
// names the line.
func ReadDraws(text string) ([]Draw, error) {
	var out []Draw
	split := func(r rune) bool { return r == '\n' || r == ';' || r == '·' }
	for i, line := range strings.FieldsFunc(text, split) {
		if strings.TrimSpace(line) == "" {
			continue
		}
		d, err := readDraw(line)
		if err != nil {
			return nil, fmt.Errorf("reading %d, %q: %w", i+1, strings.TrimSpace(line), err)
		}
		out = append(out, d)
	}
	return out, nil
}

// between is a hyphen that stands between two figures.
var between = regexp.MustCompile(`([0-9A-Za-z])-([0-9])`)

func readDraw(line string) (d Draw, err error) {
	has := map[string]bool{}
	line = strings.NewReplacer("–", " – ", "—", " – ", " to ", " – ").Replace(line)
	words := strings.Fields(between.ReplaceAllString(line, "$1 – $2"))
	var last string
	moved := false
	for i := 0; i < len(words); i++ {
		w := words[i]
		if w == "–" || w == "-" {
			moved = true
			continue
		}
		// A unit may stand apart from its number.
		if i+1 < len(words) && isNumber(w) && !isNumber(words[i+1]) && words[i+1] != "–" && words[i+1] != "-" {
			w += words[i+1]
			i++
		}
		switch quantity, x := quantityOf(w); {
		case quantity == "voltage" && !has["voltage"]:
			d.V, has["voltage"], last = x, true, quantity
		case quantity == "current" && moved && last == "current":
			d.ToA, moved = &x, false
		case quantity == "current" && !has["current"]:
			d.A, has["current"], last = x, true, quantity
		case quantity == "bare" && moved && last == "bare":
			return d, fmt.Errorf("give %s its unit, V or A", w)
		case quantity == "bare" && has["current"] && d.Light == nil:
			d.Light, last = &x, quantity
		case quantity == "bare" && i+1 < len(words) && (words[i+1] == "–" || words[i+1] == "-"):
			// From–to with its unit at the end.
			j := i + 2
			if j >= len(words) {
				return d, fmt.Errorf("%s to what?", w)
			}
			end := words[j]
			if isNumber(end) && j+1 < len(words) {
				end += words[j+1]
				j++
			}
			q, to := quantityOf(end)
			if q != "current" {
				return d, fmt.Errorf("give %s to %s its unit, A or mA", w, words[i+2])
			}
			unit := strings.TrimLeft(end, "0123456789.,+-")
			_, from := quantityOf(w + unit)
			d.A, d.ToA, has["current"], last, i = from, &to, true, "current", j
		default:
			return d, fmt.Errorf("%q is neither volts nor amperes here", w)
		}
	}
	if !has["voltage"] || !has["current"] {
		return d, fmt.Errorf("each reading needs volts and amperes, with their units")
	}
	return d, nil
}

func isNumber(w string) bool { return strings.Trim(w, "0123456789.,+-") == "" && w != "" }

func quantityOf(w string) (string, float64) {
	if isNumber(w) {
		if x, err := units.Parse(w, "count"); err == nil {
			return "bare", x
		}
		return "", 0
	}
	for _, q := range []string{"voltage", "current"} {
		if x, err := units.Parse(w, q); err == nil {
			return q, x
		}
	}
	return "", 0
}

// Contradictions finds readings that cannot all be right: two at one voltage far apart, and a
// current that stops growing with the voltage and then goes on, which no lamp does. The one to
// repeat is that without which the rest is smoothest.
func Contradictions(list []Draw) []Contradiction {
	out := []Contradiction{}
	for i := range list {
		for k := range i {
			if math.Abs(list[i].V-list[k].V) <= sameV*list[i].V && math.Abs(list[i].mean()-list[k].mean()) > agreeA*max(list[i].mean(), list[k].mean()) {
				out = append(out, Contradiction{Why: fmt.Sprintf("At %s it took %s and %s: one of the two is to be read again.", units.Volts(list[i].V), units.Amps(list[k].mean()), units.Amps(list[i].mean())), Repeat: i})
			}
		}
	}
	order := make([]int, 0, len(list))
	for i := range list {
		if list[i].V > 0 && list[i].mean() > 0 && !slices.ContainsFunc(order, func(k int) bool { return math.Abs(list[k].V-list[i].V) <= sameV*list[i].V }) {
			order = append(order, i)
		}
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(list[a].V, list[b].V) })
	if turns(list, order) <= turnsBack {
		return out
	}
	best, least := -1, math.Inf(1)
	for k := range order {
		rest := slices.Delete(slices.Clone(order), k, k+1)
		if turns(list, rest) > turnsBack {
			continue
		}
		if r := bend(list, rest); r < least {
			best, least = k, r
		}
	}
	if best < 0 {
		return append(out, Contradiction{Why: "These readings jump to and fro: read them all again, rising, each after a minute.", Repeat: 0})
	}
	i := order[best]
	c := Contradiction{Repeat: i}
	if best > 0 && best < len(order)-1 {
		a, b := list[order[best-1]], list[order[best+1]]
		power := math.Log(b.mean()/a.mean()) / math.Log(b.V/a.V)
		c.WouldBe = a.mean() * math.Pow(list[i].V/a.V, power)
	}
	other := order[max(best-1, 0)]
	if best == 0 {
		other = order[1]
	} else if best < len(order)-1 && math.Abs(list[order[best+1]].mean()-list[i].mean()) < math.Abs(list[other].mean()-list[i].mean()) {
		other = order[best+1]
	}
	c.Why = fmt.Sprintf("%s at %s and %s at %s cannot both be right beside the others. Repeat the one at %s", units.Amps(list[other].mean()), units.Volts(list[other].V), units.Amps(list[i].mean()), units.Volts(list[i].V), units.Volts(list[i].V))
	if c.WouldBe > 0 {
		c.Why += fmt.Sprintf(": a smooth law through the others has about %s there", units.Format(c.WouldBe, "current", 2))
	}
	c.Why += "."
	return append(out, c)
}

// powers are the exponents by which current grows with voltage between neighbours.
func powers(list []Draw, order []int) []float64 {
	var out []float64
	for k := 1; k < len(order); k++ {
		a, b := &list[order[k-1]], &list[order[k]]
		out = append(out, math.Log(b.mean()/a.mean())/math.Log(b.V/a.V))
	}
	return out
}

// turns is by how much the growth falls and rises again, at most.
func turns(list []Draw, order []int) float64 {
	p, most := powers(list, order), 0.0
	for k := 2; k < len(p); k++ {
		if down, up := p[k-2]-p[k-1], p[k]-p[k-1]; down > 0 && up > 0 {
			most = max(most, min(down, up))
		}
	}
	return most
}

// bend is how much the growth changes in all.
func bend(list []Draw, order []int) float64 {
	sum := 0.0
	p := powers(list, order)
	for k := 1; k < len(p); k++ {
		sum += (p[k] - p[k-1]) * (p[k] - p[k-1])
	}
	return sum
}

// LoadOf makes a measured load of readings: those at one voltage as their mean, light relative to
// the last; and how far they scatter, ± of 1: a meter's own share, what stands apart at one
// voltage, what moved.
func LoadOf(list []Draw) (points []design.LoadPoint, scatter float64) {
	sorted := slices.Clone(list)
	slices.SortStableFunc(sorted, func(a, b Draw) int { return cmp.Compare(a.V, b.V) })
	sum, n := 0.0, 0.0
	for i := 0; i < len(sorted); {
		j, v, a, light, lights := i, 0.0, 0.0, 0.0, 0.0
		for j < len(sorted) && sorted[j].V <= sorted[i].V*(1+sameV) {
			v, a = v+sorted[j].V, a+sorted[j].mean()
			if l := sorted[j].Light; l != nil {
				light, lights = light+*l, lights+1
			}
			j++
		}
		k := float64(j - i)
		p := design.LoadPoint{VoltageV: v / k, CurrentA: a / k}
		if lights > 0 {
			p.RelativeLight = new(light / lights)
		}
		for ; i < j; i++ {
			off := 0.0
			if p.CurrentA > 0 {
				off = (sorted[i].mean() - p.CurrentA) / p.CurrentA
				if to := sorted[i].ToA; to != nil {
					off = math.Hypot(off, (*to-sorted[i].A)/2/p.CurrentA)
				}
			}
			sum, n = sum+off*off, n+1
		}
		points = append(points, p)
	}
	// Light is told over that of the highest voltage at which it was read.
	top := 0.0
	for i := len(points) - 1; i >= 0; i-- {
		if l := points[i].RelativeLight; l != nil && *l > 0 {
			if top == 0 {
				top = *l
			}
			*l /= top
		}
	}
	meter := ByID("multimeter-a").share
	return points, math.Hypot(meter, 2*math.Sqrt(sum/max(n, 1)))
}
