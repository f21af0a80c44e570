package chain

import (
	"gonum.org/v1/gonum/blas"
	"gonum.org/v1/gonum/blas/blas64"
	"gonum.org/v1/gonum/lapack/lapack64"

	"photherm/core/circuit"
)

// linear solves with the Jacobian of the coupled light. Junctions and boards have one
// way out each and are eliminated first, each into its array's slope; the power tree is
// eliminated from its leaves; what is left dense is the states of the sources and the
// bodies. So a solve costs what the light has nodes, not their cube.
//
// Where something is switched by duty, several moments share one temperature. The tree is
// eliminated in each of them as if an array's voltage moved alike in all in which it is
// on: so it does behind anything that holds a current, and elsewhere the Jacobian is but
// near, which costs a round more.
type linear struct {
	s       *Solver
	moments []moment
	column  []int // of each state: its column; 0: it is eliminated
	state   []int // of each column from 1 on
	arrays  []branch
	spreads []spread
	feeds   []feederSlopes
	one, c  float64
	lu      blas64.General
	pivot   []int
	z       []float64
}

// moment holds the slopes of one part of a period.
type moment struct {
	share   float64
	t       *circuit.Tangent
	arrays  []arraySlopes
	spreads []spreadSlopes
	feeds   []giveSlopes
}

// arraySlopes are those of an array in a moment.
type arraySlopes struct {
	i, iPerC float64 // its current with the voltage of its bus and its junctions' temperature
	p, pPerC float64 // heat in its junctions
	q, qPerC float64 // heat in its body
	perV     float64 // of the junctions' temperature, with the voltage in this moment
}

// branch is an array with its way to its body, linear.
type branch struct {
	way
	column         int     // of its body
	upA, upB       float64 // slopes of the link from junction to board
	downA, downB   float64
	pivotB, pivotJ float64 // of both lumps
	perBody        float64 // of the junctions' temperature
	rest, restOf   float64 // of junctions and board for the right-hand side
	boardPerJ, bpB float64 // of the board's temperature with junction and body
}

// giveSlopes are those of a source in a moment.
type giveSlopes struct {
	give     []float64 // current at an unchanged voltage with each state
	givePerC float64   // and with its temperature
	heat     []float64 // with each state
	heatPerA float64
	heatPerC float64
}

// feederSlopes are those of what a source's states do, at its mean current.
type feederSlopes struct {
	rate     [][]float64 // of each state with each
	ratePerA []float64
	column   int // of its body; 0: none
}

// tangents is the solver's own linear, made once.
func (s *Solver) tangents() *linear {
	if s.linear != nil {
		return s.linear
	}
	n := len(s.y)
	l := &linear{s: s, column: make([]int, n), state: []int{-1}, feeds: make([]feederSlopes, len(s.Feeders))}
	owned := make([]bool, len(s.m.lumps))
	for _, w := range s.m.ways {
		owned[w.junction], owned[w.board] = true, true
	}
	for i := range n {
		if i < s.m.states || !owned[i-s.m.states] {
			l.column[i] = len(l.state)
			l.state = append(l.state, i)
		}
	}
	for _, w := range s.m.ways {
		l.arrays = append(l.arrays, branch{way: w, column: l.column[s.m.states+w.body]})
	}
	for i := range s.Feeders {
		k := s.Feeders[i].Law.States()
		f := feederSlopes{ratePerA: make([]float64, k)}
		for range k {
			f.rate = append(f.rate, make([]float64, k))
		}
		if b := s.m.cellBody[i]; b >= 0 {
			f.column = l.column[s.m.states+b]
		}
		l.feeds[i] = f
	}
	l.spreads = s.m.spreads()
	m := len(l.state) - 1
	l.lu = blas64.General{Rows: m, Cols: m, Stride: max(m, 1), Data: make([]float64, m*m)}
	l.pivot, l.z = make([]int, m), make([]float64, m)
	s.linear = l
	return l
}

