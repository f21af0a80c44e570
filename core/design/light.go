// Package design is the vocabulary of a light: the document that says which
// parts it is made of, how they are wired and mounted, what it must do and under
// which conditions it is judged. It reads, checks and writes that document; it
// computes nothing.
//
// Field names carry their unit. A pointer field may be absent: an incomplete
// light is legal, and the solver says what it cannot compute and what is missing.
// The struct tags minimum, maximum, maxLength and maxItems are the physical
// ranges; both the decoder and the published JSON Schema read them.
package design

// Format and Version identify a light file. Every release that adds a field
// raises Version.
const (
	Format  = "photherm/light"
	Version = 11
)

// A Light is the whole document. It is self-contained: parts are copied in, so
// that a file means the same next year.
type Light struct {
	Format     string     `json:"format" enum:"photherm/light" doc:"Always photherm/light"`
	Version    int        `json:"version" minimum:"1" doc:"Version of the format"`
	Name       string     `json:"name" minLength:"1" maxLength:"120" doc:"What the light is called"`
	Note       string     `json:"note,omitempty" maxLength:"4000" doc:"Free text"`
	Progress   string     `json:"progress,omitempty" enum:"idea,parts,built,measured" doc:"How far the light has come"`
	Brief      Brief      `json:"brief" doc:"What the light must do"`
	Conditions Conditions `json:"conditions" doc:"Where and how it is judged"`
	Scene      *Scene     `json:"scene,omitempty" doc:"Where its light is wanted"`
	Parts      []Part     `json:"parts" nullable:"false" maxItems:"200" doc:"Copies of the parts the variants refer to"`
	Variants   []Variant  `json:"variants" nullable:"false" minItems:"1" maxItems:"20" doc:"Ways of building it; the first is the main one"`
}

// A Brief says what is wanted; each figure may be absent.
type Brief struct {
	OutputLm *float64 `json:"outputLm,omitempty" minimum:"0" maximum:"1e7" doc:"Wanted luminous flux, lm, 30 s after switch-on"`
	RuntimeH *float64 `json:"runtimeH,omitempty" minimum:"0" maximum:"1e5" doc:"Wanted hours to half the light"`
	TouchC   *float64 `json:"touchC,omitempty" minimum:"20" maximum:"100" doc:"Highest temperature of what a hand touches, °C; absent: 48 °C if held, 65 °C if not"`

	PeakCd     *float64 `json:"peakCd,omitempty" minimum:"0" maximum:"1e9" doc:"Wanted peak of the beam, cd"`
	BeamM      *float64 `json:"beamM,omitempty" minimum:"0" maximum:"1e5" doc:"Wanted beam distance, m (to 0.25 lx)"`
	Lux        *float64 `json:"lux,omitempty" minimum:"0" maximum:"1e6" doc:"Wanted illuminance over the area, lx"`
	PPFD       *float64 `json:"ppfdUmolPerM2S,omitempty" minimum:"0" maximum:"1e4" doc:"Wanted photon flux density over the area, µmol/(m²·s)"`
	AreaM      *float64 `json:"areaLengthM,omitempty" minimum:"0" maximum:"1e4" doc:"Length of the area to be lit, m"`
	AreaAcrM   *float64 `json:"areaWidthM,omitempty" minimum:"0" maximum:"1e4" doc:"Its width, m"`
	EmptyH     *float64 `json:"emptyH,omitempty" minimum:"0" maximum:"1e5" doc:"Wanted hours until the pack is empty"`
	HoursADay  *float64 `json:"hoursADay,omitempty" minimum:"0" maximum:"24" doc:"Hours lit a day: a night, a photoperiod"`
	RoomDiamM  *float64 `json:"roomDiameterM,omitempty" minimum:"0" maximum:"100" doc:"Room there is, diameter, m"`
	RoomLongM  *float64 `json:"roomLengthM,omitempty" minimum:"0" maximum:"100" doc:"Room there is, length, m"`
	RoomThickM *float64 `json:"roomThicknessM,omitempty" minimum:"0" maximum:"100" doc:"Room there is, thickness, m"`
	MassKg     *float64 `json:"massKg,omitempty" minimum:"0" maximum:"1e4" doc:"What it may weigh, kg"`
	Money      *float64 `json:"money,omitempty" minimum:"0" maximum:"1e7" doc:"What it may cost, in the builder's own money"`
	Wet        string   `json:"wet,omitempty" enum:"dry,damp,splashed,under-water" doc:"How wet it gets"`
	Was        string   `json:"was,omitempty" enum:"bulb,tube,flame" doc:"What made the light in an old lamp that is rebuilt"`
	Keeps      []string `json:"keeps,omitempty" nullable:"false" maxItems:"10" doc:"What of the old lamp stays: switch, reflector, housing"`
}

