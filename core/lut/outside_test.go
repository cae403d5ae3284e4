package lut

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// Independent programs read what is written here, and the reverse: OpenColorIO's tools and ffmpeg.

func need(t *testing.T, program string) {
	t.Helper()
	if _, err := exec.LookPath(program); err != nil {
		t.Skip(program, "is not installed; make test installs it")
	}
}

// file writes a list into a scratch folder.
func file(t *testing.T, name string, write func(io.Writer, *List) error, l *List) string {
	t.Helper()
	var b bytes.Buffer
	if err := write(&b, l); err != nil {
		t.Fatal(err)
	}
	name = filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(name, b.Bytes(), 0o644); err != nil {
		t.Fatal(err)
	}
	return name
}

// ocio sends a colour through a table with OpenColorIO's checker.
func ocio(t *testing.T, table string, c [3]float64) (out [3]float64) {
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

// Every node alone, so that a difference names it, and all of them together.
func TestOpenColorIOReadsOurCLF(t *testing.T) {
	need(t, "ociochecklut")
	r := rand.New(rand.NewPCG(7, 8))
	l := every(r)
	lists := []*List{l}
	for _, n := range l.Nodes {
		lists = append(lists, &List{Title: "one", Nodes: []Node{n}})
	}
	for i, l := range lists {
		name := file(t, "a.clf", WriteCLF, l)
		for _, c := range colours(r, 4) {
			near(t, fmt.Sprintf("list %d, %T, %.4v", i, l.Nodes[0], c), l.Apply(c), ocio(t, name, c), 1e-4)
		}
	}
}

func TestOpenColorIOReadsOurCube(t *testing.T) {
	need(t, "ociochecklut")
	r := rand.New(rand.NewPCG(9, 10))
	t1 := &Table1{Lo: [3]float64{-0.5, -0.5, -0.5}, Hi: [3]float64{4, 4, 4}}
	for c := range t1.Curves {
		for i := range 1024 {
			t1.Curves[c] = append(t1.Curves[c], float32(math.Cbrt(float64(i)/1023)))
		}
	}
	t3 := sampled(9, func(x, y, z float64) [3]float64 {
		return [3]float64{x + 0.1*r.Float64(), y*y + 0.1*r.Float64(), z}
	})
	for _, nodes := range [][]Node{{t1}, {t3}, {t1, t3}} {
		l := &List{Title: "x", Nodes: nodes}
		name := file(t, "a.cube", WriteCube, l)
		for _, c := range colours(r, 8) {
			near(t, fmt.Sprintf("%d nodes, %.4v", len(nodes), c), l.Apply(c), ocio(t, name, c), 1e-4)
		}
	}
}

// Tables that OpenColorIO's tools write load here with equal results.
func TestTablesOfOpenColorIO(t *testing.T) {
	need(t, "ociomakeclf")
	r := rand.New(rand.NewPCG(11, 12))
	dir := t.TempDir()
	source := file(t, "a.cube", WriteCube, &List{Nodes: []Node{sampled(5, func(x, y, z float64) [3]float64 { return [3]float64{x * x, y * z, 1 - z} })}})
	config := filepath.Join(dir, "config.ocio")
	// made-up spaces: a log curve, and one with a matrix before it
	const spaces = `ocio_profile_version: 2
search_path: ""
roles: {default: light, reference: light, scene_linear: light}
file_rules: [!<Rule> {name: Default, colorspace: light}]
displays: {d: [!<View> {name: v, colorspace: light}]}
colorspaces:
  - !<ColorSpace> {name: light}
  - !<ColorSpace>
    name: curve
    from_scene_reference: !<LogCameraTransform> {base: 10, log_side_slope: 0.25, log_side_offset: 0.38, lin_side_slope: 5.5, lin_side_offset: 0.05, lin_side_break: 0.01}
  - !<ColorSpace>
    name: code
    from_scene_reference: !<GroupTransform>
      children:
        - !<MatrixTransform> {matrix: [0.9, 0.1, 0, 0, 0, 0.9, 0.1, 0, 0.1, 0, 0.9, 0, 0, 0, 0, 1]}
        - !<LogCameraTransform> {base: 10, log_side_slope: 0.25, log_side_offset: 0.38, lin_side_slope: 5.5, lin_side_offset: 0.05, lin_side_break: 0.01}
`
	if err := os.WriteFile(config, []byte(spaces), 0o644); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		out  string
		args []string
		read func(io.Reader) (*List, error)
	}{
		{"made.clf", []string{"ociomakeclf", source, filepath.Join(dir, "made.clf")}, ReadCLF},
		{"baked.cube", []string{"ociobakelut", "--iconfig", config, "--inputspace", "code", "--outputspace", "light", "--format", "resolve_cube", "--cubesize", "17", filepath.Join(dir, "baked.cube")}, ReadCube},
		{"shaper.cube", []string{"ociobakelut", "--iconfig", config, "--inputspace", "light", "--shaperspace", "curve", "--outputspace", "code", "--format", "resolve_cube", "--cubesize", "17", filepath.Join(dir, "shaper.cube")}, ReadCube},
	} {
		if said, err := exec.Command(c.args[0], c.args[1:]...).CombinedOutput(); err != nil {
			t.Errorf("%s: %v: %s", c.out, err, said)
			continue
		}
		name := filepath.Join(dir, c.out)
		data, err := os.ReadFile(name)
		if err != nil {
			t.Error(err)
			continue
		}
		l, err := c.read(bytes.NewReader(data))
		if err != nil {
			t.Errorf("%s: %v", c.out, err)
			continue
		}
		for _, in := range colours(r, 8) {
			near(t, fmt.Sprintf("%s, %.4v", c.out, in), l.Apply(in), ocio(t, name, in), 1e-4)
		}
	}
}

