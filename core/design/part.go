package design

// An Emitter is an LED package as its datasheet, or three readings at the bench,
// describe it.
type Emitter struct {
	Colour         string         `json:"colour,omitempty" enum:"white,warm-white,blue,cyan,green,amber,red,deep-red,far-red,violet" doc:"Colour, as it looks"`
	Forward        []ForwardPoint `json:"forward" nullable:"false" minItems:"1" maxItems:"500" doc:"Forward curve, current rising; three points make a usable emitter"`
	VfRefTempC     float64        `json:"vfRefTempC" minimum:"-60" maximum:"200" doc:"Junction temperature the forward curve is quoted at, °C"`
	VfVPerK        *float64       `json:"vfTempCoeffVPerK,omitempty" minimum:"-0.2" maximum:"0" doc:"Change of forward voltage with junction temperature, V/K; absent: −2 mV/K for each junction in series"`
	JunctionsSer   int            `json:"junctionsInSeries,omitempty" minimum:"0" maximum:"400" doc:"Dies in series inside the package; 0 is taken as 1"`
	RatedCurrentA  *float64       `json:"ratedCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Nominal current, A"`
	MaxCurrentA    *float64       `json:"maxCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Absolute maximum current, A"`
	MaxJunctionC   *float64       `json:"maxJunctionC,omitempty" minimum:"20" maximum:"300" doc:"Highest junction temperature, °C"`
	FluxLm         *float64       `json:"fluxLm,omitempty" minimum:"0" maximum:"1e6" doc:"Luminous flux, lm, at fluxCurrentA and fluxRefTempC"`
	FluxCurrentA   *float64       `json:"fluxCurrentA,omitempty" minimum:"0.00001" maximum:"200" doc:"Current the flux is quoted at, A"`
	FluxRefTempC   float64        `json:"fluxRefTempC" minimum:"-60" maximum:"200" doc:"Junction temperature the flux is quoted at, °C"`
	FluxCurrent    []RatioPoint   `json:"fluxAgainstCurrent,omitempty" nullable:"false" maxItems:"200" doc:"Relative flux against current, x in A"`
	FluxTemp       []RatioPoint   `json:"fluxAgainstTemp,omitempty" nullable:"false" maxItems:"200" doc:"Relative flux against junction temperature, x in °C"`
	EfficacyLmPerW *float64       `json:"radiationEfficacyLmPerW,omitempty" minimum:"1" maximum:"683" doc:"Lumens per watt of radiated power, from the spectrum; absent: radiant watts cannot be told and all input counts as heat"`
	RthKPerW       *float64       `json:"rThKPerW,omitempty" minimum:"0" maximum:"1000" doc:"Thermal resistance junction to case, K/W"`
	RthBasis       string         `json:"rThBasis,omitempty" enum:"electric,real" doc:"Watts it is quoted per: electric input, or real heat (JESD51-51); absent: real"`
	HeatJPerK      *float64       `json:"heatCapacityJPerK,omitempty" minimum:"0" maximum:"1000" doc:"Heat capacity of die and package, J/K"`
	Rows           int            `json:"rows,omitempty" minimum:"0" maximum:"400" doc:"Rows of dies in parallel inside the package; 0 is taken as 1"`
	VfBinV         *float64       `json:"vfBinV,omitempty" minimum:"0" maximum:"5" doc:"Forward voltage spreads by ± this, V"`
	FluxBin        *float64       `json:"fluxBin,omitempty" minimum:"0" maximum:"1" doc:"Flux spreads by ± this share"`
	Size           string         `json:"size,omitempty" maxLength:"30" doc:"Size; a generic code such as 3535"`
	LensMount      string         `json:"lensMount,omitempty" maxLength:"60" doc:"What lens or reflector fits it"`
	Maintenance    []Maintenance  `json:"lumenMaintenance,omitempty" nullable:"false" maxItems:"200" doc:"Tested lumen maintenance, for each case temperature hours rising"`
	Spectrum       *Spectrum      `json:"spectrum,omitempty" doc:"Spectrum; used if no radiationEfficacyLmPerW is given"`
	Board          bool           `json:"wholeBoard,omitempty" doc:"Whether it is a whole board read at its wires: series, strings and boards inside it are in its figures"`
	Claimed        *Claim         `json:"claimed,omitempty" doc:"What label or seller say of it, to stand beside what was measured"`
}

