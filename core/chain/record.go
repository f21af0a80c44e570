package chain

import (
	"fmt"
	"math"

	"photherm/core/array"
	"photherm/core/circuit"
	"photherm/core/driver"
	"photherm/core/heat"
	"photherm/core/source"
)

// A Column says what one number of every record is. Owner is the id of a feed,
// node or body, or empty for the light as a whole. Of a node that is there several
// times it is the figure of one.
type Column struct {
	Owner  string `json:"owner" doc:"Id of the feed, node or body; empty: the whole light. Of a node that is there several times it is the figure of one"`
	Figure string `json:"figure" doc:"sourceW openV busV busA lossW charge cellV chargerA highCellV packA inV lineVA lineA inA inW outV outA outW peakV peakA stringA mode fluxLm farV farLight lightW opticW junctionC caseC boardC seatC, of unlike strings string0A string0V string0Lm string0C and so on, of kinds of emitters in them string0kind1V string0kind1Lm string0kind1C, bodyC insideC heatW airW inputW looseW"`
	Unit   string `json:"unit" doc:"Unit of the values"`
}

// reader reads one column off the operating point solved last.
type reader func(s *Solver) float64

// columnOf is one line of the tables below: the whole layout of a record.
type columnOf[T any] struct {
	figure, unit string
	read         func(s *Solver, i int) float64
	when         func(m *Model, i int) bool // nil: always
}

// Of a feed; its sources are those on its bus.
var feedColumns = []columnOf[circuit.Feed]{
	{"sourceW", "W", (*Solver).sourceW, nil},
	{"openV", "V", func(s *Solver, i int) float64 { return s.firstFeeder(i).OpenV }, nil},
	{"busV", "V", func(s *Solver, i int) float64 { return s.FeedAt[i].BusV }, nil},
	{"busA", "A", func(s *Solver, i int) float64 { return s.FeedAt[i].BusA }, nil},
	{"lossW", "W", (*Solver).sourceHeatW, nil},
	{"lineVA", "VA", (*Solver).feedVA, (*Model).fromMains},
	{"lineA", "A", (*Solver).feedLineA, (*Model).fromMains},
	{"charge", "1", func(s *Solver, i int) float64 { return s.protection(s.m.packOf(i), s.FeederAt).Charge }, (*Model).hasPack},
	{"cellV", "V", func(s *Solver, i int) float64 { return s.protection(s.m.packOf(i), s.FeederAt).CellV }, (*Model).hasPack},
	{"chargerA", "A", func(s *Solver, i int) float64 { return s.FeederAt[s.m.chargerOf(i)].CurrentA }, (*Model).hasCharger},
	{"highCellV", "V", (*Solver).highCellV, (*Model).hasCharger},
	{"packA", "A", func(s *Solver, i int) float64 { return s.FeederAt[s.m.packOf(i)].CurrentA }, (*Model).hasCharger},
}

// Of a node.
var nodeColumns = []columnOf[circuit.Node]{
	{"inV", "V", func(s *Solver, k int) float64 { return s.Point[k].InV }, nil},
	{"inA", "A", func(s *Solver, k int) float64 { return s.Point[k].InA }, nil},
	{"inW", "W", func(s *Solver, k int) float64 { return s.Point[k].InW }, nil},
	{"lossW", "W", func(s *Solver, k int) float64 { return s.Point[k].LossW }, nil},
	{"outV", "V", func(s *Solver, k int) float64 { return s.Point[k].OutV }, feeds},
	{"outA", "A", func(s *Solver, k int) float64 { return s.Point[k].OutA }, feeds},
	{"outW", "W", func(s *Solver, k int) float64 { return s.Point[k].OutW }, feeds},
	{"peakV", "V", func(s *Solver, k int) float64 { return s.On[k].OutV }, feeds},
	{"peakA", "A", func(s *Solver, k int) float64 { return s.On[k].OutA }, feeds},
	{"mode", "1", func(s *Solver, k int) float64 { return float64(s.Point[k].Mode) }, feeds},
	{"lineVA", "VA", (*Solver).lineVA, onLine},
	{"lineA", "A", (*Solver).lineA, onLine},
	{"fluxLm", "lm", func(s *Solver, k int) float64 { return s.Point[k].FluxLm }, kinds(circuit.Strip, circuit.Load, circuit.Array)},
	{"lightW", "W", func(s *Solver, k int) float64 { return s.Point[k].RadiantW }, kinds(circuit.Strip, circuit.Array)},
	{"farV", "V", func(s *Solver, k int) float64 { return s.On[k].FarV }, kinds(circuit.Strip)},
	{"farLight", "1", func(s *Solver, k int) float64 { return s.Nodes[k].Strip.FarLight() }, kinds(circuit.Strip)},
	{"stringA", "A", (*Solver).stringA, kinds(circuit.Array)},
	{"opticW", "W", func(s *Solver, k int) float64 { return s.Point[k].OpticW }, kinds(circuit.Array)},
	{"junctionC", "°C", (*Solver).hottestC, onBody},
	{"caseC", "°C", (*Solver).caseC, hasCase},
	{"boardC", "°C", (*Solver).underBoardC, hasWay},
	{"seatC", "°C", (*Solver).seatC, hasSeat},
}

