package stage

// Frames is the length of the reel's moving shots, at 24 frames a second; that of second angles is Half.
const Frames, Half = 48, 24

// Shot is one moving scene of the reel.
type Shot struct {
	Name    string
	scene   func(t float64) (*Scene, Camera)
	quality Quality
	// Length is in frames.
	Length int
}

// Shots lists the moving scenes in reel order, then second angles of two of them, by other lenses.
var Shots = []Shot{
	{"footlights", Footlights, Quality{Views: 4, Lights: 1, Smooth: 4}, Frames},
	{"workbench", Workbench, Quality{Views: 4, Lights: 1, Smooth: 4, Rims: 24}, Frames},
	{"courtyard", Courtyard, Quality{Views: 4, Lights: 1, Smooth: 3}, Frames},
	{"footlights-b", from(Footlights, func(t float64) Camera {
		return Camera{At: V{-.72 + .05*t, .54, 2.25}, To: V{-.09 + .02*t, .37, .04}, Focal: .050, Aperture: .014, Focus: 2.28}
	}), Quality{Views: 4, Lights: 1, Smooth: 4}, Half},
	{"courtyard-b", from(Courtyard, func(t float64) Camera {
		return Camera{At: V{1.85 - .08*t, 1.42, 4.7}, To: V{-.08, 1.24, 0}, Focal: .038, Aperture: .010, Focus: 5.0}
	}), Quality{Views: 4, Lights: 1, Smooth: 3}, Half},
}

// from is a scene from where another camera stands.
func from(scene func(t float64) (*Scene, Camera), camera func(t float64) Camera) func(t float64) (*Scene, Camera) {
	return func(t float64) (*Scene, Camera) {
		s, _ := scene(t)
		return s, camera(t)
	}
}

// Frame renders frame n at 1920×1080.
func (s Shot) Frame(n int) *Picture { return s.Picture(n, 1920, 1080) }

// Picture renders frame n at another size.
func (s Shot) Picture(n, w, h int) *Picture {
	scene, camera := s.scene(float64(n) / Frames)
	return scene.Render(camera, w, h, s.quality)
}
