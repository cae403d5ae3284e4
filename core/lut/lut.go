// Package lut holds colour tables and the open formats they travel in.
//
// A Cube maps code values 0…1 to code values, red running fastest. Formats: .cube (the plain
// text of many programs) and the Academy/ASC Common LUT Format, S-2014-006.
package lut

import (
	"bufio"
	"fmt"
	"io"
	"strings"
)

// Cube is a table of N×N×N colours, three floats each.
type Cube struct {
	Title string
	// Notes are written as comments: what goes in, what comes out, what is left out.
	Notes []string
	N     int
	Data  []float32
}

// WriteCube writes the table as .cube.
func (c *Cube) WriteCube(w io.Writer) error {
	b := bufio.NewWriter(w)
	for _, n := range c.Notes {
		fmt.Fprintf(b, "# %s\n", n)
	}
	fmt.Fprintf(b, "TITLE \"%s\"\nLUT_3D_SIZE %d\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 1 1\n", strings.ReplaceAll(c.Title, "\"", "'"), c.N)
	for i := 0; i+2 < len(c.Data); i += 3 {
		fmt.Fprintf(b, "%.6f %.6f %.6f\n", c.Data[i], c.Data[i+1], c.Data[i+2])
	}
	return b.Flush()
}

// WriteCLF writes the table as a Common LUT Format process list; there blue runs fastest.
func (c *Cube) WriteCLF(w io.Writer) error {
	b := bufio.NewWriter(w)
	esc := strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", "\"", "&quot;")
	fmt.Fprintf(b, "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<ProcessList id=\"velours\" name=\"%s\" compCLFversion=\"3\">\n", esc.Replace(c.Title))
	for _, n := range c.Notes {
		fmt.Fprintf(b, "  <Description>%s</Description>\n", esc.Replace(n))
	}
	fmt.Fprintf(b, "  <LUT3D id=\"table\" inBitDepth=\"32f\" outBitDepth=\"32f\" interpolation=\"tetrahedral\">\n    <Array dim=\"%d %d %d 3\">\n", c.N, c.N, c.N)
	for r := range c.N {
		for g := range c.N {
			for bl := range c.N {
				o := 3 * ((bl*c.N+g)*c.N + r)
				fmt.Fprintf(b, "%.6f %.6f %.6f\n", c.Data[o], c.Data[o+1], c.Data[o+2])
			}
		}
	}
	fmt.Fprint(b, "    </Array>\n  </LUT3D>\n</ProcessList>\n")
	return b.Flush()
}