// A place is one kind of emitters in one group of strings of an array.
type place struct{ node, group, kind int }

// Of each group of strings of an array whose strings are unlike or hold several kinds of
// emitters; %d is the group, 0 the ordinary ones.
var stringColumns = []columnOf[place]{
	{"string%dA", "A", func(s *Solver, i int) float64 { return s.groupA(s.m.places[i]) }, firstKind},
	{"string%dV", "V", func(s *Solver, i int) float64 {
		return s.overKinds(i, func(p array.Portion) float64 { return p.VoltageV })
	}, firstKind},
	{"string%dLm", "lm", func(s *Solver, i int) float64 { return s.overKinds(i, s.lightOf(i)) }, firstKind},
	{"string%dC", "°C", func(s *Solver, i int) float64 { return s.groupC(s.m.places[i]) }, func(m *Model, i int) bool { return firstKind(m, i) && onBody(m, m.places[i].node) }},
}

// Of each kind of emitters in a group of strings, where there are several; the second %d
// is the kind, 0 the array's own emitter.
var kindColumns = []columnOf[place]{
	{"string%dkind%dV", "V", func(s *Solver, i int) float64 { return s.portion(i).VoltageV }, mixed},
	{"string%dkind%dLm", "lm", func(s *Solver, i int) float64 { return s.lightOf(i)(s.portion(i)) }, mixed},
	{"string%dkind%dC", "°C", func(s *Solver, i int) float64 { return s.kindC(s.m.places[i]) }, func(m *Model, i int) bool { return mixed(m, i) && onBody(m, m.places[i].node) }},
}

func firstKind(m *Model, i int) bool { return m.places[i].kind == 0 }

func mixed(m *Model, i int) bool { return m.net.Nodes[m.places[i].node].Arr.Kinds() > 1 }

// placesOf lists the places of an array that has several.
func (m *Model) placesOf(k int) {
	n := &m.net.Nodes[k]
	if !n.Chosen || n.Kind != circuit.Array || len(n.Arr.Groups)*n.Arr.Kinds() < 2 {
		return
	}
	for g := range n.Arr.Groups {
		for kind := range n.Arr.Kinds() {
			i := len(m.places)
			m.places = append(m.places, place{k, g, kind})
			addNamed(m, n.ID, i, stringColumns, func(figure string) string { return fmt.Sprintf(figure, g) })
			addNamed(m, n.ID, i, kindColumns, func(figure string) string { return fmt.Sprintf(figure, g, kind) })
		}
	}
}

// portion is what a kind of emitters does in one string, or in all of its group, while
// all is on.
func (s *Solver) portion(i int) array.Portion {
	p := s.m.places[i]
	portions := s.portions(p.node)
	s.Portions(p.node, &s.On[p.node], s.JunctionC[p.node], portions)
	return portions[p.group*s.Nodes[p.node].Arr.Kinds()+p.kind]
}

// overKinds adds up a figure over the kinds of emitters in a group of strings.
func (s *Solver) overKinds(i int, of func(array.Portion) float64) float64 {
	sum := 0.0
	for kind := range s.Nodes[s.m.places[i].node].Arr.Kinds() {
		sum += of(s.portion(i + kind))
	}
	return sum
}

// lightOf is the light of one string of a place that leaves the optic.
func (s *Solver) lightOf(i int) func(array.Portion) float64 {
	p := s.m.places[i]
	n := &s.Nodes[p.node]
	return func(x array.Portion) float64 {
		return x.FluxLm * n.Optic / float64(max(n.Arr.Groups[p.group].Strings, 1))
	}
}

