package circuit

// A moment is one of the parts of a period in which nothing is switched by duty.
type moment struct {
	from, to  float64 // in the period, 0 to 1
	point     []NodePoint
	feed      []FeedPoint
	feeder    []FeederPoint
	offers    []live
	collapsed []bool
}

func (s *Solver) newMoment() moment {
	return moment{point: make([]NodePoint, len(s.Nodes)), feed: make([]FeedPoint, len(s.Feeds)), feeder: make([]FeederPoint, len(s.Feeders)),
		offers: make([]live, len(s.Feeders)), collapsed: make([]bool, len(s.Nodes))}
}

// layMoments makes room for the moments of a period. Where nothing is switched there are
// none, and the mean is all there is.
func (s *Solver) layMoments() {
	s.at(&s.mean)
	s.On, s.OnFeed, s.OnFeeder = s.Point, s.FeedAt, s.FeederAt
	if len(s.duties) == 0 {
		s.moments = s.moments[:0]
		return
	}
	for len(s.moments) <= len(s.duties) {
		s.moments = append(s.moments, s.newMoment())
	}
	s.moments = s.moments[:len(s.duties)+1]
	from := 0.0
	for i := range s.moments {
		m := &s.moments[i]
		m.from, m.to = from, 1
		if i < len(s.duties) {
			m.to = s.duties[i]
		}
		from = m.to
	}
	first := &s.moments[0]
	s.On, s.OnFeed, s.OnFeeder = first.point, first.feed, first.feeder
}

// at lets what is solved and asked be of a moment.
func (s *Solver) at(m *moment) {
	s.Point, s.FeedAt, s.FeederAt, s.offers, s.Collapsed = m.point, m.feed, m.feeder, m.offers, m.collapsed
}

// solveMoments solves the moments of a period and averages them by their share.
func (s *Solver) solveMoments() {
	mean := &s.mean
	clear(mean.point)
	clear(mean.feed)
	clear(mean.feeder)
	clear(mean.collapsed)
	for i := range s.moments {
		share := s.Recall(i)
		clear(s.Collapsed)
		s.instant()
		m := &s.moments[i]
		for k := range m.point {
			mean.point[k].add(&m.point[k], share)
			mean.collapsed[k] = mean.collapsed[k] || m.collapsed[k]
		}
		for k := range m.feed {
			mean.feed[k].add(&m.feed[k], share)
		}
		for k := range m.feeder {
			mean.feeder[k].add(&m.feeder[k], share)
		}
	}
	for k := range mean.point {
		mean.point[k].Mode = s.moments[0].point[k].Mode
	}
	s.Average()
}

// Moments is how many parts a period has in which nothing is switched by duty: one
// where nothing is.
func (s *Solver) Moments() int { return max(1, len(s.moments)) }

// Recall puts a moment of the last solve in the place of the average, for a Tangent and
// for what is asked of a point, until Average. It answers the moment's share of the period.
func (s *Solver) Recall(i int) (share float64) {
	if len(s.moments) == 0 {
		return 1
	}
	m := &s.moments[i]
	s.at(m)
	for k := range s.Nodes {
		if s.Nodes[k].Kind == Driver {
			share := s.Nodes[k].onShare()
			s.Nodes[k].Drv.Off = share <= m.from && share < 1
		}
	}
	for k := range s.Feeders {
		share := s.Feeders[k].onShare()
		s.Feeders[k].dark = share <= m.from && share < 1
	}
	return m.to - m.from
}

// In is the operating point of a node in a moment of the last solve, and the moment's
// share of the period.
func (s *Solver) In(moment, node int) (p *NodePoint, share float64) {
	if len(s.moments) == 0 {
		return &s.Point[node], 1
	}
	m := &s.moments[moment]
	return &m.point[node], m.to - m.from
}

// Average takes back Recall.
func (s *Solver) Average() {
	if len(s.moments) == 0 {
		return
	}
	s.at(&s.mean)
	for k := range s.Nodes {
		s.Nodes[k].Drv.Off = false
	}
	for k := range s.Feeders {
		s.Feeders[k].dark = false
	}
}

func (p *NodePoint) add(q *NodePoint, share float64) {
	p.InV += share * q.InV
	p.InnerV += share * q.InnerV
	p.InA += share * q.InA
	p.InW += share * q.InW
	p.OutV += share * q.OutV
	p.OutA += share * q.OutA
	p.OutW += share * q.OutW
	p.LossW += share * q.LossW
	p.JointW += share * q.JointW
	p.FluxLm += share * q.FluxLm
	p.RadiantW += share * q.RadiantW
	p.OpticW += share * q.OpticW
	p.FarV += share * q.FarV
}

func (p *FeedPoint) add(q *FeedPoint, share float64) {
	p.BusV += share * q.BusV
	p.BusA += share * q.BusA
	p.BusW += share * q.BusW
}

func (p *FeederPoint) add(q *FeederPoint, share float64) {
	p.OpenV += share * q.OpenV
	p.CurrentA += share * q.CurrentA
	p.BusW += share * q.BusW
	p.LossW += share * q.LossW
	p.GivenW += share * q.GivenW
}
