package lut

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

const clfHead = `<?xml version="1.0" encoding="UTF-8"?><ProcessList id="x" name="try" compCLFversion="3.0">`

func clf(nodes string) string { return clfHead + nodes + "</ProcessList>" }

// Values worked out by hand from S-2014-006.
func TestReadCLF(t *testing.T) {
	half := lines(65536, func(i int) string { return fmt.Sprint(i) })
	for _, c := range []struct {
		name, nodes string
		in, want    [3]float64
	}{
		{"matrix with offsets, by bit depth", `<Matrix inBitDepth="10i" outBitDepth="8i"><Array dim="3 4">0.5 0 0 51  0 1 0 0  0 0.25 0.25 0</Array></Matrix>`,
			[3]float64{0.1, 0.2, 0.3}, [3]float64{0.1*0.5*1023/255 + 0.2, 0.2 * 1023 / 255, 0.5 * 0.25 * 1023 / 255}},
		{"a matrix as version 2 wrote it", `<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3 3">0 1 0 1 0 0 0 0 2</Array></Matrix>`, [3]float64{1, 2, 3}, [3]float64{2, 1, 6}},
		{"one curve for three", `<LUT1D inBitDepth="16f" outBitDepth="10i"><Array dim="3 1">0 1023 511.5</Array></LUT1D>`, [3]float64{0.25, 0.5, 0.75}, [3]float64{0.5, 1, 0.75}},
		{"half domain, raw halfs: the identity", `<LUT1D inBitDepth="16f" outBitDepth="16f" halfDomain="true" rawHalfs="true"><Array dim="65536 1">` + half + `</Array></LUT1D>`,
			[3]float64{0.18, -7.77, 12345.6}, [3]float64{0.18, -7.77, 12345.6}},
		{"blue runs fastest", `<LUT3D inBitDepth="32f" outBitDepth="12i"><Array dim="2 2 2 3">0 0 0 0 0 4095 0 4095 0 0 4095 4095 4095 0 0 4095 0 4095 4095 4095 0 4095 4095 4095</Array></LUT3D>`,
			[3]float64{0.2, 0.4, 0.9}, [3]float64{0.2, 0.4, 0.9}},
		{"range", `<Range inBitDepth="10i" outBitDepth="10i"><minInValue>64</minInValue><maxInValue>940</maxInValue><minOutValue>0</minOutValue><maxOutValue>1023</maxOutValue></Range>`,
			[3]float64{64. / 1023, 502. / 1023, 1}, [3]float64{0, 0.5, 1}},
		{"range without clamp", `<Range inBitDepth="32f" outBitDepth="32f" style="noClamp"><minInValue>0</minInValue><maxInValue>1</maxInValue><minOutValue>1</minOutValue><maxOutValue>3</maxOutValue></Range>`,
			[3]float64{-1, 0.5, 2}, [3]float64{-1, 2, 5}},
		{"range from below", `<Range inBitDepth="32f" outBitDepth="32f"><minInValue>0.1</minInValue><minOutValue>0.1</minOutValue></Range>`, [3]float64{-1, 0.5, 2}, [3]float64{0.1, 0.5, 2}},
		{"log2", `<Log inBitDepth="32f" outBitDepth="32f" style="log2"/>`, [3]float64{0.125, 1, 8}, [3]float64{-3, 0, 3}},
		{"antiLog10", `<Log inBitDepth="32f" outBitDepth="32f" style="antiLog10"/>`, [3]float64{-1, 0, 2}, [3]float64{0.1, 1, 100}},
		// ACEScct (S-2016-001) in the six parameters: 0.18 is 0.413588..., 0 is 0.0729055...
		{"a camera log", `<Log inBitDepth="32f" outBitDepth="32f" style="cameraLinToLog"><LogParams base="2" logSideSlope="0.0570776255707763" logSideOffset="0.554794520547945" linSideBreak="0.0078125" linearSlope="10.5402377416545"/></Log>`,
			[3]float64{0.18, 0, 0.0078125}, [3]float64{(math.Log2(0.18) + 9.72) / 17.52, 0.0729055341958355, 0.155251141552511}},
		{"a gamma for one channel", `<Exponent inBitDepth="32f" outBitDepth="32f" style="basicFwd"><ExponentParams channel="G" exponent="2"/></Exponent>`, [3]float64{-0.5, 0.5, 0.5}, [3]float64{0, 0.25, 0.5}},
		{"through zero", `<Exponent inBitDepth="32f" outBitDepth="32f" style="basicPassThruRev"><ExponentParams exponent="2"/></Exponent>`, [3]float64{-0.5, 0.25, 4}, [3]float64{-0.5, 0.5, 2}},
		// sRGB (IEC 61966-2-1): 0.5 is 0.214041..., 0.02 is on the straight piece at 1/12.92
		{"sRGB", `<Exponent inBitDepth="32f" outBitDepth="32f" style="monCurveFwd"><ExponentParams exponent="2.4" offset="0.055"/></Exponent>`, [3]float64{0.5, 0.02, 1}, [3]float64{math.Pow(0.555/1.055, 2.4), 0.02 / 12.92321, 1}},
		// (0.5·1.2 − 0.1)² = 0.25; luma of (0.25, 0.5, 0.5) is 0.44685; saturation 0.5
		{"a decision", `<ASC_CDL inBitDepth="32f" outBitDepth="32f" style="Fwd"><SOPNode><Slope>1.2 1 1</Slope><Offset>-0.1 0 0</Offset><Power>2 1 1</Power></SOPNode><SatNode><Saturation>0.5</Saturation></SatNode></ASC_CDL>`,
			[3]float64{0.5, 0.5, 0.5}, [3]float64{0.348425, 0.473425, 0.473425}},
	} {
		l, err := ReadCLF(strings.NewReader(clf(c.nodes)))
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		near(t, c.name, l.Apply(c.in), c.want, 2e-6)
	}
	l, err := ReadCLF(strings.NewReader(clf("<Description>one\n two</Description><InputDescriptor>log</InputDescriptor><Info><a><b/></a></Info><Log inBitDepth='32f' outBitDepth='32f' style='log2'/>")))
	if err != nil || l.Title != "try" || l.Notes[0] != "one two" || l.Input != "log" {
		t.Errorf("got %+v, %v", l, err)
	}
}

