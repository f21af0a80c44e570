package chain

import "photherm/core/array"

// Where the strings of an array are unlike, or hold several kinds of emitters, each kind
// in each group of strings is a spot: a junction of its own.

// ordinary is the lump of a kind of emitters in the first group that has spots; the board
// if none has.
func (m *Model) ordinary(k, kind int) int {
	kinds := m.net.Nodes[k].Arr.Kinds()
	for i := kind; i < len(m.spots[k]); i += kinds {
		if m.spots[k][i] >= 0 {
			return m.spots[k][i]
		}
	}
	return m.board[k]
}

// spotLump is the lump whose temperature a kind of emitters in a group of strings has,
// but for a step it is said to be hotter by; own tells that its heat arises there.
func (m *Model) spotLump(k, group, kind int) (lump int, own bool) {
	if i := group*m.net.Nodes[k].Arr.Kinds() + kind; i < len(m.spots[k]) && m.spots[k][i] >= 0 {
		return m.spots[k][i], true
	}
	return m.ordinary(k, kind), false
}

// warmSpots tells the array laws how far their junctions stand apart in y.
func (s *Solver) warmSpots(y []float64) {
	for k, spots := range s.m.spots {
		if spots == nil {
			continue
		}
		law := &s.Nodes[k].Arr
		for g := range law.Groups {
			for kind := range law.Kinds() {
				lump, _ := s.m.spotLump(k, g, kind)
				law.Groups[g].AboveK[kind] = s.lumpC(y, lump) - s.JunctionC[k]
			}
		}
	}
}

// portions has room for those of an array.
func (s *Solver) portions(k int) []array.Portion {
	n := len(s.Nodes[k].Arr.Groups) * s.Nodes[k].Arr.Kinds()
	for len(s.portionRoom) < n {
		s.portionRoom = append(s.portionRoom, array.Portion{})
	}
	return s.portionRoom[:n]
}

// spotHeat puts the heat of an array's junctions where it arises: into its spots, and
// what has no spot into its board. All but the junctions' share is told apart.
func (s *Solver) spotHeat(k int, add func(lump int, w float64)) {
	kinds, times := s.Nodes[k].Arr.Kinds(), s.Nodes[k].Times
	for m := range s.Moments() {
		p, share := s.In(m, k)
		left := p.LossW - p.JointW
		portions := s.portions(k)
		s.Portions(k, p, s.JunctionC[k], portions)
		for i := range portions {
			if lump, own := s.m.spotLump(k, i/kinds, i%kinds); own {
				w := portions[i].ElectricW - portions[i].RadiantW
				add(lump, share*times*w)
				left -= w
			}
		}
		for _, b := range s.m.boards[k] {
			add(b.lump, share*times*left*b.share)
		}
	}
}

// A spread is an array with spots and how it answers changes, linear.
type spread struct {
	node  int
	spots []int // its lumps: those of its junctions, then its boards
	body  int   // lump
}

// spreadSlopes are those of a spread in a moment: what its current, the heat in each of
// its lumps and that in its body do with the voltage of its bus and with each junction.
type spreadSlopes struct {
	perV []float64
	perC [][]float64 // of each lump
}

// spreads lists the arrays with spots.
func (m *Model) spreads() (out []spread) {
	for k, spots := range m.spots {
		if spots == nil {
			continue
		}
		x := spread{node: k, body: m.bodyOf[k]}
		for _, lump := range spots {
			if lump >= 0 {
				x.spots = append(x.spots, lump)
			}
		}
		for _, b := range m.boards[k] {
			x.spots = append(x.spots, b.lump)
		}
		out = append(out, x)
	}
	return out
}

// slopesOf takes the slopes of a spread at the operating point by differences.
func (s *Solver) slopesOf(x *spread, y []float64, dst *spreadSlopes) {
	k, n := x.node, len(x.spots)
	u := s.Point[k].InV
	one, two := make([]float64, n+2), make([]float64, n+2)
	dst.perV = difference(dst.perV, one, two, stepV, func(h float64, out []float64) { s.spreadAt(x, u+h, out) })
	dst.perC = dst.perC[:0]
	for _, lump := range x.spots {
		dst.perC = append(dst.perC, difference(nil, one, two, stepC, func(h float64, out []float64) {
			s.moveSpot(k, lump, h)
			s.spreadAt(x, u, out)
			s.warmSpots(y)
		}))
	}
}

// moveSpot moves the temperature of a lump of an array's junctions.
func (s *Solver) moveSpot(k, lump int, byK float64) {
	law := &s.Nodes[k].Arr
	for g := range law.Groups {
		for kind := range law.Kinds() {
			if at, _ := s.m.spotLump(k, g, kind); at == lump {
				law.Groups[g].AboveK[kind] += byK
			}
		}
	}
}

func difference(dst, one, two []float64, h float64, f func(h float64, out []float64)) []float64 {
	f(h, one)
	f(-h, two)
	dst = dst[:0]
	for i := range one {
		dst = append(dst, (one[i]-two[i])/(2*h))
	}
	return dst
}

// spreadAt is the current of an array with spots at a voltage of its bus, and the heat in
// each of its lumps and in its body.
func (s *Solver) spreadAt(x *spread, busV float64, out []float64) {
	k, n := x.node, len(x.spots)
	kinds, times := s.Nodes[k].Arr.Kinds(), s.Nodes[k].Times
	portions := s.portions(k)
	a, left, bodyW := s.PortionsAt(k, busV, s.JunctionC[k], portions)
	out[0], out[n+1] = a, times*bodyW
	at := 1
	for i := range portions {
		if _, own := s.m.spotLump(k, i/kinds, i%kinds); own {
			w := portions[i].ElectricW - portions[i].RadiantW
			out[at] = times * w
			left -= w
			at++
		}
	}
	for _, b := range s.m.boards[k] {
		out[at] = times * left * b.share
		at++
	}
}
