package main

import (
	"bufio"
	"context"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"

	"golang.org/x/term"

	"photherm/app/access"
	"photherm/app/serve"
)

// passphraseCommand sets the passphrase: typed twice at a terminal, else one line.
func passphraseCommand(ctx context.Context, args []string, in *os.File, out io.Writer) error {
	flags := flag.NewFlagSet("passphrase", flag.ContinueOnError)
	dir := flags.String("data", "data", "folder of the private database")
	if err := flags.Parse(args); err != nil {
		return err
	}
	passphrase, err := askPassphrase(in, out)
	if err != nil {
		return err
	}
	hash, err := access.Hash(passphrase)
	if err != nil {
		return err
	}
	s, end, err := serve.Database(ctx, serve.Config{Dir: *dir, DSN: os.Getenv("PHOTHERM_DSN"), Out: os.Stderr})
	if err != nil {
		return err
	}
	defer end()
	if err := s.SetPassphrase(ctx, hash); err != nil {
		return err
	}
	fmt.Fprintln(out, "The passphrase is set; whoever was logged in with another is logged out.")
	return nil
}

func askPassphrase(in *os.File, out io.Writer) (string, error) {
	if !term.IsTerminal(int(in.Fd())) {
		line, err := bufio.NewReader(in).ReadString('\n')
		if err != nil && err != io.EOF {
			return "", fmt.Errorf("reading the passphrase: %w", err)
		}
		return strings.TrimRight(line, "\r\n"), nil
	}
	var typed [2]string
	for i, ask := range []string{"New passphrase: ", "Once more: "} {
		fmt.Fprint(out, ask)
		line, err := term.ReadPassword(int(in.Fd()))
		fmt.Fprintln(out)
		if err != nil {
			return "", fmt.Errorf("reading the passphrase: %w", err)
		}
		typed[i] = string(line)
	}
	if typed[0] != typed[1] {
		return "", fmt.Errorf("the two differ; nothing was changed")
	}
	return typed[0], nil
}
