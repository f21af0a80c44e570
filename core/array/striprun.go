package array

import "math"

// A Run is one piece of a strip as it is cut and lit: a line of the cut list, with
// what the ladder gives along it.
type Run struct {
	Piece    int     `json:"piece" doc:"Index of the piece"`
	AskedM   float64 `json:"askedM" doc:"Length asked for, m"`
	CutM     float64 `json:"cutM" doc:"Length to cut: whole segments, m"`
	Over     bool    `json:"over" doc:"More was asked for than whole segments, by more than scissors care"`
	Segments int     `json:"segments"`
	CurrentA float64 `json:"currentA" doc:"That its segments take, A"`
	FeedV    float64 `json:"feedV" doc:"At its fed end, V; of a chained piece at its first segment"`
	FluxLm   float64 `json:"fluxLm" doc:"Its light, lm; 0: not known"`
	FarV     float64 `json:"farV" doc:"At the segment farthest from a feed, V"`
	FarLight float64 `json:"farLight" doc:"Light of that segment over the brightest one of its piece or chain"`
	Dark     bool    `json:"dark" doc:"It shows darker than the rest"`
	Along    []Spot  `json:"along" nullable:"false" doc:"Segment by segment from one end; of a long piece at most 200 of them"`
}

// A Spot is one segment of a piece.
type Spot struct {
	AtM      float64 `json:"atM" doc:"Middle of the segment, from the end, m"`
	VoltageV float64 `json:"voltageV"`
	Light    float64 `json:"light" doc:"Over a segment at the rated voltage"`
}

// mostSpots bounds what is told of one piece.
const mostSpots = 200

// What makes a piece worth a word (common practice).
const (
	CutSlack  = 0.05 // of a segment that it may be too long: scissors are no finer
	EvenLight = 0.8  // of the light, below which a segment shows darker than the rest
)

// Uncut is how much longer than whole segments a piece is, m; not over if scissors are
// no finer.
func Uncut(lengthM, cutM float64) (restM float64, over bool) {
	restM = lengthM - float64(Segments(lengthM, cutM))*cutM
	return restM, restM > CutSlack*cutM
}

// Runs follows each piece from end to end at a voltage on the bus: voltage and light
// of every segment. One shorter than a segment stays dark.
func (s *Strip) Runs(voltageV float64) []Run {
	out := make([]Run, len(s.PiecesM))
	for i, m := range s.PiecesM {
		out[i] = Run{Piece: i, AskedM: m, Along: []Spot{}}
		_, out[i].Over = Uncut(m, s.CutM)
	}
	for i := range s.ladders {
		l := &s.ladders[i]
		brightest, from := 0.0, 0
		for _, x := range l.rise {
			brightest = max(brightest, x)
		}
		for k, p := range l.pieces {
			r := &out[p.asked]
			rise := l.rise[from : from+p.segments]
			from += p.segments
			r.Segments, r.CutM = p.segments, float64(p.segments)*s.CutM
			if r.FeedV = s.at(voltageV, rise[0]); k == 0 {
				a := l.perV * max(0, voltageV-s.KneeV)
				if l.both {
					a *= firstShare(l, s)
				}
				r.FeedV = voltageV - a*s.LeadOhm
			}
			least := 1.0
			for _, x := range rise {
				v := s.at(voltageV, x)
				r.CurrentA += s.segmentA(v)
				r.FluxLm += s.SegmentLm * s.ofRated(v)
				least = min(least, x)
			}
			r.FarV = s.at(voltageV, least)
			if r.FarLight = 1; brightest > 0 {
				r.FarLight = least / brightest
			}
			r.Dark = r.FarLight < EvenLight
			r.Along = s.spots(rise, voltageV)
		}
	}
	return out
}

// firstShare is what of the current of a ladder fed from both ends enters at the first.
func firstShare(l *ladder, s *Strip) float64 {
	ohm, n := s.CopperOhm/2+s.LeadOhm, len(l.rise)-1
	first, last := 1-l.rise[0], 1-l.rise[n]
	if ohm <= 0 || first+last <= 0 {
		return 0.5
	}
	return first / (first + last)
}

// spots goes along a piece.
func (s *Strip) spots(rise []float64, voltageV float64) []Spot {
	stride := int(math.Ceil(float64(len(rise)) / mostSpots))
	out := make([]Spot, 0, len(rise)/stride+1)
	for k := 0; k < len(rise); k += stride {
		v := s.at(voltageV, rise[k])
		out = append(out, Spot{(float64(k) + 0.5) * s.CutM, v, s.ofRated(v)})
	}
	return out
}
