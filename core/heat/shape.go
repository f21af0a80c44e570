package heat

import (
	"math"

	"photherm/core/design"
)

// A face is a part of a body's surface that gives heat to the air in one way.
type face struct {
	kind   faceKind
	areaM2 float64
	overM  float64 // the length its law goes by: height, diameter, area over perimeter
	loss   float64 // share of the law of free air that its pose takes
}

type faceKind int

const (
	upright faceKind = iota
	facingUp
	facingDown
	lyingTube
)

// fins are plate fins between which air rises, or is driven.
type fins struct {
	areaM2            float64 // both sides of all channels, without their floor
	floorM2           float64 // of the channels
	spacingM, lengthM float64
	highM, thickM     float64
	conductivity      float64
	free              float64 // share of the upright law that their pose leaves
	crossM2           float64 // that air is driven through
}

// A Body is what gives a body's heat to the air: a Link whose film follows its own
// temperature.
type Body struct {
	AreaM2     float64 // whole surface that air touches
	RadiantM2  float64 // of its envelope
	VolumeM3   float64 // of its material
	Emissivity float64

	faces    []face
	fins     *fins
	pressure float64
	speed    float64 // of air past it, m/s; 0: still
	free     float64 // share that no hand covers
	share    float64 // of what its laws say goes to moving air, as it was measured
	Power    float64 // of its rise over TiltRiseK, beyond its laws, of what goes to moving air, as it was measured
	wet      bool    // under water
	rain     bool    // its outside is wet, and dries into the air
	onto     bool    // its fan blows down onto the fins
	along    float64 // conducts along its length: k·A of its cross-section, W·m/K; 0: at one temperature
	lengthM  float64
	crossM2  float64 // of an envelope without drawn fins, through which its fan blows; 0: not known
	cooler   *cooler // known by its K/W
	fanM3S   float64 // flow of its fan at its rated voltage; 0: none
	ratedV   float64 // 0: full at any voltage
}

// Poses of fins other than upright, as a share of the upright law (common practice, ±30 %).
const (
	finsUpShare     = 0.8
	finsDownShare   = 0.5
	finsAcrossShare = 0.4
)

// What is taken of a body of which only the surface, or the perimeter, is known (chosen):
// how high its surfaces stand, and which share of it faces outwards and radiates.
const (
	unknownHeightM   = 0.1
	outwardShare     = 0.5
	lyingProfileLoss = 0.3 // of the upright law, channels lying level (common practice)
)

// leastWetK is the rise at which the film of a wet surface is taken at least (chosen): damp
// air is lighter by about as much as air that many kelvins warmer.
const leastWetK = 3

// waterW is the film of a warm body in still water, W/(m²·K) (common practice, ±50 %).
const waterW = 300

// NewBody works out a body's law from its measures. What it still needs is listed by the
// names of the figures; the law is then nil.
func NewBody(s *design.Shape, pressure float64) (body *Body, lacks []string) {
	need := func(names map[string]*float64, order ...string) bool {
		for _, n := range order {
			if names[n] == nil {
				lacks = append(lacks, n)
			}
		}
		return len(lacks) == 0
	}
	m := MaterialOf(s)
	b := &Body{Emissivity: EmissivityOf(s), pressure: pressure, free: 1, share: 1, wet: s.Submerged, rain: s.Wet && !s.Submerged}
	if s.SpeedMS != nil {
		b.speed = *s.SpeedMS
	}
	if s.HeldShare != nil {
		b.free = 1 - *s.HeldShare
	}
	if s.FilmShare != nil {
		b.share = *s.FilmShare
	}
	if f := s.Fan; f != nil && !f.Stopped {
		b.fanM3S, b.onto = f.FlowM3H/3600, f.Onto
		if f.RatedV != nil && f.NodeID != "" { // one that runs by itself is full
			b.ratedV = *f.RatedV
		}
	}
	given := map[string]*float64{"lengthM": s.LengthM, "widthM": s.WidthM, "heightM": s.HeightM, "thicknessM": s.ThicknessM, "diameterM": s.DiameterM, "perimeterM": s.PerimeterM, "areaM2": s.AreaM2, "finHeightM": s.FinHeightM, "finThicknessM": s.FinThickM}
	switch s.Kind {
	case "area":
		if !need(given, "areaM2") {
			return nil, lacks
		}
		high := unknownHeightM
		if s.LengthM != nil {
			high = *s.LengthM
		}
		b.faces = []face{{kind: upright, areaM2: *s.AreaM2, overM: high}}
		b.RadiantM2 = outwardShare * *s.AreaM2
	case "plate":
		if !need(given, "lengthM", "widthM") {
			return nil, lacks
		}
		b.plate(s)
	case "box":
		if !need(given, "lengthM", "widthM", "heightM") {
			return nil, lacks
		}
		l, w, h := *s.LengthM, *s.WidthM, *s.HeightM
		flat := l * w / (2 * (l + w))
		b.faces = []face{{kind: upright, areaM2: 2 * (l + w) * h, overM: h}, {kind: facingUp, areaM2: l * w, overM: flat}, {kind: facingDown, areaM2: l * w, overM: flat}}
		b.RadiantM2 = 2*(l+w)*h + 2*l*w
		if s.ThicknessM != nil {
			b.VolumeM3 = b.RadiantM2 * *s.ThicknessM
		}
	case "disc":
		if !need(given, "diameterM") {
			return nil, lacks
		}
		b.disc(s)
	case "cooler":
		if s.CoolerKW == nil {
			return nil, []string{"coolerKPerW"}
		}
		b.cooler = newCooler(s)
	case "profile":
		asks := []string{"perimeterM", "lengthM"}
		if len(s.DrawnFins) > 0 && s.PerimeterM == nil {
			asks = []string{"widthM", "lengthM"}
		}
		if b.fanM3S > 0 {
			asks = append(asks, "widthM", "heightM") // of the envelope it blows through
		}
		if !need(given, asks...) {
			return nil, lacks
		}
		b.profile(s, m)
	case "tube":
		if !need(given, "diameterM", "lengthM") {
			return nil, lacks
		}
		b.tube(s, m)
	case "fins":
		if !need(given, "lengthM", "widthM", "finHeightM", "finThicknessM") || s.Fins < 2 {
			if s.Fins < 2 {
				lacks = append(lacks, "fins")
			}
			return nil, lacks
		}
		b.finned(s, m)
	default:
		return nil, []string{"kind"}
	}
	for _, f := range b.faces {
		b.AreaM2 += f.areaM2
	}
	if b.fins != nil {
		b.AreaM2 += b.fins.areaM2 + b.fins.floorM2
	}
	return b, nil
}

