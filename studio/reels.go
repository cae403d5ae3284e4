package studio

import (
	"fmt"
	"slices"
	"strings"

	"velours/library"
)

// mostName is how long the name of a reel, scene or shot may be, in letters, and mostNote a note.
const mostName, mostNote = 80, 2000

// nameOf is a name as it is kept.
func nameOf(what, name string) (string, error) {
	name = strings.TrimSpace(name)
	if name == "" || len([]rune(name)) > mostName {
		return "", Bad("a %s needs a name of up to %d letters", what, mostName)
	}
	return name, nil
}

// Reels lists what there is.
func (s *Sessions) Reels() ([]library.Reel, error) { return s.lib.Reels() }

// Headlines lists the reels for a page of them.
func (s *Sessions) Headlines() ([]library.Headline, error) { return s.lib.Headlines() }

// Reel finds a reel with its scenes and shots, the shots without their looks.
func (s *Sessions) Reel(id uint) (*library.Reel, error) { return s.lib.Reel(id) }

// Levels finds a reel with its scenes alone.
func (s *Sessions) Levels(id uint) (*library.Reel, error) { return s.lib.Levels(id) }

// AddReel makes a reel.
func (s *Sessions) AddReel(name string) (*library.Reel, error) {
	name, err := nameOf("reel", name)
	if err != nil {
		return nil, err
	}
	r, err := newReel(name)
	if err != nil {
		return nil, err
	}
	if err := s.lib.AddReel(r); err != nil {
		return nil, err
	}
	s.tell(Event{Reels: true})
	return r, nil
}

// CopyReel makes a reel of the same shots and looks, without their past.
func (s *Sessions) CopyReel(id uint) (*library.Reel, error) {
	r, err := s.lib.CopyReel(id, " (copy)")
	if err != nil {
		return nil, err
	}
	s.tell(Event{Reels: true})
	return r, nil
}

// Change is what is to be changed of the facts of a reel, of scenes or of shots; what is nil stays.
type Change struct {
	Name *string `json:"name,omitempty"`
	// Removed takes away, or brings back.
	Removed *bool `json:"removed,omitempty"`
	// Archived puts a reel aside.
	Archived *bool `json:"archived,omitempty"`
	// Flag and Note are of shots.
	Flag *bool   `json:"flag,omitempty"`
	Note *string `json:"note,omitempty"`
}

// check brings names to their form.
func (c *Change) check(what string) error {
	if c.Name != nil {
		name, err := nameOf(what, *c.Name)
		if err != nil {
			return err
		}
		c.Name = &name
	}
	if c.Note != nil && len([]rune(*c.Note)) > mostNote {
		return Bad("a note has up to %d letters", mostNote)
	}
	return nil
}

// on makes the change of facts, and words it.
func (c *Change) on(f *library.Facts) string {
	label := "Change " + f.Name
	switch {
	case c.Removed != nil && *c.Removed:
		label = "Remove " + f.Name
	case c.Removed != nil:
		label = "Bring back " + f.Name
	case c.Archived != nil && *c.Archived:
		label = "Archive " + f.Name
	case c.Archived != nil:
		label = "Take up " + f.Name
	case c.Name != nil:
		label = "Name " + *c.Name
	case c.Flag != nil:
		label = "Flag " + f.Name
	case c.Note != nil:
		label = "Note on " + f.Name
	}
	if c.Name != nil {
		f.Name = *c.Name
	}
	if c.Removed != nil {
		f.Removed = *c.Removed
	}
	if c.Archived != nil {
		f.Archived = *c.Archived
	}
	if c.Flag != nil {
		f.Flag = *c.Flag
	}
	if c.Note != nil {
		f.Note = *c.Note
	}
	return label
}

// act changes facts of several owners as one act, and tells who watches.
func (s *Sessions) act(by library.Author, owners []library.Owner, change func(d *library.Document) (string, error)) error {
	docs, err := s.lib.Act(by, owners, change)
	if err != nil {
		return err
	}
	s.told(docs, by.Window)
	return nil
}

// ChangeReel names, archives or removes a reel.
func (s *Sessions) ChangeReel(id uint, c Change, by library.Author) error {
	if err := c.check("reel"); err != nil {
		return err
	}
	return s.act(by, []library.Owner{{Of: library.ReelFacts, ID: id}}, func(d *library.Document) (string, error) { return c.on(&d.Facts), nil })
}

// ChangeScene names a scene, or dissolves it: its shots stay in the reel then.
func (s *Sessions) ChangeScene(id uint, c Change, by library.Author) error {
	if err := c.check("scene"); err != nil {
		return err
	}
	return s.act(by, []library.Owner{{Of: library.SceneFacts, ID: id}}, func(d *library.Document) (string, error) { return c.on(&d.Facts), nil })
}

// ChangeShots names, flags, notes or removes shots; their files stay where they are.
func (s *Sessions) ChangeShots(ids []uint, c Change, by library.Author) error {
	if err := c.check("shot"); err != nil {
		return err
	}
	if c.Name != nil && len(ids) > 1 {
		return Bad("%d shots cannot have one name; name them one by one", len(ids))
	}
	return s.act(by, factsOf(ids), func(d *library.Document) (string, error) {
		label := c.on(&d.Facts)
		if len(ids) > 1 {
			label = fmt.Sprintf("%s shots", strings.Replace(label, d.Facts.Name, fmt.Sprint(len(ids)), 1))
		}
		return label, nil
	})
}

func factsOf(ids []uint) []library.Owner {
	var list []library.Owner
	for _, id := range ids {
		list = append(list, library.Owner{Of: library.ShotFacts, ID: id})
	}
	return list
}

