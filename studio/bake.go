package studio

import (
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"sort"
	"strings"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/lut"
	"velours/core/render"
)

// Bake is the colour part of a look as a table.
type Bake struct {
	Out     string
	Look    *look.Look
	From    string // encoding of what goes in
	Display string
	Size    int
	// Curve puts a 1D table before the cube of a .cube, which brings the nodes to where the path bends,
	// for programs that read both. What takes light has one anyway, and so has every CLF.
	Curve bool
}

// Baked is a table with what is to be known about it.
type Baked struct {
	Table *lut.List
	// Left holds the labels of the steps that a table cannot carry.
	Left []string
	// Error is how far the table is from the path itself.
	Error BakeError
}

// BakeError is a distribution of CIEDE2000 differences.
type BakeError struct{ Mean, P99, Worst float64 }

func (e BakeError) String() string {
	return fmt.Sprintf("ΔE2000 against the path on %d colours of a scene: mean %.2f, 99th percentile %.2f, worst %.1f", reportColours, e.Mean, e.P99, e.Worst)
}

const reportColours = 10000

// shaperTop is the brightest light that a table for light takes, eight and a half stops above mid grey.
const shaperTop = 64

// shaper is a curve from what comes in to the place among a cube's nodes, the same for each channel.
type shaper struct {
	lo, hi float64 // of what comes in
	place  func(in float64) float64
	in     func(place float64) float64
	// node is the curve as a node of the Common LUT Format, where it has one.
	node *lut.Log
}

// plainShaper is none: code values 0 to 1 are places.
func plainShaper() *shaper {
	same := func(v float64) float64 { return v }
	return &shaper{hi: 1, place: same, in: same}
}

// lightShaper spaces nodes evenly in stops down to four and a half below mid grey, and evenly in light
// below: the curve of ACEScct (S-2016-001), with 1 at shaperTop.
func lightShaper() *shaper {
	top := (math.Log2(shaperTop) + 9.72) / 17.52
	p := lut.LogParams{Base: 2, LogSlope: 1 / 17.52 / top, LogOffset: 9.72 / 17.52 / top, LinSlope: 1, Break: 0.0078125, LinearSlope: math.NaN()}
	return &shaper{lo: p.Light(0), hi: shaperTop, place: p.Code, in: p.Light, node: &lut.Log{ToLog: true, Params: [3]lut.LogParams{p, p, p}}}
}

// logShaper does the same for the codes of an encoding, whose own curve may leave few nodes to the shadows.
func logShaper(e *colour.Encoding) *shaper {
	l := lightShaper()
	a, b := l.place(e.Decode(0)*e.Anchor), l.place(e.Decode(1)*e.Anchor)
	return &shaper{
		hi:    1,
		place: func(in float64) float64 { return (l.place(e.Decode(in)*e.Anchor) - a) / (b - a) },
		in:    func(place float64) float64 { return e.Encode(l.in(a+(b-a)*place) / e.Anchor) },
	}
}

// nodes is the curve as a file of a kind has it: nothing, a Log node, or a 1D table.
func (s *shaper) nodes(ext string) []lut.Node {
	if ext == ".clf" && s.node != nil {
		return []lut.Node{s.node}
	}
	n := lut.Max1
	if s.node == nil {
		n = 4096
	}
	t := &lut.Table1{Lo: [3]float64{s.lo, s.lo, s.lo}, Hi: [3]float64{s.hi, s.hi, s.hi}}
	for i := range n {
		v := float32(s.place(s.lo + (s.hi-s.lo)*float64(i)/float64(n-1)))
		for c := range t.Curves {
			t.Curves[c] = append(t.Curves[c], v)
		}
	}
	return []lut.Node{t}
}

// lattice is a picture of every node of a cube, red running fastest along its rows.
type lattice struct {
	n  int
	at func(u float64) float64 // what comes in at place u of an edge
}

func (l lattice) Key() string { return fmt.Sprintf("lattice %d", l.n) }
func (l lattice) Frame(context.Context, int) (*frame.Frame, error) {
	f := frame.New(l.n, l.n*l.n, 3)
	edge := make([]float32, l.n)
	for i := range edge {
		edge[i] = float32(l.at(float64(i) / float64(l.n-1)))
	}
	for y := range f.H {
		for x := range f.W {
			f.Row(0, y)[x], f.Row(1, y)[x], f.Row(2, y)[x] = edge[x], edge[y%l.n], edge[y/l.n]
		}
	}
	return f, nil
}

// settled is the look that a table can carry, with the encoding of what goes in.
func (b Bake) settled() (*look.Look, []string, *colour.Encoding, error) {
	if b.Size < 2 || b.Size > 129 {
		return nil, nil, nil, Bad("size is %d; it goes from 2 to 129", b.Size)
	}
	job := Job{In: "the table", Look: b.Look, Encoding: b.From, Display: b.Display}
	if job.Look == nil {
		job.Look = look.NewLook("clean")
	}
	if job.Encoding == "" {
		return nil, nil, nil, Bad("the table needs to know what goes in; declare it with --from")
	}
	if err := job.settle(nil); err != nil {
		return nil, nil, nil, err
	}
	l, left := render.Tabular(job.Look)
	return l, left, job.encoding, nil
}

