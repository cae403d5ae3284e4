package studio

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"math"
	"os"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/look"
	"velours/core/render"
	"velours/core/scope"
	"velours/core/vec"
	"velours/library"
)

// View asks for one picture of a shot.
type View struct {
	Shot  uint `json:"shot"`
	Frame int  `json:"frame"`
	// Number, if set, is the frame that grain and other moving things are of, while Frame stands still.
	Number *int `json:"number,omitempty"`
	// Look stands in place of the shot's saved look, while a control is still being moved.
	Look *look.Look `json:"look,omitempty"`
	// Above are looks in place of the saved ones of its scene and reel, by their level.
	Above map[look.Level]*look.Look `json:"above,omitempty"`
	// Hide leaves out what comes from above, or what is the shot's own.
	Hide look.Hide `json:"hide,omitempty"`
	// Side is which picture: the shot as it is, or one to compare it with.
	Side Side `json:"side,omitzero"`
	// Encoding shows the shot as if it had been declared so.
	Encoding string `json:"encoding,omitempty"`
	// Show is how it is looked at.
	Show Show `json:"show,omitempty"`
	// Tap, where nothing else is shown, is the station that the picture is seen leaving; empty for the last.
	Tap look.Station `json:"tap,omitempty"`
	// Step is the step that is shown, read or picked for.
	Step look.StepPath `json:"step,omitzero"`
	// Against is the other side of a difference.
	Against Side `json:"against,omitzero"`
	// Codec and Megabits a second are those of the delivery whose remains are shown.
	Codec    string  `json:"codec,omitempty"`
	Megabits float64 `json:"megabits,omitempty"`
	// Gain is how many times over differences are shown, and Black on what ground.
	Gain  float64 `json:"gain,omitempty"`
	Black bool    `json:"black,omitempty"`
	// W and H bound the picture as fitted; 0 is the shot's own size.
	W int `json:"width"`
	H int `json:"height"`
	// Crop, where its sizes are not 0, is the part that is seen of the picture at the shot's own size.
	X     int `json:"x,omitempty"`
	Y     int `json:"y,omitempty"`
	CropW int `json:"cropWidth,omitempty"`
	CropH int `json:"cropHeight,omitempty"`
	// Keep asks for the shot's thumbnail as it is kept (Thumbnail).
	Keep bool `json:"keep,omitempty"`
	// Draft asks for a quick, smaller picture.
	Draft bool `json:"draft,omitempty"`
	// Share is the part of its raster, along either side, at which the picture is made; 0 is all of it.
	Share float64 `json:"share,omitempty"`
}

// number is the frame that grain and other moving things are of.
func (v *View) number() int {
	if v.Number != nil {
		return *v.Number
	}
	return v.Frame
}

// Image is a picture for the screen: 8 bits, red, green, blue, opacity.
type Image struct {
	W, H int
	RGBA []byte
	// SourceW and SourceH are the size of the whole picture it is a view of.
	SourceW, SourceH int
	// Note says what the picture shows, where it is not simply the shot.
	Note string
}

// fitSize is the largest size of the shape sw×sh inside w×h, never above its own.
func fitSize(sw, sh, w, h int) (int, int) {
	k := 1.0
	if w > 0 && h > 0 {
		k = min(1, float64(w)/float64(sw), float64(h)/float64(sh))
	}
	return max(1, int(math.Round(float64(sw)*k))), max(1, int(math.Round(float64(sh)*k)))
}

// Drafts are this wide: that of a part of a picture is as wide as long as the whole need not be wider
// than draftWhole.
const draftWidth, draftWhole = 480, 1280

// window is the raster of a view of a picture of sw×sh, and the part of it that is seen.
func (v *View) window(sw, sh int) (render.Raster, render.Region) {
	w, h := fitSize(sw, sh, v.W, v.H)
	var r render.Region
	if v.CropW > 0 && v.CropH > 0 {
		w, h = sw, sh
		r = render.Region{X: v.X, Y: v.Y, W: v.CropW, H: v.CropH}.Within(render.Raster{W: w, H: h})
	}
	k := 1.0
	if v.Draft && w > draftWidth {
		k = draftWidth / float64(w)
		if r.W > 0 {
			k = min(1, max(k, min(draftWidth/float64(r.W), draftWhole/float64(w))))
		}
	}
	if v.Share > 0 {
		k = min(k, max(v.Share, 1./16))
	}
	if k >= 1 {
		return render.Raster{W: w, H: h}, r
	}
	at := func(x int) int { return int(float64(x) * k) }
	small := render.Raster{W: max(1, at(w)), H: max(1, at(h))}
	if r.W > 0 {
		r = render.Region{X: at(r.X), Y: at(r.Y), W: max(1, at(r.W)), H: max(1, at(r.H))}.Within(small)
	}
	return small, r
}

