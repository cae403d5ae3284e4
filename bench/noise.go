package main

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"time"

	"velours/core/frame"
	"velours/core/noise"
	"velours/core/noise/scenes"
	"velours/media"
)

// budgetDenoise is how many times as long as ffmpeg's hqdn3d a frame may take; it is also to take no longer than its nlmeans.
const budgetDenoise = 25

// usualReduction is noise reduction as it is at first.
var usualReduction = noise.Reduction{Bright: 1, Colour: 1, Larger: 1, Over: 1, Within: 1, Frames: 2, Texture: 0.5}

// denoising prints what noise reduction gains on scenes of known noise, beside two filters of ffmpeg on the same clips, and how long a frame of
// 1920×1080 takes, in turn with them.
func denoising() {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "velours-bench-")
	check(err)
	defer os.RemoveAll(dir)
	var photos [2]*scenes.Photo
	for i, name := range []string{"courtyard", "workbench"} {
		photos[i], err = scenes.Load(name)
		check(err)
	}
	thing := [2]float64{3.4, -5.2}
	fmt.Printf("\ndecibels gained on clips of 5 frames of %d × %d: two pictures each\n\n%-16s %5s %6s %6s   %15s %15s %15s %15s\n", scenes.Width, scenes.Height, "", "spot", "noise", "dB", "Velours", "and no texture", "hqdn3d", "nlmeans")
	for _, kind := range []struct {
		name  string
		pan   [2]float64
		thing *[2]float64
	}{{"static", [2]float64{}, nil}, {"pan", [2]float64{1.3, 2.1}, nil}, {"pan and a thing", [2]float64{1.3, 2.1}, &thing}} {
		for _, spot := range []float64{0, 0.8} {
			for _, sigma := range []float64{0.02, 0.04, 0.08} {
				var gains [4][2]float64
				in := 0.0
				for i, photo := range photos {
					noisy, clean := scenes.Scene{Pan: kind.pan, Thing: kind.thing, Sigma: sigma, Spot: spot, Frames: 5}.Make(photo, photos[1-i])
					m, err := noise.Measure(ctx, noisy, noise.Options{}, nil)
					check(err)
					had := scenes.PSNR(noisy[2], clean)
					in += had / 2
					for k, texture := range []float64{0.5, 0} {
						r := usualReduction
						r.Texture = texture
						out, err := m.Reduce(ctx, r, noisy[2], noise.Row(noisy, 2))
						check(err)
						gains[k][i] = scenes.PSNR(out, clean) - had
					}
					file := write(ctx, filepath.Join(dir, "in.mkv"), noisy)
					for k, filter := range []string{"hqdn3d", "nlmeans"} {
						gains[2+k][i] = scenes.PSNR(filtered(ctx, file, filter, 2), clean) - had
					}
				}
				fmt.Printf("%-16s %5.1f %6.2f %6.1f  ", kind.name, spot, sigma, in)
				for _, g := range gains {
					fmt.Printf(" %7.1f %7.1f", g[0], g[1])
				}
				fmt.Println()
			}
		}
	}
	denoiseSpeed(ctx, dir, photos[0])
}

// write writes frames as a lossless movie.
func write(ctx context.Context, name string, frames []*frame.Frame) string {
	w, err := media.Create(name, 0, media.Options{Rate: "24/1", Codec: "ffv1"})
	check(err)
	for _, f := range frames {
		check(w.Write(ctx, f))
	}
	check(w.Close())
	return name
}

// filtered is frame n of a movie through a filter of ffmpeg at its defaults.
func filtered(ctx context.Context, file, filter string, n int) *frame.Frame {
	out := file + "-out.mkv"
	run(ctx, "-i", file, "-vf", filter, "-c:v", "ffv1", out)
	r, err := media.Open(ctx, out)
	check(err)
	defer r.Close()
	f, err := r.Frame(ctx, n)
	check(err)
	return f
}

func run(ctx context.Context, args ...string) {
	if text, err := exec.CommandContext(ctx, "ffmpeg", append([]string{"-v", "error", "-y"}, args...)...).CombinedOutput(); err != nil {
		check(fmt.Errorf("ffmpeg %v: %w: %s", args, err, text))
	}
}

// denoiseSpeed times a frame of 1920×1080 that is panned over.
func denoiseSpeed(ctx context.Context, dir string, photo *scenes.Photo) {
	const frames = 8
	var clip []*frame.Frame
	for n := range frames {
		f := frame.New(1920, 1080, 3)
		check(frame.Bands(ctx, f.H, 16, func(y0, y1 int) {
			for y := y0; y < y1; y++ {
				for c := range 3 {
					row := f.Row(c, y)
					for x := range row {
						grain := float64((uint32(x*7919+y*104729+c*1299709+n*15485863)*2654435761)>>8)/(1<<24) - 0.5
						row[x] = float32(photo.Read(c, (float64(x)+4.3*float64(n))*0.32, (float64(y)+2.1*float64(n))*0.32) + 0.1*grain)
					}
				}
			}
		}))
		clip = append(clip, f)
	}
	m, err := noise.Learn(ctx, clip[2:5])
	check(err)
	// raw frames of 8 bits, the deepest that nlmeans takes, so that decoding is nothing
	raw := filepath.Join(dir, "in.yuv")
	run(ctx, "-i", write(ctx, filepath.Join(dir, "large.mkv"), clip), "-pix_fmt", "yuv444p", "-f", "rawvideo", raw)
	filter := func(name string) float64 {
		began := time.Now()
		run(ctx, "-f", "rawvideo", "-pix_fmt", "yuv444p", "-s", "1920x1080", "-threads", "2", "-i", raw, "-vf", name, "-f", "null", "-")
		return ms(time.Since(began)) / frames
	}
	var ours, none, fast, slow []float64
	for range 9 {
		began := time.Now()
		for n := 2; n < 6; n++ { // frames one after the other, as a delivery takes them
			out, err := m.Reduce(ctx, usualReduction, clip[n], noise.Row(clip, n))
			check(err)
			out.Release()
		}
		ours = append(ours, ms(time.Since(began))/4)
		none = append(none, filter("null"))
		fast = append(fast, filter("hqdn3d"))
	}
	slow = append(slow, filter("nlmeans"))
	a, b, c := median(ours), median(fast)-median(none), median(slow)-median(none)
	fmt.Printf("\na frame of 1920×1080, 5 frames looked at: %.0f ms; hqdn3d %.0f ms, nlmeans %.0f ms a frame of 8 bits\n%.1f × hqdn3d, budget %d; %.2f × nlmeans, budget 1\n", a, b, c, a/b, budgetDenoise, a/c)
}
