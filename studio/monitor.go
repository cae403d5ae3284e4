package studio

import (
	"context"
	"fmt"
	"math"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/frame"
	"velours/core/path"
	"velours/library"
)

// View asks for one picture of a shot.
type View struct {
	Shot  uint `json:"shot"`
	Frame int  `json:"frame"`
	// Look overrides the shot's saved look, while a hand is still moving.
	Look *path.Look `json:"look,omitempty"`
	// Compare is "" for the look, "film" for it without film, "entered" for the conversion alone,
	// or "station.kind" for it without one step.
	Compare string `json:"compare,omitempty"`
	// Encoding shows the shot as if it had been declared so.
	Encoding string `json:"encoding,omitempty"`
	// Adds names a step as station.kind: the picture is what it adds and takes away, in linear light of
	// the display, four times over, on mid grey.
	Adds string `json:"adds,omitempty"`
	// W and H bound the picture as fitted; 0 is the shot's own size.
	W int `json:"width"`
	H int `json:"height"`
	// Crop, where its sizes are not 0, cuts the picture at the shot's own size.
	X     int `json:"x,omitempty"`
	Y     int `json:"y,omitempty"`
	CropW int `json:"cropWidth,omitempty"`
	CropH int `json:"cropHeight,omitempty"`
	// Draft asks for a quick, smaller picture.
	Draft bool `json:"draft,omitempty"`
}

// Image is a picture for the screen: 8 bits, red, green, blue, opaque.
type Image struct {
	W, H int
	RGBA []byte
	// SourceW and SourceH are the size of the whole picture it is a view of.
	SourceW, SourceH int
}

// fit is the largest size of a shot's shape inside w×h, never above its own.
func fit(shot *library.Shot, w, h int) (int, int) {
	k := 1.0
	if w > 0 && h > 0 {
		k = min(1, float64(w)/float64(shot.Width), float64(h)/float64(shot.Height))
	}
	return max(1, int(math.Round(float64(shot.Width)*k))), max(1, int(math.Round(float64(shot.Height)*k)))
}

// draftWidth is how wide a draft is at most.
const draftWidth = 480

func (s *Studio) prepare(ctx context.Context, v *View) (*library.Shot, *path.Look, path.Source, error) {
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, nil, nil, err
	}
	look := v.Look
	if look == nil {
		if look, err = path.ParseLook([]byte(shot.Look)); err != nil {
			return nil, nil, nil, err
		}
	} else if err := look.Check(); err != nil {
		return nil, nil, nil, BadInput{err}
	}
	look = look.Clone()
	encoding := shot.Encoding
	if v.Encoding != "" {
		e, err := colour.FindEncoding(v.Encoding)
		if err != nil {
			return nil, nil, nil, BadInput{err}
		}
		if err := enclose(look, e); err != nil {
			return nil, nil, nil, err
		}
		encoding = v.Encoding
	}
	if err := declare(look, encoding); err != nil {
		return nil, nil, nil, err
	}
	src, err := s.reader(ctx, shot.Path)
	if err != nil {
		return nil, nil, nil, wrapInput(err)
	}
	return shot, look, src, nil
}

// compared is the look that a comparison shows.
func compared(l *path.Look, compare string) (*path.Look, error) {
	switch compare {
	case "":
		return l, nil
	case "film":
		return l.WithoutFilm(), nil
	case "entered":
		c := path.NewLook(l.Name)
		for _, s := range []path.Station{path.Intake, path.Screen} {
			if l.Stations[s] != nil {
				c.Stations[s] = l.Stations[s]
			}
		}
		return c, nil
	}
	for _, k := range path.Kinds() {
		if k.Path() == compare {
			return l.Without(k.Station, k.ID), nil
		}
	}
	return nil, Bad("there is nothing called %q to compare with", compare)
}

// Picture renders a view.
func (s *Studio) Picture(ctx context.Context, v View) (*Image, error) {
	shot, look, src, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	if look, err = compared(look, v.Compare); err != nil {
		return nil, err
	}
	w, h := fit(shot, v.W, v.H)
	if v.CropW > 0 && v.CropH > 0 {
		w, h = shot.Width, shot.Height
	}
	full := w
	if v.Draft && w > draftWidth {
		h = max(1, h*draftWidth/w)
		w = draftWidth
	}
	compile := path.Compile
	if v.Draft {
		compile = path.CompileDraft
	}
	plan, err := compile(ctx, look, path.Raster{W: w, H: h}, path.Finish)
	if err != nil {
		return nil, err
	}
	f, err := s.render.Render(ctx, plan, src, v.Frame)
	if err != nil {
		return nil, wrapInput(err)
	}
	if v.Adds != "" {
		without, err := compared(look, v.Adds)
		if err != nil {
			return nil, err
		}
		other, err := compile(ctx, without, path.Raster{W: w, H: h}, path.Finish)
		if err != nil {
			return nil, err
		}
		g, err := s.render.Render(ctx, other, src, v.Frame)
		if err != nil {
			return nil, wrapInput(err)
		}
		if f, err = adds(ctx, f, g, plan.Display); err != nil {
			return nil, err
		}
	}
	if v.CropW > 0 && v.CropH > 0 {
		k := float64(w) / float64(full)
		at := func(x int) int { return int(float64(x) * k) }
		f = f.Crop(at(v.X), at(v.Y), max(1, at(v.CropW)), max(1, at(v.CropH)))
	}
	return &Image{f.W, f.H, rgba(f), shot.Width, shot.Height}, nil
}

// addsGain is how many times over a difference is shown.
const addsGain = 4

