// Package exchange writes what leaves the program for other programs, and reads
// what comes from them.
package exchange

import (
	"encoding/csv"
	"fmt"
	"io"
	"strconv"

	"photherm/core/chain"
)

// WriteCSV writes a trace as CSV: seconds first, then one column for each figure
// headed owner.figure [unit]; mode columns hold the name of the mode.
func WriteCSV(w io.Writer, t *chain.Trace) error {
	out := csv.NewWriter(w)
	row := []string{"t [s]"}
	for _, s := range t.Series {
		owner := s.Owner
		if owner == "" {
			owner = "total"
		}
		row = append(row, owner+"."+s.Figure+" ["+s.Unit+"]")
	}
	if err := out.Write(row); err != nil {
		return fmt.Errorf("writing CSV: %w", err)
	}
	for i, at := range t.T {
		row = append(row[:0], strconv.FormatFloat(at, 'g', 9, 64))
		for _, s := range t.Series {
			switch x := s.Values[i]; {
			case x == nil:
				row = append(row, "") // it cannot be had
			case s.Figure == "mode":
				row = append(row, chain.ModeName(*x))
			default:
				row = append(row, strconv.FormatFloat(*x, 'g', 7, 64))
			}
		}
		if err := out.Write(row); err != nil {
			return fmt.Errorf("writing CSV: %w", err)
		}
	}
	out.Flush()
	if err := out.Error(); err != nil {
		return fmt.Errorf("writing CSV: %w", err)
	}
	return nil
}