// room makes room for the moments of a period.
func (l *linear) room() {
	for len(l.moments) < l.s.Moments() {
		m := moment{t: l.s.Tangent(len(l.state)), arrays: make([]arraySlopes, len(l.arrays)), spreads: make([]spreadSlopes, len(l.spreads)), feeds: make([]giveSlopes, len(l.feeds))}
		for i := range m.feeds {
			k := l.s.Feeders[i].Law.States()
			m.feeds[i].give, m.feeds[i].heat = make([]float64, k), make([]float64, k)
		}
		l.moments = append(l.moments, m)
	}
	l.moments = l.moments[:l.s.Moments()]
}

// Steps of the local differences. Laws are asked at both sides, so that what is left
// goes with the square: a forward curve bends over some 50 mV.
const (
	stepV = 2e-4
	stepC = 1e-2
)

// At takes the slopes of all laws at the operating point of y.
func (l *linear) At(_ float64, y, _ []float64) {
	s := l.s
	if !equal(s.y, y) {
		s.electrical(y)
	}
	l.room()
	for i := range l.arrays {
		b := &l.arrays[i]
		b.upA, b.upB = s.slopes(&s.links[b.up], y)
		b.downA, b.downB = s.slopes(&s.links[b.down], y)
	}
	for i := range s.Feeders {
		l.rates(i, y)
	}
	defer s.Average()
	for i := range l.moments {
		m := &l.moments[i]
		m.share = s.Recall(i)
		l.laws(m, y)
	}
}

// laws takes the slopes of arrays and sources in a moment.
func (l *linear) laws(m *moment, y []float64) {
	s := l.s
	for i := range m.arrays {
		b, x := &l.arrays[i], &m.arrays[i]
		u, c := s.Point[b.node].InV, s.JunctionC[b.node]
		i1, p1, q1 := s.ArrayAt(b.node, u+stepV, c)
		i0, p0, q0 := s.ArrayAt(b.node, u-stepV, c)
		times := s.Nodes[b.node].Times
		x.i, x.p, x.q = (i1-i0)/(2*stepV), times*(p1-p0)/(2*stepV), times*(q1-q0)/(2*stepV)
		i1, p1, q1 = s.ArrayAt(b.node, u, c+stepC)
		i0, p0, q0 = s.ArrayAt(b.node, u, c-stepC)
		x.iPerC, x.pPerC, x.qPerC = (i1-i0)/(2*stepC), times*(p1-p0)/(2*stepC), times*(q1-q0)/(2*stepC)
	}
	for k := range s.Nodes {
		if s.Nodes[k].Kind == circuit.Array && s.m.junction[k] < 0 {
			u := s.Point[k].InV
			i1, _, _ := s.ArrayAt(k, u+stepV, s.JunctionC[k])
			i0, _, _ := s.ArrayAt(k, u-stepV, s.JunctionC[k])
			m.t.Slope[k] = (i1 - i0) / (2 * stepV)
		}
	}
	for i := range l.spreads {
		s.slopesOf(&l.spreads[i], y, &m.spreads[i])
		m.t.Slope[l.spreads[i].node] = m.spreads[i].perV[0]
	}
	for i := range s.Feeders {
		l.source(i, &m.feeds[i], y)
	}
}

func equal(a, b []float64) bool {
	for i := range a {
		if a[i] != b[i] {
			return false
		}
	}
	return true
}