func TestMalformedCLF(t *testing.T) {
	const f32 = ` inBitDepth="32f" outBitDepth="32f"`
	for file, want := range map[string]string{
		"":      "this is not a CLF",
		"<a/>":  `it starts with "a"`,
		clf(""): "its ProcessList is empty",
		clfHead: "it seems cut off",
		clfHead + "<LUT3D" + f32 + "><Array dim='33 33 33 3'>0 0 0":                                                             "it seems cut off",
		strings.Replace(clf(""), "3.0", "9", 1):                                                                                 "versions 2 and 3 are known",
		clf("<LUT3D" + f32 + "/>"):                                                                                              "has no Array",
		clf("<LUT3D" + f32 + "><Array dim='0 0 0 3'/></LUT3D>"):                                                                 "from 1 to 129",
		clf("<LUT3D" + f32 + "><Array dim='1000000000 2 2 3'/></LUT3D>"):                                                        "from 1 to 129",
		clf("<LUT3D" + f32 + "><Array dim='2 2 2 3'>1 2 3</Array></LUT3D>"):                                                     "3 numbers where dim asks for 24",
		clf("<LUT1D" + f32 + "><Array dim='2 1'>1 2 3</Array></LUT1D>"):                                                         "more than the 2 numbers",
		clf("<LUT1D" + f32 + "><Array dim='2 1'>1 NaN</Array></LUT1D>"):                                                         `"NaN" is not a number`,
		clf("<LUT1D" + f32 + " halfDomain='true'><Array dim='2 1'>1 2</Array></LUT1D>"):                                         "has 65536 entries",
		clf("<LUT1D inBitDepth='7i' outBitDepth='32f'><Array dim='2 1'>1 2</Array></LUT1D>"):                                    "each is one of",
		clf("<Log" + f32 + " style='log2'/><Log inBitDepth='10i' outBitDepth='32f' style='log2'/>"):                             "the node before gives",
		clf("<Log" + f32 + " style='ln'/>"):                                                                                     `style "ln" is not known`,
		clf("<Log" + f32 + " style='linToLog'/>"):                                                                               "has no LogParams",
		clf("<Sparkle" + f32 + "/>"):                                                                                            "is not a process node",
		clf("<Range" + f32 + "/>"):                                                                                              "lacks bounds",
		clf("<Exponent" + f32 + " style='basicFwd'><ExponentParams exponent='0'/></Exponent>"):                                  "from 0.01 to 100",
		clf("<ASC_CDL" + f32 + "><SOPNode><Slope>-1 1 1</Slope><Offset>0 0 0</Offset><Power>1 1 1</Power></SOPNode></ASC_CDL>"): "a slope below 0",
		clfHead + "<Log" + f32 + " style='log2'></Lag>":                                                                         "line 1",
	} {
		_, err := ReadCLF(strings.NewReader(file))
		if err == nil || !strings.Contains(err.Error(), want) || strings.Contains(err.Error(), "\n") {
			t.Errorf("%.140q: got %v, want ... %s ...", file, err, want)
		}
	}
}

