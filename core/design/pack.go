package design

// A CellGroup is one series group of a pack: its cells lie side by side.
type CellGroup struct {
	Cells []PackCell `json:"cells" nullable:"false" minItems:"1" maxItems:"50" doc:"Its cells"`
}

// A PackCell is one cell that was measured by itself; what it does not say is as its part.
type PackCell struct {
	Label         string   `json:"label,omitempty" maxLength:"30" doc:"What is written on it"`
	CapacityAh    *float64 `json:"capacityAh,omitempty" minimum:"0.001" maximum:"10000" doc:"Its measured capacity, Ah"`
	ResistanceOhm *float64 `json:"resistanceOhm,omitempty" minimum:"0.00001" maximum:"100" doc:"Its measured resistance, Ω"`
}

// A Protection is a board between cells and light that cuts them off.
type Protection struct {
	Series       int      `json:"series" minimum:"1" maximum:"200" doc:"Cells in series it is made for"`
	Chemistry    string   `json:"chemistry,omitempty" enum:"li-ion-4.2,li-ion-4.35,lifepo4,nimh,lead-acid" doc:"Chemistry it is made for; absent: not said"`
	CutCellV     float64  `json:"cutCellV" minimum:"0.5" maximum:"5" doc:"Cuts where a cell falls below, V"`
	CutDelayS    *float64 `json:"cutDelayS,omitempty" minimum:"0" maximum:"3600" doc:"How long it waits, s; absent: 0.1 s, common practice"`
	ReleaseCellV *float64 `json:"releaseCellV,omitempty" minimum:"0.5" maximum:"5" doc:"Switches on again once every resting cell is above, V; absent: it stays off until it is woken"`
	Latches      bool     `json:"latches,omitempty" doc:"Stays off after a cut until it is woken by a charger"`
	OverCellV    *float64 `json:"overCellV,omitempty" minimum:"1" maximum:"5" doc:"Stops charging where a cell rises above, V"`
	OverFreeV    *float64 `json:"overReleaseCellV,omitempty" minimum:"1" maximum:"5" doc:"Lets it be charged again below, V"`
	MaxA         *float64 `json:"maxCurrentA,omitempty" minimum:"0.01" maximum:"1000" doc:"Trips above this current, A"`
	TripS        *float64 `json:"tripDelayS,omitempty" minimum:"0" maximum:"60" doc:"How long it bears more, s; absent: 10 ms, common practice"`
	ResistOhm    *float64 `json:"resistanceOhm,omitempty" minimum:"0" maximum:"10" doc:"Resistance of its switches, Ω"`
	StandbyA     *float64 `json:"standbyA,omitempty" minimum:"0" maximum:"1" doc:"Its own draw, A"`
	LowSide      bool     `json:"lowSide,omitempty" doc:"It opens the minus wire: the light's minus is not the cells' minus"`
	BalanceCellV *float64 `json:"balanceCellV,omitempty" minimum:"1" maximum:"5" doc:"Voltage above which it bleeds a cell to even them out, V; absent: it does not"`
	BalanceA     *float64 `json:"balanceA,omitempty" minimum:"0" maximum:"20" doc:"By so much, A"`
}

// A Charger charges a pack: constant current up to a voltage, then that voltage.
type Charger struct {
	Kind       string   `json:"kind" enum:"linear,switching" doc:"linear: the difference of voltages is heat in it; switching: by its efficiency"`
	Chemistry  string   `json:"chemistry" enum:"li-ion-4.2,li-ion-4.35,lifepo4,nimh,lead-acid" doc:"Chemistry it is made for"`
	Series     int      `json:"series,omitempty" minimum:"0" maximum:"200" doc:"Cells in series it is made for; 0 is taken as 1"`
	CurrentA   *float64 `json:"currentA,omitempty" minimum:"0.0001" maximum:"500" doc:"Charging current as supplied, A"`
	ProgramV   *float64 `json:"programV,omitempty" minimum:"0.001" maximum:"1e6" doc:"Volts that over the programming resistor make its current, V: I = V/R"`
	EndCellV   *float64 `json:"endCellV,omitempty" minimum:"1" maximum:"5" doc:"Voltage it holds at the end, V a cell; absent: usual for the chemistry"`
	EndShare   *float64 `json:"endShare,omitempty" minimum:"0.001" maximum:"0.9" doc:"It stops at this share of its current; absent: 0.1"`
	PreCellV   *float64 `json:"prechargeCellV,omitempty" minimum:"0" maximum:"5" doc:"Below it charges gently, V a cell; absent: usual for the chemistry"`
	PreShare   *float64 `json:"prechargeShare,omitempty" minimum:"0.001" maximum:"1" doc:"Share of its current there; absent: 0.1"`
	AgainCellV *float64 `json:"againCellV,omitempty" minimum:"1" maximum:"5" doc:"Begins again below, V a cell; absent: 0.15 V below its end"`
	InputV     *float64 `json:"inputV,omitempty" minimum:"1" maximum:"400" doc:"What feeds it, V"`
	Efficiency *float64 `json:"efficiency,omitempty" minimum:"0.05" maximum:"1" doc:"Of a switching one; absent: 0.85"`
	KPerW      *float64 `json:"kPerW,omitempty" minimum:"0.1" maximum:"1000" doc:"How it warms over the air around it, K/W"`
	FoldC      *float64 `json:"foldC,omitempty" minimum:"30" maximum:"200" doc:"It charges less so as to stay below this temperature, °C; absent: it does not"`
	WatchesC   bool     `json:"watchesTemperature,omitempty" doc:"It charges only inside the cells' temperature window"`
}

// A ChargerUse is a charger at a pack, with the settings made on it.
type ChargerUse struct {
	PartID     string   `json:"partId,omitempty" maxLength:"64" doc:"The charger; absent: a bench supply set to an end voltage and a current"`
	ProgramOhm *float64 `json:"programOhm,omitempty" minimum:"0.1" maximum:"1e8" doc:"Programming resistor, Ω"`
	CurrentA   *float64 `json:"currentA,omitempty" minimum:"0.0001" maximum:"500" doc:"Current it is set to, A; absent: the part's own"`
	EndCellV   *float64 `json:"endCellV,omitempty" minimum:"1" maximum:"5" doc:"End voltage it is set to, V a cell; absent: the part's own"`
	PluggedIn  bool     `json:"pluggedIn,omitempty" doc:"Whether it charges while the light is looked at"`
}

// A LoadCapacity is what a cell gives at a load.
type LoadCapacity struct {
	CurrentA   float64 `json:"currentA" minimum:"1e-6" maximum:"1000" doc:"Constant current, A"`
	CapacityAh float64 `json:"capacityAh" minimum:"0.001" maximum:"10000" doc:"What it gave at it, Ah"`
}

// CellsIn is how many cells a pack takes.
func (p *Pack) CellsIn() int {
	if len(p.Groups) == 0 {
		return p.Series * p.Parallel
	}
	n := 0
	for i := range p.Groups {
		n += len(p.Groups[i].Cells)
	}
	return n
}
