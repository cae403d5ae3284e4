package stage

// Frames is the length of every moving shot, at 24 frames a second.
const Frames = 48

// Shot is one moving scene of the reel.
type Shot struct {
	Name    string
	scene   func(t float64) (*Scene, Camera)
	quality Quality
}

// Shots lists the moving scenes in reel order.
var Shots = []Shot{
	{"footlights", Footlights, Quality{Views: 4, Lights: 1, Smooth: 4}},
	{"workbench", Workbench, Quality{Views: 4, Lights: 1, Smooth: 4, Rims: 24}},
	{"courtyard", Courtyard, Quality{Views: 4, Lights: 1, Smooth: 3}},
}

// Frame renders frame n at 1920×1080.
func (s Shot) Frame(n int) *Picture {
	scene, camera := s.scene(float64(n) / Frames)
	return scene.Render(camera, 1920, 1080, s.quality)
}
