// Command bench times the light path and prints a table: milliseconds a frame of each pass and of
// the whole path, the ratio to a copy of the same planes, and, with ffmpeg at hand, the ratio to a
// chain of its filters put together by hand for the same job, all in the same run.
package main

import (
	"bytes"
	"context"
	"flag"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"sort"
	"strconv"
	"strings"
	"sync"
	"time"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/path"
	"velours/core/vec"
	"velours/studio"
)

// The budget for the whole path (docs/performance.md).
const (
	budgetCopy  = 26.0
	budgetChain = 0.7
)

func main() {
	only := flag.String("vectors", "", "one form of the kernels only")
	rounds := flag.Int("rounds", 7, "repetitions; the median counts")
	flag.Parse()
	fmt.Printf("%d cores, %s; median of %d\n", runtime.GOMAXPROCS(0), strings.Join(vec.Backends(), " "), *rounds)
	for _, size := range []path.Raster{{W: 1280, H: 720}, {W: 3840, H: 2160}} {
		src := picture(size.W, size.H)
		chain := ffmpegChain(size)
		fmt.Printf("\n%d×%d%36s\n", size.W, size.H, "")
		fmt.Printf("%-8s %8s %8s %8s %8s %8s %8s | %8s %9s %9s\n", "vectors", "copy", "intake", "bloom", "halation", "film", "whole", "ns/px", "× copy", "of chain")
		for _, name := range vec.Backends() {
			if *only != "" && *only != name {
				continue
			}
			if name == "plain" && size.W > 2000 && *rounds > 3 {
				row(name, size, src, chain, 3)
				continue
			}
			row(name, size, src, chain, *rounds)
		}
		if chain > 0 {
			fmt.Printf("ffmpeg's chain: %.0f ms a frame. Budget: ≤ %.1f × copy, ≤ %.2f of the chain with avx2\n", chain, budgetCopy, budgetChain)
		} else {
			fmt.Println("ffmpeg is not at hand: no comparison with its chain")
		}
	}
}

func row(name string, size path.Raster, src held, chain float64, rounds int) {
	vec.Use(name)
	l := look("100")
	plan, err := path.Compile(context.Background(), l, size, path.Finish)
	check(err)
	times := map[string][]float64{}
	var mu sync.Mutex
	r := path.NewRenderer(0)
	r.Trace = func(pass string, took time.Duration) {
		mu.Lock()
		times[pass] = append(times[pass], ms(took))
		mu.Unlock()
	}
	copyTo := frame.New(size.W, size.H, 3)
	for n := range rounds {
		began := time.Now()
		check(frame.Bands(context.Background(), size.H, 32, func(y0, y1 int) {
			for p := range 3 {
				for y := y0; y < y1; y++ {
					copy(copyTo.Row(p, y), src.f.Row(p, y))
				}
			}
		}))
		times["copy"] = append(times["copy"], ms(time.Since(began)))
		began = time.Now()
		f, err := r.Render(context.Background(), plan, src, n)
		check(err)
		times["whole"] = append(times["whole"], ms(time.Since(began)))
		f.Release()
	}
	m := func(k string) float64 { return median(times[k]) }
	of := "–"
	if chain > 0 {
		of = fmt.Sprintf("%.2f", m("whole")/chain)
	}
	fmt.Printf("%-8s %8.1f %8.1f %8.1f %8.1f %8.1f %8.1f | %8.1f %9.1f %9s\n", name, m("copy"), m("intake"), m("bloom"), m("halation"), m("film"), m("whole"),
		m("whole")*1e6/float64(size.W*size.H), m("whole")/m("copy"), of)
}

// look is the whole path: camera log, bloom of nine Gaussians, halation, a negative with its
// interlayer effect, grain on three layers, a print, BT.1886.
func look(grain string) *path.Look {
	l := path.NewLook("bench")
	for _, s := range []string{"intake.encoding.id=logc3", "balance.exposure.stops=0.2", "lens.bloom.amount=20", "negative.stock.id=aubade-250d", "negative.halation.amount=100", "negative.halation.backing=100", "negative.grain.amount=" + grain, "print.medium.id=rideau"} {
		name, v, _ := strings.Cut(s, "=")
		check(l.Set(name, v))
	}
	return l
}

type held struct{ f *frame.Frame }

func (h held) Key() string                                      { return "bench" }
func (h held) Frame(context.Context, int) (*frame.Frame, error) { return h.f, nil }

func picture(w, h int) held {
	e, err := colour.FindEncoding("logc3")
	check(err)
	f := frame.New(w, h, 3)
	for p := range 3 {
		for y := range h {
			row := f.Row(p, y)
			for x := range row {
				row[x] = float32(0.25 + 0.3*math.Sin(float64(x)/97+float64(p))*math.Cos(float64(y)/71))
			}
		}
	}
	for y := h / 3; y < h/3+h/40; y++ {
		for x := w / 2; x < w/2+h/40; x++ {
			for p := range 3 {
				f.Row(p, y)[x] = float32(e.Encode(30))
			}
		}
	}
	return held{f}
}

// ffmpegChain is the time a frame takes through filters that do the job as well as they can: a table
// for the colour, a cut of the highlights, one blur, a tint, a screen, and grain. The source is one
// frame held in memory; the time of the start is taken off by a shorter run. The noise filter works
// in 8 bits alone, so it is left out, in the chain's favour.
func ffmpegChain(size path.Raster) float64 {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		return 0
	}
	dir, err := os.MkdirTemp("", "velours-bench")
	check(err)
	defer os.RemoveAll(dir)
	cube := filepath.Join(dir, "look.cube")
	_, err = studio.Bake{Out: cube, Look: look("0"), Size: 33}.Run(context.Background())
	check(err)
	sigma := strconv.Itoa(size.W / 60)
	run := func(frames int) float64 {
		graph := fmt.Sprintf("testsrc2=s=%dx%d:r=24,format=gbrp16le,loop=loop=-1:size=1,split[a][b];"+
			"[b]lutrgb=r='max(val-50000\\,0)*3':g='max(val-50000\\,0)*3':b='max(val-50000\\,0)*3',gblur=sigma=%s,colorchannelmixer=rr=1:gg=0.5:bb=0.25[g];"+
			"[a]lut3d=file=%s[l];[l][g]blend=all_mode=screen", size.W, size.H, sigma, cube)
		cmd := exec.Command("ffmpeg", "-v", "error", "-nostdin", "-filter_complex_threads", "2", "-filter_complex", graph, "-frames:v", strconv.Itoa(frames), "-f", "null", "-")
		var problem bytes.Buffer
		cmd.Stderr = &problem
		began := time.Now()
		if err := cmd.Run(); err != nil {
			fmt.Fprintln(os.Stderr, "ffmpeg's chain:", err, problem.String())
			return 0
		}
		return ms(time.Since(began))
	}
	const short, long = 3, 15
	var per []float64
	for range 3 {
		a, b := run(short), run(long)
		if a == 0 || b == 0 {
			return 0
		}
		per = append(per, (b-a)/(long-short))
	}
	return median(per)
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

func median(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	s := append([]float64(nil), v...)
	sort.Float64s(s)
	return s[len(s)/2]
}

func check(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}