// source takes the slopes of what one source gives in a moment.
func (l *linear) source(i int, x *giveSlopes, y []float64) {
	s := l.s
	f := &s.Feeders[i]
	own, a, c := f.States(y), s.FeederAt[i].CurrentA, s.CellC[i]
	slope := s.Stiffness(i)
	give := func(at []float64, c float64) float64 {
		t := f.Law.Terminal(at, c)
		return -slope * (t.OpenV - a*t.SeriesOhm)
	}
	probe := append([]float64(nil), own...)
	for j := range own {
		h := stateStep(own[j])
		probe[j] = own[j] + h
		x.give[j], x.heat[j] = give(probe, c), f.Law.HeatW(probe, c, a)
		probe[j] = own[j] - h
		x.give[j], x.heat[j] = (x.give[j]-give(probe, c))/(2*h), (x.heat[j]-f.Law.HeatW(probe, c, a))/(2*h)
		probe[j] = own[j]
	}
	h := currentStep(a)
	x.heatPerA = (f.Law.HeatW(own, c, a+h) - f.Law.HeatW(own, c, a-h)) / (2 * h)
	x.heatPerC = (f.Law.HeatW(own, c+stepC, a) - f.Law.HeatW(own, c-stepC, a)) / (2 * stepC)
	x.givePerC = (give(own, c+stepC) - give(own, c-stepC)) / (2 * stepC)
}

// rates takes the slopes of what a source's states do.
func (l *linear) rates(i int, y []float64) {
	f, x := &l.s.Feeders[i], &l.feeds[i]
	own, a, c := f.States(y), l.s.FeederAt[i].CurrentA, l.s.CellC[i]
	n := len(own)
	probe, one, two := append([]float64(nil), own...), make([]float64, n), make([]float64, n)
	for j := range own {
		h := stateStep(own[j])
		probe[j] = own[j] + h
		f.Law.Rates(probe, c, a, one)
		probe[j] = own[j] - h
		f.Law.Rates(probe, c, a, two)
		probe[j] = own[j]
		for k := range own {
			x.rate[k][j] = (one[k] - two[k]) / (2 * h)
		}
	}
	h := currentStep(a)
	f.Law.Rates(own, c, a+h, one)
	f.Law.Rates(own, c, a-h, two)
	for k := range own {
		x.ratePerA[k] = (one[k] - two[k]) / (2 * h)
	}
}

func stateStep(y float64) float64   { return 1e-6 * max(1, abs(y)) }
func currentStep(a float64) float64 { return 1e-5 * max(1, abs(a)) }

func abs(x float64) float64 { return max(x, -x) }

// Factor prepares 1 − c·J.
func (l *linear) Factor(c float64) { l.mix(1, c) }

// mix prepares one·1 − c·J; it is not ok if that is singular.
func (l *linear) mix(one, c float64) (ok bool) {
	s, columns := l.s, len(l.state)
	l.one, l.c = one, c
	for i := range l.arrays {
		b := &l.arrays[i]
		cj, cb := s.jPerK[b.junction]*one, s.jPerK[b.board]*one
		b.pivotB = cb + c*(b.downA-b.upB)
		b.boardPerJ, b.bpB = c*b.upA/b.pivotB, -c*b.downB/b.pivotB
		b.pivotJ = cj + c*b.upA + c*b.upB*b.boardPerJ
		for m := range l.moments {
			b.pivotJ -= c * l.moments[m].share * l.moments[m].arrays[i].pPerC
		}
		b.perBody = -c * b.upB * b.bpB / b.pivotJ
		together := 0.0
		for m := range l.moments {
			x := &l.moments[m].arrays[i]
			x.perV = c * l.moments[m].share * x.p / b.pivotJ
			together += x.perV
		}
		for m := range l.moments {
			x, t := &l.moments[m].arrays[i], l.moments[m].t
			t.Slope[b.node] = x.i + x.iPerC*together
		}
	}
	for i := range l.moments {
		m := &l.moments[i]
		s.Recall(i)
		l.drawn(m)
		m.t.Fill()
		m.t.Solve(1, columns)
	}
	s.Average()
	for col := 1; col < columns; col++ {
		l.rows(col)
	}
	if columns == 1 {
		return true
	}
	return lapack64.Getrf(l.lu, l.pivot)
}

