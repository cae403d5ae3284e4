package colour

import (
	"encoding/json"
	"math"
	"strings"
	"testing"
)

// ownLogC3 describes a shipped encoding again in the six numbers.
func ownLogC3() *Own {
	at, slope := c3cut, c3e
	return &Own{Version: 1, Name: "Mine (1)", Base: 10, LogSlope: c3c, LogOffset: c3d, LinSlope: c3a, LinOffset: c3b, Break: &at, LinearSlope: &slope,
		Red: [2]float64{0.684, 0.313}, Green: [2]float64{0.221, 0.848}, Blue: [2]float64{0.0861, -0.102}, White: [2]float64{0.3127, 0.329}}
}

// A shipped encoding described again is itself, by formula and by row.
func TestOwnEncoding(t *testing.T) {
	data, err := json.Marshal(ownLogC3())
	if err != nil {
		t.Fatal(err)
	}
	o, err := ParseOwn(data)
	if err != nil {
		t.Fatal(err)
	}
	e, err := o.Encoding()
	if err != nil {
		t.Fatal(err)
	}
	ship, _ := FindEncoding("logc3")
	if e.ID != "own-mine-1" || !e.Camera {
		t.Errorf("id %q", e.ID)
	}
	row := make([]float32, 200, 256)
	for i := range row {
		row[i] = float32(i)/180 - 0.05
	}
	in := append([]float32{}, row...)
	e.DecodeRow(row, row)
	for i, v := range in {
		// the published constants of the two pieces miss each other by 1e-6 at the break
		if want := ship.Decode(float64(v)); !near(e.Decode(float64(v)), want, 2e-6+1e-6*math.Abs(want)) || !near(float64(row[i]), want, 2e-6+2e-5*math.Abs(want)) {
			t.Errorf("code %g: %g, row %g, want %g", v, e.Decode(float64(v)), row[i], want)
		}
		if back := e.Encode(e.Decode(float64(v))); !near(back, float64(v), 1e-9) {
			t.Errorf("code %g comes back as %g", v, back)
		}
	}
	a, b := e.ToACEScg(), ship.ToACEScg()
	for i := range a {
		if !near(a[i], b[i], 1e-9) {
			t.Errorf("matrix %v, want %v", a, b)
		}
	}
	p := o.Plot()
	if p.Problem != "" || !near(p.Grey, 0.391007, 2e-6) || !near(p.Above, math.Log2(ship.Decode(1)/0.18), 1e-6) || p.Below < 5 || p.Below > 9 {
		t.Errorf("plot %+v", p)
	}
	Know(e)
	defer Forget(e.ID)
	if f, err := FindEncoding("own-mine-1"); err != nil || f != e {
		t.Errorf("not found: %v", err)
	}
}

func TestOwnEncodingsThatCannotBe(t *testing.T) {
	for want, change := range map[string]func(o *Own){
		"no name":          func(o *Own) { o.Name = " " },
		"a base of 1":      func(o *Own) { o.Base = 1 },
		"a slope of 0":     func(o *Own) { o.LinSlope = 0 },
		"the curve falls":  func(o *Own) { o.LogSlope = -0.2 },
		"no value":         func(o *Own) { b := -1.0; o.Break = &b },
		"make no triangle": func(o *Own) { o.Green = o.Red },
		"does not lie":     func(o *Own) { o.White = [2]float64{0.7, 0.3} },
		"no code for mid":  func(o *Own) { o.Break, o.LinOffset = nil, -3 },
	} {
		o := ownLogC3()
		change(o)
		if _, err := o.Encoding(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("want ... %s ..., got %v", want, err)
		}
		if p := o.Plot(); p.Problem == "" {
			t.Errorf("%s: the plot sees nothing wrong", want)
		}
	}
	for _, bad := range []string{"", "{}", `{"veloursEncoding":2}`, `{"veloursEncoding":1,"nmae":"x"}`} {
		if _, err := ParseOwn([]byte(bad)); err == nil {
			t.Errorf("%q was read", bad)
		}
	}
}

func FuzzOwn(f *testing.F) {
	data, err := json.Marshal(ownLogC3())
	if err != nil {
		f.Fatal(err)
	}
	f.Add(data)
	f.Fuzz(func(t *testing.T, data []byte) {
		if o, err := ParseOwn(data); err == nil {
			o.Plot()
		}
	})
}
