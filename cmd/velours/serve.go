package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"runtime/debug"

	"velours/core/vec"
	"velours/media"
	"velours/server"
	"velours/studio"
)

func init() {
	commands = append(commands,
		command{"demo", "[--addr 127.0.0.1:7410] [--host NAME]... [--token TEXT] [--data DIR] [--media DIR]... [--add PATH]... [--memory MB]", "Make the demo reel if it is missing, and serve.",
			func(ctx context.Context, args []string, out io.Writer) error { return serve(ctx, "demo", args, out) }},
		command{"serve", "[--addr 127.0.0.1:7410] [--host NAME]... [--token TEXT] [--data DIR] [--media DIR]... [--add PATH]... [--memory MB]", "Serve the screen.",
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
	token := fs.String("token", os.Getenv("VELOURS_TOKEN"), "`TEXT` that the page must show when others can reach the address; one is made up without it")
	var access server.Access
	fs.Func("host", "`NAME` of this machine under which pages may be opened, beside localhost; may be given again", func(h string) error {
		access.Hosts = append(access.Hosts, h)
		return nil
	})
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
	debug.SetMemoryLimit(budget.Here())
	if err := media.Installed(); err != nil {
		return studio.Bad("%w", err)
	}
	// the folder and the port are taken before anything is touched
	folder, err := studio.Take(*data)
	if err != nil {
		return err
	}
	listener, err := server.Listen(*addr)
	if err != nil {
		return errors.Join(err, folder.Release())
	}
	defer listener.Close()
	url := "http://" + listener.Addr().String()
	if err := folder.Say(url); err != nil {
		return err
	}
	if host, _, err := net.SplitHostPort(*addr); err == nil {
		access.Hosts = append(access.Hosts, host)
	}
	if !server.Loopback(listener.Addr().String()) {
		if access.Token = *token; access.Token == "" {
			access.Token = server.NewToken()
		}
		url += "/?token=" + access.Token
	}
	st, err := folder.Open(budget)
	if err != nil {
		return errors.Join(err, folder.Release())
	}
	defer st.Close()
	st.Others(func(bytes int64) { debug.SetMemoryLimit(max(budget.Here()-bytes, budget.Here()/3)) })
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
	fmt.Fprintln(out, "Velours is at "+url)
	return server.New(st, access).Serve(ctx, listener)
}
