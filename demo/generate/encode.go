package main

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"

	"velours/core/colour"
	"velours/core/frame"
	"velours/demo/stage"
	"velours/media"
)

// recording is how a shot was recorded: an encoding, a rate factor that keeps the movie under 4 MB, and by how much the
// camera was off, in stops and mired.
type recording struct {
	encoding, crf string
	stops, mired  float64
}

// camera is that of each shot. Those of second angles were set a stop, and 600 K at daylight, otherwise than the first.
var camera = map[string]recording{
	"footlights":   {"logc4", "11", 0, 0},
	"workbench":    {"logc3", "8", 0, 0},
	"courtyard":    {"slog3-cine", "15", 0, 0},
	"footlights-b": {"log3g10", "13", -1, -17.3},
	"courtyard-b":  {"logc3", "17", 1, 17.3},
}

// encode turns the frames of a folder into camera movies, or one of them, and draws the chart.
func encode(ctx context.Context, from, to, only string) error {
	if err := os.MkdirAll(to, 0o755); err != nil {
		return err
	}
	for _, s := range stage.Shots {
		if only != "" && only != s.Name {
			continue
		}
		if err := movie(ctx, s, from, filepath.Join(to, s.Name+".mov")); err != nil {
			return fmt.Errorf("encoding %s: %w", s.Name, err)
		}
	}
	w, err := media.Create(filepath.Join(to, "slate.exr"), 0, media.Options{Half: true, Light: true})
	if err != nil {
		return err
	}
	return w.Write(ctx, planes(stage.Slate()))
}

// movie writes 10-bit 4:2:2 H.265 (Debian's H.264 encoder breaks at this size and depth); one thread, so that the bits do not depend on the machine.
func movie(ctx context.Context, s stage.Shot, from, to string) error {
	c := camera[s.Name]
	e, err := colour.FindEncoding(c.encoding)
	if err != nil {
		return err
	}
	m := colour.Convert(colour.AP1, e.Gamut)
	if c.stops != 0 || c.mired != 0 {
		m = m.Mul(colour.WhiteBalance(c.mired, 0))
		for i := range m {
			m[i] *= math.Exp2(c.stops)
		}
	}
	cmd := exec.CommandContext(ctx, "ffmpeg", "-v", "error", "-y", "-f", "rawvideo", "-s", "1920x1080", "-r", "24", "-pix_fmt", "yuv422p10le", "-i", "pipe:0",
		"-c:v", "libx265", "-preset", "fast", "-crf", c.crf, "-tag:v", "hvc1", "-x265-params", "log-level=error:pools=1:frame-threads=1:keyint=12:info=0",
		"-colorspace", "bt709", "-color_range", "tv", "-fflags", "+bitexact", "-flags:v", "+bitexact", "-movflags", "+faststart", "-f", "mov", to)
	cmd.Stderr = os.Stderr
	in, err := cmd.StdinPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	for n := range s.Length {
		p, err := read(filepath.Join(from, fmt.Sprintf("%s.%02d.raw", s.Name, n)))
		if err != nil {
			return err
		}
		f := planes(p)
		for y := range f.H {
			r, g, b := f.Row(0, y), f.Row(1, y), f.Row(2, y)
			for x := range r {
				v := m.Apply([3]float64{float64(r[x]), float64(g[x]), float64(b[x])})
				r[x], g[x], b[x] = float32(e.Encode(v[0])), float32(e.Encode(v[1])), float32(e.Encode(v[2]))
			}
		}
		if _, err := in.Write(media.Legal422(nil, f)); err != nil {
			return err
		}
	}
	in.Close()
	return cmd.Wait()
}

func read(path string) (*stage.Picture, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	p := &stage.Picture{W: 1920, H: 1080, Pix: make([]float32, 3*1920*1080)}
	return p, binary.Read(bytes.NewReader(data), binary.LittleEndian, p.Pix)
}

// planes takes a picture apart; a light that a camera could not hold is cut at 2¹³.
func planes(p *stage.Picture) *frame.Frame {
	f := frame.New(p.W, p.H, 3)
	for i := range p.W * p.H {
		for c := range 3 {
			f.Row(c, i/p.W)[i%p.W] = float32(math.Min(float64(p.Pix[3*i+c]), 8192))
		}
	}
	return f
}
