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
	"runtime/pprof"
	"sort"
	"strconv"
	"strings"
	"sync"
	"time"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/vec"
	"velours/studio"
)

// The budget for the whole path (docs/performance.md).
const (
	budgetCopy  = 26.0
	budgetChain = 0.7
)

// turns is how often the whole set is timed, one after the other: on a shared machine only what was
// timed within the same minute may be compared.
const turns = 3

func main() {
	only := flag.String("vectors", "", "one form of the kernels only")
	rounds := flag.Int("rounds", 5, "frames a turn; medians count")
	hands := flag.Bool("drag", false, "time dragging over the socket alone")
	alone := flag.Bool("steps", false, "time each correction and matte alone")
	changes := flag.Bool("film", false, "time what changes of the film cost alone")
	scattered := flag.Bool("light", false, "time what light that spreads costs alone")
	grainy := flag.Bool("grain", false, "time grain alone")
	denoised := flag.Bool("noise", false, "what noise reduction gains and costs alone")
	delivering := flag.Bool("deliver", false, "time deliveries alone")
	pathOnly := flag.Bool("path", false, "time the light path alone")
	remembering := flag.Bool("memory", false, "what memory the program takes at most, alone")
	starting := flag.Bool("starts", false, "time starts, and until shots and large stills are there, alone")
	named := flag.String("case", "", "with -memory, -steps or -starts (tif, png, exr, jpg), cases whose names have this `word` alone")
	machine := flag.String("record", "", "keep the ratios as the baseline, of this kind of `machine`")
	profile := flag.String("profile", "", "write where the processor's time went to this `file`, for go tool pprof")
	flag.Parse()
	if *profile != "" {
		f, err := os.Create(*profile)
		check(err)
		check(pprof.StartCPUProfile(f))
		defer pprof.StopCPUProfile()
	}
	defer func() {
		compare()
		if *machine != "" {
			keep(*machine)
		}
	}()
	if *remembering {
		check(memory(*named))
		return
	}
	if *starting {
		check(starts(*named))
		return
	}
	if *delivering {
		deliveries()
		return
	}
	if *scattered {
		lights()
		return
	}
	if *changes {
		films()
		return
	}
	if *alone {
		steps(*named)
		return
	}
	if *denoised {
		denoising()
		return
	}
	if *grainy {
		grains()
		return
	}
	if *hands {
		if err := drag(); err != nil {
			fmt.Fprintln(os.Stderr, "bench:", err)
			os.Exit(1)
		}
		return
	}
	fmt.Printf("%d cores, %s; median of %d turns of %d frames\n", runtime.GOMAXPROCS(0), strings.Join(vec.Backends(), " "), turns, *rounds)
	for _, size := range []render.Raster{{W: 1280, H: 720}, {W: 3840, H: 2160}} {
		src := picture(size.W, size.H)
		chain := newChain(size)
		var forms []*form
		for _, name := range vec.Backends() {
			if *only == "" || *only == name {
				forms = append(forms, newForm(name, size))
			}
		}
		var chains []float64
		for range turns {
			c := chain.time()
			chains = append(chains, c)
			for _, f := range forms {
				n := *rounds
				if f.name == "plain" && size.W > 2000 {
					n = 1
				}
				f.turn(src, n, c)
			}
		}
		chain.close()
		fmt.Printf("\n%d×%d\n%-8s %8s %8s %8s %8s %8s | %8s %9s %9s | %8s %9s\n", size.W, size.H, "vectors", "copy", "intake", "spread", "film", "whole", "ns/px", "× copy", "of chain", "no film", "of whole")
		for _, f := range forms {
			f.print()
		}
		if c := median(chains); c > 0 {
			fmt.Printf("ffmpeg's chain: %.0f ms a frame. Budget: ≤ %.1f × copy, ≤ %.2f of the chain with avx2\n", c, budgetCopy, budgetChain)
		} else {
			fmt.Println("ffmpeg is not at hand: no comparison with its chain")
		}
	}
	if *pathOnly {
		return
	}
	deliveries()
	steps("")
	lights()
	grains()
	check(starts(""))
	if err := drag(); err != nil {
		fmt.Fprintln(os.Stderr, "bench:", err)
		os.Exit(1)
	}
}

// form is one form of the kernels under test, with what it took.
type form struct {
	name   string
	size   render.Raster
	plan   *render.Plan
	r      *render.Renderer
	bare   *render.Plan // the same without film: neutral scale, gamut fit, display
	bareBy *render.Renderer
	copyTo *frame.Frame
	mu     sync.Mutex
	times  map[string][]float64
	copies []float64 // the ratios of each turn
	bares  []float64
	chains []float64
}

func newForm(name string, size render.Raster) *form {
	plan, err := render.Compile(context.Background(), filmLook("100"), recorded, size, look.Finish)
	check(err)
	bare, err := render.Compile(context.Background(), neutralLook(), recorded, size, look.Finish)
	check(err)
	f := &form{name: name, size: size, plan: plan, r: render.NewRenderer(0), bare: bare, bareBy: render.NewRenderer(0), copyTo: frame.New(size.W, size.H, 3), times: map[string][]float64{}}
	f.r.Trace = func(pass string, took time.Duration) {
		f.mu.Lock()
		defer f.mu.Unlock()
		f.times[pass] = append(f.times[pass], ms(took))
	}
	return f
}

