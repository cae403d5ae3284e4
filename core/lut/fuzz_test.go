package lut

import (
	"bytes"
	"io"
	"math"
	"math/rand/v2"
	"testing"
)

// What can be read can be applied, written and read again, and says the same.
func again(t *testing.T, data []byte, read func(io.Reader) (*List, error), write func(io.Writer, *List) error) {
	l, err := read(bytes.NewReader(data))
	if err != nil {
		return
	}
	var b bytes.Buffer
	if err := write(&b, l); err != nil {
		t.Fatalf("what was read cannot be written: %v", err)
	}
	back, err := read(&b)
	if err != nil {
		t.Fatalf("what was written cannot be read: %v", err)
	}
	for _, c := range [][3]float64{{0.1, 0.5, 0.9}, {-1, 2, 1e6}, {math.NaN(), math.Inf(1), 0}} {
		x, y := l.Apply(c), back.Apply(c)
		for i := range x {
			if math.Float64bits(x[i]) != math.Float64bits(y[i]) && !(math.IsNaN(x[i]) && math.IsNaN(y[i])) && math.Abs(x[i]-y[i]) > 1e-9*math.Abs(x[i]) {
				t.Fatalf("%v: %v became %v", c, x, y)
			}
		}
	}
}

func FuzzCube(f *testing.F) {
	f.Add([]byte("# note\nTITLE \"x\"\nLUT_1D_SIZE 2\nLUT_1D_INPUT_RANGE 0 2\nLUT_3D_SIZE 2\n0 0 0\n1 1 1\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n"))
	f.Add([]byte("\ufeffDOMAIN_MIN -1 -1 -1\r\nDOMAIN_MAX 2 2 2\r\nLUT_1D_SIZE 2\r\n0 0 0\r\n1e-5 1 1"))
	f.Fuzz(func(t *testing.T, data []byte) { again(t, data, ReadCube, WriteCube) })
}

func FuzzCLF(f *testing.F) {
	l := every(rand.New(rand.NewPCG(1, 1)))
	for _, n := range l.Nodes {
		if t, ok := n.(*Table1); ok && t.HalfDomain {
			continue
		}
		var b bytes.Buffer
		if err := WriteCLF(&b, &List{Title: "x", Notes: l.Notes, Nodes: []Node{n}}); err != nil {
			f.Fatal(err)
		}
		f.Add(b.Bytes())
	}
	f.Fuzz(func(t *testing.T, data []byte) { again(t, data, ReadCLF, WriteCLF) })
}

func FuzzCDL(f *testing.F) {
	var b bytes.Buffer
	if err := WriteCDL(&b, "cdl", []*CDL{NewCDL(), NewCDL()}); err != nil {
		f.Fatal(err)
	}
	f.Add(b.Bytes())
	f.Fuzz(func(t *testing.T, data []byte) {
		list, err := ReadCDL(bytes.NewReader(data))
		if err != nil {
			return
		}
		var b bytes.Buffer
		if err := WriteCDL(&b, "ccc", list); err != nil {
			t.Fatal(err)
		}
		back, err := ReadCDL(&b)
		if err != nil || len(back) != len(list) {
			t.Fatalf("%d decisions became %d: %v", len(list), len(back), err)
		}
	})
}
