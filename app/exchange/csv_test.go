package exchange

import (
	"encoding/csv"
	"errors"
	"strings"
	"testing"

	"photherm/core/chain"
)

func trace() *chain.Trace {
	return &chain.Trace{T: []float64{0, 1.5, 1.5}, Series: []chain.Series{
		{Column: chain.Column{Owner: "pack, left", Figure: "busV", Unit: "V"}, Values: []*float64{new(4.2), new(4.1), nil}},
		{Column: chain.Column{Owner: "driver", Figure: "mode", Unit: "1"}, Values: []*float64{new(2.0), new(3.0), new(0.0)}},
		{Column: chain.Column{Figure: "fluxLm", Unit: "lm"}, Values: []*float64{new(100.0), new(98.5), new(0.0)}},
	}}
}

func TestWriteCSV(t *testing.T) {
	var b strings.Builder
	if err := WriteCSV(&b, trace()); err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(strings.NewReader(b.String())).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	want := [][]string{
		{"t [s]", "pack, left.busV [V]", "driver.mode [1]", "total.fluxLm [lm]"},
		{"0", "4.2", "constant current", "100"}, {"1.5", "4.1", "drop-out", "98.5"}, {"1.5", "", "off", "0"},
	}
	for i := range want {
		if strings.Join(rows[i], "|") != strings.Join(want[i], "|") {
			t.Errorf("row %d: %v, want %v", i, rows[i], want[i])
		}
	}
}

type full struct{}

func (full) Write([]byte) (int, error) { return 0, errors.New("no room") }

func TestWriteCSVSaysWhatFailed(t *testing.T) {
	if err := WriteCSV(full{}, trace()); err == nil || !strings.Contains(err.Error(), "writing CSV") {
		t.Errorf("%v", err)
	}
}