// Conditions are the circumstances of the question, the same for all variants.
type Conditions struct {
	AmbientC   float64  `json:"ambientC" minimum:"-60" maximum:"80" doc:"Air temperature, °C"`
	StartC     *float64 `json:"startC,omitempty" minimum:"-60" maximum:"120" doc:"Temperature of the light at switch-on, °C; absent: ambient"`
	Charge     *float64 `json:"charge,omitempty" minimum:"0" maximum:"1" doc:"Charge of the packs at switch-on, fraction; absent: full"`
	Handheld   bool     `json:"handheld,omitempty" doc:"Whether a hand holds the light while it is lit"`
	NearWater  bool     `json:"nearWater,omitempty" doc:"Whether it hangs over, or in, water"`
	AltitudeM  *float64 `json:"altitudeM,omitempty" minimum:"-400" maximum:"9000" doc:"Altitude, m: thin air carries less heat away; absent: sea level"`
	SunWPerM2  *float64 `json:"sunWPerM2,omitempty" minimum:"0" maximum:"1500" doc:"Sun on what stands in it, W/m²; absent: shade"`
	HeatSchool string   `json:"heatSchool,omitempty" enum:"radiant,all-input" doc:"radiant (default): heat is input minus light; all-input: every watt is heat, the safe side"`
}

// A Part is a component's data, with where it came from. Exactly one of the data
// fields is set.
type Part struct {
	ID      string        `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in this light"`
	Name    string        `json:"name" minLength:"1" maxLength:"120" doc:"Descriptive name"`
	Note    string        `json:"note,omitempty" maxLength:"2000" doc:"Free text"`
	Basis   string        `json:"basis,omitempty" enum:"datasheet,measured,guess" doc:"Where the figures come from"`
	Origin  *Origin       `json:"origin,omitempty" doc:"The cabinet part this is a copy of"`
	Emitter *Emitter      `json:"emitter,omitempty"`
	Driver  *Driver       `json:"driver,omitempty"`
	Cell    *Cell         `json:"cell,omitempty"`
	Strip   *Strip        `json:"strip,omitempty"`
	Load    *MeasuredLoad `json:"load,omitempty"`
	Profile *Profile      `json:"profile,omitempty"`
	Protect *Protection   `json:"protection,omitempty"`
	Charger *Charger      `json:"charger,omitempty"`
	Price   *float64      `json:"price,omitempty" minimum:"0" maximum:"1e6" doc:"What one costs, in the builder's own money (strip and profile: a metre)"`
}

// Origin names the cabinet part a copy was made from and its state at the time.
type Origin struct {
	ID   string `json:"id" maxLength:"64" doc:"Id in the cabinet"`
	Hash string `json:"hash" maxLength:"128" doc:"Hash of the data when it was copied"`
}

// A Variant is one way of building the light: bodies that carry heat and feeds
// that bring power.
type Variant struct {
	ID     string `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in this light"`
	Name   string `json:"name" minLength:"1" maxLength:"120" doc:"Descriptive name"`
	Bodies []Body `json:"bodies" nullable:"false" maxItems:"50" doc:"Sinks, housings, tubes"`
	Feeds  []Feed `json:"feeds" nullable:"false" maxItems:"20" doc:"Where power comes in, each with the tree it feeds"`

	Stands  []Stand  `json:"stands,omitempty" nullable:"false" maxItems:"200" doc:"Where its bodies hang or stand; none: as is usual for what is looked at"`
	Layouts []Layout `json:"layouts,omitempty" nullable:"false" maxItems:"50" doc:"Where things sit on bodies"`

	SetUp     []Done `json:"setUp,omitempty" nullable:"false" maxItems:"500" doc:"Steps at the bench that were done, with what was read, in the sitting that is open"`
	SetUpNote string `json:"setUpNote,omitempty" maxLength:"4000" doc:"What was seen in the sitting that is open"`

	Sessions []Session `json:"sessions,omitempty" nullable:"false" maxItems:"50" doc:"Sittings at the bench that are closed, the last one last"`

	Corrected []Correction `json:"corrected,omitempty" nullable:"false" maxItems:"50" doc:"Calibration: figures as readings have them, beside what the document says; where the light is solved these rule"`

	Claims *Claims `json:"claims,omitempty" doc:"What its seller, or its label, says of it"`

	Note    string       `json:"note,omitempty" maxLength:"4000" doc:"Remarks on this way of building it"`
	Assumed []Assumption `json:"assumed,omitempty" nullable:"false" maxItems:"200" doc:"Figures nobody gave: typical ones stand there"`

	Measured []Assumption `json:"measured,omitempty" nullable:"false" maxItems:"200" doc:"Figures that a reading at the bench stands for"`
}