// drawn sets what changes of bodies and sources do at an unchanged voltage.
func (l *linear) drawn(m *moment) {
	s, columns := l.s, len(l.state)
	clear(m.t.Draw)
	clear(m.t.Give)
	for i := range l.arrays {
		b := &l.arrays[i]
		m.t.Draw[b.node*columns+b.column] = m.arrays[i].iPerC * b.perBody
	}
	for i := range l.spreads {
		x := &l.spreads[i]
		for j, perC := range m.spreads[i].perC {
			m.t.Draw[x.node*columns+l.column[s.m.states+x.spots[j]]] = perC[0]
		}
	}
	for i := range s.Feeders {
		x := &m.feeds[i]
		for j, give := range x.give {
			m.t.Give[i*columns+l.column[s.Feeders[i].At+j]] = give
		}
		if column := l.feeds[i].column; column > 0 {
			m.t.Give[i*columns+column] += x.givePerC
		}
	}
}

// flowsBy is how a column changes the mean current of a source.
func (l *linear) flowsBy(feeder, col int) float64 {
	a, columns := 0.0, len(l.state)
	for i := range l.moments {
		a += l.moments[i].share * l.moments[i].t.Feed[feeder*columns+col]
	}
	return a
}

// rows writes a column of the dense system: what a change of one state does to all rows.
func (l *linear) rows(col int) {
	s, columns := l.s, len(l.state)
	at := l.state[col]
	put := func(row int, x float64) { l.lu.Data[(row-1)*l.lu.Stride+col-1] += x }
	for row := 1; row < columns; row++ {
		l.lu.Data[(row-1)*l.lu.Stride+col-1] = 0
	}
	if at >= s.m.states {
		put(col, l.one*s.jPerK[at-s.m.states])
	} else {
		put(col, l.one)
	}
	for i := range s.Feeders {
		f, x := &s.Feeders[i], &l.feeds[i]
		by := l.flowsBy(i, col)
		for k := range x.ratePerA {
			row := l.column[f.At+k]
			if s.holdSources && f.Law.IsCharge(k) {
				if col == row && l.one == 0 {
					put(row, 1)
				}
				continue
			}
			rate := x.ratePerA[k] * by
			if j := at - f.At; j >= 0 && j < len(x.ratePerA) {
				rate += x.rate[k][j]
			}
			put(row, -l.c*rate)
		}
	}
	l.heat(col, func(row int, w float64) { put(row, -l.c*w) })
}

// heat adds up how a column changes the heat going into each lump that is not
// eliminated.
func (l *linear) heat(col int, into func(row int, w float64)) {
	s, columns := l.s, len(l.state)
	at := l.state[col]
	for i := range l.arrays {
		b := &l.arrays[i]
		j, board := l.warms(i, col)
		w := 0.0
		for m := range l.moments {
			x := &l.moments[m].arrays[i]
			w += l.moments[m].share * (x.q*l.moments[m].t.V[b.node*columns+col] + x.qPerC*j)
		}
		w += b.downA * board
		if col == b.column {
			w += b.downB
		}
		into(b.column, w)
	}
	for i := range l.spreads {
		l.spreadHeat(i, col, into)
	}
	for k := range s.Nodes {
		if body := s.m.bodyOf[k]; body >= 0 && s.Nodes[k].Kind != circuit.Array {
			w := 0.0
			for m := range l.moments {
				w += l.moments[m].share * l.moments[m].t.LossW[k*columns+col]
			}
			into(l.column[s.m.states+body], s.Nodes[k].Times*w)
		}
	}
	for i := range s.Feeders {
		column := l.feeds[i].column
		if column == 0 {
			continue
		}
		w := 0.0
		for m := range l.moments {
			x := &l.moments[m].feeds[i]
			by := x.heatPerA * l.moments[m].t.Feed[i*columns+col]
			if j := at - s.Feeders[i].At; at >= 0 && j >= 0 && j < len(x.heat) {
				by += x.heat[j]
			}
			if col == column {
				by += x.heatPerC
			}
			w += l.moments[m].share * by
		}
		into(column, w)
	}
	if at < s.m.states {
		return
	}
	for i := range s.links {
		k := &s.links[i]
		from := l.column[s.m.states+k.from]
		to := 0
		if k.to >= 0 {
			to = l.column[s.m.states+k.to]
		}
		if from == 0 || from != col && to != col {
			continue // part of an array's way, or of other lumps
		}
		a, b := s.slopes(k, s.y)
		w := 0.0
		if from == col {
			w += a
		}
		if to == col {
			w += b
		}
		into(from, -w)
		if to > 0 {
			into(to, w)
		}
	}
}

