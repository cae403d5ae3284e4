package lut

import (
	"bytes"
	"fmt"
	"math"
	"strings"
	"testing"
)

// near compares colours, 1e-6 apart at most.
func near(t *testing.T, what string, got, want [3]float64, within float64) {
	t.Helper()
	for i := range got {
		if !(math.Abs(got[i]-want[i]) <= within*math.Max(1, math.Abs(want[i]))) {
			t.Errorf("%s: got %.8v, want %.8v", what, got, want)
			return
		}
	}
}

func lines(n int, f func(i int) string) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(f(i) + "\n")
	}
	return b.String()
}

// sampled is a table of a function over 0…1.
func sampled(n int, f func(r, g, b float64) [3]float64) *Table3 {
	top := float64(n - 1)
	return NewTable3(n, func(i, j, k int) [3]float32 {
		c := f(float64(i)/top, float64(j)/top, float64(k)/top)
		return [3]float32{float32(c[0]), float32(c[1]), float32(c[2])}
	})
}

// Values worked out by hand from the format's description.
func TestReadCube(t *testing.T) {
	ramp3 := lines(8, func(i int) string { return fmt.Sprintf("%d %d %d", i&1, i>>1&1, i>>2&1) })
	for _, c := range []struct {
		name, file string
		in, want   [3]float64
	}{
		{"one dimension", "LUT_1D_SIZE 3\n0 0 0\n0.25 0.5 1\n1 1 1\n", [3]float64{0.25, 0.5, 0.75}, [3]float64{0.125, 0.5, 1}},
		{"red runs fastest", "LUT_3D_SIZE 2\n" + ramp3, [3]float64{0.2, 0.4, 0.9}, [3]float64{0.2, 0.4, 0.9}},
		{"domain", "DOMAIN_MIN -1 0 0\nDOMAIN_MAX 1 2 4\nLUT_3D_SIZE 2\n" + ramp3, [3]float64{0, 1, 3}, [3]float64{0.5, 0.5, 0.75}},
		{"outside takes the face", "LUT_3D_SIZE 2\n" + ramp3, [3]float64{-3, 0.5, 9}, [3]float64{0, 0.5, 1}},
		{"an odd size", "LUT_1D_SIZE 7\n" + lines(7, func(i int) string { return fmt.Sprintf("%d 0 %g", i, -float64(i)) }), [3]float64{0.75, 0, 1}, [3]float64{4.5, 0, -6}},
		{"both", "LUT_1D_SIZE 2\nLUT_1D_INPUT_RANGE 0 10\nLUT_3D_SIZE 2\nLUT_3D_INPUT_RANGE 0 2\n0 0 0\n2 2 2\n" + ramp3, [3]float64{5, 2.5, 10}, [3]float64{0.5, 0.25, 1}},
		{"mark, carriage returns, comments", "\ufeff# made by hand\r\nTITLE \"a b\"\r\n\r\nLUT_1D_SIZE\t2\r\n0 0 0\r\n# between\r\n1\t2   3\r\n", [3]float64{0.5, 0.5, 0.5}, [3]float64{0.5, 1, 1.5}},
		{"no line end, exponents", "LUT_1D_SIZE 2\n-1e-2 +.5 0\n1E0 1 1", [3]float64{0, 0, 1}, [3]float64{-0.01, 0.5, 1}},
	} {
		l, err := ReadCube(strings.NewReader(c.file))
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		near(t, c.name, l.Apply(c.in), c.want, 1e-6)
	}
	l, _ := ReadCube(strings.NewReader("# made by hand\nTITLE \"a b\"\nLUT_1D_SIZE 2\n0 0 0\n1 1 1"))
	if l.Title != "a b" || len(l.Notes) != 1 || l.Notes[0] != "made by hand" {
		t.Errorf("title %q, notes %q", l.Title, l.Notes)
	}
}