// An Assumption says that a typical figure stands where nothing was given; among what is
// measured, that what was read stands there.
type Assumption struct {
	At  string `json:"at" minLength:"1" maxLength:"300" doc:"Path of the figure, through ids: within the variant, or /parts/… or /conditions/… of the light"`
	Why string `json:"why" minLength:"1" maxLength:"300" doc:"Why this figure"`
}

// Done records a step at the bench.
type Done struct {
	Node    string   `json:"node" minLength:"1" maxLength:"64" doc:"Id of the node, feed or body it is about"`
	Step    string   `json:"step" minLength:"1" maxLength:"64" doc:"Name of the step"`
	Ticked  bool     `json:"ticked,omitempty" doc:"Whether it was done"`
	Reading *float64 `json:"reading,omitempty" minimum:"-1e6" maximum:"1e6" doc:"What was read, in the unit of the step"`
	To      *float64 `json:"to,omitempty" minimum:"-1e6" maximum:"1e6" doc:"What it moved to while it was looked at; absent: it stood"`
	With    string   `json:"with,omitempty" maxLength:"32" doc:"Id of the tool it was read with; absent: the best of them"`
	Sure    bool     `json:"sure,omitempty" doc:"Whether it was asked about and is meant as it stands"`
	Note    string   `json:"note,omitempty" maxLength:"300" doc:"Remark"`
}

// Claims are what is stated of a light, or of a part of it, as it is stated.
type Claims struct {
	PowerW     *float64 `json:"powerW,omitempty" minimum:"0.001" maximum:"1e5" doc:"Stated watts"`
	FluxLm     *float64 `json:"fluxLm,omitempty" minimum:"0.1" maximum:"1e7" doc:"Stated light, lm"`
	RuntimeH   *float64 `json:"runtimeH,omitempty" minimum:"0.01" maximum:"1e5" doc:"Stated hours at that light"`
	CapacityAh *float64 `json:"capacityAh,omitempty" minimum:"0.001" maximum:"1e4" doc:"Stated capacity of a cell, Ah"`
	CellSize   string   `json:"cellSize,omitempty" maxLength:"32" doc:"Size of its cells, as 18650 or AA"`
	Cells      int      `json:"cells,omitempty" minimum:"0" maximum:"100" doc:"How many cells; 0: not said"`
	EnergyWh   *float64 `json:"energyWh,omitempty" minimum:"0.001" maximum:"1e6" doc:"Stated energy of its pack, Wh"`
	MeasuredV  *float64 `json:"measuredV,omitempty" minimum:"0" maximum:"1000" doc:"Voltage at which its draw was read, V"`
	MeasuredA  *float64 `json:"measuredA,omitempty" minimum:"0" maximum:"1000" doc:"Draw that was read there, A"`
	MeasuredW  *float64 `json:"measuredW,omitempty" minimum:"0" maximum:"1e5" doc:"Power that was read, W"`
}

// A Session is a sitting at the bench that is closed.
type Session struct {
	ID   string `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in the variant"`
	Name string `json:"name" minLength:"1" maxLength:"120" doc:"What it was, and when"`
	Done []Done `json:"done" nullable:"false" maxItems:"500" doc:"What was done and read"`
	Note string `json:"note,omitempty" maxLength:"4000" doc:"What was seen"`
}

// A Correction is a figure as readings have it, beside the document.
type Correction struct {
	At     string  `json:"at" minLength:"1" maxLength:"300" doc:"Path of the figure, through ids: within the variant, or /parts/… of the light"`
	Label  string  `json:"label" minLength:"1" maxLength:"200" doc:"What it is, in words"`
	Value  float64 `json:"value" minimum:"-1e9" maximum:"1e9" doc:"What it is by the readings, in the unit of the figure"`
	Was    float64 `json:"was" minimum:"-1e9" maximum:"1e9" doc:"What the document said"`
	Within float64 `json:"within" minimum:"0" maximum:"1e9" doc:"± what the readings leave open"`
	By     string  `json:"by,omitempty" maxLength:"300" doc:"The readings, in words"`
}

// A Feed is a place where power enters: the sources it must accept and what
// hangs on it. The light runs from the first source; limits are judged over all.
type Feed struct {
	ID      string   `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in the variant"`
	Name    string   `json:"name,omitempty" maxLength:"120" doc:"Descriptive name"`
	Sources []Source `json:"sources" nullable:"false" maxItems:"20" doc:"Every source it must accept; the first is in use"`
	Loads   []Node   `json:"loads" nullable:"false" maxItems:"50" doc:"What hangs on this feed"`
}

