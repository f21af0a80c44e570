package bench

import (
	"context"
	"fmt"
	"testing"

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