// turn times n frames, each beside a copy of the same planes; chain is what ffmpeg took just before.
func (f *form) turn(src single, n int, chain float64) {
	vec.Use(f.name)
	var copied, whole, bare []float64
	for k := range n {
		began := time.Now()
		check(frame.Bands(context.Background(), f.size.H, 32, func(y0, y1 int) {
			for p := range 3 {
				for y := y0; y < y1; y++ {
					copy(f.copyTo.Row(p, y), src.f.Row(p, y))
				}
			}
		}))
		copied = append(copied, ms(time.Since(began)))
		began = time.Now()
		out, err := f.r.Render(context.Background(), f.plan, src, k)
		check(err)
		whole = append(whole, ms(time.Since(began)))
		out.Release()
		began = time.Now()
		out, err = f.bareBy.Render(context.Background(), f.bare, src, k)
		check(err)
		bare = append(bare, ms(time.Since(began)))
		out.Release()
	}
	f.times["bare"] = append(f.times["bare"], bare...)
	f.bares = append(f.bares, median(bare)/median(whole))
	f.times["copy"], f.times["whole"] = append(f.times["copy"], copied...), append(f.times["whole"], whole...)
	f.copies = append(f.copies, median(whole)/median(copied))
	if chain > 0 {
		f.chains = append(f.chains, median(whole)/chain)
	}
}

func (f *form) print() {
	m := func(k string) float64 { return median(f.times[k]) }
	of := "–"
	if len(f.chains) > 0 {
		of = fmt.Sprintf("%.2f", median(f.chains))
		record(fmt.Sprintf("light path %d×%d, %s, of ffmpeg's chain", f.size.W, f.size.H, f.name), median(f.chains))
	}
	record(fmt.Sprintf("light path %d×%d, %s, × copy", f.size.W, f.size.H, f.name), median(f.copies))
	record(fmt.Sprintf("light path %d×%d, %s, without film, of the whole", f.size.W, f.size.H, f.name), median(f.bares))
	fmt.Printf("%-8s %8.1f %8.1f %8.1f %8.1f %8.1f | %8.1f %9.1f %9s | %8.1f %9.2f\n", f.name, m("copy"), m("intake"), m("bloom")+m("halation"), m("film"), m("whole"),
		m("whole")*1e6/float64(f.size.W*f.size.H), median(f.copies), of, m("bare"), median(f.bares))
}

// recorded is how the benchmark's pictures are.
var recorded = func() *colour.Encoding {
	e, err := colour.FindEncoding("logc3")
	check(err)
	return e
}()

// look is the whole path: camera log, bloom of nine Gaussians, halation, a negative with its
// interlayer effect, grain on three layers, a print, BT.1886.
func filmLook(grain string) *look.Look {
	l := look.NewLook("bench")
	for _, s := range []string{"balance.exposure.stops=0.2", "lens.bloom.amount=20", "negative.stock.id=aubade-250d", "negative.halation.amount=100", "negative.halation.backing=100", "negative.grain.amount=" + grain, "print.medium.id=rideau"} {
		name, v, _ := strings.Cut(s, "=")
		check(l.Set(name, v))
	}
	return l
}

// neutralLook is filmLook without its film: what is left is the lens.
func neutralLook() *look.Look {
	l := look.NewLook("bench")
	for _, s := range []string{"balance.exposure.stops=0.2", "lens.bloom.amount=20"} {
		name, v, _ := strings.Cut(s, "=")
		check(l.Set(name, v))
	}
	return l
}

type single struct{ f *frame.Frame }

func (h single) Key() string                                      { return "bench" }
func (h single) Integral() bool                                   { return true }
func (h single) Frame(context.Context, int) (*frame.Frame, error) { return h.f, nil }

func picture(w, h int) single {
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
				f.Row(p, y)[x] = float32(recorded.Encode(30))
			}
		}
	}
	return single{f}
}

// chain is ffmpeg's filters put together to do the job as well as they can: a table for the colour, a
// cut of the highlights, one blur, a tint, a screen, and noise, in 16 bits but for the noise, which
// that filter makes in 8.
type chain struct {
	dir  string
	size render.Raster
}

func newChain(size render.Raster) *chain {
	if _, err := exec.LookPath("ffmpeg"); err != nil {
		return &chain{}
	}
	dir, err := os.MkdirTemp("", "velours-bench")
	check(err)
	_, err = studio.Bake{Out: filepath.Join(dir, "look.cube"), Look: filmLook("0"), From: recorded.ID, Size: 33}.Run(context.Background())
	check(err)
	return &chain{dir, size}
}

func (c *chain) close() {
	if c.dir != "" {
		os.RemoveAll(c.dir)
	}
}

// time is what a frame takes, 0 if ffmpeg is not at hand or fails. The source is one frame held in
// memory; the time of the start is taken off by a shorter run.
func (c *chain) time() float64 {
	if c.dir == "" {
		return 0
	}
	const short, long = 3, 15
	a, b := c.run(short), c.run(long)
	if a == 0 || b <= a {
		return 0
	}
	return (b - a) / (long - short)
}

func (c *chain) run(frames int) float64 {
	graph := fmt.Sprintf("testsrc2=s=%dx%d:r=24,format=gbrp16le,loop=loop=-1:size=1,split[a][b];"+
		"[b]lutrgb=r='max(val-50000\\,0)*3':g='max(val-50000\\,0)*3':b='max(val-50000\\,0)*3',gblur=sigma=%d,colorchannelmixer=rr=1:gg=0.5:bb=0.25[g];"+
		"[a]lut3d=file=%s[l];[l][g]blend=all_mode=screen,noise=alls=6:allf=t,format=gbrp16le", c.size.W, c.size.H, c.size.W/60, filepath.Join(c.dir, "look.cube"))
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