// A Source is a pack of cells, a supply rail or the mains. None set: not chosen yet.
type Source struct {
	ID     string  `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in the variant"`
	Name   string  `json:"name,omitempty" maxLength:"120" doc:"Descriptive name"`
	Pack   *Pack   `json:"pack,omitempty"`
	Supply *Supply `json:"supply,omitempty"`
	Mains  *Mains  `json:"mains,omitempty"`
}

// Mains is the wall socket.
type Mains struct {
	VoltageV    float64 `json:"voltageV" minimum:"80" maximum:"300" doc:"Effective voltage, V"`
	FrequencyHz float64 `json:"frequencyHz" minimum:"40" maximum:"70" doc:"Line frequency, Hz"`
}

// A Pack is series × parallel equal cells with everything between them and the
// light's first contact.
type Pack struct {
	PartID      string   `json:"partId,omitempty" maxLength:"64" doc:"The cell; absent: not chosen yet"`
	Series      int      `json:"series" minimum:"1" maximum:"200" doc:"Cells in series"`
	Parallel    int      `json:"parallel" minimum:"1" maximum:"200" doc:"Strings in parallel"`
	ContactOhm  float64  `json:"contactOhm,omitempty" minimum:"0" maximum:"10" doc:"Springs, strip and wires of the whole pack, Ω"`
	CutoffCellV *float64 `json:"cutoffCellV,omitempty" minimum:"0" maximum:"5" doc:"Something cuts the cells off at this voltage a cell; absent: its protection board, or where there is none nothing"`
	BodyID      string   `json:"bodyId,omitempty" maxLength:"64" doc:"The body the cells sit in; absent: loose in the air"`

	ReleaseCellV *float64 `json:"releaseCellV,omitempty" minimum:"0" maximum:"5" doc:"After a cut-off protection switches on again once a resting cell is above this voltage; absent: it stays off"`
	CutoffDelayS *float64 `json:"cutoffDelayS,omitempty" minimum:"0" maximum:"3600" doc:"How long a cell may stay below the cut-off before protection cuts, s; absent: no time"`

	Groups       []CellGroup `json:"groups,omitempty" nullable:"false" maxItems:"200" doc:"The series groups of its cells, each measured by itself; absent: all are as the part"`
	ProtectionID string      `json:"protectionId,omitempty" maxLength:"64" doc:"The protection board; absent: none but what is said here"`
	Charger      *ChargerUse `json:"charger,omitempty" doc:"What charges it; absent: it is taken out to be charged"`
	Build        string      `json:"build,omitempty" enum:"spot-welded,holders,existing-wires,soldered" doc:"How its cells are joined"`
	AlarmCellV   *float64    `json:"alarmCellV,omitempty" minimum:"0.5" maximum:"5" doc:"A gauge sounds where a cell falls below, V; it does not cut; absent: there is none"`
	AlarmPackV   *float64    `json:"alarmPackV,omitempty" minimum:"0.5" maximum:"1000" doc:"Or one that sounds where the whole pack falls below, V; it does not cut"`
	FuseA        *float64    `json:"fuseA,omitempty" minimum:"0.01" maximum:"1000" doc:"Fuse at the pack, A"`
}

// A Supply is a voltage behind a resistance: adapter, rail, bench supply.
type Supply struct {
	VoltageV      float64  `json:"voltageV" minimum:"0" maximum:"1000" doc:"Voltage without load, V"`
	ResistanceOhm float64  `json:"resistanceOhm,omitempty" minimum:"0" maximum:"1000" doc:"Source resistance, Ω"`
	MaxCurrentA   *float64 `json:"maxCurrentA,omitempty" minimum:"0" maximum:"1000" doc:"Current limit or rating, A"`
	Kind          string   `json:"kind,omitempty" enum:"adapter,rail,bench,power-bank" doc:"What it is; absent: an adapter"`
	KeepsOnA      *float64 `json:"keepsOnA,omitempty" minimum:"0" maximum:"10" doc:"It switches itself off where less than this is drawn for long, A (power bank)"`
	Unit          string   `json:"unit,omitempty" maxLength:"64" doc:"Name of the supply this is a rail of; rails of one name share its rating"`
	UnitMaxW      *float64 `json:"unitMaxW,omitempty" minimum:"0" maximum:"1e5" doc:"What all rails of that supply may give together, W"`
}

