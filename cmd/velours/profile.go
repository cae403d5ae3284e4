package main

import (
	"flag"
	"os"
	"runtime/pprof"

	"velours/studio"
)

// profile is the flag that every command has: where the time of the processor went, for go tool pprof.
type profile struct {
	path *string
	file *os.File
}

// running is the profile of this run.
var running profile

func (p *profile) declare(fs *flag.FlagSet) {
	p.path = fs.String("profile", "", "write where the processor's time went to this `file`, for go tool pprof")
}

// start begins the profile, if one was asked for.
func (p *profile) start() error {
	if *p.path == "" {
		return nil
	}
	f, err := os.Create(*p.path)
	if err != nil {
		return studio.Bad("the profile cannot be written: %w", err)
	}
	if err := pprof.StartCPUProfile(f); err != nil {
		f.Close()
		return studio.Bad("a profile cannot be taken: %w", err)
	}
	p.file = f
	return nil
}

// stop ends it.
func (p *profile) stop() error {
	if p.file == nil {
		return nil
	}
	pprof.StopCPUProfile()
	f := p.file
	p.file = nil
	return f.Close()
}