func (s *Solver) groupA(p place) float64 {
	n, on := &s.Nodes[p.node], &s.On[p.node]
	if on.InA <= 0 || n.Arr.Groups[p.group].Strings <= 0 {
		return 0
	}
	return n.Arr.ShareA(p.group, on.OutV, on.InA, s.JunctionC[p.node])
}

func (s *Solver) kindC(p place) float64 {
	group := &s.Nodes[p.node].Arr.Groups[p.group]
	return s.JunctionC[p.node] + group.HotterK + group.AboveK[p.kind]
}

// groupC is the hottest junction in a group of strings.
func (s *Solver) groupC(p place) float64 {
	hot := math.Inf(-1)
	for p.kind = range s.Nodes[p.node].Arr.Kinds() {
		hot = max(hot, s.kindC(p))
	}
	return hot
}

// hottestC is the hottest junction of an array, at the hottest of its places.
func (s *Solver) hottestC(k int) float64 {
	if s.m.spots[k] == nil {
		return s.lumpC(s.y, s.m.junction[k]) + s.hottestSpotK(k, 0)
	}
	hot := s.lumpC(s.y, s.m.junction[k]) + s.hottestSpotK(k, 0)
	for seat := range max(len(s.m.boards[k]), 1) {
		hot = max(hot, s.seatJunctionC(k, seat)+s.hottestSpotK(k, seat))
	}
	return hot
}

// seatJunctionC is the hottest junction of what sits on a seat of an array, at the mean of its
// places.
func (s *Solver) seatJunctionC(k, seat int) float64 {
	if s.m.spots[k] == nil {
		return s.lumpC(s.y, s.m.junction[k])
	}
	hot := math.Inf(-1)
	for g := range s.Nodes[k].Arr.Groups {
		if group := &s.Nodes[k].Arr.Groups[g]; group.Strings > 0 && !group.Open && s.m.seatAt(k, g) == seat {
			hot = max(hot, s.groupC(place{node: k, group: g}))
		}
	}
	if math.IsInf(hot, -1) {
		return s.lumpC(s.y, s.m.boards[k][seat].lump) // nothing there carries current
	}
	return hot
}

// caseC is the hottest case of an array's emitters. Of a strip it is its back.
func (s *Solver) caseC(k int) float64 {
	hot := s.seatCaseC(k, 0) + s.hottestSpotK(k, 0)
	for seat := 1; seat < len(s.m.boards[k]); seat++ {
		hot = max(hot, s.seatCaseC(k, seat)+s.hottestSpotK(k, seat))
	}
	return hot
}

// seatCaseC is the hottest case of what sits on a seat of an array, at the mean of its places:
// between their own resistance and their share of the board.
func (s *Solver) seatCaseC(k, seat int) float64 {
	if s.m.spots[k] == nil {
		return s.lumpC(s.y, s.m.board[k])
	}
	board := s.lumpC(s.y, s.m.boards[k][seat].lump)
	hot := board
	n := &s.Nodes[k]
	for i, lump := range s.m.spots[k] {
		m, _ := n.Arr.Of(i/n.Arr.Kinds(), i%n.Arr.Kinds())
		if own := m.RthKPerW + n.OwnKPerW; lump >= 0 && own > 0 && s.m.seatAt(k, i/n.Arr.Kinds()) == seat {
			hot = max(hot, board+(s.lumpC(s.y, lump)-board)*n.OwnKPerW/own)
		}
	}
	return hot
}

// Of a body whose temperature can be told.
var bodyColumns = []columnOf[lump]{
	{"bodyC", "°C", func(s *Solver, b int) float64 { return s.lumpC(s.y, s.m.bodies[b]) }, nil},
	{"airW", "W", func(s *Solver, b int) float64 { return s.toAirW(s.m.bodies[b], s.m.airOf(b)) }, nil},
}

// Of a body that others stand in.
var insideColumns = []columnOf[lump]{
	{"insideC", "°C", func(s *Solver, b int) float64 { return s.lumpC(s.y, s.m.inner[b]) }, nil},
}