// A Claim is what is said of an emitter by its label or its seller; nothing is computed
// from it.
type Claim struct {
	VoltageV *float64 `json:"voltageV,omitempty" minimum:"0" maximum:"1000" doc:"Forward voltage, V"`
	CurrentA *float64 `json:"currentA,omitempty" minimum:"0" maximum:"200" doc:"At this current, A"`
	PowerW   *float64 `json:"powerW,omitempty" minimum:"0" maximum:"1e5" doc:"Electric power, W"`
	FluxLm   *float64 `json:"fluxLm,omitempty" minimum:"0" maximum:"1e6" doc:"Light, lm"`
}

// Maintenance is one reading of a test of lumen maintenance (LM-80).
type Maintenance struct {
	CaseC float64 `json:"caseC" minimum:"0" maximum:"200" doc:"Case temperature of the test, °C"`
	Hours float64 `json:"hours" minimum:"0" maximum:"1e6" doc:"Hours lit"`
	Ratio float64 `json:"ratio" minimum:"0.01" maximum:"2" doc:"Light over that at the start"`
}

// A Spectrum is the shape of what an emitter radiates: exactly one of a line, a
// white or a table.
type Spectrum struct {
	PeakNm  *float64        `json:"peakNm,omitempty" minimum:"200" maximum:"1100" doc:"Monochromatic: wavelength of the peak, nm"`
	WidthNm *float64        `json:"widthNm,omitempty" minimum:"1" maximum:"300" doc:"Its full width at half maximum, nm; absent: 20"`
	WhiteK  *float64        `json:"whiteK,omitempty" minimum:"1800" maximum:"12000" doc:"White: correlated colour temperature, K"`
	Table   []SpectrumPoint `json:"table,omitempty" nullable:"false" maxItems:"1000" doc:"Measured: relative power, wavelength rising"`
}

// A SpectrumPoint is one point of a measured spectrum.
type SpectrumPoint struct {
	Nm       float64 `json:"nm" minimum:"200" maximum:"1100" doc:"Wavelength, nm"`
	Relative float64 `json:"relative" minimum:"0" maximum:"1e9" doc:"Power per nm, any scale"`
}

// A Strip is flexible strip sold by the metre: segments of LEDs and resistors in
// parallel along two copper tracks, to be cut between segments.
type Strip struct {
	VoltageV  float64   `json:"voltageV" minimum:"1" maximum:"400" doc:"Rated voltage, V"`
	PerMetreW *float64  `json:"powerWPerM,omitempty" minimum:"0.01" maximum:"200" doc:"Power of a short piece at the rated voltage, W/m"`
	PerMetreA *float64  `json:"currentAPerM,omitempty" minimum:"0.0001" maximum:"50" doc:"Or its current, A/m"`
	CutM      float64   `json:"cutM" minimum:"0.001" maximum:"5" doc:"Length of a segment: where it may be cut, m"`
	LoopOhm   *float64  `json:"loopOhmPerM,omitempty" minimum:"0" maximum:"100" doc:"Copper, there and back, Ω/m; absent: the drop along it is not known"`
	KneeV     *float64  `json:"kneeV,omitempty" minimum:"0" maximum:"400" doc:"Voltage at which a segment begins to light, V; absent: 77 % of the rated voltage"`
	FluxLmPer *float64  `json:"fluxLmPerM,omitempty" minimum:"0" maximum:"1e5" doc:"Light of a short piece at the rated voltage, lm/m"`
	Spectrum  *Spectrum `json:"spectrum,omitempty" doc:"Spectrum; absent: radiated watts cannot be told and all input counts as heat"`
	WidthM    *float64  `json:"widthM,omitempty" minimum:"0.001" maximum:"1" doc:"Width, m"`
	PitchM    *float64  `json:"pitchM,omitempty" minimum:"0.0005" maximum:"1" doc:"From one emitter on it to the next, m"`
	LongestM  *float64  `json:"longestRunM,omitempty" minimum:"0.01" maximum:"100" doc:"Longest run the maker allows from one end, m"`
}

// A ForwardPoint is one point of a forward curve.
type ForwardPoint struct {
	CurrentA float64 `json:"currentA" minimum:"1e-9" maximum:"200" doc:"Forward current, A"`
	VoltageV float64 `json:"voltageV" minimum:"0.1" maximum:"1000" doc:"Forward voltage, V"`
	// A reading at another temperature than the curve's: by its junction, or by its case.
	JunctionC *float64 `json:"junctionC,omitempty" minimum:"-60" maximum:"200" doc:"Junction temperature of this reading, °C: quick and cold, that of the air; absent: that of the curve"`
	CaseC     *float64 `json:"caseC,omitempty" minimum:"-60" maximum:"200" doc:"Or the temperature of its case or sink then, warm and steady, °C: its own heat is added"`
}