func (b *Body) plate(s *design.Shape) {
	l, w := *s.LengthM, *s.WidthM
	b.sheet(s, l*w, l, l*w/(2*(l+w)))
	if s.ThicknessM != nil {
		b.VolumeM3 = l * w * *s.ThicknessM
	}
}

// sheet is a flat thing with two faces, or one that is free: standing to a height, or lying,
// where its law goes by area over perimeter.
func (b *Body) sheet(s *design.Shape, areaM2, heightM, lyingM float64) {
	if s.Pose == "level" || s.Pose == "up" || s.Pose == "down" {
		if s.Pose != "down" || !s.OneFace {
			b.faces = append(b.faces, face{kind: facingUp, areaM2: areaM2, overM: lyingM})
		}
		if s.Pose == "down" || !s.OneFace {
			b.faces = append(b.faces, face{kind: facingDown, areaM2: areaM2, overM: lyingM})
		}
	} else {
		sides := 2.0
		if s.OneFace {
			sides = 1
		}
		b.faces = []face{{kind: upright, areaM2: sides * areaM2, overM: heightM}}
	}
	for _, f := range b.faces {
		b.RadiantM2 += f.areaM2
	}
}

func (b *Body) disc(s *design.Shape) {
	d := *s.DiameterM
	face1 := math.Pi * d * d / 4
	b.sheet(s, face1, d, d/4)
	if s.ThicknessM != nil {
		b.VolumeM3 = face1 * *s.ThicknessM
	}
}

// perimeter is that of a profile: as it was measured, or of its drawn fins on both faces of
// its base, with the thickness of the base not counted.
func perimeter(s *design.Shape) float64 {
	if s.PerimeterM != nil {
		return *s.PerimeterM
	}
	sum := 2 * *s.WidthM
	for _, f := range s.DrawnFins {
		sum += 2 * float64(f.Count) * f.HeightM
	}
	return sum
}

func (b *Body) profile(s *design.Shape, m *Material) {
	round := perimeter(s)
	area := round * *s.LengthM
	sides := face{kind: upright, areaM2: area, overM: *s.LengthM}
	if s.Pose == "level" {
		sides.overM, sides.loss = unknownHeightM, lyingProfileLoss
		if s.HeightM != nil {
			sides.overM = *s.HeightM
		}
	}
	b.faces = []face{sides}
	b.RadiantM2 = outwardShare * area
	if s.WidthM != nil && s.HeightM != nil {
		b.RadiantM2 = min(b.RadiantM2/outwardShare, 2*(*s.WidthM+*s.HeightM)**s.LengthM)
		b.crossM2 = *s.WidthM * *s.HeightM
	}
	switch {
	case s.KgPerM != nil:
		b.VolumeM3 = *s.KgPerM / m.KgPerM3 * *s.LengthM
	case s.ThicknessM == nil:
	case s.PerimeterM == nil:
		b.VolumeM3 = *s.WidthM * *s.ThicknessM * *s.LengthM
		for _, f := range s.DrawnFins {
			b.VolumeM3 += float64(f.Count) * f.HeightM * f.ThickM * *s.LengthM
		}
	default: // A wall has two sides: half the perimeter times its thickness is its cross-section.
		b.VolumeM3 = round / 2 * *s.ThicknessM * *s.LengthM
	}
}

