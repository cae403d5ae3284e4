package studio

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/lut"
	"velours/core/path"
)

// Bake is the colour part of a look as a table.
type Bake struct {
	Out     string
	Look    *path.Look
	From    string // encoding of what goes in; the look's own when empty
	Display string
	Size    int
}

// lattice is a picture of every node of a cube, red running fastest along its rows.
type lattice int

func (n lattice) Key() string { return fmt.Sprintf("lattice %d", int(n)) }
func (n lattice) Frame(context.Context, int) (*frame.Frame, error) {
	f := frame.New(int(n), int(n*n), 3)
	top := float32(n - 1)
	for y := range f.H {
		for x := range f.W {
			f.Row(0, y)[x] = float32(x) / top
			f.Row(1, y)[x] = float32(y%int(n)) / top
			f.Row(2, y)[x] = float32(y/int(n)) / top
		}
	}
	return f, nil
}

// Cube computes the table. It returns the labels of the steps that a table cannot carry too.
func (b Bake) Cube(ctx context.Context) (*lut.Cube, []string, error) {
	if b.Size < 2 || b.Size > 129 {
		return nil, nil, Bad("size is %d; it goes from 2 to 129", b.Size)
	}
	job := Job{In: "the table", Look: b.Look, Encoding: b.From, Display: b.Display}
	if job.Look == nil {
		job.Look = path.NewLook("clean")
	}
	if job.Encoding == "" && job.Look.Step(path.Intake, "encoding") == nil {
		return nil, nil, Bad("the table needs to know what goes in; declare it with --from")
	}
	if err := job.settle(nil); err != nil {
		return nil, nil, err
	}
	look, left := job.Look.Pointwise()
	plan, err := path.Compile(ctx, look, path.Raster{W: b.Size, H: b.Size * b.Size}, path.Finish)
	if err != nil {
		return nil, nil, err
	}
	f, err := path.NewRenderer(0).Render(ctx, plan, lattice(b.Size), 0)
	if err != nil {
		return nil, nil, err
	}
	from := look.Step(path.Intake, "encoding").Settings["id"].(string)
	e, err := colour.FindEncoding(from)
	if err != nil {
		return nil, nil, err
	}
	c := &lut.Cube{Title: look.Name, N: b.Size}
	c.Notes = append(c.Notes, "Velours: the colour part of a look", "Input: "+e.Label+", code values 0 to 1 (id "+from+")", "Output: "+plan.Display.Label+" code values (id "+plan.Display.ID+")")
	if len(left) > 0 {
		c.Notes = append(c.Notes, "Left out, because a table cannot carry it: "+strings.Join(left, ", "))
	}
	for y := range f.H {
		for x := range f.W {
			c.Data = append(c.Data, f.Row(0, y)[x], f.Row(1, y)[x], f.Row(2, y)[x])
		}
	}
	return c, left, nil
}

// Run writes the table to Out, .cube or .clf, and returns what it leaves out.
func (b Bake) Run(ctx context.Context) ([]string, error) {
	ext := strings.ToLower(filepath.Ext(b.Out))
	if ext != ".cube" && ext != ".clf" {
		return nil, Bad("%s: a table is written as .cube or .clf", b.Out)
	}
	c, left, err := b.Cube(ctx)
	if err != nil {
		return nil, err
	}
	return left, writeWhole(b.Out, func(w io.Writer) error {
		if ext == ".clf" {
			return c.WriteCLF(w)
		}
		return c.WriteCube(w)
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