// AddScene groups shots of a reel into a new scene, the last of it.
func (s *Sessions) AddScene(reel uint, name string, shots []uint, by library.Author) (*library.Scene, error) {
	name, err := nameOf("scene", name)
	if err != nil {
		return nil, err
	}
	scene, err := newScene(name)
	if err != nil {
		return nil, err
	}
	scene.ReelID = reel
	label := "Scene " + name
	err = s.lib.AddScene(by, label, scene, factsOf(shots), func(d *library.Document) (string, error) {
		if d.ReelID != reel {
			return "", Bad("%s is in another reel", d.Facts.Name)
		}
		d.Facts.SceneID = scene.ID
		return label, nil
	})
	if err != nil {
		return nil, err
	}
	s.tell(Event{Reels: true})
	return scene, nil
}

// Place puts shots, in the order in which they stand, into a scene (0 for none) before another shot of it, or at its end.
func (s *Sessions) Place(reel uint, shots []uint, scene, before uint, by library.Author) error {
	r, err := s.lib.Reel(reel)
	if err != nil {
		return err
	}
	if scene != 0 && !slices.ContainsFunc(r.Scenes, func(c library.Scene) bool { return c.ID == scene }) {
		return Bad("the reel %s has no such scene", r.Name)
	}
	var moving, there []library.Shot
	for _, x := range r.Shots {
		switch {
		case slices.Contains(shots, x.ID):
			moving = append(moving, x)
		case x.SceneID == scene:
			there = append(there, x)
		}
	}
	if len(moving) != len(shots) {
		return Bad("the reel %s does not have all of these shots", r.Name)
	}
	at := len(there)
	if before != 0 {
		if at = slices.IndexFunc(there, func(x library.Shot) bool { return x.ID == before }); at < 0 {
			return Bad("there is no such shot to stand before")
		}
	}
	positions := between(there, at, len(moving))
	place := map[uint]float64{}
	owners := factsOf(nil)
	if positions == nil { // there is no room left between: all of the scene are counted anew
		for i, x := range slices.Insert(slices.Clone(there), at, moving...) {
			place[x.ID] = float64(i + 1)
			owners = append(owners, library.Owner{Of: library.ShotFacts, ID: x.ID})
		}
	} else {
		for i, x := range moving {
			place[x.ID] = positions[i]
			owners = append(owners, library.Owner{Of: library.ShotFacts, ID: x.ID})
		}
	}
	label := "Move " + moving[0].Name
	if len(moving) > 1 {
		label = fmt.Sprintf("Move %d shots", len(moving))
	}
	return s.act(by, owners, func(d *library.Document) (string, error) {
		d.Facts.Position = place[d.ID]
		if slices.Contains(shots, d.ID) {
			d.Facts.SceneID = scene
		}
		return label, nil
	})
}

// least is the room between two positions below which all are counted anew.
const least = 1e-6

// between are n positions before the one at in the list, nil where there is no room.
func between(list []library.Shot, at, n int) []float64 {
	low, high := 0.0, 0.0
	switch {
	case len(list) == 0:
		low, high = 0, float64(n+1)
	case at == len(list):
		low = list[at-1].Position
		high = low + float64(n+1)
	case at == 0:
		high = list[0].Position
		low = high - float64(n+1)
	default:
		low, high = list[at-1].Position, list[at].Position
	}
	step := (high - low) / float64(n+1)
	if step < least {
		return nil
	}
	out := make([]float64, n)
	for i := range out {
		out[i] = low + step*float64(i+1)
	}
	return out
}

// PlaceScene puts a scene before another of its reel, or with 0 at the end.
func (s *Sessions) PlaceScene(id, before uint, by library.Author) error {
	scene, err := s.lib.Scene(id)
	if err != nil {
		return err
	}
	r, err := s.lib.Reel(scene.ReelID)
	if err != nil {
		return err
	}
	var order []uint
	for _, c := range r.Scenes {
		if c.ID == before {
			order = append(order, id)
		}
		if c.ID != id {
			order = append(order, c.ID)
		}
	}
	if !slices.Contains(order, id) {
		order = append(order, id)
	}
	return s.placeAll(library.SceneFacts, order, "Move scene "+scene.Name, by)
}

// PlaceReel puts a reel before another on the page, or with 0 at the end.
func (s *Sessions) PlaceReel(id, before uint, by library.Author) error {
	list, err := s.lib.Headlines()
	if err != nil {
		return err
	}
	var order []uint
	name := ""
	for _, r := range list {
		if r.ID == before {
			order = append(order, id)
		}
		if r.ID != id {
			order = append(order, r.ID)
		} else {
			name = r.Name
		}
	}
	if !slices.Contains(order, id) {
		order = append(order, id)
	}
	return s.placeAll(library.ReelFacts, order, "Move "+name, by)
}

// placeAll counts the positions of all anew.
func (s *Sessions) placeAll(of library.Part, order []uint, label string, by library.Author) error {
	var owners []library.Owner
	for _, id := range order {
		owners = append(owners, library.Owner{Of: of, ID: id})
	}
	return s.act(by, owners, func(d *library.Document) (string, error) {
		d.Facts.Position = float64(slices.Index(order, d.ID) + 1)
		return label, nil
	})
}

// UndoReel takes the last act back that reaches a reel: its look, and the facts of all that it holds; with reel 0 the facts of
// all reels.
func (s *Sessions) UndoReel(reel uint, by library.Author) error {
	return s.travelChain(library.Chain{Reel: reel}, -1, by)
}

// RedoReel does again what UndoReel took back.
func (s *Sessions) RedoReel(reel uint, by library.Author) error {
	return s.travelChain(library.Chain{Reel: reel}, 1, by)
}
