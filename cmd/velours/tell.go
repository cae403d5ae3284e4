package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
)

func init() {
	commands = append(commands, command{"tell", "[--look FILE] [--set ...] [--json]", "Put a look into words: every value that is not at rest.", tell})
}

func tell(_ context.Context, args []string, out io.Writer) error {
	fs := flag.NewFlagSet("tell", flag.ContinueOnError)
	var l lookFlags
	l.declare(fs)
	asJSON := fs.Bool("json", false, "as data")
	if err := parse(fs, args); err != nil {
		return err
	}
	given, err := l.look()
	if err != nil {
		return err
	}
	if *asJSON {
		return json.NewEncoder(out).Encode(given.Tell())
	}
	_, err = fmt.Fprint(out, given.Tell())
	return err
}