// Make computes the table, and its error.
func (b Bake) Make(ctx context.Context) (*Baked, error) {
	l, left, from, err := b.settled()
	if err != nil {
		return nil, err
	}
	ext := strings.ToLower(filepath.Ext(b.Out))
	curve, plain := plainShaper(), true
	switch {
	case from.Linear:
		curve, plain = lightShaper(), false
	case (b.Curve || ext == ".clf") && from.Encode != nil:
		curve, plain = logShaper(from), false
	}
	plan, err := render.Compile(ctx, l, from, render.Raster{W: b.Size, H: b.Size * b.Size}, look.Finish)
	if err != nil {
		return nil, err
	}
	f, err := render.NewRenderer(0).Render(ctx, plan, lattice{b.Size, curve.in}, 0)
	if err != nil {
		return nil, err
	}
	list := &lut.List{
		Title:  l.Name,
		Notes:  []string{"Velours: the colour part of a look"},
		Input:  from.Label + ", code values 0 to 1 (id " + from.ID + ")",
		Output: plan.Display.Label + " code values (id " + plan.Display.ID + ")",
	}
	if from.Linear {
		list.Input = fmt.Sprintf("%s, light up to %d, mid grey at 0.18 (id %s)", from.Label, shaperTop, from.ID)
	}
	if !plain {
		list.Nodes = curve.nodes(ext)
	}
	cube := lut.NewTable3(b.Size, func(i, j, k int) [3]float32 {
		y := k*b.Size + j
		return [3]float32{f.Row(0, y)[i], f.Row(1, y)[i], f.Row(2, y)[i]}
	})
	list.Nodes = append(list.Nodes, cube)
	baked := &Baked{Table: list, Left: left}
	if baked.Error, err = compare(ctx, list, l, from, 1); err != nil {
		return nil, err
	}
	if len(left) > 0 {
		list.Notes = append(list.Notes, "Left out, because a table cannot carry it: "+strings.Join(left, ", "))
	}
	list.Notes = append(list.Notes, baked.Error.String())
	return baked, nil
}

// compare measures a table against the path itself on colours as a scene has them and the input's
// gamut holds: from six stops below mid grey to five above, most of them muted, some strong.
func compare(ctx context.Context, table *lut.List, l *look.Look, from *colour.Encoding, seed uint64) (BakeError, error) {
	const w, h = 100, reportColours / 100
	r := rand.New(rand.NewPCG(seed, 2))
	in := frame.New(w, h, 3)
	toCamera := colour.Convert(colour.AP1, from.Gamut)
	for y := range h {
		for x := range w {
			stops := 11*r.Float64() - 6
			var c [3]float64
			for i := range c {
				c[i] = 0.18 * math.Exp2(stops+0.7*r.NormFloat64())
			}
			c = toCamera.Apply(c)
			for i := range c {
				v := r.Float64() // known as a table alone: any code
				if from.Encode != nil {
					v = from.Encode(max(c[i], 0) / from.Anchor)
				}
				if !from.Linear {
					v = min(max(v, 0), 1)
				}
				in.Row(i, y)[x] = float32(v)
			}
		}
	}
	plan, err := render.Compile(ctx, l, from, render.Raster{W: w, H: h}, look.Finish)
	if err != nil {
		return BakeError{}, err
	}
	want, err := render.NewRenderer(0).Render(ctx, plan, single{key: "colours", f: in}, 0)
	if err != nil {
		return BakeError{}, err
	}
	d := plan.Display
	xyz := d.Gamut.ToXYZ()
	lab := func(f *frame.Frame, x, y int) [3]float64 {
		var v [3]float64
		for c := range v {
			v[c] = min(max(float64(f.Row(c, y)[x]), 0), 1)
		}
		return colour.Lab(xyz.Apply(d.Light(v)), d.Gamut.White.XYZ())
	}
	var all []float64
	sum := 0.0
	for y := range h {
		table.Rows(in.Row(0, y), in.Row(1, y), in.Row(2, y))
		for x := range w {
			e := colour.DeltaE2000(lab(want, x, y), lab(in, x, y))
			all = append(all, e)
			sum += e
		}
	}
	sort.Float64s(all)
	return BakeError{sum / reportColours, all[reportColours*99/100], all[reportColours-1]}, nil
}

// Run writes the table to Out, .cube or .clf.
func (b Bake) Run(ctx context.Context) (*Baked, error) {
	ext := strings.ToLower(filepath.Ext(b.Out))
	if ext != ".cube" && ext != ".clf" {
		return nil, Bad("%s: a table is written as .cube or .clf", b.Out)
	}
	baked, err := b.Make(ctx)
	if err != nil {
		return nil, err
	}
	return baked, writeWhole(b.Out, func(w io.Writer) error {
		if ext == ".clf" {
			return lut.WriteCLF(w, baked.Table)
		}
		return lut.WriteCube(w, baked.Table)
	})
}

// writeWhole writes a file beside its place and renames it, so that it is whole or not there.
func writeWhole(name string, write func(io.Writer) error) error {
	f, err := os.CreateTemp(filepath.Dir(name), ".velours-*.velours-part")
	if err != nil {
		var p *os.PathError
		if errors.As(err, &p) {
			err = p.Err
		}
		return Bad("%s: cannot be written: %w; check the folder", name, err)
	}
	err = write(f)
	if e := f.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = os.Chmod(f.Name(), 0o644)
	}
	if err == nil {
		err = os.Rename(f.Name(), name)
	}
	if err != nil {
		os.Remove(f.Name())
	}
	return err
}