func (b *Body) tube(s *design.Shape, m *Material) {
	d, l := *s.DiameterM, *s.LengthM
	kind, over := lyingTube, d
	if s.Pose == "" || s.Pose == "upright" {
		kind, over = upright, l
	}
	// The front end looks out; the other is the tail.
	b.faces = []face{{kind: kind, areaM2: math.Pi * d * l, overM: over}}
	b.RadiantM2 = math.Pi * d * l
	b.lengthM = l
	if s.ThicknessM != nil {
		wall := min(*s.ThicknessM, d/2)
		cross := math.Pi * (d - wall) * wall
		b.VolumeM3 = cross * l
		b.along = m.Conductivity * cross
	}
}

func (b *Body) finned(s *design.Shape, m *Material) {
	l, w, h, t := *s.LengthM, *s.WidthM, *s.FinHeightM, *s.FinThickM
	n := float64(s.Fins)
	spacing := max((w-n*t)/(n-1), 1e-6)
	f := &fins{areaM2: 2 * (n - 1) * h * l, floorM2: (n - 1) * spacing * l, spacingM: spacing, lengthM: l, highM: h, thickM: t, conductivity: m.Conductivity, free: 1, crossM2: (n - 1) * spacing * h}
	switch s.Pose {
	case "up", "level":
		f.free = finsUpShare
	case "down":
		f.free = finsDownShare
	case "across":
		f.free = finsAcrossShare
	}
	b.fins = f
	// The outer sides of the two outer fins, and the back of the base.
	b.faces = []face{{kind: upright, areaM2: 2 * h * l, overM: l}}
	if !s.OneFace {
		b.faces = append(b.faces, face{kind: upright, areaM2: w * l, overM: l})
	}
	base := 0.0
	if s.ThicknessM != nil {
		base = *s.ThicknessM
	}
	b.RadiantM2 = w*l + 2*h*l + 2*h*w
	if !s.OneFace {
		b.RadiantM2 += w * l
	}
	b.VolumeM3 = n*h*t*l + base*w*l
}

// film is the film coefficient of a face, W/(m²·K).
func (b *Body) film(f *face, bodyC, airC, speed float64) float64 {
	if b.wet {
		return waterW
	}
	h := 0.0
	switch f.kind {
	case upright:
		h = VerticalPlate(bodyC, airC, f.overM, b.pressure)
	case facingUp, facingDown:
		if (f.kind == facingUp) == (bodyC >= airC) {
			h = PlateUp(bodyC, airC, f.overM, b.pressure)
		} else {
			h = PlateDown(bodyC, airC, f.overM, b.pressure)
		}
	case lyingTube:
		h = HorizontalCylinder(bodyC, airC, f.overM, b.pressure)
	}
	h *= 1 - f.loss
	if speed <= 0 {
		return h
	}
	forced := 0.0
	if f.kind == lyingTube {
		forced = CrossFlow(bodyC, airC, f.overM, speed, b.pressure)
	} else {
		forced = AlongPlate(bodyC, airC, max(f.overM, b.lengthM), speed, b.pressure)
	}
	return both(h, forced)
}

// both is free and forced flow together: Nu³ adds (Incropera & DeWitt, mixed convection).
func both(free, forced float64) float64 { return math.Cbrt(free*free*free + forced*forced*forced) }

// Watts is what the body gives to the air and its surroundings, W; driveV is the voltage of
// its fan.
func (b *Body) Watts(bodyC, airC, driveV float64) float64 {
	rise := bodyC - airC
	if b.cooler != nil {
		return b.cooler.wPerK(driveV) * rise * b.free * b.share * Tilt(rise, b.Power)
	}
	flow := b.flow(driveV)
	w, even := 0.0, 0.0 // even: what a wet body gives at the temperature of the air
	if b.fins != nil {
		w += b.fins.conducts(b, bodyC, airC, flow) * rise
	}
	speed := b.speed
	if b.fins == nil && b.crossM2 > 0 {
		speed = max(speed, flow/b.crossM2)
	}
	for i := range b.faces {
		h := b.film(&b.faces[i], bodyC, airC, speed)
		w += h * b.faces[i].areaM2 * rise
		if b.rain {
			// Vapour moves the air by itself where nothing is warm.
			wet := b.film(&b.faces[i], airC+max(math.Abs(rise), leastWetK), airC, speed)
			w += Drying(wet, bodyC, airC, b.pressure) * b.faces[i].areaM2
			even += Drying(wet, airC, airC, b.pressure) * b.faces[i].areaM2
		}
	}
	moving := b.share * Tilt(rise, b.Power)
	w, even = w*moving, even*moving
	if !b.wet {
		w += Radiation(bodyC, airC, b.Emissivity) * b.RadiantM2
	}
	w, even = w*b.free, even*b.free
	if b.along > 0 && (w-even)*rise > 0 {
		// The tube as a fin with the heat at one end; what dries off at the temperature of the
		// air goes everywhere alike.
		ml := math.Sqrt((w-even)/rise/b.lengthM/b.along) * b.lengthM
		if ml > 1e-4 {
			w = even + (w-even)*math.Tanh(ml)/ml
		}
	}
	return w
}