// A Node hangs on a bus, two wires at one voltage, and may make a bus of its own
// for the nodes below it. Exactly one of the kinds is set.
type Node struct {
	ID     string        `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in the variant"`
	Name   string        `json:"name,omitempty" maxLength:"120" doc:"Descriptive name"`
	Count  int           `json:"count,omitempty" minimum:"0" maximum:"1000" doc:"How many equal ones there are side by side, each with all that hangs on it; 0 is taken as 1"`
	BodyID string        `json:"bodyId,omitempty" maxLength:"64" doc:"The body this node's loss heats; absent: the surroundings"`
	Fault  *Fault        `json:"fault,omitempty" doc:"A fault put in on purpose"`
	Optic  *Optic        `json:"optic,omitempty" doc:"What its light leaves through, and where it sits and looks; of arrays, strips and loads"`
	Switch *Switch       `json:"switch,omitempty"`
	Driver *DriverUse    `json:"driver,omitempty"`
	Dimmer *Dimmer       `json:"dimmer,omitempty"`
	Array  *Array        `json:"array,omitempty"`
	Strip  *StripUse     `json:"strip,omitempty"`
	Load   *MeasuredLoad `json:"load,omitempty"`
	Aux    *Auxiliary    `json:"auxiliary,omitempty"`
	Loads  []Node        `json:"loads,omitempty" nullable:"false" maxItems:"50" doc:"What hangs on the bus this node makes"`
}

// A Fault is what is wrong at a node's connection.
type Fault struct {
	State     string  `json:"state,omitempty" enum:"ok,short,open" doc:"short bridges the node's two wires; open parts them"`
	SeriesOhm float64 `json:"seriesOhm,omitempty" minimum:"0" maximum:"1e6" doc:"Resistance in series with the node, Ω: a bad joint, a dirty contact"`
}

// A Switch opens or closes the way to what hangs below it.
type Switch struct {
	ContactOhm float64  `json:"contactOhm,omitempty" minimum:"0" maximum:"100" doc:"Contact resistance, Ω"`
	RatingA    *float64 `json:"ratingA,omitempty" minimum:"0" maximum:"1000" doc:"Rated current, A"`
	Open       bool     `json:"open,omitempty" doc:"Whether it is switched off"`
	Duty       *float64 `json:"duty,omitempty" minimum:"0" maximum:"1" doc:"Share of the time it is closed, where it switches on and off fast to dim; absent: 1"`
	DutyHz     *float64 `json:"frequencyHz,omitempty" minimum:"0.1" maximum:"1e7" doc:"How often it switches a second, Hz"`
}

// A DriverUse puts a driver part in the tree with the settings made on it.
type DriverUse struct {
	PartID        string   `json:"partId,omitempty" maxLength:"64" doc:"The driver; absent: not chosen yet"`
	SetCurrentA   *float64 `json:"setCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Set output current, A; absent: the part's own"`
	SetVoltageV   *float64 `json:"setVoltageV,omitempty" minimum:"0" maximum:"1000" doc:"Set output voltage, V (family voltage); absent: the part's own"`
	ResistanceOhm *float64 `json:"resistanceOhm,omitempty" minimum:"0" maximum:"1e6" doc:"Series resistor, Ω (family resistor); absent: the part's own"`
	ProgramOhm    *float64 `json:"programOhm,omitempty" minimum:"0.0001" maximum:"1e8" doc:"Resistance fitted to set the current, Ω; wins over setCurrentA"`
	TiedChannels  int      `json:"tiedChannels,omitempty" minimum:"0" maximum:"64" doc:"Channels tied together on this output; 0 is taken as 1"`
	Chip          string   `json:"chip,omitempty" maxLength:"64" doc:"Which one of its parts it is a channel of: drivers of one part with the same word here are outputs of the same one; absent: of one of its own"`
	Unearthed     bool     `json:"unearthed,omitempty" doc:"The earth terminal is left open"`
	Dimming       *Level   `json:"dimming,omitempty" doc:"How far it is dimmed"`
	Modes         []Mode   `json:"modes,omitempty" nullable:"false" maxItems:"20" doc:"Named levels to switch between: high, low, strobe"`
	Mode          string   `json:"mode,omitempty" maxLength:"60" doc:"Name of the mode in use; absent: dimming as above"`

	StepDown *StepDown `json:"stepDown,omitempty" doc:"How it goes down by itself; absent: it does not"`
}

