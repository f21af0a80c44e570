package array

import (
	"math"
	"math/rand/v2"
	"testing"

	"photherm/core/emitter"
	"photherm/core/internal/sample"
)

// Unlike strings behind a resistance, from whatever current nearby, against the voltage
// halved between nothing and the source's until no doubles lie between.
func TestUnlikeStringsAgainstHalving(t *testing.T) {
	part := sample.LEDPart()
	e, err := emitter.New(part.Emitter)
	if err != nil {
		t.Fatal(err)
	}
	random := rand.New(rand.NewPCG(41, 42))
	for try := range 2000 {
		series := 1 + random.IntN(4)
		law := Law{Emitter: e, Series: series}
		for range 2 + random.IntN(3) {
			law.Groups = append(law.Groups, Group{Strings: random.IntN(4), Live: series - random.IntN(2)*random.IntN(2), OffsetV: 0.3 * (random.Float64() - 0.5), HotterK: 30 * random.Float64(), BallastOhm: float64(random.IntN(2)) * random.Float64(), Open: random.IntN(6) == 0})
		}
		volts, ohm, tj := float64(series)*(0.5+4*random.Float64()), math.Pow(10, 4*random.Float64()-3), 100*random.Float64()
		low, high := 0.0, volts
		for range 200 {
			mid := (low + high) / 2
			if drawn, _ := law.sum(mid, tj); drawn > (volts-mid)/ohm {
				high = mid
			} else {
				low = mid
			}
		}
		want, slope := law.sum(low, tj)
		for _, near := range []float64{0, want, 1e-6, 5} {
			a, g := law.Draw(volts, ohm, tj, near)
			if math.Abs(a-want) > 1e-8*want+1e-12*volts/ohm || math.Abs(g-slope/(1+slope*ohm)) > 1e-5*g+1e-12 {
				t.Fatalf("%d: %g V through %g Ω near %g A: %.12g A, slope %.9g; by halving %.12g A, %.9g (%+v)", try, volts, ohm, near, a, g, want, slope/(1+slope*ohm), law.Groups)
			}
		}
	}
}