// every is a list with one of each node, at values that use all of them.
func every(r *rand.Rand) *List {
	half := &Table1{HalfDomain: true}
	for c := range half.Curves {
		for h := range 65536 {
			v := halfValue(uint16(h))
			if math.IsNaN(v) {
				v = 0
			}
			half.Curves[c] = append(half.Curves[c], float32(math.Max(-2, math.Min(2, v*0.9+0.01*float64(c)))))
		}
	}
	curve := &Table1{Hi: [3]float64{1, 1, 1}}
	for c := range curve.Curves {
		for i := range 65 {
			curve.Curves[c] = append(curve.Curves[c], float32(math.Pow(float64(i)/64, 0.9+0.1*float64(c))))
		}
	}
	p := LogParams{Base: 10, LogSlope: 0.25, LogOffset: 0.38, LinSlope: 5.5, LinOffset: 0.05, Break: 0.01, LinearSlope: math.NaN()}
	q := p
	q.LinearSlope = 5
	return &List{Title: `all & <more>`, Notes: []string{"a note"}, Input: "light", Output: "code", Nodes: []Node{
		&Matrix{0.9, 0.05, 0.05, 0.01, 0, 1, 0, 0, 0.1, 0.1, 0.8, -0.01},
		half,
		&Log{ToLog: true, Params: [3]LogParams{p, q, p}},
		&Log{Params: [3]LogParams{p, q, p}},
		&Log{ToLog: true, Params: [3]LogParams{PlainLog(2), PlainLog(2), PlainLog(2)}},
		&Range{MinIn: -8, MaxIn: 2, MinOut: 0, MaxOut: 1, Clamp: true},
		curve,
		sampled(7, func(x, y, z float64) [3]float64 {
			return [3]float64{x + 0.05*r.Float64(), y + 0.05*r.Float64(), z * z}
		}),
		&Exponent{Style: Monitor, Gamma: [3]float64{2.4, 2.2, 2}, Offset: [3]float64{0.055, 0.099, 0.1}},
		&Exponent{Style: MonMirr, Reverse: true, Gamma: [3]float64{2.4, 2.2, 2}, Offset: [3]float64{0.055, 0.099, 0.1}},
		&Exponent{Style: Mirror, Gamma: [3]float64{1.1, 1, 0.9}},
		&CDL{Slope: [3]float64{1.1, 0.9, 1}, Offset: [3]float64{0.02, 0, -0.02}, Power: [3]float64{0.9, 1.1, 1}, Saturation: 1.2, Note: "warm"},
		&CDL{Slope: [3]float64{1.1, 0.9, 1}, Offset: [3]float64{0.02, 0, -0.02}, Power: [3]float64{0.9, 1.1, 1}, Saturation: 1.2, NoClamp: true, Reverse: true},
	}}
}

// colours spreads n colours over what a camera gives.
func colours(r *rand.Rand, n int) [][3]float64 {
	out := make([][3]float64, n)
	for i := range out {
		for c := range 3 {
			out[i][c] = r.Float64() * math.Exp2(2*r.NormFloat64()-2)
		}
	}
	return out
}

func TestCLFRoundTrip(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	l := every(r)
	var b bytes.Buffer
	if err := WriteCLF(&b, l); err != nil {
		t.Fatal(err)
	}
	back, err := ReadCLF(&b)
	if err != nil {
		t.Fatal(err)
	}
	if back.Title != l.Title || back.Input != "light" || back.Notes[0] != "a note" {
		t.Errorf("said %q %q %q", back.Title, back.Input, back.Notes)
	}
	for _, c := range colours(r, 200) {
		if got, want := back.Apply(c), l.Apply(c); got != want {
			t.Fatalf("%v: %v became %v", c, want, got)
		}
	}
}

// A node and its reverse return what came in.
func TestReverses(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	p := LogParams{Base: 2, LogSlope: 0.0571, LogOffset: 0.55, LinSlope: 1.2, LinOffset: 0.002, Break: 0.008, LinearSlope: math.NaN()}
	e := Exponent{Style: Monitor, Gamma: [3]float64{2.4, 2, 1.8}, Offset: [3]float64{0.055, 0.1, 0.2}}
	b := e
	b.Reverse = true
	d := CDL{Slope: [3]float64{1.1, 0.9, 1}, Offset: [3]float64{0.05, 0.1, 0.02}, Power: [3]float64{0.9, 1.1, 1}, Saturation: 1.1, NoClamp: true}
	u := d
	u.Reverse = true
	pairs := [][2]Node{{&Log{true, [3]LogParams{p, p, p}}, &Log{false, [3]LogParams{p, p, p}}}, {&e, &b}, {&d, &u}}
	for _, c := range colours(r, 300) {
		for _, pair := range pairs {
			near(t, fmt.Sprintf("%T", pair[0]), pair[1].Apply(pair[0].Apply(c)), c, 1e-9)
		}
	}
}