// spreadHeat adds up how a column changes the heat in an array with spots.
func (l *linear) spreadHeat(i, col int, into func(row int, w float64)) {
	x, columns := &l.spreads[i], len(l.state)
	row := func(lump int) int { return l.column[l.s.m.states+lump] }
	for m := range l.moments {
		d, v := &l.moments[m].spreads[i], l.moments[m].t.V[x.node*columns+col]
		by := func(out int) float64 {
			w := d.perV[out] * v
			for j, perC := range d.perC {
				if row(x.spots[j]) == col {
					w += perC[out]
				}
			}
			return l.moments[m].share * w
		}
		for j, lump := range x.spots {
			into(row(lump), by(1+j))
		}
		if x.body >= 0 {
			into(row(x.body), by(1+len(x.spots)))
		}
	}
}

// warms is how a column changes the temperatures of junctions and board of an array.
func (l *linear) warms(i, col int) (junction, board float64) {
	b, columns := &l.arrays[i], len(l.state)
	for m := range l.moments {
		junction += l.moments[m].arrays[i].perV * l.moments[m].t.V[b.node*columns+col]
	}
	switch col {
	case 0:
		junction += b.rest
		return junction, b.restOf + b.boardPerJ*junction
	case b.column:
		junction += b.perBody
		return junction, b.boardPerJ*junction + b.bpB
	}
	return junction, b.boardPerJ * junction
}

// Solve solves with what was prepared.
func (l *linear) Solve(v []float64) {
	s, columns := l.s, len(l.state)
	for i := range l.arrays {
		b := &l.arrays[i]
		rj, rb := s.jPerK[b.junction]*v[s.m.states+b.junction], s.jPerK[b.board]*v[s.m.states+b.board]
		b.restOf = rb / b.pivotB
		b.rest = (rj - l.c*b.upB*b.restOf) / b.pivotJ
		for m := range l.moments {
			l.moments[m].t.Draw[b.node*columns] = l.moments[m].arrays[i].iPerC * b.rest
		}
	}
	for m := range l.moments {
		s.Recall(m)
		l.moments[m].t.Solve(0, 1)
	}
	s.Average()
	for col := 1; col < columns; col++ {
		at := l.state[col]
		if l.z[col-1] = v[at]; at >= s.m.states {
			l.z[col-1] *= s.jPerK[at-s.m.states]
		}
	}
	for i := range s.Feeders {
		f, x := &s.Feeders[i], &l.feeds[i]
		by := l.flowsBy(i, 0)
		for k := range x.ratePerA {
			if !s.holdSources || !f.Law.IsCharge(k) {
				l.z[l.column[f.At+k]-1] += l.c * x.ratePerA[k] * by
			}
		}
	}
	l.heat(0, func(row int, w float64) { l.z[row-1] += l.c * w })
	if columns > 1 {
		lapack64.Getrs(blas.NoTrans, l.lu, blas64.General{Rows: columns - 1, Cols: 1, Stride: 1, Data: l.z}, l.pivot)
	}
	for col := 1; col < columns; col++ {
		v[l.state[col]] = l.z[col-1]
	}
	for i := range l.arrays {
		b := &l.arrays[i]
		body := l.z[b.column-1]
		j := b.rest + b.perBody*body
		for m := range l.moments {
			t := l.moments[m].t
			u := t.V[b.node*columns]
			for col := 1; col < columns; col++ {
				u += t.V[b.node*columns+col] * l.z[col-1]
			}
			j += l.moments[m].arrays[i].perV * u
		}
		v[s.m.states+b.junction] = j
		v[s.m.states+b.board] = b.restOf + b.boardPerJ*j + b.bpB*body
	}
}
