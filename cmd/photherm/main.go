// Command photherm computes, keeps and judges high-power lights. See README.md.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"photherm/app/serve"
)

const usage = `Photherm: high-power lights, from the pack to the beam.

  photherm serve  [--data DIR] [--address HOST:PORT]   run on loopback
                  [--host NAME]... [--cert FILE --key FILE | --proxy]
                                                       run for other devices too: names it answers to, its
                                                       certificate, or a proxy in front that has one
                  [--instrument HOST]...               a host whose instruments may be read, beside this machine
  photherm passphrase [--data DIR]                     set the passphrase other devices are asked for
  photherm demo   [--data DIR] [--address HOST:PORT]   the same, with the demo workshop on an empty shelf
  photherm export FILE [--data DIR]                    everything into one archive, also while it runs
  photherm import FILE [--data DIR] [--beside]         an archive into the data folder; what is there stays,
                                                       what differs is left out, or put beside it
  photherm solve  FILE [--at 2h] [--ambient 35] [--variant N] [--csv]
                                                       solve a light file and print the solution
  photherm instruments FILE [--variant N] [--seed N] [--fault NAME]... [--pace N]
                                                       stand-ins for instruments on a light, by SCPI on loopback,
                                                       until they are stopped
  photherm schema                                      JSON Schema of the light file
  photherm openapi                                     description of the HTTP interface
  photherm units                                       units accepted for each quantity
  photherm usual                                       what families of drivers and layers usually are

PHOTHERM_DSN names a MariaDB of your own instead of the private one.
`

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx, os.Args[1:]); err != nil {
		fmt.Fprintln(os.Stderr, "photherm:", err)
		stop()
		os.Exit(1)
	}
}

func run(ctx context.Context, args []string) error {
	if len(args) == 0 {
		args = []string{"help"}
	}
	switch command, rest := args[0], args[1:]; command {
	case "serve", "demo":
		return serveCommand(ctx, command, rest)
	case "passphrase":
		return passphraseCommand(ctx, rest, os.Stdin, os.Stdout)
	case "export":
		return exportCommand(ctx, rest, os.Stdout)
	case "import":
		return importCommand(ctx, rest, os.Stdout)
	case "solve":
		return solveCommand(ctx, rest, os.Stdout)
	case "instruments":
		return instrumentsCommand(ctx, rest, os.Stdout)
	case "schema":
		return schemaCommand(os.Stdout)
	case "openapi":
		return openapiCommand(os.Stdout)
	case "units":
		return unitsCommand(os.Stdout)
	case "usual":
		return usualCommand(os.Stdout)
	case "help", "-h", "--help":
		fmt.Print(usage)
		return nil
	default:
		return fmt.Errorf("there is no command %q; photherm help lists them", command)
	}
}

func serveCommand(ctx context.Context, name string, args []string) error {
	flags := flag.NewFlagSet(name, flag.ContinueOnError)
	dir := flags.String("data", "data", "folder of the private database")
	address := flags.String("address", "127.0.0.1:8640", "address to serve on")
	c := serve.Config{DSN: os.Getenv("PHOTHERM_DSN"), Demo: name == "demo", Out: os.Stdout}
	flags.Func("host", "a name it answers to from beyond this machine, once for each", func(name string) error {
		c.Hosts = append(c.Hosts, name)
		return nil
	})
	flags.Func("instrument", "a host whose instruments may be read, once for each", func(host string) error {
		c.Instruments = append(c.Instruments, host)
		return nil
	})
	flags.StringVar(&c.Cert, "cert", "", "file of the certificate, PEM")
	flags.StringVar(&c.Key, "key", "", "file of its key, PEM")
	flags.BoolVar(&c.Proxy, "proxy", false, "a proxy in front does TLS")
	if err := flags.Parse(args); err != nil {
		return err
	}
	c.Dir, c.Address = *dir, *address
	return serve.Run(ctx, c)
}
