package chain

import (
	"math"

	"photherm/core/heat"
	"photherm/core/units"
)

// Answers are the figures asked for first. An absent one is null, and Why says
// why.
type Answers struct {
	FluxLm        *float64 `json:"fluxLm" doc:"Luminous flux 30 s after switch-on, lm"`
	FluxWhy       string   `json:"fluxWhy,omitempty"`
	InputW        float64  `json:"inputW" doc:"Power from all sources at 30 s, W"`
	EfficacyLmW   *float64 `json:"efficacyLmPerW" doc:"Flux over power from the sources at 30 s, lm/W"`
	HalfS         *float64 `json:"halfS" doc:"Time to half of the light at 30 s, or to the end if that is sooner, s"`
	TenthS        *float64 `json:"tenthS" doc:"Time to a tenth of the light at 30 s, or to the end, s"`
	EndS          *float64 `json:"endS" doc:"Time to cut-off or empty, s"`
	RuntimeWhy    string   `json:"runtimeWhy,omitempty"`
	EndsBy        string   `json:"endsBy" doc:"Kind of the event that ends the run"`
	JunctionC     *float64 `json:"junctionC" doc:"Hottest junction of the whole run, °C"`
	JunctionNode  string   `json:"junctionNode" doc:"Where"`
	JunctionWhy   string   `json:"junctionWhy,omitempty"`
	TouchC        *float64 `json:"touchC" doc:"How warm the touchable body gets, over the whole run, that comes nearest to what a hand bears on it, °C"`
	TouchBody     string   `json:"touchBody" doc:"Where"`
	TouchLimitC   float64  `json:"touchLimitC" doc:"What a hand bears on it: the brief's figure, or the usual one for how long it stays there and what it is made of, °C"`
	HoursADay     float64  `json:"hoursADay" doc:"Hours that it is lit a day: as the brief says, else 24"`
	EnergyPerDayW float64  `json:"energyPerDayWh" doc:"Energy of a day with so many hours, Wh"`
}

// Answers reads the answers off a run.
func (r *Run) Answers() Answers {
	last := len(r.T) - 1
	at30 := r.At(referenceS)
	if r.T[last] <= referenceS {
		at30 = r.Records[r.lastOn()]
	}
	n := len(at30)
	a := Answers{EndsBy: r.End.Kind, InputW: at30[n-totalInputW]}
	a.HoursADay = 24
	if h := r.Model.light.Brief.HoursADay; h != nil {
		a.HoursADay = *h
	}
	if a.InputW < leakW {
		a.InputW = 0
	}
	a.EnergyPerDayW = a.HoursADay * a.InputW
	a.TouchLimitC = r.Model.touchLimitC("")
	switch flux := at30[n-totalFluxLm]; {
	case flux >= faintLm:
		a.FluxLm = &flux
		if a.InputW > 0 {
			e := flux / a.InputW
			a.EfficacyLmW = &e
		}
	default:
		a.FluxWhy = r.darkWhy()
	}
	r.runtime(&a)
	for c, column := range r.Model.columns {
		if column.Figure != "junctionC" && column.Figure != "bodyC" {
			continue
		}
		hot := math.Inf(-1)
		for i := range r.T {
			if v := r.Records[i][c]; v > hot {
				hot = v
			}
		}
		if column.Figure == "junctionC" {
			if a.JunctionC == nil || hot > *a.JunctionC {
				a.JunctionC, a.JunctionNode = &hot, column.Owner
			}
		} else if limit := r.Model.touchLimitC(column.Owner); r.Model.touchable(column.Owner) && (a.TouchC == nil || hot-limit > *a.TouchC-a.TouchLimitC) {
			a.TouchC, a.TouchBody, a.TouchLimitC = &hot, column.Owner, limit
		}
	}
	if a.JunctionC == nil {
		a.JunctionWhy = "no emitter with a known heat path"
	}
	return a
}

// faintLm is below what nothing is called light, lm (chosen: a tenth of the dimmest level of torches,
// about 0.01 lm by common practice). Emitters that get too little voltage leak as little.
const faintLm = 1e-3

// leakW is below what a light is taken as drawing nothing, W (chosen: what leaks through dark emitters; a
// cell of 1 Ah lasts a century at it).
const leakW = 1e-6

// lastOn is the last record within the reference time in which power flows.
func (r *Run) lastOn() int {
	on := 0
	for i := range r.T {
		if r.T[i] <= referenceS && r.total(i, totalInputW) > 0 {
			on = i
		}
	}
	return on
}

func (r *Run) total(i, column int) float64 { return r.Records[i][len(r.Records[i])-column] }

// touchLimitC is what a hand bears on a body, °C.
func (m *Model) touchLimitC(body string) float64 {
	return heat.TouchLimitC(&m.light.Brief, m.light.Conditions.Handheld, m.net.Variant.Body(body))
}

func (m *Model) touchable(body string) bool {
	b := m.net.Variant.Body(body)
	return b != nil && b.Touchable
}

func (r *Run) runtime(a *Answers) {
	packs, supplied, sources := false, false, false
	for i := range r.Model.net.Feeders {
		stored := r.Model.net.Feeders[i].IsPack
		packs, supplied, sources = packs || stored, supplied || !stored, true
	}
	end := r.T[len(r.T)-1]
	for _, e := range r.Events {
		t := e.T
		switch {
		case e.Kind == "half-light" && packs:
			a.HalfS = &t
		case e.Kind == "tenth-light" && packs:
			a.TenthS = &t
		}
	}
	if a.FluxLm == nil {
		a.HalfS, a.TenthS = nil, nil // of nothing there is no half
	}
	switch {
	case !sources:
		a.RuntimeWhy = "no source is chosen yet"
		return
	case !packs:
		a.RuntimeWhy = "it runs from a supply"
		return
	case r.End.Kind == "overheat":
		a.RuntimeWhy = r.End.Text
		return
	case r.End.Kind == "charged":
		a.RuntimeWhy = "it is being charged, and full after " + units.Duration(end)
		return
	case r.End.Kind == "over-charge":
		a.RuntimeWhy = "it is being charged, and its board stops that after " + units.Duration(end)
		return
	case r.End.Kind == "time-limit" && r.charged():
		a.RuntimeWhy = "its charger goes on: the cells do not run empty"
		return
	case r.End.Kind == "settled" || r.End.Kind == "time-limit" && supplied:
		a.RuntimeWhy = "a supply goes on when the packs have ended"
		return
	case r.End.Kind == "time-limit" && a.InputW <= 0:
		a.RuntimeWhy = "nothing draws on it"
		return
	case a.FluxLm == nil && a.InputW < leakW && end > 0:
		a.RuntimeWhy = "it gives no light"
		return
	case r.End.Kind == "time-limit":
		a.RuntimeWhy = "longer than the 400 days that are calculated"
		return
	}
	a.EndS = &end
	if a.FluxLm == nil {
		return
	}
	if a.HalfS == nil {
		a.HalfS = &end
	}
	if a.TenthS == nil {
		a.TenthS = &end
	}
}

// charged tells whether a charger is plugged in.
func (r *Run) charged() bool {
	for i := range r.Model.net.Feeders {
		if charges(&r.Model.net.Feeders[i]) {
			return true
		}
	}
	return false
}
