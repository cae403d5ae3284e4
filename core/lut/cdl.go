package lut

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strings"
)

// maxCDL bounds what is read of one file of decisions.
const maxCDL = 16 << 20

type sopNode struct {
	Description   []string `xml:"Description"`
	Slope, Offset string
	Power         string
}

type satNode struct {
	Description []string `xml:"Description"`
	Saturation  string
}

// values sets the numbers that are there, and checks the standard's ranges.
func (d *CDL) values(sop *sopNode, sat *satNode) error {
	if sop != nil {
		for _, f := range []struct {
			name, text string
			to         *[3]float64
		}{{"Slope", sop.Slope, &d.Slope}, {"Offset", sop.Offset, &d.Offset}, {"Power", sop.Power, &d.Power}} {
			if err := floats(f.text, f.to[:]); err != nil {
				return fmt.Errorf("%s: %w", f.name, err)
			}
		}
		if len(sop.Description) > 0 {
			d.Note = oneLine(sop.Description[0])
		}
	}
	if sat != nil {
		var v [1]float64
		if err := floats(sat.Saturation, v[:]); err != nil {
			return fmt.Errorf("its Saturation: %w", err)
		}
		d.Saturation = v[0]
	}
	for i := range 3 {
		if d.Slope[i] < 0 || d.Power[i] <= 0 {
			return errors.New("a slope below 0, or a power that is not above it")
		}
	}
	if d.Saturation < 0 || d.Reverse && (d.Saturation == 0 || d.Slope[0]*d.Slope[1]*d.Slope[2] == 0) {
		return errors.New("a saturation that cannot be used")
	}
	return nil
}

// correction is a ColorCorrection; some writers spell SatNode in capitals.
type correction struct {
	ID      string   `xml:"id,attr"`
	Note    []string `xml:"Description"`
	SOP     *sopNode `xml:"SOPNode"`
	Sat     *satNode `xml:"SatNode"`
	SatCaps *satNode `xml:"SATNode"`
}

// ReadCDL reads ASC colour decisions: a ColorDecisionList (.cdl), a ColorCorrectionCollection (.ccc)
// or one ColorCorrection (.cc), in the order of the file.
func ReadCDL(r io.Reader) ([]*CDL, error) {
	limited := &io.LimitedReader{R: r, N: maxCDL}
	d := xml.NewDecoder(limited)
	var out []*CDL
	root := ""
	for {
		token, err := d.Token()
		if err == io.EOF {
			switch {
			case limited.N <= 0:
				return nil, fmt.Errorf("is larger than %d MB", maxCDL>>20)
			case root == "":
				return nil, errors.New("holds no colour decisions")
			case len(out) == 0:
				return nil, fmt.Errorf("its %s holds no ColorCorrection", root)
			}
			return out, nil
		}
		if err != nil {
			return nil, plainXML(err)
		}
		t, ok := token.(xml.StartElement)
		if !ok {
			continue
		}
		line, _ := d.InputPos()
		name := t.Name.Local
		if root == "" {
			switch root = name; name {
			case "ColorDecisionList", "ColorCorrectionCollection", "ColorCorrection":
			default:
				return nil, fmt.Errorf("line %d: it starts with %.40q; a file of colour decisions starts with ColorDecisionList, ColorCorrectionCollection or ColorCorrection", line, name)
			}
		}
		if name != "ColorCorrection" {
			continue
		}
		var c correction
		if err := d.DecodeElement(&c, &t); err != nil {
			return nil, plainXML(err)
		}
		cdl := NewCDL()
		cdl.ID = c.ID
		if c.Sat == nil {
			c.Sat = c.SatCaps
		}
		if err := cdl.values(c.SOP, c.Sat); err != nil {
			return nil, fmt.Errorf("line %d: ColorCorrection %.40q: %w", line, c.ID, err)
		}
		if cdl.Note == "" && len(c.Note) > 0 {
			cdl.Note = oneLine(c.Note[0])
		}
		if out = append(out, cdl); len(out) > 100000 {
			return nil, errors.New("holds more than 100000 decisions")
		}
	}
}

// WriteCDL writes decisions as form says: "cdl" or "ccc" for any number, "cc" for exactly one.
func WriteCDL(w io.Writer, form string, list []*CDL) error {
	const space = ` xmlns="urn:ASC:CDL:v1.2"`
	var open, each, end, shut string
	switch form {
	case "cdl":
		open, each, end, shut = "<ColorDecisionList"+space+">\n", "<ColorDecision>\n", "</ColorDecision>\n", "</ColorDecisionList>\n"
	case "ccc":
		open, shut = "<ColorCorrectionCollection"+space+">\n", "</ColorCorrectionCollection>\n"
	case "cc":
		if len(list) != 1 {
			return fmt.Errorf("a .cc holds one decision, not %d; write .ccc", len(list))
		}
	default:
		return fmt.Errorf("%q is not one of cdl, ccc and cc", form)
	}
	var b strings.Builder
	b.WriteString(xml.Header + open)
	for _, d := range list {
		attr := space
		if form != "cc" {
			attr = ""
		}
		fmt.Fprintf(&b, "%s<ColorCorrection id=\"%s\"%s>\n", each, escape(d.ID), attr)
		d.write(&b)
		fmt.Fprintf(&b, "</ColorCorrection>\n%s", end)
	}
	_, err := io.WriteString(w, b.String()+shut)
	return err
}

func (d *CDL) write(b *strings.Builder) {
	b.WriteString("  <SOPNode>\n")
	if d.Note != "" {
		fmt.Fprintf(b, "    <Description>%s</Description>\n", escape(d.Note))
	}
	fmt.Fprintf(b, "    <Slope>%g %g %g</Slope>\n    <Offset>%g %g %g</Offset>\n    <Power>%g %g %g</Power>\n  </SOPNode>\n",
		d.Slope[0], d.Slope[1], d.Slope[2], d.Offset[0], d.Offset[1], d.Offset[2], d.Power[0], d.Power[1], d.Power[2])
	fmt.Fprintf(b, "  <SatNode>\n    <Saturation>%g</Saturation>\n  </SatNode>\n", d.Saturation)
}

func escape(s string) string {
	var b strings.Builder
	xml.EscapeText(&b, []byte(oneLine(s)))
	return b.String()
}
