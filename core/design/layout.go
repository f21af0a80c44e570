package design

import "math"

// A Layout says where things sit on a face of a body, seen from above: x along its length,
// y along its width, from one corner.
type Layout struct {
	ID       string       `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in the variant"`
	Name     string       `json:"name,omitempty" maxLength:"120" doc:"Descriptive name"`
	BodyID   string       `json:"bodyId" minLength:"1" maxLength:"64" doc:"The body: a sheet, a base with fins, a profile of known width, or the largest side of a housing"`
	Spots    []LayoutSpot `json:"spots,omitempty" nullable:"false" maxItems:"500" doc:"What sits where"`
	Held     []string     `json:"heldEdges,omitempty" nullable:"false" maxItems:"4" enum:"left,right,top,bottom" doc:"Edges through which the joints of the body to others lead heat away, seen from above, left at x = 0, top at y = 0; none: all over it"`
	KeepOuts []KeepOut    `json:"keepOuts,omitempty" nullable:"false" maxItems:"100" doc:"Where nothing may sit"`
}

// A LayoutSpot is the middle of one of an array's boards, or of one of its emitters. All spots of
// an array carry the same share of its heat.
type LayoutSpot struct {
	NodeID  string   `json:"nodeId" minLength:"1" maxLength:"64" doc:"The array"`
	XM      float64  `json:"xM" minimum:"0" maximum:"20" doc:"Along the length, m"`
	YM      float64  `json:"yM" minimum:"0" maximum:"20" doc:"Along the width, m"`
	LengthM *float64 `json:"lengthM,omitempty" minimum:"0.0005" maximum:"20" doc:"Of its pad, along x, m; absent: square, of the area under a board"`
	WidthM  *float64 `json:"widthM,omitempty" minimum:"0.0005" maximum:"20" doc:"Of its pad, along y, m; absent: as its length"`
}

// A KeepOut is a rectangle in which nothing may sit; a hole also lets no heat through.
type KeepOut struct {
	XM      float64 `json:"xM" minimum:"0" maximum:"20" doc:"Its middle along the length, m"`
	YM      float64 `json:"yM" minimum:"0" maximum:"20" doc:"Its middle along the width, m"`
	LengthM float64 `json:"lengthM" minimum:"0.0005" maximum:"20" doc:"Along x, m"`
	WidthM  float64 `json:"widthM" minimum:"0.0005" maximum:"20" doc:"Along y, m"`
	Hole    bool    `json:"hole,omitempty" doc:"Whether it is cut out; else something stands there, as a lens or a screw"`
	Purpose string  `json:"purpose,omitempty" maxLength:"120" doc:"What it is for"`
}

// Face is the length and width of the face of a body on which things can be laid out,
// m; not ok: it has none that is known.
func (l *Light) Face(b *Body) (lengthM, widthM float64, ok bool) {
	s := l.ShapeOf(b)
	if s == nil || s.LengthM == nil || s.WidthM == nil {
		return 0, 0, false
	}
	switch s.Kind {
	case "plate", "fins", "profile", "box":
		return *s.LengthM, *s.WidthM, true
	}
	return 0, 0, false
}

// Pad is the length and width of the pad of a spot of an array with so many spots, m.
func (s *LayoutSpot) Pad(a *Array, spots int) (lengthM, widthM float64) {
	switch {
	case s.LengthM != nil && s.WidthM != nil:
		return *s.LengthM, *s.WidthM
	case s.LengthM != nil:
		return *s.LengthM, *s.LengthM
	}
	side := UnknownPadM
	if a.Joint != nil && a.Joint.AreaM2 != nil {
		side = math.Sqrt(*a.Joint.AreaM2 * float64(max(a.Count, 1)) / float64(max(spots, 1)))
	}
	return side, side
}

// UnknownPadM is the side of a pad of which no size is known (chosen: a small star).
const UnknownPadM = 0.01
