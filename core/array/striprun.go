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
	CurrentA float64 `json:"currentA" doc:"Into the piece, A"`
	FeedV    float64 `json:"feedV" doc:"At its fed end or ends, V"`
	FluxLm   float64 `json:"fluxLm" doc:"Its light, lm; 0: not known"`
	FarV     float64 `json:"farV" doc:"At the segment farthest from a feed, V"`
	FarLight float64 `json:"farLight" doc:"Light of that segment over one at the rated voltage"`
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
	for _, l := range s.ladders {
		r := &out[l.piece]
		r.FarV = s.far(l, voltageV)
		r.FarLight = s.FarLight(r.FarV)
		r.Dark = r.FarLight < EvenLight
		volts := make([]float64, 2*l.segments)
		_, a, lm := s.march(l, r.FarV, volts)
		r.CurrentA, r.FluxLm, r.FeedV = l.times*a, l.times*lm, voltageV-a*s.LeadOhm
		r.Segments = l.segments
		if l.times > 1 {
			r.Segments = 2 * l.segments
			if l.shared {
				r.Segments--
			}
		}
		r.CutM = float64(r.Segments) * s.CutM
		r.Along = s.spots(l, volts[:r.Segments])
	}
	return out
}

// spots goes along a piece, of which volts holds the ladder from its first fed end; a
// piece fed from both ends is that ladder and its mirror.
func (s *Strip) spots(l ladder, volts []float64) []Spot {
	segments := len(volts)
	for k := l.segments; k < segments; k++ {
		volts[k] = volts[segments-1-k]
	}
	stride := int(math.Ceil(float64(segments) / mostSpots))
	out := make([]Spot, 0, segments/stride+1)
	for k := 0; k < segments; k += stride {
		out = append(out, Spot{(float64(k) + 0.5) * s.CutM, volts[k], s.FarLight(volts[k])})
	}
	return out
}
