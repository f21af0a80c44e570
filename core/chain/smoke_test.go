package chain

import (
	"context"
	"fmt"
	"os"
	"photherm/core/design"
	"testing"
)

func TestSmoke(t *testing.T) {
	data, _ := os.ReadFile("../../examples/shore-search-handlamp.json")
	l, err := design.Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	m, err := Compile(l, Options{})
	if err != nil {
		t.Fatal(err)
	}
	s := m.Solver()
	st, err := s.Steady(context.Background())
	fmt.Println(err, st.Converged, st.Reason, st.Ledger)
	r, err := s.Run(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	a := r.Answers()
	fmt.Println(r.Steps, r.Evals, len(r.T), r.Ledger, r.Events)
	fmt.Println(*a.FluxLm, *a.HalfS/3600, *a.EndS/3600, *a.JunctionC, *a.TouchC, a.InputW, *a.EfficacyLmW)
	for i, c := range m.Columns() {
		fmt.Printf("%s.%s=%.4g ", c.Owner, c.Figure, st.Record[i])
	}
	fmt.Println(m.Missing())
}
func BenchmarkRun(b *testing.B) {
	data, _ := os.ReadFile("../../examples/shore-search-handlamp.json")
	l, _ := design.Decode(data)
	m, _ := Compile(l, Options{})
	s := m.Solver()
	b.ReportAllocs()
	for b.Loop() {
		s.Run(context.Background())
	}
}
func BenchmarkElectrical(b *testing.B) {
	data, _ := os.ReadFile("../../examples/shore-search-handlamp.json")
	l, _ := design.Decode(data)
	m, _ := Compile(l, Options{})
	s := m.Solver()
	y := make([]float64, len(s.y))
	s.start(y)
	b.ReportAllocs()
	for b.Loop() {
		s.electrical(y)
	}
}
func BenchmarkSteady(b *testing.B) {
	data, _ := os.ReadFile("../../examples/shore-search-handlamp.json")
	l, _ := design.Decode(data)
	m, _ := Compile(l, Options{})
	s := m.Solver()
	b.ReportAllocs()
	for b.Loop() {
		s.Steady(context.Background())
	}
}
