package demo

import (
	"fmt"

	"velours/core/look"
)

// Reel is a reel as it arrives: its house look, its scenes, and its shots with their looks.
type Reel struct {
	House  *look.Look
	Scenes []Scene
	Shots  []ReelShot
}

// Scene is a scene with its look.
type Scene struct {
	Name string
	Look *look.Look
}

// ReelShot is a shot with its own look, in a scene.
type ReelShot struct {
	Shot
	Scene int
	Look  *look.Look
}

// Angles are second angles of two scenes: another lens, a stop and 600 K off, another encoding. They wait to be matched.
var Angles = []Shot{
	{"Footlights B", "Matinee", "footlights-b.mov", "log3g10", ""},
	{"Courtyard B", "Fair", "courtyard-b.mov", "logc3", ""},
}

// Apart is the reel of which each shot has its own look, as when it was made.
func Apart() (*Reel, error) {
	r := &Reel{House: look.NewLook("")}
	for _, s := range Shots {
		l, err := LookOf(s)
		if err != nil {
			return nil, err
		}
		r.Shots = append(r.Shots, ReelShot{s, r.scene(s.Scene, look.Following("")), l})
	}
	return r, nil
}

// Housed is the reel under its house look: the puppet's scene has a film for tungsten, the workbench and the courtyard follow, each
// balanced beneath, and the chart has left it.
func Housed() (*Reel, error) {
	house, err := read("house.json")
	if err != nil {
		return nil, err
	}
	matinee, err := read("matinee.json")
	if err != nil {
		return nil, err
	}
	r := &Reel{House: house}
	scenes := map[string]string{"Footlights": "Matinee", "Workbench": "Workshop", "Courtyard": "Fair", "Slate": "Chart"}
	for _, s := range Shots {
		l, err := LookOf(s)
		if err != nil {
			return nil, err
		}
		for _, st := range look.Stations {
			if st.Follows() && s.Name != "Slate" {
				if l, err = l.Follow(st); err != nil {
					return nil, err
				}
			}
		}
		of := look.Following("")
		if s.Name == "Footlights" {
			of = matinee
		}
		r.Shots = append(r.Shots, ReelShot{s, r.scene(scenes[s.Name], of), l})
	}
	for _, s := range Angles {
		l := look.Following(s.Name)
		if _, err := l.Ensure(look.Intake, "compress"); err != nil {
			return nil, err
		}
		r.Shots = append(r.Shots, ReelShot{s, r.scene(s.Scene, look.Following("")), l})
	}
	return r, nil
}

// scene is the place of the scene of a name, made if it is missing.
func (r *Reel) scene(name string, l *look.Look) int {
	for i, c := range r.Scenes {
		if c.Name == name {
			return i
		}
	}
	r.Scenes = append(r.Scenes, Scene{name, l})
	return len(r.Scenes) - 1
}

// read reads a look that ships.
func read(file string) (*look.Look, error) {
	data, err := files.ReadFile("looks/" + file)
	if err != nil {
		return nil, err
	}
	l, err := look.ParseLook(data)
	if err != nil {
		return nil, fmt.Errorf("demo look %s: %w", file, err)
	}
	return l, nil
}
