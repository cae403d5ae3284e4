package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"runtime/debug"

	"velours/core/vec"
	"velours/server"
	"velours/studio"
)

func init() {
	commands = append(commands,
		command{"demo", "[--addr 127.0.0.1:7410] [--data DIR] [--media DIR]... [--add PATH]... [--memory MB]", "Make the demo reel if it is missing, and serve.",
			func(ctx context.Context, args []string, out io.Writer) error { return serve(ctx, "demo", args, out) }},
		command{"serve", "[--addr 127.0.0.1:7410] [--data DIR] [--media DIR]... [--add PATH]... [--memory MB]", "Serve the screen.",
			func(ctx context.Context, args []string, out io.Writer) error { return serve(ctx, "serve", args, out) }})
}

// dataDir is where a person's library lives unless they say otherwise.
func dataDir() string {
	if base, err := os.UserConfigDir(); err == nil {
		return filepath.Join(base, "velours")
	}
	return "velours-data"
}

// usualPlaces are where shots may come from unless --media says otherwise: here, and a person's home.
func usualPlaces() ([]string, error) {
	here, err := os.Getwd()
	if err != nil {
		return nil, err
	}
	list := []string{here}
	if home, err := os.UserHomeDir(); err == nil && home != here {
		list = append(list, home)
	}
	return list, nil
}

func serve(ctx context.Context, name string, args []string, out io.Writer) error {
	fs := flag.NewFlagSet(name, flag.ContinueOnError)
	addr := fs.String("addr", "127.0.0.1:7410", "`ADDRESS` to listen on")
	data := fs.String("data", dataDir(), "`DIR` that holds the library and the deliveries")
	memory := fs.Int("memory", studio.UsualMemory, "`MB` of memory that pictures, finished frames and decoders may take together")
	var places []string
	fs.Func("media", "`DIR` to bring shots in from, with all below it; may be given again", func(d string) error {
		places = append(places, d)
		return nil
	})
	var sources []string
	fs.Func("add", "`PATH` of a file, sequence or folder to bring in; may be given again", func(p string) error {
		sources = append(sources, p)
		return nil
	})
	if err := parse(fs, args); err != nil {
		return err
	}
	if *memory < studio.LeastMemory {
		return studio.Bad("--memory %d is too little; Velours needs %d MB", *memory, studio.LeastMemory)
	}
	budget := studio.Within(*memory)
	// garbage is collected sooner when the budget is nearly used
	debug.SetMemoryLimit(budget.Total())
	st, err := studio.OpenWithin(*data, budget)
	if err != nil {
		return err
	}
	defer st.Close()
	if len(places) == 0 {
		if places, err = usualPlaces(); err != nil {
			return err
		}
	}
	if err := st.Allow(places...); err != nil {
		return err
	}
	if name == "demo" {
		if err := st.LoadDemo(ctx); err != nil {
			return err
		}
	}
	if len(sources) > 0 {
		got, err := st.Add(ctx, sources)
		if err != nil {
			return err
		}
		for _, shot := range got.Shots {
			fmt.Fprintf(out, "brought in %s, %d frames\n", shot.Name, shot.Frames)
		}
		for _, p := range got.Problems {
			fmt.Fprintln(out, p)
		}
	}
	slog.Info("engine", "vectors", vec.Backend())
	return server.New(st).Serve(ctx, *addr, func(url string) { fmt.Fprintln(out, "Velours is at "+url) })
}