// A StepDown lowers a driver by itself: after a time for good, or while it is hot.
type StepDown struct {
	To     float64  `json:"to" minimum:"0.01" maximum:"1" doc:"Share of its current that is left"`
	AtC    *float64 `json:"atC,omitempty" minimum:"0" maximum:"200" doc:"Temperature of its sensor from which it is lowered, °C; absent: not by heat"`
	BackC  *float64 `json:"backC,omitempty" minimum:"-40" maximum:"200" doc:"Temperature below which it is back, °C; absent: 5 K lower"`
	BodyID string   `json:"bodyId,omitempty" maxLength:"64" doc:"The body its sensor sits on; absent: that of the driver"`
	AfterS *float64 `json:"afterS,omitempty" minimum:"1" maximum:"1e7" doc:"Time after switch-on at which it is lowered for good, s; absent: not by time"`
}

// A Level is how far something is dimmed: its current lowered, or switched on and
// off, or both.
type Level struct {
	Current     *float64 `json:"current,omitempty" minimum:"0" maximum:"1" doc:"Share of the set current; absent: 1"`
	Duty        *float64 `json:"duty,omitempty" minimum:"0" maximum:"1" doc:"Share of the time it is on; absent: 1"`
	FrequencyHz *float64 `json:"frequencyHz,omitempty" minimum:"0.1" maximum:"1e7" doc:"How often it is switched a second, Hz"`
}

// A Mode is a named level.
type Mode struct {
	Name  string `json:"name" minLength:"1" maxLength:"60" doc:"What it is called"`
	Level Level  `json:"level"`
}

// A Dimmer is a phase-cut mains dimmer. Dimmable drivers below it follow its
// level.
type Dimmer struct {
	Level    float64  `json:"level" minimum:"0" maximum:"1" doc:"Where it stands"`
	Edge     string   `json:"edge,omitempty" enum:"leading,trailing" doc:"Which side of the wave it cuts"`
	MinLoadW *float64 `json:"minLoadW,omitempty" minimum:"0" maximum:"1e5" doc:"Least load it works with, W"`
	MaxLoadW *float64 `json:"maxLoadW,omitempty" minimum:"0" maximum:"1e5" doc:"Greatest load, W"`
}

// A StripUse is strip cut to pieces, each on the bus for itself or all of them chained.
type StripUse struct {
	PartID   string    `json:"partId,omitempty" maxLength:"64" doc:"The strip; absent: not chosen yet"`
	PiecesM  []float64 `json:"piecesM" nullable:"false" minItems:"1" maxItems:"50" doc:"Length of each piece, m"`
	BothEnds bool      `json:"bothEnds,omitempty" doc:"Whether each piece, or the chain, is fed from both its ends"`
	Chained  bool      `json:"chained,omitempty" doc:"Whether the pieces follow one another along the wire, in this order"`
	LinkOhm  *float64  `json:"linkOhm,omitempty" minimum:"0" maximum:"100" doc:"Leads from one chained piece to the next, there and back, Ω"`
	LeadOhm  *float64  `json:"leadOhm,omitempty" minimum:"0" maximum:"100" doc:"Leads to each fed end, there and back, Ω"`
	Joint    *Joint    `json:"joint,omitempty" doc:"Its adhesive, between all of it and the body it sits on; absent: perfect"`
}

// An Array is emitters in series × parallel on a board, count equal boards in
// parallel on the bus, an optic, and the way its heat takes to a body.
type Array struct {
	PartID         string    `json:"partId,omitempty" maxLength:"64" doc:"The emitter; absent: not chosen yet"`
	Series         int       `json:"series" minimum:"1" maximum:"500" doc:"Emitters in series in a string"`
	Parallel       int       `json:"parallel" minimum:"1" maximum:"500" doc:"Strings in parallel on a board"`
	Count          int       `json:"count,omitempty" minimum:"0" maximum:"500" doc:"Equal boards in parallel; 0 is taken as 1"`
	BoardKPerW     *float64  `json:"boardKPerW,omitempty" minimum:"0" maximum:"1000" doc:"One emitter's share of board or star, case to joint, K/W"`
	BoardJPerK     *float64  `json:"boardJPerK,omitempty" minimum:"0" maximum:"1e5" doc:"Heat capacity of one board with its emitters, J/K"`
	Joint          *Joint    `json:"joint,omitempty" doc:"Between one board and the body"`
	OpticEfficient *float64  `json:"opticEfficiency,omitempty" minimum:"0" maximum:"1" doc:"Share of the light that leaves the optic; absent: 1"`
	WantedA        *float64  `json:"wantedCurrentA,omitempty" minimum:"0" maximum:"200" doc:"Current wanted in each emitter, A, said before a driver is chosen; absent: its rating"`
	BeamDeg        *float64  `json:"beamDeg,omitempty" minimum:"0.1" maximum:"180" doc:"Full width of the beam at half maximum, degrees"`
	PackageRows    int       `json:"packageRows,omitempty" minimum:"0" maximum:"400" doc:"Rows of dies of the package really mounted, where it is a larger or smaller one of the same make; 0: as the part"`
	BallastOhm     *float64  `json:"ballastOhm,omitempty" minimum:"0" maximum:"1e5" doc:"Resistor in series with each string, Ω"`
	OffsetV        *float64  `json:"measuredOffsetV,omitempty" minimum:"-2" maximum:"2" doc:"Forward voltage of each emitter above its part's, V, as it was measured in this light"`
	SameBin        bool      `json:"sameBin,omitempty" doc:"Whether all emitters come from one bin or bag: half of the spread is then taken"`
	Mixed          []Mixed   `json:"mixed,omitempty" nullable:"false" maxItems:"7" doc:"Emitters of other kinds in series with these, in every string"`
	Unequal        []Strings `json:"unequal,omitempty" nullable:"false" maxItems:"500" doc:"Strings that differ from the rest"`
}

