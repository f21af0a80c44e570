package sample

import (
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// Ngspice runs a netlist and returns what its control section prints as
// "name = value" lines, by name.
func Ngspice(t testing.TB, netlist string) map[string]float64 {
	t.Helper()
	program, err := exec.LookPath("ngspice")
	if err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("ngspice is missing")
		}
		t.Skip("ngspice is not installed")
	}
	file := filepath.Join(t.TempDir(), "circuit.cir")
	if err := os.WriteFile(file, []byte(netlist), 0o644); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command(program, "-b", file).CombinedOutput()
	values := map[string]float64{}
	for line := range strings.Lines(string(out)) {
		name, value, ok := strings.Cut(line, "=")
		if !ok {
			continue
		}
		fields := strings.Fields(value)
		if x, err := strconv.ParseFloat(append(fields, "")[0], 64); err == nil {
			values[strings.TrimSpace(name)] = x
		}
	}
	if len(values) == 0 {
		t.Fatalf("ngspice printed no figures (%v):\n%s", err, out)
	}
	return values
}
