package design

// A Shape is a body by what can be measured on it. Which measures it needs goes by its
// kind; what is absent is not known.
type Shape struct {
	Kind     string `json:"kind" enum:"area,plate,disc,box,profile,fins,tube,cooler" doc:"area: a surface of which no more is known; plate: flat or folded sheet; disc: a washer or pill; box: a closed housing; profile: an extrusion by its perimeter or its drawn fins; fins: plate fins on a base; tube: a round body; cooler: known by its K/W with its fan at its rated voltage"`
	PartID   string `json:"partId,omitempty" maxLength:"64" doc:"The profile it is cut from (kind profile): measures that are not said here are its"`
	Material string `json:"material,omitempty" enum:"aluminium,cast-aluminium,copper,brass,steel,stainless,wood,printed-plastic,glass-fibre-board,acrylic,glass" doc:"What it is made of; absent: aluminium"`
	Surface  string `json:"surface,omitempty" enum:"polished,bare,painted,anodised" doc:"How its surface is; absent: bare"`
	Pose     string `json:"pose,omitempty" enum:"upright,level,up,down,across" doc:"upright: its length stands (fins: base and fins); level: its length lies (a plate: flat); up, down: fins on a level base; across: fins level on an upright base; absent: upright"`

	LengthM    *float64 `json:"lengthM,omitempty" minimum:"0.001" maximum:"20" doc:"Length, m: along fins or tube, of a profile what is cut, of an upright plate its height"`
	WidthM     *float64 `json:"widthM,omitempty" minimum:"0.001" maximum:"20" doc:"Width, m: of a plate or base, of a box or the envelope of a profile"`
	HeightM    *float64 `json:"heightM,omitempty" minimum:"0.001" maximum:"20" doc:"Height of a box, depth of the envelope of a profile, m"`
	ThicknessM *float64 `json:"thicknessM,omitempty" minimum:"0.00001" maximum:"1" doc:"Thickness of sheet, wall or base, m"`
	DiameterM  *float64 `json:"diameterM,omitempty" minimum:"0.001" maximum:"5" doc:"Diameter of a tube or disc, m"`
	PerimeterM *float64 `json:"perimeterM,omitempty" minimum:"0.001" maximum:"100" doc:"Perimeter of a profile with all its fins, m"`
	KgPerM     *float64 `json:"kgPerM,omitempty" minimum:"0.001" maximum:"1000" doc:"Mass of a metre of a profile, kg/m; absent: by its thickness"`
	AreaM2     *float64 `json:"areaM2,omitempty" minimum:"0.000001" maximum:"1000" doc:"Whole surface, m² (kind area)"`

	DrawnFins []DrawnFin `json:"drawnFins,omitempty" nullable:"false" maxItems:"100" doc:"Fins of a profile, as drawn: its perimeter, where that is not given, is twice its width and all their sides"`
	CoolerKW  *float64   `json:"coolerKPerW,omitempty" minimum:"0.001" maximum:"1000" doc:"To the air with its fan at its rated voltage, K/W (kind cooler)"`
	StillKW   *float64   `json:"stillKPerW,omitempty" minimum:"0.001" maximum:"1000" doc:"To the air with its fan stopped, K/W (kind cooler); absent: not known"`

	Fins       int      `json:"fins,omitempty" minimum:"0" maximum:"1000" doc:"How many fins"`
	FinHeightM *float64 `json:"finHeightM,omitempty" minimum:"0.0005" maximum:"2" doc:"Height of a fin above its base, m"`
	FinThickM  *float64 `json:"finThicknessM,omitempty" minimum:"0.00005" maximum:"0.1" doc:"Thickness of a fin, m"`

	OneFace    bool     `json:"oneFace,omitempty" doc:"Whether one face lies against something, and only the other is free (plate), or the back of the base (fins)"`
	SpeedMS    *float64 `json:"airSpeedMPerS,omitempty" minimum:"0" maximum:"60" doc:"Speed of the air past it, m/s: wind, walking, riding; absent: still"`
	FilmShare  *float64 `json:"measuredFilm,omitempty" minimum:"0.1" maximum:"5" doc:"What it gives to moving air over what its laws say, as it was measured in this light; absent: 1"`
	Emissivity *float64 `json:"emissivity,omitempty" minimum:"0.01" maximum:"1" doc:"Of its surface; absent: as such surfaces have it"`
	Wet        bool     `json:"wet,omitempty" doc:"Whether rain or spray keeps its outside wet"`
	Submerged  bool     `json:"submerged,omitempty" doc:"Whether it is under water"`
	HeldShare  *float64 `json:"heldShare,omitempty" minimum:"0" maximum:"0.95" doc:"Share of its surface that a hand covers"`
	Fan        *Fan     `json:"fan,omitempty" doc:"A fan that blows through its fins, or over it"`
}