// A RatioPoint is a point of a relative curve.
type RatioPoint struct {
	X     float64 `json:"x" minimum:"-100" maximum:"1000" doc:"Where"`
	Ratio float64 `json:"ratio" minimum:"0" maximum:"100" doc:"Relative to the reference condition"`
}

// A Driver is what stands between a source and emitters: one of the families of
// package driver.
type Driver struct {
	Family         string            `json:"family" enum:"none,resistor,dropper,linear,buck,boost,buck-boost,window,voltage" doc:"Family; none: straight through; resistor; dropper: a fixed voltage in series; linear: constant current, series pass; buck, boost, buck-boost: constant current, switching down, up, both ways; window: constant current from the mains inside a window of output voltage; voltage: constant voltage with a current limit"`
	Topology       string            `json:"topology,omitempty" enum:"step-down,step-up,either" doc:"Direction of conversion (family voltage); absent: step-down"`
	SetCurrentA    *float64          `json:"setCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Output current as supplied, A; of one channel"`
	MinCurrentA    *float64          `json:"minCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Lowest current it can be set to, A"`
	MaxCurrentA    *float64          `json:"maxCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Highest current it can be set to or bears, A"`
	SetVoltageV    *float64          `json:"setVoltageV,omitempty" minimum:"0" maximum:"1000" doc:"Output voltage as supplied, V (family voltage)"`
	MinVoltageV    *float64          `json:"minVoltageV,omitempty" minimum:"0" maximum:"1000" doc:"Lowest output voltage: of its setting, or of its window, V"`
	MaxVoltageV    *float64          `json:"maxVoltageV,omitempty" minimum:"0" maximum:"1000" doc:"Highest output voltage: of its setting, or of its window, V"`
	MaxOutputW     *float64          `json:"maxOutputW,omitempty" minimum:"0" maximum:"1e5" doc:"Rated output, W: not held by the supply itself"`
	HeldOutputW    *float64          `json:"heldOutputW,omitempty" minimum:"0.001" maximum:"1e5" doc:"Output it holds itself to, W, by lowering its voltage (family voltage); absent: it does not"`
	FoldbackA      *float64          `json:"foldbackA,omitempty" minimum:"0" maximum:"200" doc:"Current its limit folds back to at no voltage, A (family voltage); absent: it does not fold back"`
	Limits         []LimitPoint      `json:"limitPoints,omitempty" nullable:"false" maxItems:"100" doc:"Current it can give against output voltage, as its data draw it, voltage rising (family voltage); held beyond its ends"`
	PowerFactor    *float64          `json:"powerFactor,omitempty" minimum:"0.1" maximum:"1" doc:"Watts over volt-amperes on the mains"`
	Isolated       *bool             `json:"isolated,omitempty" doc:"Whether its output is isolated from the mains"`
	ResistanceOhm  *float64          `json:"resistanceOhm,omitempty" minimum:"0" maximum:"1e6" doc:"Series resistance, Ω (family resistor)"`
	RatedW         *float64          `json:"ratedW,omitempty" minimum:"0" maximum:"1e4" doc:"What the resistor may dissipate, W"`
	HeadroomV      *float64          `json:"headroomV,omitempty" minimum:"0" maximum:"50" doc:"Input must exceed output by this to regulate, V"`
	InputMinV      *float64          `json:"inputMinV,omitempty" minimum:"0" maximum:"1000" doc:"Lowest input, V: where the driver starts, and below which it lets go"`
	InputMaxV      *float64          `json:"inputMaxV,omitempty" minimum:"0" maximum:"1000" doc:"Highest input, V"`
	RestartV       *float64          `json:"restartV,omitempty" minimum:"0" maximum:"1000" doc:"Input at which it starts, V, if that is not inputMinV, where it then lets go; absent: it starts at inputMinV and lets go 5 % lower"`
	Efficiency     *float64          `json:"efficiency,omitempty" minimum:"0.05" maximum:"1" doc:"One known efficiency"`
	EfficiencyAtA  *float64          `json:"efficiencyAtA,omitempty" minimum:"0" maximum:"200" doc:"Output current it holds at, A, of one channel; absent: that of the light at its nominal point, undimmed"`
	EfficiencyInV  *float64          `json:"efficiencyAtInputV,omitempty" minimum:"0" maximum:"1000" doc:"Input voltage it holds at, V; absent: that of the light at its nominal point"`
	EfficiencyOut  *float64          `json:"efficiencyAtOutputV,omitempty" minimum:"0" maximum:"1000" doc:"Output voltage it holds at, V; absent: that of the light at its nominal point"`
	EfficiencyFlat bool              `json:"efficiencyFlat,omitempty" doc:"Whether it holds at any input and load, as it is given"`
	Efficiencies   []EfficiencyPoint `json:"efficiencyPoints,omitempty" nullable:"false" maxItems:"200" doc:"Efficiency against input and load, as measured or drawn; used as given, straight between and held beyond its ends, in the place of the one efficiency"`
	QuiescentA     *float64          `json:"quiescentA,omitempty" minimum:"0" maximum:"10" doc:"Its own draw beside the current it passes, A"`
	MaxCaseC       *float64          `json:"maxCaseC,omitempty" minimum:"20" maximum:"300" doc:"Highest temperature of the body it sits on, °C"`

	DropV       *float64  `json:"dropV,omitempty" minimum:"0" maximum:"400" doc:"Voltage that a dropper takes, V"`
	Channels    int       `json:"channels,omitempty" minimum:"0" maximum:"64" doc:"Equal channels; 0 is taken as 1"`
	Tieable     bool      `json:"tieable,omitempty" doc:"Whether channels may be tied to add their currents"`
	Tolerance   *float64  `json:"tolerance,omitempty" minimum:"0" maximum:"1" doc:"Set current is within ± this share"`
	LineRegPerV *float64  `json:"lineRegulationPerV,omitempty" minimum:"0" maximum:"1" doc:"Share by which the output changes for each volt of input"`
	Dimming     string    `json:"dimming,omitempty" enum:"none,pots,three-in-one,analog,pwm,phase-cut" doc:"Dimming"`
	CutEdge     string    `json:"cutEdge,omitempty" enum:"leading,trailing,either" doc:"Edge of the wave that a phase-cut dimmer before it may cut; absent: not said"`
	DimFloor    *float64  `json:"dimFloor,omitempty" minimum:"0" maximum:"1" doc:"Lowest share of the set current it can be dimmed to, stated or measured"`
	AnalogOnV   *float64  `json:"analogOnV,omitempty" minimum:"0" maximum:"50" doc:"Control voltage at which it begins, V"`
	AnalogFullV *float64  `json:"analogFullV,omitempty" minimum:"0" maximum:"50" doc:"Control voltage at which it is full on, V"`
	PWMMaxHz    *float64  `json:"pwmMaxHz,omitempty" minimum:"1" maximum:"1e7" doc:"Highest switching frequency its enable follows, Hz"`
	RiseS       *float64  `json:"riseS,omitempty" minimum:"0" maximum:"1" doc:"Time its current needs to rise, s"`
	ProgramV    *float64  `json:"programV,omitempty" minimum:"0.0001" maximum:"1e5" doc:"Reference voltage of the resistor that sets its current, V: the current is programFactor times this over the resistor"`
	ProgramK    *float64  `json:"programFactor,omitempty" minimum:"1e-6" maximum:"1e6" doc:"Factor of that current, k of I = k·Vref/R; absent: 1"`
	ProgramTol  *float64  `json:"programTolerance,omitempty" minimum:"0" maximum:"1" doc:"Tolerance of that voltage, share"`
	JumperA     []float64 `json:"jumperCurrentsA,omitempty" nullable:"false" maxItems:"32" doc:"Currents its jumpers choose from, A"`
	MinLoadW    *float64  `json:"minLoadW,omitempty" minimum:"0" maximum:"1e5" doc:"Least load it needs, W"`
	OpenOutputV *float64  `json:"openOutputV,omitempty" minimum:"0" maximum:"1000" doc:"Output voltage without load, V"`
	Class       string    `json:"class,omitempty" enum:"I,II,III" doc:"Protection class (IEC 61140): I needs the earth, II is doubly insulated, III runs from safety extra-low voltage"`
	Protections []string  `json:"protections,omitempty" nullable:"false" maxItems:"12" doc:"Protections: short, open, reverse, heat"`
	StandbyW    *float64  `json:"standbyW,omitempty" minimum:"0" maximum:"1000" doc:"Draw while it is fed and dimmed to nothing, W"`
	Ripple      *float64  `json:"ripple,omitempty" minimum:"0" maximum:"1" doc:"Modulation of its light at twice the line frequency, (max − min)/(max + min)"`
	Note        string    `json:"note,omitempty" maxLength:"500" doc:"Remarks, such as what it does outside its window"`
	DiameterM   *float64  `json:"diameterM,omitempty" minimum:"0" maximum:"10" doc:"Diameter of a round board, m"`
	LengthM     *float64  `json:"lengthM,omitempty" minimum:"0" maximum:"10" doc:"Length, m"`
	WidthM      *float64  `json:"widthM,omitempty" minimum:"0" maximum:"10" doc:"Width, m"`
	HeightM     *float64  `json:"heightM,omitempty" minimum:"0" maximum:"10" doc:"Height, m"`
}