func TestMalformedCube(t *testing.T) {
	for file, want := range map[string]string{
		"":                                              "this is not a .cube",
		"LUT_3D_SIZE 0\n":                               "line 1: the 3D size is 0; it goes from 2 to 256",
		"LUT_3D_SIZE 1000000000\n":                      "it goes from 2 to 256",
		"LUT_1D_SIZE 99999999999999999999\n":            "it goes from 2 to 65536",
		"LUT_3D_SIZE 2\n0 0 0\n":                        "7 of its entries missing",
		"LUT_1D_SIZE 2\n0 0 0\n1 1 1\n2 2 2\n":          "line 4: more numbers",
		"LUT_1D_SIZE 2\n0 0 0\nnan 1 1\n":               `line 3: "nan 1 1" stands among`,
		"LUT_1D_SIZE 2\n0 0 0\n1 1 -inf\n":              `line 3: "-inf" is not a number`,
		"LUT_1D_SIZE 2\n0 0 0\n1 1 1e99\n":              "is not a number that can be used",
		"LUT_1D_SIZE 2\n0 0\n":                          "line 2: 2 numbers where 3 belong",
		"0 0 0\n":                                       "line 1: numbers before",
		"LUT_1D_SIZE 2\nLUT_1D_SIZE 2\n":                "line 2: a second 1D size",
		"LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1": "the first must be the smaller",
		"GAMMA 2\n":                                     `"GAMMA" is not a keyword`,
		strings.Repeat("0 ", 20000):                     "line 1 is too long",
	} {
		_, err := ReadCube(strings.NewReader(file))
		if err == nil || !strings.Contains(err.Error(), want) || strings.Contains(err.Error(), "\n") {
			t.Errorf("%.40q: got %v, want ... %s ...", file, err, want)
		}
	}
}

// What was written comes back with the same bits.
func TestCubeRoundTrip(t *testing.T) {
	t1 := &Table1{Lo: [3]float64{-0.5, -0.5, -0.5}, Hi: [3]float64{16, 16, 16}}
	for c := range t1.Curves {
		for i := range 17 {
			t1.Curves[c] = append(t1.Curves[c], float32(math.Sqrt(float64(i+c)))/7)
		}
	}
	t3 := sampled(5, func(r, g, b float64) [3]float64 { return [3]float64{r*r - 0.1, g / 3, math.Exp(b) * 1e-5} })
	for _, nodes := range [][]Node{{t1}, {t3}, {t1, t3}} {
		var b bytes.Buffer
		if err := WriteCube(&b, &List{Title: `a "look"`, Notes: []string{"one\nline"}, Nodes: nodes}); err != nil {
			t.Fatal(err)
		}
		back, err := ReadCube(&b)
		if err != nil {
			t.Fatal(err)
		}
		if back.Title+back.Notes[len(back.Notes)-1] != "a 'look'one line" && back.Notes[1] != "a 'look'" {
			t.Errorf("title %q, notes %q", back.Title, back.Notes)
		}
		for i := range 50 {
			c := [3]float64{float64(i) / 49, float64(i*i%50) / 49, 1.5 - float64(i)/25}
			if got, want := back.Apply(c), (&List{Nodes: nodes}).Apply(c); got != want {
				t.Fatalf("%v: %v became %v", c, want, got)
			}
		}
	}
	if err := WriteCube(&bytes.Buffer{}, &List{Nodes: []Node{&Matrix{}}}); err == nil {
		t.Error("a matrix went into a .cube")
	}
}

// Rows do as Apply does, NaN included.
func TestRows(t *testing.T) {
	l := &List{Nodes: []Node{
		&Matrix{0.9, 0.1, 0, 0.01, 0, 1, 0, 0, 0.2, 0, 0.8, 0},
		&Table3{Lo: [3]float64{-1, -1, -1}, Hi: [3]float64{2, 2, 2}, Cube: sampled(9, func(r, g, b float64) [3]float64 { return [3]float64{r * r, g * b, b} }).Cube},
		&Exponent{Style: Basic, Gamma: [3]float64{2, 1, 0.5}},
	}}
	const n = 37
	var rows [3][]float32
	for c := range rows {
		rows[c] = make([]float32, n, n+32)
		for i := range n {
			rows[c][i] = float32(math.Sin(float64(i*(c+2)))) * 2
		}
	}
	in := [3][]float32{}
	for c := range in {
		in[c] = append(in[c], rows[c]...)
	}
	l.Rows(rows[0], rows[1], rows[2])
	for i := range n {
		want := l.Apply([3]float64{float64(in[0][i]), float64(in[1][i]), float64(in[2][i])})
		near(t, fmt.Sprint("pixel ", i), [3]float64{float64(rows[0][i]), float64(rows[1][i]), float64(rows[2][i])}, want, 2e-6)
	}
	if got := l.Nodes[1].Apply([3]float64{math.NaN(), 0, 0}); math.IsNaN(got[0]) {
		t.Error("a table passed NaN on")
	}
}
