package lut

import (
	"bytes"
	"strings"
	"testing"
)

func table() *Cube {
	c := &Cube{Title: `a "look" & more`, Notes: []string{"Input: x"}, N: 2}
	for b := range 2 {
		for g := range 2 {
			for r := range 2 {
				c.Data = append(c.Data, float32(r), float32(g)*0.5, float32(b)*0.25)
			}
		}
	}
	return c
}

// Red runs fastest in .cube.
func TestCube(t *testing.T) {
	var b bytes.Buffer
	if err := table().WriteCube(&b); err != nil {
		t.Fatal(err)
	}
	want := "# Input: x\nTITLE \"a 'look' & more\"\nLUT_3D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 1 1\n" +
		"0.000000 0.000000 0.000000\n1.000000 0.000000 0.000000\n0.000000 0.500000 0.000000\n1.000000 0.500000 0.000000\n" +
		"0.000000 0.000000 0.250000\n1.000000 0.000000 0.250000\n0.000000 0.500000 0.250000\n1.000000 0.500000 0.250000\n"
	if b.String() != want {
		t.Errorf("got\n%s", b.String())
	}
}

// Blue runs fastest in the Common LUT Format (S-2014-006, LUT3D).
func TestCLF(t *testing.T) {
	var b bytes.Buffer
	if err := table().WriteCLF(&b); err != nil {
		t.Fatal(err)
	}
	s := b.String()
	if !strings.Contains(s, `name="a &quot;look&quot; &amp; more"`) || !strings.Contains(s, `<Array dim="2 2 2 3">`+"\n0.000000 0.000000 0.000000\n0.000000 0.000000 0.250000\n0.000000 0.500000 0.000000\n") {
		t.Errorf("got\n%s", s)
	}
}
