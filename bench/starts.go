package main

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"time"

	"github.com/coder/websocket"

	"velours/demo"
)

// stillKinds are the stills that are timed, as ffmpeg makes them.
var stillKinds = []struct{ name, file, pix, encoding string }{
	{"TIFF, 16 bits", "a.tif", "rgb48le", "bt709"}, {"PNG, 16 bits", "b.png", "rgb48be", "bt709"}, {"EXR", "c.exr", "gbrpf32le", "acescg"}, {"JPEG", "d.jpg", "yuvj420p", "bt709"},
}

// starts times what is waited for at a start, and until a shot is there: the program's first start and its second, the exact picture of a
// shot that is opened, one frame by the command line, and stills of a hundred megapixels, to their first picture and to the exact one. Beside
// each stands ffmpeg's time for the same file, decoded to nothing.
func starts(named string) error {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "velours-bench")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	program := filepath.Join(dir, "velours")
	if out, err := exec.Command("go", "build", "-o", program, "./cmd/velours").CombinedOutput(); err != nil {
		return fmt.Errorf("%v: %s", err, out)
	}
	pictures, data := filepath.Join(dir, "pictures"), filepath.Join(dir, "data")
	for _, d := range []string{pictures, filepath.Join(dir, "cache")} {
		if err := os.Mkdir(d, 0o755); err != nil {
			return err
		}
	}
	os.Setenv("XDG_CACHE_HOME", filepath.Join(dir, "cache")) // tables that were kept for others are not there
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Minute)
	defer cancel()

	fmt.Printf("\nseconds of the clock, and as × what ffmpeg takes to decode the same\n")
	line := func(name string, took, beside float64) {
		fmt.Printf("%-60s %7.2f %7.2f ×\n", name, took, took/beside)
		record("start: "+name, took/beside)
	}
	if named == "" {
		if err := demo.Unpack(filepath.Join(dir, "demo")); err != nil {
			return err
		}
		clip := filepath.Join(dir, "demo", demo.Shots[0].File)
		decode := seconds("ffmpeg", "-v", "error", "-i", clip, "-frames:v", "11", "-f", "rawvideo", "-y", os.DevNull)
		for _, name := range []string{"first start, to its page", "second start, to its page"} {
			began := time.Now()
			p, err := launch(ctx, program, data, pictures)
			if err != nil {
				return err
			}
			line(name, time.Since(began).Seconds(), decode)
			for _, of := range []string{"the first shot", "the next shot"} {
				shot := 1
				if of != "the first shot" {
					shot = 2
				}
				first, exact, err := p.opened(ctx, shot, `"width":802,"height":451`)
				if err != nil {
					return err
				}
				line(name[:len(name)-13]+": "+of+", to a picture", first, decode)
				line(name[:len(name)-13]+": "+of+", to the exact one", exact, decode)
			}
			p.end()
		}
		for _, n := range []string{"0", "10"} {
			took := seconds(program, "render", "--in", clip, "--encoding", demo.Shots[0].Encoding, "--look", "demo/looks/footlights.json", "--frames", n+"-"+n, "--out", filepath.Join(dir, "one.%04d.png"))
			line("frame "+n+" by the command line, to PNG", took, decode)
		}
	}
	for _, k := range stillKinds {
		if named != "" && named != k.file[2:] {
			continue
		}
		file := filepath.Join(pictures, k.file)
		seconds("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc2=s=11600x8700", "-frames:v", "1", "-pix_fmt", k.pix, file)
		decode := seconds("ffmpeg", "-v", "error", "-max_pixels", "200000000", "-i", file, "-f", "null", "-")
		p, err := launch(ctx, program, data, pictures)
		if err != nil {
			return err
		}
		began := time.Now()
		ids, err := p.shots([]string{file}, k.encoding)
		if err != nil {
			return err
		}
		line(k.name+", 101 megapixels, brought in", time.Since(began).Seconds(), decode)
		for _, view := range []struct{ name, view string }{{"all of it", `"width":802,"height":451`}, {"one to one", `"width":802,"height":451,"x":5000,"y":4000,"cropWidth":802,"cropHeight":451`}} {
			first, exact, err := p.opened(ctx, ids[0], view.view)
			if err != nil {
				return err
			}
			line(k.name+", "+view.name+", to a picture", first, decode)
			line(k.name+", "+view.name+", to the exact one", exact, decode)
		}
		p.end()
	}
	return nil
}

// seconds is how long a command takes by the clock.
func seconds(name string, args ...string) float64 {
	began := time.Now()
	if out, err := exec.Command(name, args...).CombinedOutput(); err != nil {
		check(fmt.Errorf("%s: %v: %s", name, err, out))
	}
	return time.Since(began).Seconds()
}

// opened is how long a shot that is opened takes to its first picture, and to the exact one with its scopes.
func (p *running) opened(ctx context.Context, shot int, view string) (first, exact float64, err error) {
	c, err := p.window(ctx)
	if err != nil {
		return 0, 0, err
	}
	defer c.Close(websocket.StatusNormalClosure, "")
	began := time.Now()
	err = p.pictures(ctx, c, 1, fmt.Sprintf(`"shot":%d,"frame":0,%s`, shot, view), func(string) {
		if first == 0 {
			first = time.Since(began).Seconds()
		}
	})
	return first, time.Since(began).Seconds(), err
}