// adds is the signed difference of two pictures in linear light, on mid grey.
func adds(ctx context.Context, with, without *frame.Frame, d *colour.Display) (*frame.Frame, error) {
	out := frame.New(with.W, with.H, 3)
	grey := 0.18 / d.Head()
	err := frame.Bands(ctx, out.H, 8, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			var a, b [3][]float32
			for c := range 3 {
				a[c], b[c] = with.Row(c, y), without.Row(c, y)
			}
			for x := range out.W {
				p := d.Light([3]float64{float64(a[0][x]), float64(a[1][x]), float64(a[2][x])})
				q := d.Light([3]float64{float64(b[0][x]), float64(b[1][x]), float64(b[2][x])})
				var v [3]float64
				for c := range v {
					v[c] = min(max(grey+addsGain*(p[c]-q[c]), 0), 1)
				}
				v = d.Code(v)
				for c := range v {
					out.Row(c, y)[x] = float32(v[c])
				}
			}
		}
	})
	return out, err
}

// rgba rounds code values to 8 bits.
func rgba(f *frame.Frame) []byte {
	out := make([]byte, 4*f.W*f.H)
	for y := range f.H {
		r, g, b := f.Row(0, y), f.Row(1, y), f.Row(2, y)
		row := out[4*y*f.W:]
		for x := range f.W {
			p := row[4*x : 4*x+4]
			p[0], p[1], p[2], p[3] = code8(r[x]), code8(g[x]), code8(b[x]), 255
		}
	}
	return out
}

func code8(v float32) byte {
	if !(v > 0) {
		return 0
	}
	return byte(min(v, 1)*255 + 0.5)
}

// Ribbon is the beam: the frame as it leaves each of the seven stations, side by side, each band w
// pixels wide and h high, cut from the middle of the frame.
func (s *Studio) Ribbon(ctx context.Context, v View, w, h int) (*Image, error) {
	if w < 8 || h < 8 || w > 1024 || h > 1024 {
		return nil, Bad("a band of %d×%d; each side goes from 8 to 1024", w, h)
	}
	shot, look, src, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	n := len(path.Stations)
	out := &Image{W: w * n, H: h, RGBA: make([]byte, 4*w*n*h), SourceW: shot.Width, SourceH: shot.Height}
	bw := w
	bh := max(1, w*shot.Height/shot.Width)
	if bh < h {
		bw, bh = h*shot.Width/shot.Height, h
	}
	for i, st := range path.Stations {
		f, err := s.band(ctx, look, src, v.Frame, path.Raster{W: bw, H: bh}, st)
		if err != nil {
			return nil, fmt.Errorf("the %s band: %w", st, err)
		}
		f = f.Crop((f.W-w)/2, (f.H-h)/2, w, h)
		px := rgba(f)
		for y := range f.H {
			copy(out.RGBA[4*(y*out.W+i*w):], px[4*y*f.W:4*(y+1)*f.W])
		}
	}
	return out, nil
}

// band is the picture as it leaves a station, made visible.
func (s *Studio) band(ctx context.Context, look *path.Look, src path.Source, n int, r path.Raster, st path.Station) (*frame.Frame, error) {
	switch st {
	case path.Intake:
		f, err := src.Frame(ctx, n)
		if err != nil {
			return nil, wrapInput(err)
		}
		if look.Step(path.Intake, "encoding").Settings["id"] == "acescg" {
			break // light has no code values to show
		}
		return frame.Scale(ctx, f, r.W, r.H)
	case path.Negative:
		if f, ok, err := s.againstLamp(ctx, look, src, n, r); ok || err != nil {
			return f, err
		}
	}
	// leave out what comes after the station; the screen always shows
	part := look.Clone()
	after := false
	for _, t := range path.Stations {
		if after && t != path.Screen {
			delete(part.Stations, t)
		}
		after = after || t == st
	}
	tap := path.Finish
	if st == path.Print {
		if err := part.Set("screen.display.range", 0); err != nil {
			return nil, err
		}
	}
	if st == path.Intake || st == path.Balance || st == path.Lens || st == path.Negative {
		part = part.WithoutFilm()
	}
	plan, err := path.Compile(ctx, part, r, tap)
	if err != nil {
		return nil, err
	}
	return s.render.Render(ctx, plan, src, n)
}

// againstLamp shows the negative as it hangs before a lamp; ok is false where there is none.
func (s *Studio) againstLamp(ctx context.Context, look *path.Look, src path.Source, n int, r path.Raster) (f *frame.Frame, ok bool, err error) {
	neg := path.NegativeOf(look)
	if neg == nil {
		return nil, false, nil
	}
	plan, err := path.Compile(ctx, look, r, path.Negative)
	if err != nil {
		return nil, false, err
	}
	d, err := s.render.Render(ctx, plan, src, n)
	if err != nil {
		return nil, false, wrapInput(err)
	}
	srgb, err := colour.FindDisplay("srgb")
	if err != nil {
		return nil, false, err
	}
	m := srgb.Gamut.ToXYZ().Inverse().Mul(colour.Adapt(film.LampWhite(), srgb.Gamut.White.XYZ()))
	w := srgb.Luminance()
	f = frame.New(d.W, d.H, 3)
	err = frame.Bands(ctx, d.H, 4, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			for x := range d.W {
				v := m.Apply(film.Lamp(neg, [3]float64{float64(d.Row(0, y)[x]), float64(d.Row(1, y)[x]), float64(d.Row(2, y)[x])}))
				v = colour.Fit([3]float64{v[0] * 1.35, v[1] * 1.35, v[2] * 1.35}, w)
				for p := range 3 {
					f.Row(p, y)[x] = float32(srgb.Encode(v[p]))
				}
			}
		}
	})
	return f, true, err
}