// ProgramVolts is the set current times the resistor that sets it, V; 0: no resistor
// sets it.
func (d *Driver) ProgramVolts() float64 {
	switch {
	case d.ProgramV == nil:
		return 0
	case d.ProgramK == nil:
		return *d.ProgramV
	}
	return *d.ProgramV * *d.ProgramK
}

// An EfficiencyPoint is a point of a table of efficiency.
type EfficiencyPoint struct {
	InputV     *float64 `json:"inputV,omitempty" minimum:"0.1" maximum:"1000" doc:"Input voltage, V; absent: whatever it is"`
	CurrentA   float64  `json:"currentA" minimum:"0" maximum:"200" doc:"Output current, A"`
	Efficiency float64  `json:"efficiency" minimum:"0.01" maximum:"1" doc:"Output power over input power there"`
}

// A LimitPoint is a point of what a supply can give.
type LimitPoint struct {
	VoltageV float64 `json:"voltageV" minimum:"0" maximum:"1000" doc:"Output voltage, V"`
	CurrentA float64 `json:"currentA" minimum:"0" maximum:"200" doc:"Highest current there, A"`
}

// A Cell is one cell of a pack.
type Cell struct {
	Chemistry     string     `json:"chemistry" enum:"li-ion-4.2,li-ion-4.35,lifepo4,nimh,alkaline,zinc-carbon,lead-acid,lithium-3.0,lithium-1.5" doc:"Chemistry; gives the open-circuit voltage against charge"`
	Size          string     `json:"size,omitempty" maxLength:"30" doc:"Size; a generic code such as 18650"`
	CapacityAh    float64    `json:"capacityAh" minimum:"0.001" maximum:"10000" doc:"Capacity, Ah, measured or rated"`
	Health        *float64   `json:"health,omitempty" minimum:"0.05" maximum:"1.2" doc:"Share of the capacity still there; absent: 1"`
	ResistanceOhm float64    `json:"resistanceOhm" minimum:"0.00001" maximum:"100" doc:"Resistance at 25 °C and half charge, Ω"`
	PolarOhm      *float64   `json:"polarisationOhm,omitempty" minimum:"0" maximum:"100" doc:"Slow part of the resistance (R1), Ω"`
	PolarS        *float64   `json:"polarisationS,omitempty" minimum:"0.1" maximum:"1e5" doc:"Its time constant (R1·C1), s"`
	OCV           []OCVPoint `json:"openCircuit,omitempty" nullable:"false" maxItems:"200" doc:"Measured open-circuit curve; absent: typical of the chemistry"`
	MinV          *float64   `json:"minV,omitempty" minimum:"0" maximum:"5" doc:"Lowest voltage it may be drained to, V; absent: usual for the chemistry"`
	MaxDischargeA *float64   `json:"maxDischargeA,omitempty" minimum:"0" maximum:"1000" doc:"Highest continuous discharge current, A"`
	MaxC          *float64   `json:"maxC,omitempty" minimum:"0" maximum:"150" doc:"Highest cell temperature, °C; absent: 60"`
	MassKg        *float64   `json:"massKg,omitempty" minimum:"0" maximum:"50" doc:"Mass, kg"`

	FullV      *float64       `json:"fullV,omitempty" minimum:"0.5" maximum:"5" doc:"Highest voltage it may be charged to, V; absent: usual for the chemistry"`
	MaxChargeA *float64       `json:"maxChargeA,omitempty" minimum:"0" maximum:"1000" doc:"Highest charging current, A; absent: half its capacity an hour, common practice"`
	ChargeMinC *float64       `json:"chargeMinC,omitempty" minimum:"-60" maximum:"60" doc:"Not charged below, °C; absent: 0"`
	ChargeMaxC *float64       `json:"chargeMaxC,omitempty" minimum:"0" maximum:"100" doc:"Not charged above, °C; absent: 45"`
	AtLoads    []LoadCapacity `json:"capacityAgainstLoad,omitempty" nullable:"false" maxItems:"50" doc:"What it gives at several loads, current rising; absent: usual for the chemistry"`
	LossMonth  *float64       `json:"selfDischargePerMonth,omitempty" minimum:"0" maximum:"1" doc:"Share of its charge it loses by itself in a month; absent: usual for the chemistry"`
}

// An OCVPoint is one point of an open-circuit curve.
type OCVPoint struct {
	Charge   float64 `json:"charge" minimum:"0" maximum:"1" doc:"Fraction of full"`
	VoltageV float64 `json:"voltageV" minimum:"0" maximum:"5" doc:"Resting voltage, V"`
}
