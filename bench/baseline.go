package main

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"runtime"
	"slices"
)

// What was measured at the last release, as ratios: `make bench` prints in red what is slower by more than a tenth. It is brought up to date by
// hand, with `go run ./bench -record`, on the kind of machine that it names.
//
//go:embed baseline.json
var lastRelease []byte

// baseline is what was measured, and where.
type baseline struct {
	Machine string             `json:"machine"`
	Ratios  map[string]float64 `json:"ratios"`
}

// measured are the ratios of this run: less is faster.
var measured = map[string]float64{}

func record(name string, ratio float64) { measured[name] = ratio }

func cpus() int { return runtime.GOMAXPROCS(0) }

// slower is from how much more on a ratio counts as slower.
const slower = 1.1

// compare prints the ratios that have changed since the last release.
func compare() {
	var was baseline
	check(json.Unmarshal(lastRelease, &was))
	fmt.Printf("\nagainst the last release, on %s\n", was.Machine)
	for _, name := range slices.Sorted(maps.Keys(measured)) {
		before, ok := was.Ratios[name]
		switch now := measured[name]; {
		case !ok:
			fmt.Printf("  %-60s %8.2f, not measured then\n", name, now)
		case now > slower*before:
			fmt.Printf("\x1b[31m  %-60s %8.2f, %.2f then\x1b[0m\n", name, now, before)
		default:
			fmt.Printf("  %-60s %8.2f, %.2f then\n", name, now, before)
		}
	}
}

// keep writes the ratios of this run as the baseline.
func keep(machine string) {
	var was baseline
	check(json.Unmarshal(lastRelease, &was))
	if was.Ratios == nil {
		was.Ratios = map[string]float64{}
	}
	maps.Copy(was.Ratios, measured)
	was.Machine = machine
	data, err := json.MarshalIndent(was, "", "  ")
	check(err)
	check(os.WriteFile("bench/baseline.json", append(data, '\n'), 0o644))
}