// MostKinds is how many kinds of emitters a string may hold beside the first.
const MostKinds = 7

// Mixed is a number of emitters of another kind in every string of an array.
type Mixed struct {
	PartID string `json:"partId,omitempty" maxLength:"64" doc:"The emitter; absent: not chosen yet"`
	Series int    `json:"series" minimum:"1" maximum:"500" doc:"How many of them in a string"`
}

// Strings says how some strings of an array differ from the rest.
type Strings struct {
	Strings    int      `json:"strings" minimum:"1" maximum:"250000" doc:"How many strings are like this"`
	Shorted    int      `json:"shorted,omitempty" minimum:"0" maximum:"500" doc:"Emitters in the string that conduct like a wire"`
	Open       bool     `json:"open,omitempty" doc:"An emitter or joint in the string is open: the string is dark"`
	At         int      `json:"at,omitempty" minimum:"0" maximum:"500" doc:"Which emitter of the string is shorted or open, counted from its plus; 0: not said"`
	OffsetV    float64  `json:"vfOffsetV,omitempty" minimum:"-2" maximum:"2" doc:"Forward voltage of each emitter above the part's, V"`
	HotterK    float64  `json:"hotterK,omitempty" minimum:"-100" maximum:"200" doc:"Junctions hotter than the rest by, K"`
	BallastOhm *float64 `json:"ballastOhm,omitempty" minimum:"0" maximum:"1e5" doc:"Resistor in series with the string, Ω; absent: the array's"`
}

// A Joint is a thermal interface: either its K/W is known, or it is a layer.
type Joint struct {
	KPerW         *float64 `json:"kPerW,omitempty" minimum:"0" maximum:"1000" doc:"Known resistance, K/W"`
	ThicknessM    *float64 `json:"thicknessM,omitempty" minimum:"0" maximum:"0.1" doc:"Layer thickness, m"`
	Conductivity  *float64 `json:"conductivityWPerMK,omitempty" minimum:"0.001" maximum:"3000" doc:"Layer conductivity, W/(m·K)"`
	AreaM2        *float64 `json:"areaM2,omitempty" minimum:"1e-8" maximum:"10" doc:"Contact area, m²"`
	Coverage      *float64 `json:"coverage,omitempty" minimum:"0.01" maximum:"1" doc:"Share of the area really wetted; absent: 1"`
	ContactM2KPer *float64 `json:"contactM2KPerW,omitempty" minimum:"0" maximum:"1" doc:"Contact resistance of both faces, m²·K/W"`
	MaxC          *float64 `json:"maxC,omitempty" minimum:"0" maximum:"500" doc:"Highest temperature the material bears, °C"`
}

// A MeasuredLoad is a load known by its draw alone: a module, a bulb, a strip with
// electronics of its own. In a tree it is a part, or carries its readings itself.
type MeasuredLoad struct {
	PartID  string      `json:"partId,omitempty" maxLength:"64" doc:"In a tree: the part; absent: the readings stand here"`
	Points  []LoadPoint `json:"points,omitempty" nullable:"false" maxItems:"500" doc:"Measured points, voltage rising; none: not measured yet"`
	Beyond  string      `json:"beyond,omitempty" enum:"slope,ohmic,current,power" doc:"How it goes on beyond its points: as its end slopes, as a resistance, holding its current, or above the last point holding its power; absent: slope"`
	Draws   *float64    `json:"measuredDraw,omitempty" minimum:"0.2" maximum:"5" doc:"In a tree: what it draws here as a share of its readings, as it was measured in this light"`
	FluxLm  *float64    `json:"fluxLm,omitempty" minimum:"0" maximum:"1e7" doc:"Light at the last point, lm"`
	MaxV    *float64    `json:"maxVoltageV,omitempty" minimum:"0" maximum:"1000" doc:"Highest voltage it is said to bear, V"`
	SteadyV *float64    `json:"steadyFromVoltageV,omitempty" minimum:"0" maximum:"1000" doc:"Lowest voltage at which its light is constant, V: from there up it holds the power and the light of its highest reading; absent: as its readings have it"`
}

