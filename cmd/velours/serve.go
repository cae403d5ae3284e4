package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"

	"velours/core/vec"
	"velours/server"
	"velours/studio"
)

func init() {
	commands = append(commands,
		command{"demo", "[--addr 127.0.0.1:7410] [--data DIR]", "Make the demo reel if it is missing, and serve.",
			func(ctx context.Context, args []string, out io.Writer) error { return serve(ctx, "demo", args, out) }},
		command{"serve", "[--addr 127.0.0.1:7410] [--data DIR]", "Serve the screen.",
			func(ctx context.Context, args []string, out io.Writer) error { return serve(ctx, "serve", args, out) }})
}

// dataDir is where a person's library lives unless they say otherwise.
func dataDir() string {
	if base, err := os.UserConfigDir(); err == nil {
		return filepath.Join(base, "velours")
	}
	return "velours-data"
}

func serve(ctx context.Context, name string, args []string, out io.Writer) error {
	fs := flag.NewFlagSet(name, flag.ContinueOnError)
	addr := fs.String("addr", "127.0.0.1:7410", "`ADDRESS` to listen on")
	data := fs.String("data", dataDir(), "`DIR` that holds the library and the deliveries")
	if err := parse(fs, args); err != nil {
		return err
	}
	st, err := studio.Open(*data)
	if err != nil {
		return err
	}
	defer st.Close()
	if name == "demo" {
		if err := st.LoadDemo(ctx); err != nil {
			return err
		}
	}
	slog.Info("engine", "vectors", vec.Backend())
	return server.New(st).Serve(ctx, *addr, func(url string) { fmt.Fprintln(out, "Velours is at "+url) })
}
