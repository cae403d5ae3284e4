package steps

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"sync"
	"testing"

	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/vec"
)

// noisy is the scene of the tests with a camera's noise, new on every frame; a frame may be missing.
type noisy struct {
	scene
	by      float64
	length  int
	missing int // this frame, if it is not 0
}

func (s noisy) Key() string { return fmt.Sprint("noisy", s) }
func (s noisy) Length() int { return s.length }
func (s noisy) Frame(ctx context.Context, n int) (*frame.Frame, error) {
	if n == s.missing && n != 0 {
		return nil, errors.New("it is missing")
	}
	f, err := s.scene.Frame(ctx, n)
	if err != nil {
		return nil, err
	}
	r := rand.New(rand.NewPCG(7, uint64(n)))
	for p := range 3 {
		for y := range f.H {
			row := f.Row(p, y)
			for x := range row {
				row[x] += float32(s.by * r.NormFloat64())
			}
		}
	}
	return f, nil
}

// shotOf is a shot on which a kind has something to act.
func shotOf(k *look.Kind, w, h int) render.Source {
	if k == denoiseKind {
		return noisy{scene{192, 108}, 0.02, 5, 0}
	}
	return scene{w, h}
}

// rms is what two frames differ by.
func rms(a, b *frame.Frame) float64 {
	sum := 0.0
	for p := range 3 {
		for y := range a.H {
			q, r := a.Row(p, y), b.Row(p, y)
			for x := range q {
				sum += float64(q[x]-r[x]) * float64(q[x]-r[x])
			}
		}
	}
	return math.Sqrt(sum / float64(3*a.W*a.H))
}

// Noise comes out of a shot before all else: what is left is nearer to the scene without it, in every way of acting; a source that is no shot is let through.
func TestNoiseComesOut(t *testing.T) {
	const w, h = 192, 108
	src := noisy{scene{w, h}, 0.02, 5, 0}
	l := look.NewLook("x")
	want, had := rendered(t, l, scene{w, h}, w, h, look.Finish), rendered(t, l, src, w, h, look.Finish)
	for _, set := range []string{"within=0", "over=0", "frames=1", "texture=0", "amount=100"} {
		c := l.Clone()
		if err := c.SetAll("intake.denoise." + set); err != nil {
			t.Fatal(err)
		}
		left := rms(rendered(t, c, src, w, h, look.Finish), want) / rms(had, want)
		t.Logf("with %s %.2f of the noise is left", set, left)
		if left > 0.75 {
			t.Errorf("with %s %.2f of the noise is left", set, left)
		}
	}
	less := l.Clone()
	if err := less.Set("intake.denoise.amount", 100.0); err != nil {
		t.Fatal(err)
	}
	f, err := src.Frame(t.Context(), 0)
	if err != nil {
		t.Fatal(err)
	}
	if !equal(rendered(t, less, given{f}, w, h, look.Finish), rendered(t, l, given{f}, w, h, look.Finish)) {
		t.Error("a picture that is no shot changes")
	}
	// a draft is near
	plan, err := render.CompileDraft(t.Context(), less, logC3, render.Raster{W: w, H: h}, look.Finish)
	if err != nil {
		t.Fatal(err)
	}
	draft, err := render.NewRenderer(0).Render(t.Context(), plan, src, 0)
	if err != nil {
		t.Fatal(err)
	}
	if left := rms(draft, want) / rms(had, want); left > 0.75 {
		t.Errorf("in a draft %.2f of the noise is left", left)
	}
}

// shelf is a store of frames that counts.
type shelf struct {
	mu        sync.Mutex
	frames    map[string]*frame.Frame
	got, puts int
}

func (s *shelf) Get(key string) *frame.Frame {
	s.mu.Lock()
	defer s.mu.Unlock()
	if f := s.frames[key]; f != nil {
		s.got++
		return f
	}
	return nil
}

func (s *shelf) Put(key string, f *frame.Frame) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.frames[key] = f
	s.puts++
}

// Footage is cleaned once, whatever it is mixed with: a film at 60 % is so much of the film's picture, and the rest of the one without, of the same
// clean frame.
func TestFootageIsCleanedOnce(t *testing.T) {
	const w, h = 192, 108
	src := noisy{scene{w, h}, 0.02, 5, 2}
	made := map[string]*frame.Frame{}
	shelf := &shelf{frames: map[string]*frame.Frame{}}
	for _, share := range []string{"100", "60", "0"} {
		l := filmLook(t, "intake.denoise.amount=100", "finish.overall.film="+share)
		plan, err := render.Compile(t.Context(), l, logC3, render.Raster{W: w, H: h}, look.Finish)
		if err != nil {
			t.Fatal(err)
		}
		r := render.NewRenderer(64 << 20)
		r.Clean = shelf
		if made[share], err = r.Render(t.Context(), plan, src, 1); err != nil {
			t.Fatal(err)
		}
	}
	if shelf.puts != 1 {
		t.Errorf("the frame was cleaned %d times", shelf.puts)
	}
	worst := 0.0
	for p := range 3 {
		for y := range h {
			film, mixed, without := made["100"].Row(p, y), made["60"].Row(p, y), made["0"].Row(p, y)
			for x := range mixed {
				worst = max(worst, math.Abs(0.6*float64(film[x])+0.4*float64(without[x])-float64(mixed[x])))
			}
		}
	}
	if worst > 1e-5 {
		t.Errorf("the mixture strays by %g from its parts", worst)
	}
}

// A frame alone is that of the sequence bit for bit, on one core or two and in every form of the kernels but the plain one; the ends of a shot and a
// frame that is missing are gone around; what was cleaned once is kept.
func TestCleanFramesAreTheSame(t *testing.T) {
	const w, h = 192, 108
	l := look.NewLook("x")
	if err := l.Set("intake.denoise.amount", 100.0); err != nil {
		t.Fatal(err)
	}
	src := noisy{scene{w, h}, 0.02, 5, 2}
	plan := planOf(t, l, w, h)
	shelf := &shelf{frames: map[string]*frame.Frame{}}
	r := render.NewRenderer(64 << 20)
	r.Clean = shelf
	var sequence []*frame.Frame
	for _, n := range []int{0, 1, 3, 4} {
		f, err := r.Render(t.Context(), plan, src, n)
		if err != nil {
			t.Fatal(err)
		}
		sequence = append(sequence, f)
	}
	if shelf.puts != 4 {
		t.Errorf("%d frames were kept", shelf.puts)
	}
	was := vec.Backend()
	defer vec.Use(was)
	cores := runtime.GOMAXPROCS(1)
	defer runtime.GOMAXPROCS(cores)
	for _, form := range vec.Backends()[1:] {
		vec.Use(form)
		for i, n := range []int{0, 1, 3, 4} {
			f, err := render.NewRenderer(0).Render(t.Context(), plan, src, n)
			if err != nil {
				t.Fatal(err)
			}
			if !equal(f, sequence[i]) {
				t.Errorf("%s: frame %d alone is another", form, n)
			}
		}
	}
	vec.Use(was)
	if _, err := render.NewRenderer(0).Render(t.Context(), plan, src, 2); err == nil {
		t.Error("a frame that is missing is shown")
	}
	again := render.NewRenderer(64 << 20)
	again.Clean = shelf
	f, err := again.Render(t.Context(), plan, src, 3)
	if err != nil {
		t.Fatal(err)
	}
	if !equal(f, sequence[2]) || shelf.got != 1 || shelf.puts != 4 {
		t.Errorf("a frame that was kept: taken %d times, kept %d", shelf.got, shelf.puts)
	}
}
