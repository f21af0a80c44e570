package design

import (
	"fmt"
	"math"
	"slices"
)

// An Optic is what the light of a node leaves through, and where it sits and looks on its body.
// An array's opticEfficiency is what the optic lets through, its beamDeg the lens's angle.
type Optic struct {
	Kind      string          `json:"kind,omitempty" enum:"bare,lens,smooth-reflector,textured-reflector,diffuser,table" doc:"Absent: a lens where a beam is said, else bare"`
	SpotDeg   *float64        `json:"spotDeg,omitempty" minimum:"0.1" maximum:"170" doc:"Of a reflector: full width of its spot at half maximum, degrees"`
	SpillDeg  *float64        `json:"spillDeg,omitempty" minimum:"1" maximum:"180" doc:"Of a reflector: full width of the spill, degrees; absent: 100"`
	SpotShare *float64        `json:"spotShare,omitempty" minimum:"0" maximum:"1" doc:"Of a reflector: share of its light in the spot; absent: 0.4"`
	OpeningM  *float64        `json:"openingM,omitempty" minimum:"0.0005" maximum:"5" doc:"Width of what the light leaves through, m: from how far a beam can be measured"`
	Transmits *float64        `json:"coverTransmits,omitempty" minimum:"0" maximum:"1" doc:"Share of the light that a cover or diffuser before it lets through; absent: none is there"`
	Soiled    *float64        `json:"soiled,omitempty" minimum:"0" maximum:"0.95" doc:"Share of the light that dirt on it takes; absent: clean"`
	DiffuserM *float64        `json:"diffuserDistanceM,omitempty" minimum:"0.0005" maximum:"2" doc:"How far before the emitters a diffuser lies, m"`
	Table     *IntensityTable `json:"table,omitempty" doc:"How its intensity is spread, measured (kind table)"`
	TiltDeg   float64         `json:"tiltDeg,omitempty" minimum:"-180" maximum:"180" doc:"How far it leans from where its body looks, degrees: 90 looks sideways"`
	TurnDeg   float64         `json:"turnDeg,omitempty" minimum:"-360" maximum:"360" doc:"Towards which side it leans, degrees round from the length of the body"`
	AlongM    *float64        `json:"alongM,omitempty" minimum:"-20" maximum:"20" doc:"Where it sits, along the length from the middle of the body, m, where no layout says so; absent: in the middle, boards spread over its face"`
	AcrossM   *float64        `json:"acrossM,omitempty" minimum:"-20" maximum:"20" doc:"Across it, m"`
	ForwardM  *float64        `json:"forwardM,omitempty" minimum:"-20" maximum:"20" doc:"Forward of it, m"`
}

// An IntensityTable is candela against direction: vertical angles are from the axis, 0 straight
// out to 180 straight back; horizontal ones round it.
type IntensityTable struct {
	Name          string      `json:"name,omitempty" maxLength:"200" doc:"Where it comes from"`
	VerticalDeg   []float64   `json:"verticalDeg" nullable:"false" minItems:"2" maxItems:"721" doc:"Rising, from 0"`
	HorizontalDeg []float64   `json:"horizontalDeg" nullable:"false" minItems:"1" maxItems:"721" doc:"Rising, from 0: one angle is the same all round, up to 90 or 180 is mirrored"`
	Candela       [][]float64 `json:"candela" nullable:"false" minItems:"1" maxItems:"721" doc:"For each horizontal angle a row over the vertical ones; only their proportions count"`
}

// Fault tells why a table is none: angles that do not rise from 0, rows of another length,
// intensities below 0.
func (t *IntensityTable) Fault() error {
	if err := rising("vertical", t.VerticalDeg, 180, 2); err != nil {
		return err
	}
	if err := rising("horizontal", t.HorizontalDeg, 360, 1); err != nil {
		return err
	}
	if last := t.HorizontalDeg[len(t.HorizontalDeg)-1]; len(t.HorizontalDeg) > 1 && last != 90 && last != 180 && last != 360 {
		return fmt.Errorf("its horizontal angles end at %g°: 90, 180 or 360", last)
	}
	if len(t.Candela) != len(t.HorizontalDeg) {
		return fmt.Errorf("it has %d rows of candela for %d horizontal angles", len(t.Candela), len(t.HorizontalDeg))
	}
	lit := false
	for i, row := range t.Candela {
		if len(row) != len(t.VerticalDeg) {
			return fmt.Errorf("row %d of candela has %d figures for %d vertical angles", i+1, len(row), len(t.VerticalDeg))
		}
		for k, x := range row {
			if !(x >= 0) || math.IsInf(x, 0) {
				return fmt.Errorf("candela %d of row %d is %g", k+1, i+1, x)
			}
			lit = lit || x > 0
		}
	}
	if !lit {
		return fmt.Errorf("it has no light in it")
	}
	return nil
}

func rising(name string, deg []float64, most float64, least int) error {
	if len(deg) < least {
		return fmt.Errorf("it has %d %s angles", len(deg), name)
	}
	if deg[0] != 0 {
		return fmt.Errorf("its %s angles begin at %g°, not at 0", name, deg[0])
	}
	for i := range deg[1:] {
		if !(deg[i+1] > deg[i]) || deg[i+1] > most {
			return fmt.Errorf("its %s angle %g° after %g° does not rise to at most %g°", name, deg[i+1], deg[i], most)
		}
	}
	return nil
}