// Of the whole light, the last of a record. Their order is that of the constants.
var totalColumns = []columnOf[Model]{
	{"inputW", "W", (*Solver).inputW, nil},
	{"lightW", "W", func(s *Solver, _ int) float64 { return s.lightW() }, nil},
	{"heatW", "W", func(s *Solver, _ int) float64 { return s.heatW(false) }, nil},
	{"fluxLm", "lm", func(s *Solver, _ int) float64 { return s.fluxLm() }, nil},
	{"airW", "W", (*Solver).allToAirW, nil},
	{"looseW", "W", func(s *Solver, _ int) float64 { return s.heatW(true) }, nil},
}

// Places of the whole-light columns, counted from the end.
const (
	totalInputW = 6 - iota
	totalLightW
	totalHeatW
	totalFluxLm
	totalAirW
	totalLooseW
)

func feeds(m *Model, k int) bool {
	kind := m.net.Nodes[k].Kind
	return kind == circuit.Switch || kind == circuit.Driver
}

func onBody(m *Model, k int) bool { return m.junction[k] >= 0 }

func hasWay(m *Model, k int) bool { return m.wayOf(k) != nil }

func hasSeat(m *Model, k int) bool { return len(m.platedOf(k)) > 0 || len(m.under[k]) > 0 }

// wayOf is the way of an array's heat; nil: it has none of its own.
func (m *Model) wayOf(k int) *way {
	for i := range m.ways {
		if m.ways[i].node == k {
			return &m.ways[i]
		}
	}
	return nil
}

// underBoardC is the underside of an array's boards, at the hottest of their places: between
// what board and star have themselves, and the joint.
func (s *Solver) underBoardC(k int) float64 {
	w := s.m.wayOf(k)
	layers, ok := s.links[w.down].law.(heat.Layers)
	if !ok {
		return s.caseC(k)
	}
	faces := make([]float64, len(layers))
	layers.FacesC(s.lumpC(s.y, w.board), s.lumpC(s.y, w.body), faces)
	return faces[1] + s.hottestSpotK(k, 0)
}

// seatC is the body under what sits on it, at the hottest of its places.
func (s *Solver) seatC(k int) float64 {
	hot := math.Inf(-1)
	for _, i := range s.m.under[k] {
		layers := s.links[i].law.(heat.Layers)
		to := s.lumpC(s.y, s.links[i].to)
		from := s.lumpC(s.y, s.links[i].from)
		hot = max(hot, to+layers.Watts(from, to, 0)*layers[len(layers)-1])
	}
	for seat, on := range s.m.platedOf(k) {
		hot = max(hot, s.lumpC(s.y, on.lump)+s.hottestSpotK(k, seat))
	}
	return hot
}

func hasCase(m *Model, k int) bool { return m.board[k] >= 0 }

func kinds(these ...circuit.Kind) func(*Model, int) bool {
	return func(m *Model, k int) bool {
		for _, kind := range these {
			if m.net.Nodes[k].Kind == kind {
				return true
			}
		}
		return false
	}
}

// packOf is the first pack among the sources of a feed; −1: none.
func (m *Model) packOf(feed int) int {
	f := &m.net.Feeds[feed]
	for i := f.FeederLo; i < f.FeederHi; i++ {
		if m.net.Feeders[i].IsPack {
			return i
		}
	}
	return -1
}

func (m *Model) hasPack(feed int) bool { return m.packOf(feed) >= 0 }

// chargerOf is what charges the pack of a feed; −1: nothing does.
func (m *Model) chargerOf(feed int) int {
	f := &m.net.Feeds[feed]
	for i := f.FeederLo; i < f.FeederHi; i++ {
		if _, ok := m.net.Feeders[i].Law.(*source.Charger); ok {
			return i
		}
	}
	return -1
}

func (m *Model) hasCharger(feed int) bool { return m.chargerOf(feed) >= 0 }

// layout fixes the columns of a record from the tables.
func (m *Model) layout() {
	for i := range m.net.Feeds {
		addColumns(m, m.net.Feeds[i].ID, i, feedColumns)
	}
	for k := range m.net.Nodes {
		addColumns(m, m.net.Nodes[k].ID, k, nodeColumns)
		m.placesOf(k)
	}
	for b := range m.bodies {
		if m.bodies[b] >= 0 {
			addColumns(m, m.net.Variant.Bodies[b].ID, b, bodyColumns)
		}
		if m.inner[b] >= 0 {
			addColumns(m, m.net.Variant.Bodies[b].ID, b, insideColumns)
		}
	}
	addColumns(m, "", 0, totalColumns)
}

