package begin

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"photherm/core/design"
	"photherm/core/units"
)

// eitherOr joins kinds of which any will do.
var eitherOr = regexp.MustCompile(`(?i)\bor\b|/`)

// alike is a line of cells as it is read on: where several kinds are counted in it, only the first
// is taken, or all of them with the least of their charges, and that is told. Unlike cells never
// share a pack: the one that is empty first is driven into reverse by the others, the one that is
// full first is overcharged (common practice; IEC 62133-2 asks for cells of one kind, from memory).
func (b *builder) alike(fact, line string) string {
	type heap struct {
		words string
		n     int
		cell  design.Cell
	}
	var heaps []heap
	wired := false
	for _, part := range kindsApart.Split(line, -1) {
		s := parse(part)
		counted := s.count > 0 || aCell.MatchString(part)
		if s.size == "" && !(counted && (s.namesChemistry() || s.figure("charge") != nil)) {
			continue
		}
		wired = wired || s.series != 0 || s.parallel != 0
		cell, _, _ := (&builder{v: &design.Variant{}}).cell(s, "")
		heaps = append(heaps, heap{strings.TrimSpace(part), max(s.count, 1), cell})
	}
	if len(heaps) < 2 {
		b.either(fact, line)
		return line
	}
	first, n := heaps[0], 0
	for _, h := range heaps {
		if h.cell.Chemistry != first.cell.Chemistry || h.cell.Size != first.cell.Size {
			b.remark(fact, "Cells of unlike kinds never share a pack: the weaker are driven into reverse, or overcharged. Only “%s” is taken.", first.words)
			return first.words
		}
		n += h.n
	}
	if wired {
		b.remark(fact, "Of several packs “%s” is taken: add the others on the page.", first.words)
		return first.words
	}
	least := slices.MinFunc(heaps, func(a, b heap) int { return cmp.Compare(a.cell.CapacityAh, b.cell.CapacityAh) })
	if slices.ContainsFunc(heaps, func(h heap) bool { return h.cell.CapacityAh > least.cell.CapacityAh }) {
		b.remark(fact, "A pack of unlike cells ends with its weakest: all %d are taken as %s. Measured ones are best grouped from a lot of the cabinet.", n, units.Format(least.cell.CapacityAh, "charge", 3))
	}
	return fmt.Sprintf("%d × %s", n, numberOf.ReplaceAllString(least.words, ""))
}

// aCell is one of them.
var aCell = regexp.MustCompile(`(?i)^\s*an?\b`)

// numberOf is what a heap of cells begins with: how many of them.
var numberOf = regexp.MustCompile(`(?i)^\s*(?:\d+|[a-z]+)\s*(?:[x×*]\s+|\s|[x×*])`)

// either tells which of several kinds is taken, where the light is to run from any.
func (b *builder) either(fact, line string) {
	if !eitherOr.MatchString(line) {
		return
	}
	s := parse(line)
	var kinds []string
	for _, c := range chemistryWords {
		if s.has(c.words...) && !slices.Contains(kinds, c.chemistry) && !(c.chemistry == "li-ion-4.2" && slices.Contains(kinds, "lifepo4")) {
			kinds = append(kinds, c.chemistry)
		}
	}
	if len(kinds) > 1 {
		cell, _, _ := (&builder{v: &design.Variant{}}).cell(s, "")
		b.remark(fact, "Of the kinds named, %s is taken: add the other under Source, at It must also accept.", chemistryName(cell.Chemistry))
	}
}
