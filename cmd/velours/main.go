// Command velours makes digital pictures behave like film. See docs/commands.md, or run
// velours help.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/signal"
	"syscall"

	"velours/studio"
)

// command is one subcommand.
type command struct {
	name, use, about string
	run              func(ctx context.Context, args []string, out io.Writer) error
}

var commands []command

func main() {
	keepTables()
	os.Exit(run(os.Args[1:], os.Stdout, os.Stderr))
}

// run carries a command out and returns the exit code: 0 done, 1 failed, 2 bad input.
func run(args []string, out, problems io.Writer) int {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if len(args) == 0 || args[0] == "help" || args[0] == "--help" || args[0] == "-h" {
		fmt.Fprintln(out, "velours, by subcommand:")
		for _, c := range commands {
			fmt.Fprintf(out, "\n  velours %s %s\n      %s\n", c.name, c.use, c.about)
		}
		fmt.Fprintln(out, "\nEach takes --profile FILE, which tells where the processor's time went (go tool pprof).")
		if len(args) == 0 {
			return 2
		}
		return 0
	}
	for _, c := range commands {
		if c.name != args[0] {
			continue
		}
		err := c.run(ctx, args[1:], out)
		if bad := running.stop(); err == nil {
			err = bad
		}
		var b studio.BadInput
		switch {
		case err == nil, errors.Is(err, flag.ErrHelp):
			return 0
		case errors.Is(err, context.Canceled):
			fmt.Fprintln(problems, "velours "+c.name+": stopped; nothing half-written was left")
			return 1
		case errors.As(err, &b):
			fmt.Fprintf(problems, "velours %s: %v\n", c.name, err)
			return 2
		}
		fmt.Fprintf(problems, "velours %s: %v\n", c.name, err)
		return 1
	}
	fmt.Fprintf(problems, "velours: there is no command %q; velours help lists them\n", args[0])
	return 2
}

// parse reads flags, turning a mistake into bad input in one line.
func parse(fs *flag.FlagSet, args []string) error {
	running.declare(fs)
	fs.SetOutput(io.Discard)
	fs.Usage = func() {}
	if err := fs.Parse(args); err != nil {
		if errors.Is(err, flag.ErrHelp) {
			fs.SetOutput(os.Stdout)
			fs.PrintDefaults()
			return err
		}
		return studio.Bad("%w", err)
	}
	if fs.NArg() > 0 {
		return studio.Bad("%q is one word too many", fs.Arg(0))
	}
	return running.start()
}
