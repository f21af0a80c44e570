package exchange

import (
	"strconv"
	"strings"
)

// formulaStarts are what a spreadsheet takes a cell for a formula by.
const formulaStarts = "=+-@\t\r"

// harmless marks a text that a spreadsheet would take for a formula as text; numbers stay
// as they are.
func harmless(cell string) string {
	if cell == "" || !strings.ContainsRune(formulaStarts, rune(cell[0])) {
		return cell
	}
	if _, err := strconv.ParseFloat(cell, 64); err == nil {
		return cell
	}
	return "'" + cell
}

// unharmed takes the mark off.
func unharmed(cell string) string {
	if len(cell) > 1 && cell[0] == '\'' && strings.ContainsRune(formulaStarts, rune(cell[1])) {
		return cell[1:]
	}
	return cell
}
