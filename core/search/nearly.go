package search

import (
	"cmp"
	"context"
	"math"

	"photherm/core/circuit"
	"photherm/core/design"
	"photherm/core/driver"
)

// weigh judges one driver, and where it does not fit looks whether one emitter or one
// cell more or fewer would mend that.
func (q *Question) weigh(ctx context.Context, index int, d *design.Driver, law driver.Driver) (Match, error) {
	if len(q.sources) == 0 {
		return q.foresee(index, d, law), nil
	}
	m, err := q.judge(ctx, index, d, law)
	if err != nil {
		return m, err
	}
	if q.open != "" && m.Fit != No {
		m.Fit, m.after = NotYet, q.open
		return m, nil
	}
	if m.Fit != No || !mendable[m.why] {
		return m, nil
	}
	beside, err := q.neighbours()
	if err != nil {
		return m, err
	}
	for i := range beside {
		other, err := beside[i].judge(ctx, index, d, law)
		if err != nil {
			return m, err
		}
		if other.Fit == Fits {
			m.Fit, m.after = Nearly, beside[i].words
			return m, nil
		}
	}
	return m, nil
}

// mendable is what another number of cells or emitters in series changes.
var mendable = map[reason]bool{tooHighInput: true, tooLowInput: true, stepUpConducts: true, noHeadroom: true, outsideWindow: true, locksOut: true, belowRange: true, overWatts: true, farFromWanted: true, offWanted: true}

// A neighbour is the same question of a light with one emitter or one cell more or fewer
// in series.
type neighbour struct {
	words string
	*Question
}

// halfCharge is the charge down to which a driver must hold in a light with one more or
// fewer, for that to be worth a word (chosen).
const halfCharge = 0.5

// neighbours are asked for once, when the first driver does not fit.
func (q *Question) neighbours() ([]neighbour, error) {
	if q.looked {
		return q.beside, nil
	}
	q.looked = true
	for _, way := range []struct {
		words           string
		emitters, cells int
	}{{"one emitter fewer in series would do", -1, 0}, {"one emitter more in series would do", 1, 0}, {"one cell fewer in series would do", 0, -1}, {"one cell more in series would do", 0, 1}} {
		light, err := design.Clone(q.light)
		if err != nil {
			return nil, err
		}
		if !q.changed(light, way.emitters, way.cells) {
			continue
		}
		other, err := NewQuestion(light, q.variant, q.node)
		if err != nil {
			return nil, err
		}
		other.wantedA, other.drained = q.wantedA, halfCharge
		q.beside = append(q.beside, neighbour{way.words, other})
	}
	return q.beside, nil
}

// changed puts emitters and cells into series, or takes them out; it tells whether the
// light is one in which that means something.
func (q *Question) changed(light *design.Light, emitters, cells int) bool {
	for i := range light.Variants[q.variant].Feeds {
		f := &light.Variants[q.variant].Feeds[i]
		n := design.FindNode(f.Loads, q.node)
		if n == nil {
			continue
		}
		if emitters != 0 {
			if len(n.Loads) != 1 || n.Loads[0].Array == nil || n.Loads[0].Array.Series+emitters < 1 {
				return false
			}
			n.Loads[0].Array.Series += emitters
			return true
		}
		if len(f.Sources) != 1 || f.Sources[0].Pack == nil || f.Sources[0].Pack.Series+cells < 1 {
			return false
		}
		f.Sources[0].Pack.Series += cells
		f.Sources[0].Pack.Groups = nil
		return true
	}
	return false
}

// stand finds where the emitters stand at the wanted current though nothing feeds them.
func (q *Question) stand() error {
	m, err := circuit.Compile(q.light, q.variant, nil, circuit.NewLaws(), nil)
	if err != nil {
		return err
	}
	s := m.Solver()
	k := m.Find(q.node, circuit.Driver)
	if k < 0 || q.wantedA <= 0 {
		return nil
	}
	s.At(1, q.coldC)
	if v, ok := s.VoltageAt(k, q.wantedA); ok && !math.IsInf(v, 0) {
		q.standV = v
	}
	return nil
}

// foresee judges a driver without a source by what is known: its current, its window of
// output voltage, its size.
func (q *Question) foresee(index int, d *design.Driver, law driver.Driver) Match {
	m := Match{Index: index, Fit: NotYet, after: q.open}
	if set := law.LimitA(); law.Regulates() || law.Family == driver.Voltage {
		m.OutA = set
	}
	out := func(why reason, value, limit float64) {
		if m.why == none {
			m.why, m.value, m.limit = why, value, limit
		}
	}
	if q.wantedA > 0 {
		if d.MinCurrentA != nil && q.wantedA < *d.MinCurrentA*(1-1e-9) {
			out(belowLowest, q.wantedA, *d.MinCurrentA)
		}
		if law.Regulates() && !math.IsInf(m.OutA, 0) {
			m.off = math.Abs(m.OutA/q.wantedA - 1)
			if m.off > nearWanted {
				out(offWanted, m.OutA, q.wantedA)
			}
		}
	}
	if end := windowEnd(d, q.standV); q.standV > 0 && end > 0 && (law.Family == driver.Voltage || law.Family == driver.Window) {
		out(outsideWindow, q.standV, end)
	}
	if over, is := driver.TooBig(d, &q.light.Brief); is {
		out(tooBig, over.IsM, over.RoomM)
	}
	if m.why != none && !m.almost() {
		m.Fit, m.after = No, ""
	}
	if math.IsInf(m.OutA, 0) {
		m.OutA = 0
	}
	return m
}

// steps says how far from the wanted current a match lies, in steps within which people
// see no difference.
func (m *Match) steps() int { return int(math.Round(m.off / nearBy)) }

// inOrder puts first what a person would choose: what fits, of that what has no drawback
// and gives what is wanted, what is at hand, and of that what loses least.
func inOrder(a, b *Match, handA, handB bool) int {
	second := func(is bool) int { return map[bool]int{true: 1}[is] }
	return cmp.Or(cmp.Compare(fitOrder[a.Fit], fitOrder[b.Fit]), cmp.Compare(second(a.why != none), second(b.why != none)), cmp.Compare(a.steps(), b.steps()),
		handFirst(handA, handB), cmp.Compare(a.LossW, b.LossW))
}
