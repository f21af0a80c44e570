package chain

import (
	"context"
	"fmt"
	"math"
	"testing"

	"photherm/core/design"
)

func hotLED(rTh float64) design.Part {
	part := ledPart()
	part.Emitter.VfVPerK, part.Emitter.RthKPerW = ptr(-0.004), ptr(rTh)
	return part
}

func gains(t *testing.T, light *design.Light) Sharing {
	t.Helper()
	s, err := compile(t, light).Solver().Sharing(context.Background())
	if err != nil || len(s) == 0 {
		t.Fatalf("%v, %+v", err, s)
	}
	return s[0]
}

// An emitter on a stiff voltage, on bodies that carry heat away ever worse: the time
// simulation settles as long as the loop gain stays below one, the gain comes close
// to one before it ceases to, and past that it runs away.
func TestCommonRunawayAgainstTime(t *testing.T) {
	light := func(kPerW float64) *design.Light {
		l := supplyLight(2.75, 0.02, []design.Part{hotLED(2)}, arrayNodeOf("a", 1, 1))
		l.Variants[0].Feeds[0].Loads[0].BodyID = "b"
		l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: &kPerW, HeatJPerK: ptr(2.0)}}
		return l
	}
	ends := func(kPerW float64) string { return run(t, compile(t, light(kPerW))).End.Kind }
	low, high := 5.0, 400.0
	if a, b := ends(low), ends(high); a != "settled" || b != "overheat" {
		t.Fatalf("at %g K/W it ends by %q, at %g K/W by %q", low, a, high, b)
	}
	for high/low > 1.0005 {
		mid := math.Sqrt(low * high)
		switch end := ends(mid); end {
		case "settled":
			low = mid
			if g := *gains(t, light(mid)).CommonGain; g >= 1 {
				t.Errorf("at %g K/W it settles with a gain of %g", mid, g)
			}
		case "overheat":
			high = mid
			if st, err := compile(t, light(mid)).Solver().Steady(context.Background()); err != nil || st.Converged {
				t.Errorf("at %g K/W it runs away, and a steady state is claimed (%v)", mid, err)
			}
		default:
			t.Fatalf("at %g K/W it ends by %q", mid, end)
		}
	}
	if g := *gains(t, light(low)).CommonGain; g < 0.9 {
		t.Errorf("at the threshold of %g K/W the gain is %g", low, g)
	}
	if g := *gains(t, light(low/3)).CommonGain; g > 0.6 {
		t.Errorf("far below the threshold the gain is %g", g)
	}
}

// Two strings on one held current, each junction with a resistance of its own to the
// board: one 0.1 mV lower. Warmed up, its lead is the cold lead over 1 − L, as linear
// theory has it, and from L = 1 on it takes the current to itself, though the sum is
// held.
func TestDifferentialRunawayAgainstTime(t *testing.T) {
	cold := 0.0
	for _, rTh := range []float64{0.01, 8, 30, 60} {
		parts := []design.Part{hotLED(rTh), {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.2)}}}
		body := []design.Body{{ID: "b", Name: "b", KPerW: ptr(0.2), HeatJPerK: ptr(5.0)}}
		string2 := func(id string, offset float64) design.Node {
			n := arrayNodeOf(id, 1, 1)
			n.BodyID = "b"
			n.Array.BoardJPerK = ptr(0.1)
			n.Array.Unequal = []design.Strings{{Strings: 1, OffsetV: offset}}
			return n
		}
		apart := supplyLight(12, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.0)}, string2("a", -1e-4), string2("b2", 0)))
		apart.Variants[0].Bodies = body
		together := supplyLight(12, 0, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.0)}, arrayNodeOf("a", 1, 2)))
		together.Variants[0].Bodies = body
		together.Variants[0].Feeds[0].Loads[0].Loads[0].BodyID = "b"
		gain := *gains(t, together).DifferentialGain
		m := compile(t, apart)
		r := run(t, m)
		last := r.Records[len(r.Records)-1]
		lead := column(t, m, last, "a", "inA") - column(t, m, last, "b2", "inA")
		what := fmt.Sprintf("%g K/W, gain %.3f: lead %.3g A", rTh, gain, lead)
		switch {
		case cold == 0:
			cold = lead
			if gain > 0.01 || cold <= 0 {
				t.Fatal(what)
			}
		case gain < 0.9:
			if want := cold / (1 - gain); math.Abs(lead/want-1) > 0.1 {
				t.Errorf("%s, linear theory says %.3g A", what, want)
			}
		case gain >= 1:
			if lead < 0.3 {
				t.Errorf("%s: it does not hog", what)
			}
		}
		if rTh == 60 && gain < 1 {
			t.Errorf("%s: the sample never runs away", what)
		}
	}
}

