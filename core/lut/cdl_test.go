package lut

import (
	"bytes"
	"reflect"
	"strings"
	"testing"
)

func TestReadCDL(t *testing.T) {
	const body = `<SOPNode><Description>warm &amp; low</Description><Slope>1.1 1 0.9</Slope><Offset>0.01 0 -0.02</Offset><Power>1 1.05 1</Power></SOPNode>`
	want := CDL{ID: "a", Note: "warm & low", Slope: [3]float64{1.1, 1, 0.9}, Offset: [3]float64{0.01, 0, -0.02}, Power: [3]float64{1, 1.05, 1}, Saturation: 0.8}
	for _, file := range []string{
		`<ColorCorrection id="a">` + body + `<SatNode><Saturation>0.8</Saturation></SatNode></ColorCorrection>`,
		`<?xml version="1.0"?><ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.01"><ColorCorrection id="a">` + body + `<SATNode><Saturation> 0.8 </Saturation></SATNode></ColorCorrection></ColorCorrectionCollection>`,
		`<ColorDecisionList><ColorDecision><MediaRef ref="x"/><ColorCorrection id="a">` + body + `<SatNode><Saturation>0.8</Saturation></SatNode></ColorCorrection></ColorDecision></ColorDecisionList>`,
	} {
		got, err := ReadCDL(strings.NewReader(file))
		if err != nil || len(got) != 1 || *got[0] != want {
			t.Errorf("got %+v, %v", got, err)
		}
	}
	for file, want := range map[string]string{
		"":                         "holds no colour decisions",
		"<Nothing/>":               `it starts with "Nothing"`,
		"<ColorDecisionList/>":     "holds no ColorCorrection",
		"<ColorCorrection id='a'>": "it seems cut off",
		`<ColorCorrection id="a"><SOPNode><Slope>1 1</Slope></SOPNode></ColorCorrection>`:          "Slope: 2 numbers where 3 belong",
		`<ColorCorrection id="a"><SatNode><Saturation>-1</Saturation></SatNode></ColorCorrection>`: "cannot be used",
	} {
		if _, err := ReadCDL(strings.NewReader(file)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: got %v", file, err)
		}
	}
}

func TestCDLRoundTrip(t *testing.T) {
	a, b := NewCDL(), NewCDL()
	a.ID, a.Note, a.Slope, a.Saturation = "one", "<as is>", [3]float64{0.123456789, 1, 2}, 0.25
	b.ID, b.Offset = "two & a half", [3]float64{-1e-7, 0, 0.5}
	for form, list := range map[string][]*CDL{"cdl": {a, b}, "ccc": {a, b}, "cc": {a}} {
		var w bytes.Buffer
		if err := WriteCDL(&w, form, list); err != nil {
			t.Fatal(err)
		}
		got, err := ReadCDL(&w)
		if err != nil || !reflect.DeepEqual(got, list) {
			t.Errorf("%s: got %v, %v", form, got, err)
		}
	}
	if err := WriteCDL(&bytes.Buffer{}, "cc", []*CDL{a, b}); err == nil {
		t.Error("two decisions went into a .cc")
	}
}
