package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"strings"

	"photherm/app/archive"
	"photherm/app/serve"
)

// archiveCommand reads the arguments export and import share; more takes their own.
func archiveCommand(name string, args []string, more func(*flag.FlagSet)) (file string, c serve.Config, err error) {
	flags := flag.NewFlagSet(name, flag.ContinueOnError)
	dir := flags.String("data", "data", "folder of the private database")
	more(flags)
	if len(args) > 0 && !strings.HasPrefix(args[0], "-") {
		file, args = args[0], args[1:]
	}
	if err := flags.Parse(args); err != nil {
		return "", c, err
	}
	if file == "" {
		file = flags.Arg(0)
	}
	if file == "" {
		return "", c, fmt.Errorf("name the archive: photherm %s FILE", name)
	}
	return file, serve.Config{Dir: *dir, DSN: os.Getenv("PHOTHERM_DSN"), Out: os.Stderr}, nil
}

// progress prints how far it is, each tenth.
func progress(out io.Writer) archive.Progress {
	told := 0
	return func(done, of int) {
		if tenth := done * 10 / max(of, 1); done == of || tenth > told {
			told = tenth
			fmt.Fprintf(out, "%d of %d\n", done, of)
		}
	}
}

func exportCommand(ctx context.Context, args []string, out io.Writer) (err error) {
	file, c, err := archiveCommand("export", args, func(*flag.FlagSet) {})
	if err != nil {
		return err
	}
	if _, err := os.Stat(c.Dir); c.DSN == "" && err != nil {
		return fmt.Errorf("there is no data folder %s; name it with --data", c.Dir)
	}
	if _, err := os.Stat(file); err == nil {
		return fmt.Errorf("%s is there already; name another file", file)
	}
	s, end, err := serve.Database(ctx, c)
	if err != nil {
		return err
	}
	defer end()
	// A name of its own until it is whole.
	part := file + ".part"
	f, err := os.OpenFile(part, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("writing the archive: %w", err)
	}
	err = archive.Write(ctx, f, s, progress(c.Out))
	err = errors.Join(err, f.Sync(), f.Close())
	if err == nil {
		err = os.Rename(part, file)
	}
	if err != nil {
		_ = os.Remove(part)
		return fmt.Errorf("writing the archive: %w", err)
	}
	fmt.Fprintf(out, "Everything is in %s.\n", file)
	return nil
}

func importCommand(ctx context.Context, args []string, out io.Writer) error {
	beside := false
	file, c, err := archiveCommand("import", args, func(f *flag.FlagSet) {
		f.BoolVar(&beside, "beside", false, "put what differs from what is there beside it")
	})
	if err != nil {
		return err
	}
	f, err := os.Open(file)
	if err != nil {
		return fmt.Errorf("reading the archive: %w", err)
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return fmt.Errorf("reading the archive: %w", err)
	}
	a, err := archive.Open(f, info.Size())
	if err != nil {
		return err
	}
	s, end, err := serve.Database(ctx, c)
	if err != nil {
		return err
	}
	defer end()
	r, err := a.TakeIn(ctx, s, beside, progress(c.Out))
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%d new, %d brought on, %d there already, %d put beside.\n", r.Added, r.Continued, r.There, r.Copied)
	for _, n := range r.Differing {
		fmt.Fprintf(out, "Left out, it differs from what is there: %s %s, %q.\n", n.Kind, n.ID, n.Name)
	}
	if len(r.Differing) > 0 {
		fmt.Fprintln(out, "With --beside such things are put beside what is there.")
	}
	return nil
}