// A LoadPoint is one reading of a measured load.
type LoadPoint struct {
	VoltageV      float64  `json:"voltageV" minimum:"0" maximum:"1000" doc:"Voltage at the load, V"`
	CurrentA      float64  `json:"currentA" minimum:"0" maximum:"1000" doc:"Current into it, A"`
	RelativeLight *float64 `json:"relativeLight,omitempty" minimum:"0" maximum:"100" doc:"Light relative to the last point"`
}

// An Auxiliary is anything that draws a steady current: fan, controller, gauge,
// indicator. Its power is heat.
type Auxiliary struct {
	Purpose  string   `json:"purpose,omitempty" enum:"fan,controller,alarm,indicator,protection,other" doc:"What it is"`
	CurrentA float64  `json:"currentA,omitempty" minimum:"0" maximum:"100" doc:"Draw while the light is on, A"`
	StandbyA *float64 `json:"standbyA,omitempty" minimum:"0" maximum:"100" doc:"Draw while the light is off, A"`
	StartV   *float64 `json:"startV,omitempty" minimum:"0" maximum:"1000" doc:"It draws nothing below this voltage, V"`
}

// A Body is a lump of metal, plastic or wood at one temperature.
type Body struct {
	ID            string     `json:"id" minLength:"1" maxLength:"64" doc:"Local name, unique in the variant"`
	Name          string     `json:"name" minLength:"1" maxLength:"120" doc:"Descriptive name"`
	KPerW         *float64   `json:"kPerW,omitempty" minimum:"0.001" maximum:"1000" doc:"Resistance to the air, K/W; absent: only its joints carry heat away"`
	HeatJPerK     *float64   `json:"heatCapacityJPerK,omitempty" minimum:"0" maximum:"1e7" doc:"Heat capacity, J/K"`
	MassKg        *float64   `json:"massKg,omitempty" minimum:"0" maximum:"1000" doc:"Mass, kg, with the specific heat: used if no heat capacity is given"`
	SpecificJPerK *float64   `json:"specificHeatJPerKgK,omitempty" minimum:"50" maximum:"10000" doc:"Specific heat, J/(kg·K); absent: 900, aluminium"`
	Touchable     bool       `json:"touchable,omitempty" doc:"Whether a hand can touch it"`
	MaxC          *float64   `json:"maxC,omitempty" minimum:"0" maximum:"1000" doc:"Highest temperature its material bears, °C"`
	Shape         *Shape     `json:"shape,omitempty" doc:"Its measures: heat to the air, surface, mass and heat capacity follow from them where they are not given"`
	Inside        string     `json:"insideId,omitempty" maxLength:"64" doc:"The housing or tent, another body, into whose air it gives its heat; absent: it stands in the open"`
	VentM3H       *float64   `json:"ventilationM3PerH,omitempty" minimum:"0" maximum:"100000" doc:"Air exchanged with the outside, m³/h, of a housing or tent that others stand in; absent: closed"`
	KeepsLight    bool       `json:"keepsLight,omitempty" doc:"Whether the light stays in it too, as in a tent: all watts heat its air"`
	SunM2         *float64   `json:"sunlitM2,omitempty" minimum:"0" maximum:"100" doc:"Its area that the sun strikes, m²; absent: none"`
	FilmPower     *float64   `json:"measuredPower,omitempty" minimum:"-0.3" maximum:"0.4" doc:"By how much more than its law says that what it gives to the moving air grows with its rise, as a power of rise over 30 K, as it was measured in this light; of a body known by its K/W, of all it gives; absent: 0"`
	TouchedFor    string     `json:"touchedFor,omitempty" enum:"second,ten-seconds,minute,long" doc:"How long a hand stays on it; absent: long if the light is held, else a second"`
	Joints        []BodyLink `json:"joints,omitempty" nullable:"false" maxItems:"20" doc:"Ways to other bodies"`
}

// A BodyLink carries heat to another body.
type BodyLink struct {
	BodyID string `json:"bodyId" minLength:"1" maxLength:"64" doc:"The other body"`
	Joint  Joint  `json:"joint"`
}
