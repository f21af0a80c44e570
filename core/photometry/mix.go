package photometry

import (
	"fmt"
	"math"
)

// Mix is light of several spectra together, weighed with the radiated watts of each.
func Mix(of []*Spectrum, watts []float64) (*Spectrum, error) {
	if len(of) != len(watts) {
		return nil, fmt.Errorf("%d spectra and %d weights", len(of), len(watts))
	}
	out := new(Spectrum)
	for k, s := range of {
		whole := s.Watts(FirstNm, LastNm)
		if whole <= 0 || watts[k] == 0 {
			continue
		}
		for i := range out {
			out[i] += watts[k] * s[i] / whole
		}
	}
	if out.Watts(FirstNm, LastNm) <= 0 {
		return nil, fmt.Errorf("nothing to mix gives light")
	}
	return out, nil
}

// RedToFarRed is the photon ratio that plants read shade from: 655–665 over 725–735 nm (Smith
// 1982, memory); not ok where there is hardly any far red.
func (s *Spectrum) RedToFarRed() (ratio float64, ok bool) {
	red, far := s.Photons(655, 665), s.Photons(725, 735)
	if far < 1e-6 {
		return 0, false
	}
	return red / far, true
}

// Wanted is what a mix of channels is to come to.
type Wanted struct {
	TemperatureK float64 // correlated colour temperature, on the locus; 0: any colour
	Amount       float64 // of the unit the channels are counted in
}

// Levels are the levels, 0…1, of channels that come nearest to a wanted colour and amount. Each
// channel is a spectrum with its radiated watts at full level and its amount then (photons, or
// lumens). It minimises how far off the amount is, as a share, and how far the colour lies from
// that of the black body in the CIE 1960 diagram, 0.005 of it (a difference that is just seen)
// counting as a twentieth of the amount. off tells by what share the amount is missed, and apart
// by how much the colour.
func Levels(of []*Spectrum, watts, amounts []float64, want Wanted) (levels []float64, off, apart float64, err error) {
	if len(of) == 0 || len(of) != len(watts) || len(of) != len(amounts) {
		return nil, 0, 0, fmt.Errorf("%d channels with %d watts and %d amounts", len(of), len(watts), len(amounts))
	}
	xyz := make([][3]float64, len(of))
	for k, s := range of {
		whole := s.Watts(FirstNm, LastNm)
		if whole <= 0 {
			return nil, 0, 0, fmt.Errorf("channel %d gives no light", k+1)
		}
		c := s.xyz()
		for i := range c {
			xyz[k][i] = c[i] * watts[k] / whole
		}
	}
	var u0, v0 float64
	if want.TemperatureK > 0 {
		black := BlackBody(want.TemperatureK)
		u0, v0 = black.uv()
	}
	miss := func(x []float64) (off, apart float64) {
		var sum [3]float64
		amount := 0.0
		for k := range x {
			amount += x[k] * amounts[k]
			for i := range sum {
				sum[i] += x[k] * xyz[k][i]
			}
		}
		if want.Amount > 0 {
			off = amount/want.Amount - 1
		}
		if d := sum[0] + 15*sum[1] + 3*sum[2]; want.TemperatureK > 0 && d > 0 {
			apart = math.Hypot(4*sum[0]/d-u0, 6*sum[1]/d-v0)
		} else if want.TemperatureK > 0 {
			apart = 1
		}
		return off, apart
	}
	cost := func(x []float64) float64 {
		off, apart := miss(x)
		return off*off + math.Pow(apart/0.005*0.05, 2)
	}
	best, least := []float64(nil), math.Inf(1)
	// Down from several beginnings, each step along one channel, or from one to another.
	for start := range len(of) + 1 {
		x := make([]float64, len(of))
		for k := range x {
			if x[k] = 0.5; start < len(of) {
				x[k] = 0.1
				if k == start {
					x[k] = 0.9
				}
			}
		}
		now := cost(x)
		for step := 0.25; step > 1e-5; {
			moved := false
			for a := range x {
				for b := -1; b < len(x); b++ {
					if b == a {
						continue
					}
					for _, by := range []float64{step, -step} {
						was, wasB := x[a], 0.0
						x[a] = max(0, min(1, x[a]+by))
						if b >= 0 {
							wasB = x[b]
							x[b] = max(0, min(1, x[b]-by*amounts[a]/max(amounts[b], 1e-12)))
						}
						if c := cost(x); c < now-1e-15 {
							now, moved = c, true
							continue
						}
						x[a] = was
						if b >= 0 {
							x[b] = wasB
						}
					}
				}
			}
			if !moved {
				step /= 2
			}
		}
		if now < least {
			best, least = x, now
		}
	}
	off, apart = miss(best)
	return best, off, apart, nil
}
