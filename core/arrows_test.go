package core_test

import (
	"os/exec"
	"strings"
	"testing"
)

// The packages of core and the layers around it depend on each other one way.
// Each may import only what stands before it in this order, and core imports
// nothing but the standard library and gonum.
func TestArrowsPointOneWay(t *testing.T) {
	order := []string{
		"photherm/core/units", "photherm/core/root", "photherm/core/ode", "photherm/core/design", "photherm/core/internal/sample",
		"photherm/core/photometry", "photherm/core/lighting", "photherm/core/emitter", "photherm/core/array", "photherm/core/driver", "photherm/core/source", "photherm/core/lot", "photherm/core/heat",
		"photherm/core/circuit", "photherm/core/chain", "photherm/core/target", "photherm/core/band", "photherm/core/verdict", "photherm/core/search", "photherm/core/reading", "photherm/core/setup", "photherm/core/bench", "photherm/core/begin",
		"photherm/app", "photherm/cmd",
	}
	layer := func(pkg string) int {
		for i, name := range order {
			if pkg == name || strings.HasPrefix(pkg, name+"/") {
				return i
			}
		}
		return -1
	}
	out, err := exec.Command("go", "list", "-f", "{{.ImportPath}} {{join .Imports \" \"}}", "photherm/core/...", "photherm/app/...", "photherm/cmd/...").Output()
	if err != nil {
		t.Fatal(err)
	}
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		pkg := words[0]
		if layer(pkg) < 0 && pkg != "photherm/core" {
			t.Errorf("%s has no place in the order", pkg)
		}
		inCore := strings.HasPrefix(pkg, "photherm/core/") && !strings.HasPrefix(pkg, "photherm/core/internal/") // what only tests use may start a reference program
		for _, dep := range words[1:] {
			switch {
			case strings.HasPrefix(dep, "photherm/"):
				if l := layer(dep); l > layer(pkg) && l >= 0 {
					t.Errorf("%s imports %s, which stands after it", pkg, dep)
				}
			case inCore && strings.Contains(dep, ".") && !strings.HasPrefix(dep, "gonum.org/"):
				t.Errorf("%s imports %s", pkg, dep)
			case inCore && (dep == "os" || dep == "net/http" || dep == "database/sql" || dep == "time"):
				t.Errorf("%s imports %s: core does no I/O and has no clock", pkg, dep)
			}
		}
	}
}