func TestOpenColorIOReadsOurDecisions(t *testing.T) {
	need(t, "ociochecklut")
	r := rand.New(rand.NewPCG(13, 14))
	d := &CDL{ID: "x", Slope: [3]float64{1.1, 0.8, 1}, Offset: [3]float64{0.02, 0, -0.05}, Power: [3]float64{0.9, 1.2, 1}, Saturation: 0.7, NoClamp: true}
	name := file(t, "a.cc", func(w io.Writer, _ *List) error { return WriteCDL(w, "cc", []*CDL{d}) }, nil)
	for _, c := range colours(r, 6) {
		near(t, fmt.Sprint(c), d.Apply(c), ocio(t, name, c), 1e-4)
	}
}

// ffmpeg's lut3d over a row of floats.
func TestFFmpegReadsOurCube(t *testing.T) {
	need(t, "ffmpeg")
	r := rand.New(rand.NewPCG(15, 16))
	l := &List{Title: "x", Notes: []string{"a note"}, Nodes: []Node{sampled(17, func(x, y, z float64) [3]float64 {
		return [3]float64{x + 0.1*r.Float64(), y*y + 0.1*r.Float64(), z}
	})}}
	name := file(t, "a.cube", WriteCube, l)
	const n = 200
	var planes [3][n]float32
	for i := range n {
		for c := range planes {
			planes[c][i] = float32(r.Float64())
		}
	}
	var in, out bytes.Buffer
	for _, c := range []int{1, 2, 0} { // green, blue, red
		binary.Write(&in, binary.LittleEndian, planes[c][:])
	}
	raw := []string{"-f", "rawvideo", "-pix_fmt", "gbrpf32le", "-s", fmt.Sprint(n, "x1")}
	args := append([]string{"-v", "error"}, raw...)
	args = append(args, "-i", "-", "-vf", "lut3d=file="+name+":interp=tetrahedral")
	ffmpeg := exec.Command("ffmpeg", append(append(args, raw...), "-")...)
	ffmpeg.Stdin, ffmpeg.Stdout, ffmpeg.Stderr = &in, &out, os.Stderr
	if err := ffmpeg.Run(); err != nil {
		t.Fatal(err)
	}
	var back [3][n]float32
	for _, c := range []int{1, 2, 0} {
		binary.Read(&out, binary.LittleEndian, back[c][:])
	}
	for i := range n {
		var in, got [3]float64
		for c := range in {
			in[c], got[c] = float64(planes[c][i]), float64(back[c][i])
		}
		near(t, fmt.Sprint(in), l.Apply(in), got, 1e-4)
	}
}