// The worst string of a bin takes more than its share; half the spread or a ballast
// brings it back, and the ballast named is just enough.
func TestWorstSharing(t *testing.T) {
	part := hotLED(6)
	part.Emitter.VfBinV = ptr(0.05)
	parts := []design.Part{part, {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}
	light := func(ballast float64) *design.Light {
		a := arrayNodeOf("a", 2, 4)
		a.BodyID, a.Array.BallastOhm = "b", &ballast
		l := supplyLight(14, 0.01, parts, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(2.0)}, a))
		l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(2.0)}}
		return l
	}
	bare := gains(t, light(0))
	if !(*bare.AsItIs.WorstA > *bare.SameBin.WorstA && *bare.SameBin.WorstA > bare.EvenA && bare.EvenA == 0.5) {
		t.Fatalf("even %g, same bin %v, worst %v", bare.EvenA, *bare.SameBin.WorstA, *bare.AsItIs.WorstA)
	}
	fitted := gains(t, light(bare.Ballast.Ohm))
	if math.Abs(*fitted.AsItIs.WorstA/fitted.EvenA-1.1) > 0.01 || bare.Ballast.LossW <= 0 {
		t.Errorf("with the ballast of %g Ω the worst string takes %g of %g A", bare.Ballast.Ohm, *fitted.AsItIs.WorstA, fitted.EvenA)
	}
}

// The worst string of a spread, found as a fixed point, against the whole light solved
// with such strings in it, each junction warming for itself: the same where it settles,
// and where it does not one takes nearly all and gets hotter than anything bears.
func TestHoggingAgainstTheWholeSolve(t *testing.T) {
	const boardKPerW = 3
	for _, rTh := range []float64{0, 4, 9, 15, 150} {
		part := hotLED(rTh)
		part.Emitter.VfBinV = ptr(0.02)
		if rTh == 0 {
			part.Emitter.RthKPerW = nil
		}
		light := func(unequal ...design.Strings) *design.Light {
			a := arrayNodeOf("a", 2, 4)
			a.BodyID, a.Array.Unequal, a.Array.BoardKPerW = "b", unequal, ptr(float64(boardKPerW))
			l := supplyLight(14, 0.01, []design.Part{part, {ID: "lin", Name: "Linear", Driver: &design.Driver{Family: "linear", HeadroomV: ptr(0.4)}}}, driverNodeOf("d", "lin", design.DriverUse{SetCurrentA: ptr(1.6)}, a))
			l.Variants[0].Bodies = []design.Body{{ID: "b", Name: "b", KPerW: ptr(2.0), HeatJPerK: ptr(20.0)}}
			return l
		}
		s := gains(t, light())
		st, err := compile(t, light(design.Strings{Strings: 3, OffsetV: 0.02}, design.Strings{Strings: 1, OffsetV: -0.02})).Solver().Steady(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		m := compile(t, light(design.Strings{Strings: 3, OffsetV: 0.02}, design.Strings{Strings: 1, OffsetV: -0.02}))
		switch {
		case rTh == 150:
			if s.AsItIs.WorstA != nil || st.Converged && column(t, m, st.Record, "a", "string2C") < 200 {
				t.Errorf("%g K/W: worst %v, the whole solve settles: %v", rTh, s.AsItIs.WorstA, st.Converged)
			}
		case s.AsItIs.WorstA == nil || !st.Converged:
			t.Errorf("%g K/W: worst %v, converged %v", rTh, s.AsItIs.WorstA, st.Converged)
		default:
			whole := column(t, m, st.Record, "a", "string2A")
			if rTh > 0 {
				closeTo(t, fmt.Sprintf("%g K/W: worst string", rTh), *s.AsItIs.WorstA, whole, 0.01)
			} else if *s.AsItIs.WorstA > whole {
				t.Errorf("before it warms the worst string takes %g A, warm %g A", *s.AsItIs.WorstA, whole)
			}
			if s.AsItIs.Cold != (rTh == 0) || (s.AsItIs.WorstC == nil) != (rTh == 0) || (s.DifferentialGain == nil) != (rTh == 0) {
				t.Errorf("%g K/W: said to be cold %v, worst junction %v, gain %v", rTh, s.AsItIs.Cold, s.AsItIs.WorstC, s.DifferentialGain)
			}
			if rTh > 0 {
				closeTo(t, fmt.Sprintf("%g K/W: its junction", rTh), *s.AsItIs.WorstC, column(t, m, st.Record, "a", "string2C"), 0.02)
			}
		}
	}
}