// scene is a view made ready: the shot, how it was recorded (nil while nobody has said so), its looks, its frames.
type scene struct {
	shot     *library.Shot
	encoding *colour.Encoding
	levels   look.Levels
	look     *look.Look // what the levels make together
	src      render.Source
	view     View
}

func (s *Sessions) prepare(ctx context.Context, v *View) (*scene, error) {
	shot, err := s.lib.Shot(v.Shot)
	if err != nil {
		return nil, err
	}
	levels, err := s.levels(v, shot)
	if err != nil {
		return nil, err
	}
	l := levels.Whole()
	e, err := encodingOf(shot.Encoding)
	if err != nil {
		return nil, err
	}
	if v.Encoding != "" {
		if e, err = colour.FindEncoding(v.Encoding); err != nil {
			return nil, BadInput{err}
		}
		if err := enclose(l, e); err != nil {
			return nil, err
		}
	}
	src, err := s.reader(ctx, shot.Path)
	if err != nil {
		return nil, wrapInput(err)
	}
	return &scene{shot, e, levels, l, src, *v}, nil
}

// levels are the looks that make the picture of a view.
func (s *Sessions) levels(v *View, shot *library.Shot) (look.Levels, error) {
	given := []*look.Look{v.Look}
	for _, l := range v.Above {
		given = append(given, l)
	}
	for _, l := range given {
		if l != nil {
			if err := l.Check(); err != nil {
				return look.Levels{}, BadInput{err}
			}
		}
	}
	levels, err := s.levelsOf(shot, v.Above)
	if v.Look != nil {
		levels.Shot = v.Look
	}
	return levels.Without(v.Hide), err
}

// at renders the scene under a look as it leaves a station.
func (s *Sessions) at(ctx context.Context, c *scene, look *look.Look, tap look.Station) (*frame.Frame, *render.Plan, error) {
	compile := render.Compile
	if c.view.Draft {
		compile = render.CompileDraft
	}
	raster, region := c.view.window(c.shot.Width, c.shot.Height)
	plan, err := compile(ctx, look, c.encoding, raster, tap)
	if err != nil {
		return nil, nil, err
	}
	if c.view.Draft {
		exact := c.view
		exact.Draft, exact.Share = false, 0
		follows, _ := exact.window(c.shot.Width, c.shot.Height)
		plan = plan.FollowedBy(follows)
	}
	f, err := s.rendered(ctx, plan.In(region), c.src, c.view.Frame, c.view.number())
	return f, plan, wrapInput(err)
}

// Shown is a picture in full precision, before it is rounded for the screen.
type Shown struct {
	*frame.Frame
	Display *colour.Display
	Note    string
	// Bands are the legend of false colour.
	Bands []scope.Band
	// SourceW and SourceH are the size of the whole picture it is a view of.
	SourceW, SourceH int
	scene            *scene // nil for a still
	// at is the picture as it leaves a station, nil for a still; altered tells that the picture is not what
	// leaves the last one.
	at      func(context.Context, look.Station) (*frame.Frame, error)
	altered bool
}

// Image rounds the picture for the screen.
func (s *Shown) Image() *Image {
	return &Image{s.W, s.H, rgba(s.Frame), s.SourceW, s.SourceH, s.Note}
}

// Picture renders a view for the screen.
func (s *Sessions) Picture(ctx context.Context, v View) (*Image, error) {
	p, err := s.Show(ctx, v)
	if err != nil {
		return nil, err
	}
	return p.Image(), nil
}

// rgba rounds code values to 8 bits.
func rgba(f *frame.Frame) []byte {
	out := make([]byte, 4*f.W*f.H)
	// it takes a few milliseconds and cannot fail: a request that is cancelled meanwhile is not sent
	_ = frame.Bands(context.Background(), f.H, 32, func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			vec.ToScreen(out[4*y*f.W:4*(y+1)*f.W], f.Row(0, y), f.Row(1, y), f.Row(2, y))
		}
	})
	return out
}

// Save writes the image as a PNG on black.
func (im *Image) Save(name string) error {
	picture := image.NewRGBA(image.Rect(0, 0, im.W, im.H))
	for i := 0; i < len(im.RGBA); i += 4 {
		a := int(im.RGBA[i+3])
		for c := range 3 {
			picture.Pix[i+c] = byte(int(im.RGBA[i+c]) * a / 255)
		}
		picture.Pix[i+3] = 255
	}
	var data bytes.Buffer
	if err := png.Encode(&data, picture); err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	part := name + ".velours-part"
	if err := os.WriteFile(part, data.Bytes(), 0o644); err != nil {
		return Bad("%s cannot be written: %w", name, err)
	}
	return os.Rename(part, name)
}