// AllRound is the table with angles all round, mirrored where it gives a half or a quarter.
func (t *IntensityTable) AllRound() *IntensityTable {
	out := &IntensityTable{Name: t.Name, VerticalDeg: t.VerticalDeg, HorizontalDeg: slices.Clone(t.HorizontalDeg), Candela: slices.Clone(t.Candela)}
	if len(out.HorizontalDeg) == 1 {
		out.HorizontalDeg, out.Candela = []float64{0, 360}, [][]float64{t.Candela[0], t.Candela[0]}
		return out
	}
	for last := out.HorizontalDeg[len(out.HorizontalDeg)-1]; last < 360; last *= 2 {
		for i := len(out.HorizontalDeg) - 2; i >= 0; i-- {
			out.HorizontalDeg = append(out.HorizontalDeg, 2*last-out.HorizontalDeg[i])
			out.Candela = append(out.Candela, out.Candela[i])
		}
	}
	return out
}

// A Scene is where the light is wanted.
type Scene struct {
	Kind     string   `json:"kind,omitempty" enum:"beam,area,around,strip,tank" doc:"What is looked at: a beam over ground, an area, the ground round a lantern, along a strip, a tank; absent: by what the brief asks"`
	Room     *Room    `json:"room,omitempty" doc:"Walls and ceiling around the area; absent: open"`
	Tank     *Tank    `json:"tank,omitempty" doc:"The tank the light hangs over"`
	Crop     string   `json:"crop,omitempty" enum:"seedlings,cuttings,leaf-greens,herbs,fruiting,low-light-plants,medium-light-plants,high-light-plants,soft-corals,large-polyp-corals,small-polyp-corals,seagrass" doc:"What grows there: its usual band of light"`
	Surround float64  `json:"surroundM,omitempty" minimum:"0" maximum:"1e4" doc:"How far round a lantern, or along a beam, is looked at, m; 0: as far as fits"`
	RampH    *float64 `json:"rampH,omitempty" minimum:"0" maximum:"12" doc:"How long sunrise and sunset each take, h, within the lit hours; absent: none"`
	EyeM     *float64 `json:"eyeHeightM,omitempty" minimum:"0" maximum:"10" doc:"Height of eyes that look at it, m; absent: 1.6"`
}

// A Room is the walls around the area.
type Room struct {
	LengthM *float64 `json:"lengthM,omitempty" minimum:"0.01" maximum:"1000" doc:"Along the area's length, m; absent: as long as the area"`
	WidthM  *float64 `json:"widthM,omitempty" minimum:"0.01" maximum:"1000" doc:"Across, m; absent: as wide as the area"`
	HeightM float64  `json:"heightM" minimum:"0.01" maximum:"1000" doc:"From the lit plane to the ceiling, m"`
	Walls   float64  `json:"wallsReflect,omitempty" minimum:"0" maximum:"0.98" doc:"Share that the walls reflect"`
	Ceiling float64  `json:"ceilingReflects,omitempty" minimum:"0" maximum:"0.98" doc:"Share that the ceiling reflects"`
	Floor   float64  `json:"floorReflects,omitempty" minimum:"0" maximum:"0.98" doc:"Share that the lit plane reflects"`
}

// A Tank is a glass box of water.
type Tank struct {
	LengthM float64 `json:"lengthM" minimum:"0.02" maximum:"50" doc:"Length, m"`
	WidthM  float64 `json:"widthM" minimum:"0.02" maximum:"50" doc:"Width, front to back, m"`
	DepthM  float64 `json:"waterDepthM" minimum:"0.01" maximum:"20" doc:"Depth of the water, m"`
	RimM    float64 `json:"rimM,omitempty" minimum:"0" maximum:"5" doc:"Glass above the water, m"`
	Cover   bool    `json:"coverGlass,omitempty" doc:"Whether a pane lies between light and water"`
	Sides   string  `json:"sides,omitempty" enum:"glass,black" doc:"glass (default): clear, with air behind; black: they swallow what strikes them"`
	Water   string  `json:"water,omitempty" enum:"clear,tannin,green" doc:"Absent: clear"`
}

// A Stand is where a body with lights hangs or stands. A body with several stands is there
// several times: each one more is one more equal light.
type Stand struct {
	BodyID  string  `json:"bodyId" minLength:"1" maxLength:"64" doc:"The body"`
	XM      float64 `json:"xM" minimum:"-1000" maximum:"1000" doc:"Its middle along the area, from the middle of the area, m"`
	YM      float64 `json:"yM" minimum:"-1000" maximum:"1000" doc:"Across the area, m"`
	HeightM float64 `json:"heightM" minimum:"-20" maximum:"1000" doc:"Above the lit plane, the ground, or the surface of the water, m"`
	TiltDeg float64 `json:"tiltDeg,omitempty" minimum:"-180" maximum:"180" doc:"How far it leans from looking straight down, degrees: 90 is level, 180 up"`
	TurnDeg float64 `json:"turnDeg,omitempty" minimum:"-360" maximum:"360" doc:"Towards where it leans, degrees round from the length of the area"`
	RollDeg float64 `json:"rollDeg,omitempty" minimum:"-360" maximum:"360" doc:"How far it is turned about the way it looks, degrees"`
}

// StandsOf are where a body is, in the order they are listed.
func (v *Variant) StandsOf(body string) (out []Stand) {
	for _, s := range v.Stands {
		if s.BodyID == body {
			out = append(out, s)
		}
	}
	return out
}
