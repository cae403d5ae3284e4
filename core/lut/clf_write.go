package lut

import (
	"bufio"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"strings"
)

// WriteCLF writes a list as version 3 of the Common LUT Format, every node in 32-bit float, so that
// reading returns the same numbers.
func WriteCLF(w io.Writer, l *List) error {
	b := bufio.NewWriter(w)
	fmt.Fprintf(b, "%s<ProcessList id=\"velours\" name=\"%s\" compCLFversion=\"3\">\n", xml.Header, escape(l.Title))
	for _, d := range []struct {
		tag  string
		text []string
	}{{"Description", l.Notes}, {"InputDescriptor", []string{l.Input}}, {"OutputDescriptor", []string{l.Output}}} {
		for _, s := range d.text {
			if s != "" {
				fmt.Fprintf(b, "  <%s>%s</%[1]s>\n", d.tag, escape(s))
			}
		}
	}
	for i, n := range l.Nodes {
		if err := writeNode(b, i, n); err != nil {
			return err
		}
	}
	fmt.Fprint(b, "</ProcessList>\n")
	return b.Flush()
}

func writeNode(b *bufio.Writer, i int, n Node) error {
	tag := ""
	open := func(name, more string) {
		tag = name
		fmt.Fprintf(b, "  <%s id=\"n%d\" inBitDepth=\"32f\" outBitDepth=\"32f\"%s>\n", name, i, more)
	}
	switch n := n.(type) {
	case *Matrix:
		open("Matrix", "")
		fmt.Fprint(b, "    <Array dim=\"3 4\">\n")
		for r := range 3 {
			fmt.Fprintf(b, "%g %g %g %g\n", n[4*r], n[4*r+1], n[4*r+2], n[4*r+3])
		}
		fmt.Fprint(b, "    </Array>\n")
	case *Table1:
		if err := writeTable1(b, n, open); err != nil {
			return err
		}
	case *Table3:
		if n.Lo != [3]float64{} || n.Hi != [3]float64{1, 1, 1} {
			return fmt.Errorf("a 3D table of the Common LUT Format covers 0 to 1")
		}
		open("LUT3D", ` interpolation="tetrahedral"`)
		size := n.N()
		fmt.Fprintf(b, "    <Array dim=\"%d %d %d 3\">\n", size, size, size)
		for i := range size {
			for j := range size {
				for k := range size {
					x, y, z := n.node(i, j, k)
					triple(b, x, y, z)
				}
			}
		}
		fmt.Fprint(b, "    </Array>\n")
	case *Range:
		style := "noClamp"
		if n.Clamp {
			style = "Clamp"
		}
		open("Range", fmt.Sprintf(" style=%q", style))
		for _, v := range []struct {
			tag string
			v   float64
		}{{"minInValue", n.MinIn}, {"maxInValue", n.MaxIn}, {"minOutValue", n.MinOut}, {"maxOutValue", n.MaxOut}} {
			if !math.IsNaN(v.v) {
				fmt.Fprintf(b, "    <%s>%g</%[1]s>\n", v.tag, v.v)
			}
		}
	case *Log:
		writeLog(b, n, open)
	case *Exponent:
		for style, e := range exponents {
			if e.Style == n.Style && e.Reverse == n.Reverse {
				open("Exponent", fmt.Sprintf(" style=%q", style))
			}
		}
		for c := range 3 {
			more := ""
			if n.Style == Monitor || n.Style == MonMirr {
				more = fmt.Sprintf(" offset=\"%g\"", n.Offset[c])
			}
			fmt.Fprintf(b, "    <ExponentParams channel=%q exponent=\"%g\"%s/>\n", "RGB"[c:c+1], n.Gamma[c], more)
		}
	case *CDL:
		style := "Fwd"
		if n.Reverse {
			style = "Rev"
		}
		if n.NoClamp {
			style += "NoClamp"
		}
		open("ASC_CDL", fmt.Sprintf(" style=%q", style))
		var s strings.Builder
		n.write(&s)
		b.WriteString(s.String())
	default:
		return fmt.Errorf("a %T has no place in the Common LUT Format", n)
	}
	fmt.Fprintf(b, "  </%s>\n", tag)
	return nil
}

// writeTable1 writes a table over 0…1, or the half domain; another domain is brought there first.
func writeTable1(b *bufio.Writer, t *Table1, open func(name, more string)) error {
	more := ""
	if t.HalfDomain {
		more = ` halfDomain="true"`
	} else if t.Lo != [3]float64{} || t.Hi != [3]float64{1, 1, 1} {
		return fmt.Errorf("a 1D table of the Common LUT Format covers 0 to 1, or the half floats")
	}
	open("LUT1D", more)
	fmt.Fprintf(b, "    <Array dim=\"%d 3\">\n", len(t.Curves[0]))
	for i := range t.Curves[0] {
		triple(b, t.Curves[0][i], t.Curves[1][i], t.Curves[2][i])
	}
	fmt.Fprint(b, "    </Array>\n")
	return nil
}

func writeLog(b *bufio.Writer, n *Log, open func(name, more string)) {
	camera := !math.IsNaN(n.Params[0].Break)
	style := map[[2]bool]string{{true, true}: "cameraLinToLog", {true, false}: "cameraLogToLin", {false, true}: "linToLog", {false, false}: "logToLin"}[[2]bool{camera, n.ToLog}]
	open("Log", fmt.Sprintf(" style=%q", style))
	given := false // by one is by all, some readers ask
	for _, p := range n.Params {
		given = given || !math.IsNaN(p.LinearSlope)
	}
	for c, p := range n.Params {
		fmt.Fprintf(b, "    <LogParams channel=%q base=\"%g\" logSideSlope=\"%g\" logSideOffset=\"%g\" linSideSlope=\"%g\" linSideOffset=\"%g\"",
			"RGB"[c:c+1], p.Base, p.LogSlope, p.LogOffset, p.LinSlope, p.LinOffset)
		if camera {
			fmt.Fprintf(b, " linSideBreak=\"%g\"", p.Break)
			if given {
				slope, _ := p.linear()
				fmt.Fprintf(b, " linearSlope=\"%g\"", slope)
			}
		}
		fmt.Fprint(b, "/>\n")
	}
}
