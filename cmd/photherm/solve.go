package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math"
	"os"
	"strings"

	"photherm/app/exchange"
	"photherm/app/solution"
	"photherm/core/design"
	"photherm/core/units"
)

func solveCommand(ctx context.Context, args []string, out io.Writer) error {
	flags := flag.NewFlagSet("solve", flag.ContinueOnError)
	at := flags.String("at", "30 s", "instant of the figures after switch-on, such as 2h or 90 s")
	ambient := flags.String("ambient", "", "air temperature in place of the file's, such as 35 or 95 °F")
	variant := flags.Int("variant", 0, "which variant, from 0")
	asCSV := flags.Bool("csv", false, "print the course in time as CSV")
	file, err := fileFirst(flags, args)
	if err != nil {
		return err
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return fmt.Errorf("reading the light file: %w", err)
	}
	light, err := design.Decode(data)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	q := solution.Query{Variant: *variant}
	if q.Variant < 0 || q.Variant >= len(light.Variants) {
		return fmt.Errorf("--variant: %s has variants 0 to %d", file, len(light.Variants)-1)
	}
	if q.AtS, err = units.Parse(*at, "duration"); err != nil || q.AtS < 0 || math.IsInf(q.AtS, 0) {
		return fmt.Errorf("--at %q is not a time from switch-on on", *at)
	}
	if *ambient != "" {
		c, err := units.Parse(*ambient, "temperature")
		if err != nil {
			return fmt.Errorf("--ambient: %w", err)
		}
		if c < -60 || c > 80 {
			return fmt.Errorf("--ambient: %v °C is outside -60 to 80 °C", c)
		}
		q.AmbientC = &c
	}
	answer, run, err := solution.Solve(ctx, light, q)
	if err != nil {
		return err
	}
	if *asCSV {
		return exchange.WriteCSV(out, run.Trace())
	}
	return printJSON(out, answer)
}

func printJSON(out io.Writer, v any) error {
	e := json.NewEncoder(out)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	if err := e.Encode(v); err != nil {
		return fmt.Errorf("writing JSON: %w", err)
	}
	return nil
}

// fileFirst reads flags, and the file that stands before or after them.
func fileFirst(flags *flag.FlagSet, args []string) (file string, err error) {
	if len(args) > 0 && !strings.HasPrefix(args[0], "-") {
		file, args = args[0], args[1:]
	}
	if err := flags.Parse(args); err != nil {
		return "", err
	}
	if file == "" {
		file = flags.Arg(0)
	}
	if file == "" {
		return "", fmt.Errorf("name a light file: photherm %s FILE", flags.Name())
	}
	return file, nil
}
