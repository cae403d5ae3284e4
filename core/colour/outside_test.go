package colour

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// The curves once more, as process lists of the Common LUT Format with the constants as each document
// prints them, run by OpenColorIO: other code, other arithmetic, other form.
func TestCurvesByOpenColorIO(t *testing.T) {
	if _, err := exec.LookPath("ociochecklut"); err != nil {
		t.Skip("opencolorio-tools is not installed; make test installs it")
	}
	camera := func(base, logSlope, logOffset, linSlope, linOffset, at, slope float64) string {
		more := ""
		if slope != 0 {
			more = fmt.Sprintf(` linearSlope="%.17g"`, slope)
		}
		return fmt.Sprintf(`<Log inBitDepth="32f" outBitDepth="32f" style="cameraLogToLin"><LogParams base="%.17g" logSideSlope="%.17g" logSideOffset="%.17g" linSideSlope="%.17g" linSideOffset="%.17g" linSideBreak="%.17g"%s/></Log>`,
			base, logSlope, logOffset, linSlope, linOffset, at, more)
	}
	power := func(style string, g, offset float64) string {
		if offset > 0 {
			return fmt.Sprintf(`<Exponent inBitDepth="32f" outBitDepth="32f" style="%s"><ExponentParams exponent="%.17g" offset="%.17g"/></Exponent>`, style, g, offset)
		}
		return fmt.Sprintf(`<Exponent inBitDepth="32f" outBitDepth="32f" style="%s"><ExponentParams exponent="%.17g"/></Exponent>`, style, g)
	}
	scale := func(k, o float64) string {
		return fmt.Sprintf(`<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 4">%[1]g 0 0 %[2]g 0 %[1]g 0 %[2]g 0 0 %[1]g %[2]g</Array></Matrix>`, k, o)
	}
	a4, b4, c4 := (math.Pow(2, 18)-16)/117.45, (1023.0-95)/1023, 95.0/1023
	s4 := (7 * math.Log(2) * math.Pow(2, 7-14*c4/b4)) / (a4 * b4)
	t4 := (math.Pow(2, 14*(-c4/b4)+6) - 64) / a4
	r := rand.New(rand.NewPCG(2026, 11))
	for _, c := range []struct {
		id     string
		nodes  string
		lo, hi float64
	}{
		{"logc3", camera(10, 0.247190, 0.385537, 5.555556, 0.052272, 0.010591, 5.367655), 0.16, 1.1},
		{"logc4", camera(2, b4/14, c4-6*b4/14, a4, 64, t4, 1/s4), -0.2, 1.05},
		{"slog3", camera(10, 261.5/1023, (420-261.5*math.Log10(0.19))/1023, 1, 0.01, 0.01125, (171.2102946929-95)/(0.01125*1023)), -0.1, 1.1},
		{"slog3-cine", camera(10, 261.5/1023, (420-261.5*math.Log10(0.19))/1023, 1, 0.01, 0.01125, (171.2102946929-95)/(0.01125*1023)), -0.1, 1.1},
		{"log3g10", camera(10, 0.224282, 0, 155.975327, 1+0.01*155.975327, -0.01, 15.1927), -0.1, 1.1},
		{"dlog", camera(10, 1/3.89616, 2.27752/3.89616, 0.9892, 0.0108, (0.14-0.0929)/6.025, 6.025), 0.145, 1.1},
		{"acescct", camera(2, 1/17.52, 9.72/17.52, 1, 0, 0.0078125, 10.5402377416545), -0.1, 1.4},
		{"acescc", strings.Replace(camera(2, 1/17.52, 9.72/17.52, 1, 0, 1e-30, 0), "1e-30", "1e-9", 1), -0.3, 1.4},
		{"printing-density", camera(10, 300.0/1023, 685.0/1023, 1-math.Pow(10, -590.0/300), math.Pow(10, -590.0/300), -0.0108, 0), 0.15, 1},
		{"srgb", power("monCurveFwd", 2.4, 0.055), 0.042, 1.2},
		{"bt2020", power("monCurveFwd", 1/0.45, 0.09929682680944), 0.083, 1.2},
		{"p3-d65", power("basicMirrorFwd", 2.6, 0), -0.5, 1.3},
		// the straight pieces, and those that are powers
		{"logc3", scale(1/5.367655, -0.092809/5.367655), -0.1, 0.149},
		{"dlog", scale(1/6.025, -0.0929/6.025), -0.1, 0.139},
		{"srgb", scale(1/12.92, 0), 0, 0.04},
		{"bt709", scale(1/4.5, 0), 0, 0.08},
		{"bt2020", scale(1/4.5, 0), 0, 0.08},
		{"nlog", scale(1023.0/650, 0) + power("basicMirrorFwd", 3, 0) + scale(1, -0.0075), 0.02, 0.44},
		{"nlog", scale(1023, 0) + `<Log inBitDepth="32f" outBitDepth="32f" style="logToLin"><LogParams base="2.718281828459045" logSideSlope="150" logSideOffset="619"/></Log>`, 0.445, 1},
		{"hlg", power("basicMirrorFwd", 2, 0) + scale(1.0/3, 0), -0.4, 0.5},
		{"hlg", `<Log inBitDepth="32f" outBitDepth="32f" style="logToLin"><LogParams base="2.718281828459045" logSideSlope="0.17883277" logSideOffset="0.55991073" linSideSlope="12" linSideOffset="-0.28466892"/></Log>`, 0.505, 1},
		{"acescg", scale(1, 0), -2, 20}, {"aces2065-1", scale(1, 0), -2, 20}, {"linear-bt709", scale(1, 0), -2, 20}, {"linear-bt2020", scale(1, 0), -2, 20}, {"linear-p3-d65", scale(1, 0), -2, 20},
		// 0.099 and 1.099 are rounded so that the pieces do not meet; above the join the formula is this
		{"bt709", scale(1/1.099, 0.099/1.099) + power("basicFwd", 1/0.45, 0), 0.0815, 1.2},
	} {
		e, err := FindEncoding(c.id)
		if err != nil {
			t.Fatal(err)
		}
		name := filepath.Join(t.TempDir(), "curve.clf")
		text := `<?xml version="1.0"?><ProcessList id="x" compCLFversion="3">` + c.nodes + `</ProcessList>`
		if err := os.WriteFile(name, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
		for range 8 {
			var v, want [3]float64
			args := []string{name}
			for i := range v {
				v[i] = float64(float32(c.lo + (c.hi-c.lo)*r.Float64()))
				args = append(args, fmt.Sprint(v[i]))
			}
			said, err := exec.Command("ociochecklut", args...).CombinedOutput()
			lines := strings.Split(strings.TrimSpace(string(said)), "\n")
			if _, e := fmt.Sscan(lines[len(lines)-1], &want[0], &want[1], &want[2]); err != nil || e != nil {
				t.Fatalf("%s: ociochecklut said %q", c.id, said)
			}
			for i := range v {
				// the checker computes and prints in float32
				if got := e.Decode(v[i]); !near(got, want[i], 1e-5*math.Abs(want[i])+3e-7) {
					t.Errorf("%s: code %.7g is light %.7g, OpenColorIO says %.7g", c.id, v[i], got, want[i])
				}
			}
		}
	}
}

// Nodes of OpenColorIO 2.1.2's table of ST 2084: code i of 4095, light with 1 for 100 cd/m².
func TestPQByOpenColorIO(t *testing.T) {
	e, err := FindEncoding("pq")
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range map[int]float64{137: 0.00024864345, 512: 0.0059429468, 1024: 0.051586062, 1500: 0.22254594, 2081: 1.0010196, 2600: 3.3914077, 3000: 8.3819981, 3500: 25.699589, 4000: 80.195122} {
		if got := e.Decode(float64(i)/4095) * 100; !near(got, want, 1e-6*want) {
			t.Errorf("code %d of 4095 is light %.8g, want %.8g", i, got, want)
		}
	}
}

// Matrices of OpenColorIO 2.1.2's built-in transforms: primaries, whites, and the Bradford adaptation
// between them.
func TestMatricesByOpenColorIO(t *testing.T) {
	for name, c := range map[string]struct{ got, want Matrix }{
		"ACEScg to linear BT.709": {Convert(AP1, BT709), Matrix{1.70505099265798, -0.621792120657006, -0.0832588720009785,
			-0.130256417507044, 1.1408047365754, -0.0105483190683581, -0.024003356804618, -0.128968976064971, 1.15297233286959}},
		"ACEScg to ACES2065-1": {Convert(AP1, AP0), Matrix{0.695452241357452, 0.140678696470294, 0.163869062172254,
			0.0447945633720377, 0.859671118456422, 0.0955343181715404, -0.00552588255811354, 0.00402521030597866, 1.00150067225213}},
		"a camera's gamut to ACES2065-1": {Convert(log3g10, AP0), Matrix{0.785058804068093, 0.0838587565440845, 0.131082439387823,
			0.0231738348454754, 1.08789754919233, -0.111071384037807, -0.0737604353682082, -0.314590072290208, 1.38835050765842}},
		"XYZ to P3-D65": {P3D65.ToXYZ().Inverse(), Matrix{2.49349691194143, -0.931383617919124, -0.402710784450717,
			-0.829488969561575, 1.76266406031835, 0.0236246858419436, 0.0358458302437845, -0.0761723892680418, 0.956884524007688}},
	} {
		for i := range c.want {
			if !near(c.got[i], c.want[i], 1e-11) {
				t.Errorf("%s: %v, want %v", name, c.got, c.want)
				break
			}
		}
	}
}
