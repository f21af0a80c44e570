package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"

	"photherm/app/instrument/simulated"
	"photherm/core/bench"
	"photherm/core/design"
)

// instrumentsCommand sets stand-ins up on a light until it is stopped. Leads are put with
// ROUTe:LEAD owner,figure and, for later than at once, seconds after switch-on, REST, or LIVE: the
// light is switched on as they are set up.
func instrumentsCommand(ctx context.Context, args []string, out io.Writer) error {
	flags := flag.NewFlagSet("instruments", flag.ContinueOnError)
	variant := flags.Int("variant", 0, "which variant, from 0")
	seed := flags.Uint64("seed", 1, "which light of all that may be")
	pace := flags.Float64("pace", 1, "how many seconds of the light go by in one, up to 600, where leads are LIVE")
	var faults []string
	flags.Func("fault", "one of "+strings.Join(bench.Faults(), ", ")+", once for each", func(f string) error {
		faults = append(faults, f)
		return nil
	})
	file, err := fileFirst(flags, args)
	if err != nil {
		return err
	}
	if !(*pace >= 1 && *pace <= 600) {
		return fmt.Errorf("--pace can be 1 to 600, not %g", *pace)
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return fmt.Errorf("reading the light: %w", err)
	}
	light, err := design.Decode(data)
	if err != nil {
		return err
	}
	truth, err := bench.NewTruth(ctx, light, *variant, *seed, faults)
	if err != nil {
		return err
	}
	b, err := simulated.New(ctx, truth, *seed)
	if err != nil {
		return err
	}
	defer b.Close()
	b.SwitchOn(*pace)
	for _, m := range b.Meters() {
		fmt.Fprintf(out, "%-16s %s  %s\n", m.Quantity, m.Address, m.Name)
	}
	<-ctx.Done()
	return nil
}
