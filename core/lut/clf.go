package lut

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
)

// maxCLF bounds what is read of one file; the largest honest tables stay below it.
const maxCLF = 256 << 20

// maxNodes bounds the nodes of one list, and max3CLF the edge of a cube in XML.
const (
	maxNodes = 1000
	max3CLF  = 129
)

// depths are the code values that stand for 1 at each bit depth of the format.
var depths = map[string]float64{"8i": 255, "10i": 1023, "12i": 4095, "16i": 65535, "16f": 1, "32f": 1}

// clfNode is any process node as XML has it.
type clfNode struct {
	XMLName       xml.Name
	In            string `xml:"inBitDepth,attr"`
	Out           string `xml:"outBitDepth,attr"`
	Style         string `xml:"style,attr"`
	HalfDomain    string `xml:"halfDomain,attr"`
	RawHalfs      string `xml:"rawHalfs,attr"`
	HueAdjust     string `xml:"hueAdjust,attr"`
	Interpolation string `xml:"interpolation,attr"`
	Array         *struct {
		Dim  string `xml:"dim,attr"`
		Data string `xml:",chardata"`
	}
	IndexMap       *struct{}
	MinIn          *string          `xml:"minInValue"`
	MaxIn          *string          `xml:"maxInValue"`
	MinOut         *string          `xml:"minOutValue"`
	MaxOut         *string          `xml:"maxOutValue"`
	LogParams      []logParams      `xml:"LogParams"`
	ExponentParams []exponentParams `xml:"ExponentParams"`
	SOP            *sopNode         `xml:"SOPNode"`
	Sat            *satNode         `xml:"SatNode"`
}

type logParams struct {
	Channel     string `xml:"channel,attr"`
	Base        string `xml:"base,attr"`
	LogSlope    string `xml:"logSideSlope,attr"`
	LogOffset   string `xml:"logSideOffset,attr"`
	LinSlope    string `xml:"linSideSlope,attr"`
	LinOffset   string `xml:"linSideOffset,attr"`
	Break       string `xml:"linSideBreak,attr"`
	LinearSlope string `xml:"linearSlope,attr"`
}

type exponentParams struct {
	Channel  string `xml:"channel,attr"`
	Exponent string `xml:"exponent,attr"`
	Offset   string `xml:"offset,attr"`
}

// ReadCLF reads a process list of the Common LUT Format, versions 2 and 3, and brings its numbers
// to 1 at the top of the range. Errors name the line and the node.
func ReadCLF(r io.Reader) (*List, error) {
	limited := &io.LimitedReader{R: r, N: maxCLF}
	d := xml.NewDecoder(limited)
	list := &List{}
	open, depth := false, ""
	for {
		token, err := d.Token()
		if err == io.EOF {
			switch {
			case limited.N <= 0:
				return nil, fmt.Errorf("is larger than %d MB", maxCLF>>20)
			case !open:
				return nil, errors.New("has no ProcessList; this is not a CLF")
			}
			return nil, errors.New("ends before its ProcessList is closed; it seems cut off")
		}
		if err != nil {
			return nil, plainXML(err)
		}
		line, _ := d.InputPos()
		switch t := token.(type) {
		case xml.EndElement:
			if len(list.Nodes) == 0 {
				return nil, errors.New("its ProcessList is empty")
			}
			return list, nil
		case xml.StartElement:
			name := t.Name.Local
			if !open {
				if name != "ProcessList" {
					return nil, fmt.Errorf("line %d: it starts with %.40q where a ProcessList belongs; this is not a CLF", line, name)
				}
				open = true
				if err := list.head(t.Attr); err != nil {
					return nil, fmt.Errorf("line %d: %w", line, err)
				}
				continue
			}
			if took, err := list.words(d, &t); err != nil {
				return nil, plainXML(err)
			} else if took {
				continue
			}
			if len(list.Nodes) == maxNodes {
				return nil, fmt.Errorf("line %d: more than %d nodes", line, maxNodes)
			}
			var n clfNode
			if err := d.DecodeElement(&n, &t); err != nil {
				return nil, plainXML(err)
			}
			if depth != "" && n.In != depth {
				return nil, fmt.Errorf("line %d: %.40s: takes %.8q where the node before gives %q", line, name, n.In, depth)
			}
			depth = n.Out
			node, err := n.node()
			if err != nil {
				return nil, fmt.Errorf("line %d: %.40s: %w", line, name, err)
			}
			list.Nodes = append(list.Nodes, node)
		}
	}
}

// plainXML brings an error of the XML reader to one line.
func plainXML(err error) error {
	var syntax *xml.SyntaxError
	if errors.As(err, &syntax) {
		if strings.Contains(syntax.Msg, "EOF") {
			return fmt.Errorf("ends at line %d before it is complete; it seems cut off", syntax.Line)
		}
		return fmt.Errorf("line %d: %.200s", syntax.Line, oneLine(syntax.Msg))
	}
	return fmt.Errorf("cannot be read as XML: %.200s", oneLine(err.Error()))
}

func (l *List) head(attrs []xml.Attr) error {
	for _, a := range attrs {
		switch a.Name.Local {
		case "name":
			l.Title = a.Value
		case "compCLFversion":
			v, err := strconv.ParseFloat(a.Value, 64)
			if err != nil || v < 2 || v >= 4 {
				return fmt.Errorf("version %.10q of the format; versions 2 and 3 are known here", a.Value)
			}
		}
	}
	return nil
}

// words takes the elements that describe, and reports whether this was one.
func (l *List) words(d *xml.Decoder, t *xml.StartElement) (bool, error) {
	var s string
	switch t.Name.Local {
	case "Info":
		return true, d.Skip()
	case "Description", "InputDescriptor", "OutputDescriptor":
		if err := d.DecodeElement(&s, t); err != nil {
			return true, err
		}
	default:
		return false, nil
	}
	switch s = oneLine(s); t.Name.Local {
	case "InputDescriptor":
		l.Input = s
	case "OutputDescriptor":
		l.Output = s
	default:
		if len(l.Notes) < 100 {
			l.Notes = append(l.Notes, s)
		}
	}
	return true, nil
}