func addColumns[T any](m *Model, owner string, i int, table []columnOf[T]) {
	addNamed(m, owner, i, table, func(figure string) string { return figure })
}

func addNamed[T any](m *Model, owner string, i int, table []columnOf[T], name func(figure string) string) {
	for _, c := range table {
		if c.when != nil && !c.when(m, i) {
			continue
		}
		read := c.read
		m.columns = append(m.columns, Column{owner, name(c.figure), c.unit})
		m.readers = append(m.readers, func(s *Solver) float64 { return read(s, i) })
	}
}

// Columns describes the numbers of a record.
func (m *Model) Columns() []Column { return m.columns }

// record writes the operating point, solved at s.y, to dst.
func (s *Solver) record(dst []float64) {
	for i, read := range s.m.readers {
		dst[i] = read(s)
	}
}

func (s *Solver) firstFeeder(feed int) circuit.FeederPoint {
	if f := &s.Feeds[feed]; f.FeederLo < f.FeederHi {
		return s.FeederAt[f.FeederLo]
	}
	return circuit.FeederPoint{}
}

// sourceW is what the sources of a feed give, what they turn into heat included.
func (s *Solver) sourceW(feed int) float64 {
	return s.FeedAt[feed].BusW + s.sourceHeatW(feed)
}

func (s *Solver) sourceHeatW(feed int) float64 {
	w := 0.0
	for i := s.Feeds[feed].FeederLo; i < s.Feeds[feed].FeederHi; i++ {
		w += s.sourceHeat[i]
	}
	return w
}

func (s *Solver) inputW(int) float64 {
	w := 0.0
	for i := range s.Feeds {
		w += s.sourceW(i)
	}
	return w
}

// stringA is the highest current of a string while all is on; where a meter is in a string, that
// string's.
func (s *Solver) stringA(k int) float64 {
	most := 0.0
	if g, read := s.metered[k]; read && s.Nodes[k].Chosen {
		return s.groupA(place{node: k, group: g})
	}
	if s.Nodes[k].Chosen {
		for g := range s.Nodes[k].Arr.Groups {
			most = max(most, s.groupA(place{node: k, group: g}))
		}
	}
	return most
}

// toAirW is what a lump gives to an air, the surroundings' or that of a housing.
func (s *Solver) toAirW(lump, into int) float64 {
	w := 0.0
	for l := range s.links {
		if s.links[l].from == lump && s.links[l].to == into {
			w += s.flowW(&s.links[l], s.y)
		}
	}
	return w
}

func (s *Solver) allToAirW(int) float64 {
	w := 0.0
	for l := range s.links {
		if s.links[l].to == air {
			w += s.flowW(&s.links[l], s.y)
		}
	}
	return w
}

func (s *Solver) total(of func(p *circuit.NodePoint) float64) float64 {
	sum := 0.0
	for k := range s.Point {
		sum += s.Nodes[k].Times * of(&s.Point[k])
	}
	return sum
}

// lightW is the light that leaves: what a tent keeps is heat in its air.
func (s *Solver) lightW() float64 {
	sum := 0.0
	for k := range s.Point {
		if s.m.keeps[k] < 0 {
			sum += s.Nodes[k].Times * s.Point[k].RadiantW
		}
	}
	return sum
}

func (s *Solver) fluxLm() float64 {
	return s.total(func(p *circuit.NodePoint) float64 { return p.FluxLm })
}

// heatW is all heat, or that which no lump takes up.
func (s *Solver) heatW(looseOnly bool) float64 {
	w := 0.0
	for i := range s.Feeders {
		if !looseOnly || s.m.cellBody[i] < 0 {
			w += s.sourceHeat[i]
		}
	}
	for k := range s.Point {
		if !looseOnly || s.m.bodyOf[k] < 0 && s.m.junction[k] < 0 {
			w += s.Nodes[k].Times * (s.Point[k].LossW + s.Point[k].OpticW)
		}
		if !looseOnly && s.m.keeps[k] >= 0 {
			w += s.Nodes[k].Times * s.Point[k].RadiantW
		}
	}
	return w
}

// ModeName names the value of a mode column.
func ModeName(value float64) string { return driver.Mode(int(value + 0.5)).String() }

// unknown fills a record of which nothing is known.
func unknown(record []float64) []float64 {
	for i := range record {
		record[i] = math.NaN()
	}
	return record
}