// A Profile is an extrusion that is sold by the metre.
type Profile struct {
	WidthM     *float64 `json:"widthM,omitempty" minimum:"0.001" maximum:"20" doc:"Outer width, m"`
	HeightM    *float64 `json:"heightM,omitempty" minimum:"0.001" maximum:"20" doc:"Outer depth, m"`
	PerimeterM *float64 `json:"perimeterM,omitempty" minimum:"0.001" maximum:"100" doc:"Perimeter with all its fins, m: the surface of a metre, m²/m"`
	KgPerM     *float64 `json:"kgPerM,omitempty" minimum:"0.001" maximum:"1000" doc:"Mass of a metre, kg/m"`
	BaseM      *float64 `json:"baseM,omitempty" minimum:"0.0001" maximum:"1" doc:"Thickness of the base that emitters sit on, m"`
	Material   string   `json:"material,omitempty" enum:"aluminium,cast-aluminium,copper,brass,steel,stainless" doc:"What it is made of; absent: aluminium"`
	Surface    string   `json:"surface,omitempty" enum:"polished,bare,painted,anodised" doc:"How its surface is; absent: bare"`
}

// ShapeOf is the shape of a body with what is not said of it taken from the profile it is cut
// from; nil if it has none.
func (l *Light) ShapeOf(b *Body) *Shape {
	if b.Shape == nil || b.Shape.PartID == "" || b.Shape.Kind != "profile" {
		return b.Shape
	}
	part := l.Part(b.Shape.PartID)
	if part == nil || part.Profile == nil {
		return b.Shape
	}
	s, p := *b.Shape, part.Profile
	for _, m := range []struct{ said, known **float64 }{{&s.WidthM, &p.WidthM}, {&s.HeightM, &p.HeightM}, {&s.KgPerM, &p.KgPerM}, {&s.ThicknessM, &p.BaseM}} {
		if *m.said == nil {
			*m.said = *m.known
		}
	}
	if s.PerimeterM == nil && len(s.DrawnFins) == 0 {
		s.PerimeterM = p.PerimeterM
	}
	if s.Material == "" {
		s.Material = p.Material
	}
	if s.Surface == "" {
		s.Surface = p.Surface
	}
	return &s
}

// A DrawnFin is a number of equal fins of a profile.
type DrawnFin struct {
	Count   int     `json:"count" minimum:"1" maximum:"1000" doc:"How many like this"`
	HeightM float64 `json:"heightM" minimum:"0.0005" maximum:"2" doc:"How far it stands out, m"`
	ThickM  float64 `json:"thicknessM" minimum:"0.00005" maximum:"0.1" doc:"Its thickness, m"`
}

// A Fan moves air through a body's fins; its draw is that of a node of the power tree.
type Fan struct {
	NodeID  string   `json:"nodeId,omitempty" maxLength:"64" doc:"The auxiliary that feeds it; absent: it runs by itself"`
	FlowM3H float64  `json:"flowM3PerH" minimum:"0.01" maximum:"10000" doc:"Flow it moves through here at its rated voltage, m³/h"`
	RatedV  *float64 `json:"ratedVoltageV,omitempty" minimum:"0.5" maximum:"400" doc:"Voltage of that flow, V; flow goes with the voltage it gets; absent: it is full at any"`
	Onto    bool     `json:"onto,omitempty" doc:"Whether it blows down onto the fins, so that the air leaves at both their ends; absent: along them from end to end, blowing or pulling"`
	Stopped bool     `json:"stopped,omitempty" doc:"Whether it stands still: a fault put in"`
}
