package grade

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"velours/core/lut"
)

// OpenColorIO, on numbers of its own reading.
func TestCDLIsOpenColorIOs(t *testing.T) {
	if _, err := exec.LookPath("ociochecklut"); err != nil {
		t.Skip("ociochecklut is not installed; make test installs it")
	}
	r := rand.New(rand.NewPCG(3, 4))
	for n := range 12 {
		d := lut.NewCDL()
		d.ID, d.Saturation = "x", 0.3+1.4*r.Float64()
		for i := range 3 {
			d.Slope[i], d.Offset[i], d.Power[i] = 0.6+r.Float64(), 0.2*r.Float64()-0.1, 0.6+r.Float64()
		}
		var b strings.Builder
		if err := lut.WriteCDL(&b, "cc", []*lut.CDL{d}); err != nil {
			t.Fatal(err)
		}
		name := filepath.Join(t.TempDir(), "a.cc")
		if err := os.WriteFile(name, []byte(b.String()), 0o644); err != nil {
			t.Fatal(err)
		}
		c := random(r)
		want := checked(t, name, c)
		// a .cc has no clamp in OpenColorIO's reading
		if got := Apply(&CDL{Slope: d.Slope, Offset: d.Offset, Power: d.Power, Saturation: d.Saturation}, c); !close3(got, want, 1e-5) {
			t.Errorf("%d: %v becomes %v, in OpenColorIO %v", n, c, got, want)
		}
	}
}

func checked(t *testing.T, table string, c [3]float64) (out [3]float64) {
	t.Helper()
	args := []string{table}
	for _, v := range c {
		args = append(args, fmt.Sprint(float32(v)))
	}
	said, err := exec.Command("ociochecklut", args...).CombinedOutput()
	lines := strings.Split(strings.TrimSpace(string(said)), "\n")
	if err != nil {
		t.Fatalf("ociochecklut: %v: %s", err, said)
	}
	if _, err := fmt.Sscan(lines[len(lines)-1], &out[0], &out[1], &out[2]); err != nil {
		t.Fatalf("ociochecklut said %q", said)
	}
	return out
}