// flow is what the fan moves, m³/s: in proportion to its voltage.
func (b *Body) flow(driveV float64) float64 {
	if b.fanM3S == 0 || b.ratedV == 0 {
		return b.fanM3S
	}
	return b.fanM3S * max(driveV, 0) / b.ratedV
}

// conducts is what the fins give for each kelvin, W/K.
func (f *fins) conducts(b *Body, bodyC, airC, flow float64) float64 {
	h := 0.0
	switch {
	case b.wet:
		h = waterW
	default:
		h = f.free * Channel(bodyC, airC, f.spacingM, f.lengthM, b.pressure)
		switch {
		case flow > 0 && b.onto: // half of it leaves at each end
			h = both(h, Blown(bodyC, airC, f.spacingM, f.lengthM/2, flow/2/f.crossM2, b.pressure))
		case flow > 0:
			h = both(h, Blown(bodyC, airC, f.spacingM, f.lengthM, flow/f.crossM2, b.pressure))
		}
		if b.speed > 0 {
			h = both(h, Blown(bodyC, airC, f.spacingM, f.lengthM, b.speed, b.pressure))
		}
	}
	return h * (f.floorM2 + FinEfficiency(h, f.conductivity, f.highM, f.thickM)*f.areaM2)
}

// Steps of the slopes of a body's law, K.
const slopeStepK = 1e-2

// Slopes of a body's heat to the air, by differences.
func (b *Body) Slopes(bodyC, airC, driveV float64) (perBodyK, perAirK float64) {
	perBodyK = (b.Watts(bodyC+slopeStepK, airC, driveV) - b.Watts(bodyC-slopeStepK, airC, driveV)) / (2 * slopeStepK)
	perAirK = (b.Watts(bodyC, airC+slopeStepK, driveV) - b.Watts(bodyC, airC-slopeStepK, driveV)) / (2 * slopeStepK)
	return perBodyK, perAirK
}

// StillPower is the power with which the films of a body's faces grow with its rise, about a
// rise of 30 K in air of 20 °C: by a central difference. It is not ok where its air is blown, or
// stands between fins, or where it is wet.
func (b *Body) StillPower() (power float64, ok bool) {
	if b.cooler != nil || b.fins != nil || b.wet || b.rain || b.speed > 0 || b.fanM3S > 0 || len(b.faces) == 0 {
		return 0, false
	}
	films := func(rise float64) float64 {
		sum := 0.0
		for i := range b.faces {
			sum += b.film(&b.faces[i], 20+rise, 20, 0) * b.faces[i].areaM2
		}
		return sum
	}
	return math.Log(films(1.1*TiltRiseK)/films(TiltRiseK/1.1)) / math.Log(1.1*1.1), true
}

// MostDriedK is by how much what dries off cools a body at most (chosen: the wet bulb of the
// dampness that is taken stands some 5 K below air of 40 °C).
const MostDriedK = 30

// RiseAt is how warm a body gets above air of a temperature when it gives so many watts, K:
// by bisection; a wet one, or one that takes heat, is cooler than the air. It is not ok beyond 500 K, or
// 30 K below.
func (b *Body) RiseAt(w, airC, driveV float64) (riseK float64, ok bool) {
	low, high := 0.0, 500.0
	switch even := b.Watts(airC, airC, driveV); {
	case w == even:
		return 0, true
	case w < even:
		low, high = -MostDriedK, 0
	}
	if b.Watts(airC+high, airC, driveV) < w || b.Watts(airC+low, airC, driveV) > w {
		return 0, false
	}
	for range 60 {
		if mid := (low + high) / 2; b.Watts(airC+mid, airC, driveV) < w {
			low = mid
		} else {
			high = mid
		}
	}
	return high, true
}

// MassKg is the mass of a shape by its measures; not ok where its thickness is not known.
func (b *Body) MassKg(s *design.Shape) (kg float64, ok bool) {
	return b.VolumeM3 * MaterialOf(s).KgPerM3, b.VolumeM3 > 0
}
