package main

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"syscall"
	"time"

	"velours/core/colour"
	"velours/core/look"
	"velours/core/render"
	"velours/demo"
	"velours/media"
	"velours/studio"
)

// deliveredFrames is how long the delivered clip is, and partFrames how much of it each part is timed on alone.
const deliveredFrames, partFrames = 120, 48

// budgetDelivery is the time of a delivery against its parts' work shared by the cores.
const budgetDelivery = 1.2

// deliveries times whole deliveries of a clip of 1920×1080 (H.264, ten bits), with the look of Footlights and without film, against what the
// processor does for each part alone: decoding, film and encoding.
func deliveries() {
	dir, err := os.MkdirTemp("", "velours-bench")
	check(err)
	defer os.RemoveAll(dir)
	check(demo.Unpack(dir))
	clip := filepath.Join(dir, "clip.mov")
	tool("ffmpeg", "-v", "error", "-stream_loop", "9", "-i", filepath.Join(dir, demo.Shots[0].File), "-frames:v", strconv.Itoa(deliveredFrames), "-c:v", "libx264", "-preset", "fast", "-crf", "14", "-pix_fmt", "yuv420p10le", clip)
	whole, err := demo.LookOf(demo.Shots[0])
	check(err)
	cores := float64(cpus())
	decode := tool("ffmpeg", "-v", "error", "-i", clip, "-frames:v", strconv.Itoa(partFrames), "-f", "rawvideo", "-pix_fmt", "yuv420p10le", "-y", os.DevNull) / partFrames
	fmt.Printf("\ndelivering %d frames of 1920×1080, seconds of the processor a frame for each part alone, and of the clock for the whole; decoding %.3f\n", deliveredFrames, decode)
	fmt.Printf("%-14s %-12s %8s %8s %8s %8s  budget %.1f\n", "look", "to", "film", "encoding", "whole", "× parts", budgetDelivery)
	for _, l := range []struct {
		name string
		look *look.Look
	}{{"Footlights", whole}, {"no film", look.NewLook("clean")}} {
		film := filming(clip, l.look)
		for _, to := range []struct{ name, file, codec string }{{"ProRes 422 HQ", "a.mov", "prores-hq"}, {"H.265", "b.mp4", "h265"}, {"DPX", "c.%06d.dpx", ""}} {
			out := filepath.Join(dir, to.file)
			began := time.Now()
			check(studio.Job{In: clip, Out: out, Look: l.look, Encoding: demo.Shots[0].Encoding, Last: -1, Codec: to.codec}.Run(context.Background(), nil))
			took := time.Since(began).Seconds()
			encode := encoding(dir, out, to.codec)
			parts := (decode + film + encode) * deliveredFrames / cores
			fmt.Printf("%-14s %-12s %8.3f %8.3f %8.1f %8.2f\n", l.name, to.name, film, encode, took, took/parts)
			record("delivery × parts, "+l.name+", "+to.name, took/parts)
			left, err := filepath.Glob(filepath.Join(dir, "[a-c].*"))
			check(err)
			for _, f := range left {
				os.Remove(f)
			}
		}
	}
}

// filming is the processor's time for the film of a frame alone, of frames that are in memory.
func filming(clip string, l *look.Look) float64 {
	ctx := context.Background()
	src, err := media.Open(ctx, clip)
	check(err)
	defer src.Close()
	e, err := colour.FindEncoding(demo.Shots[0].Encoding)
	check(err)
	plan, err := render.Compile(ctx, l, e, render.Raster{W: 1920, H: 1080}, look.Finish)
	check(err)
	r := render.NewRenderer(0)
	plan, err = r.Bind(ctx, plan, src)
	check(err)
	f, err := src.Frame(ctx, 0)
	check(err)
	turn := func(frames int) {
		for n := range frames {
			out, err := r.Render(ctx, plan, single{f}, n)
			check(err)
			out.Release()
		}
	}
	turn(3)
	before := worked(syscall.RUSAGE_SELF)
	turn(partFrames)
	return (worked(syscall.RUSAGE_SELF) - before) / partFrames
}

// encoding is the processor's time for encoding a frame of a delivery alone, as the delivery did.
func encoding(dir, made, codec string) float64 {
	format, args := "gbrp10le", []string{"-c:v", "dpx"}
	for i := range media.Codecs {
		if c := &media.Codecs[i]; c.ID == codec {
			format, args = c.Encoder()
		}
	}
	raw, frames := filepath.Join(dir, "raw"), strconv.Itoa(partFrames)
	tool("ffmpeg", "-v", "error", "-y", "-i", made, "-frames:v", frames, "-f", "rawvideo", "-pix_fmt", format, raw)
	defer os.Remove(raw)
	out := []string{filepath.Join(dir, "raw.mov")}
	if codec == "" {
		out = []string{filepath.Join(dir, "raw.%06d.dpx")}
	}
	if codec == "h264" || codec == "h265" {
		out = append([]string{"-pix_fmt", "yuv420p10le"}, out...)
	}
	took := tool("ffmpeg", slices.Concat([]string{"-v", "error", "-y", "-f", "rawvideo", "-s", "1920x1080", "-r", "24", "-pix_fmt", format, "-i", raw}, args, out)...)
	left, err := filepath.Glob(filepath.Join(dir, "raw.*"))
	check(err)
	for _, f := range left {
		os.Remove(f)
	}
	return took / partFrames
}

// tool runs a program and returns the processor's time that it took.
func tool(name string, args ...string) float64 {
	before := worked(syscall.RUSAGE_CHILDREN)
	cmd := exec.Command(name, args...)
	cmd.Stderr = os.Stderr
	check(cmd.Run())
	return worked(syscall.RUSAGE_CHILDREN) - before
}

// worked is the processor's time so far, in seconds.
func worked(who int) float64 {
	var u syscall.Rusage
	check(syscall.Getrusage(who, &u))
	return float64(u.Utime.Nano()+u.Stime.Nano()) / 1e9
}
