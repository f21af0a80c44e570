package bench

import (
	"context"
	"fmt"
	"testing"

	"photherm/core/band"
	"photherm/core/design"
	"photherm/core/internal/sample"
)

// Lights that were read wherever a probe can be, and one of nine packs with all that hangs on them.
func BenchmarkCalibration(b *testing.B) {
	for _, name := range []string{"shore-search-handlamp.json", "germination-rack.json", "nine of it"} {
		b.Run(name, func(b *testing.B) {
			file := name
			if name == "nine of it" {
				file = "shore-search-handlamp.json"
			}
			light, err := sample.Example(file)
			if err != nil {
				b.Fatal(err)
			}
			light.Variants = light.Variants[:1]
			v := &light.Variants[0]
			if file != name {
				for i := range 8 {
					again, err := design.Clone(light)
					if err != nil {
						b.Fatal(err)
					}
					f := again.Variants[0].Feeds[0]
					renamed(&f, i)
					v.Feeds = append(v.Feeds, f)
				}
			}
			truth, err := NewTruth(context.Background(), light, 0, 5, nil)
			if err != nil {
				b.Fatal(err)
			}
			p, err := PlanOf(context.Background(), light, Question{})
			if err != nil {
				b.Fatal(err)
			}
			for _, s := range p.Stages {
				for _, r := range s.Rows {
					if r.Probe == nil {
						continue
					}
					if x, ok := truth.At(*r.Probe); ok {
						v.SetUp = append(v.SetUp, design.Done{Node: r.Node, Step: r.Step, Reading: &x})
					}
				}
			}
			for b.Loop() {
				c, err := CalibrationOf(context.Background(), light, Question{})
				if err != nil {
					b.Fatal(err)
				}
				b.ReportMetric(float64(len(c.Figures)), "figures")
				b.ReportMetric(float64(len(v.SetUp)), "readings")
			}
		})
	}
}

// Eight figures and two hundred readings: a warm-up read at a body every few seconds, and what is read cold.
func BenchmarkFit(b *testing.B) {
	light, err := sample.Example("shore-search-handlamp.json")
	if err != nil {
		b.Fatal(err)
	}
	m, err := model(light, 0, false)
	if err != nil {
		b.Fatal(err)
	}
	f := fitting{ctx: context.Background(), m: m, tolerances: band.Tolerances(m), tried: func() {}}
	if len(f.tolerances) < 8 {
		b.Fatalf("%d figures", len(f.tolerances))
	}
	f.tolerances = f.tolerances[:8]
	truth, err := NewTruth(context.Background(), light, 0, 5, nil)
	if err != nil {
		b.Fatal(err)
	}
	body := m.Variant().Bodies[0].ID
	for i := range 200 {
		p, figure := point{owner: body, figure: "bodyC", at: after(4.5 * float64(i))}, 0.3
		if i%10 == 0 {
			p, figure = point{owner: m.Variant().Feeds[0].ID, figure: "busA", at: moment{kind: "cold", charge: 1 - float64(i)/400}}, 0.01
		}
		x, ok := truth.q.figure(p)
		if !ok {
			b.Fatalf("no %+v", p)
		}
		f.rows = append(f.rows, fitRow{p, x, figure})
	}
	for b.Loop() {
		if _, _, err := f.fit(); err != nil {
			b.Fatal(err)
		}
	}
}

func renamed(f *design.Feed, i int) {
	f.ID += fmt.Sprint(i)
	for k := range f.Sources {
		f.Sources[k].ID += fmt.Sprint(i)
	}
	var down func(nodes []design.Node)
	down = func(nodes []design.Node) {
		for k := range nodes {
			nodes[k].ID += fmt.Sprint(i)
			down(nodes[k].Loads)
		}
	}
	down(f.Loads)
}
