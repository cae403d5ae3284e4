package server

import (
	"encoding/json"

	"velours/core/colour"
	"velours/core/grade"
	"velours/core/look"
	"velours/library"
	"velours/media"
	"velours/studio"
)

// ReelHead is a reel on the page of reels.
type ReelHead struct {
	ID       uint   `json:"id"`
	Name     string `json:"name"`
	Demo     bool   `json:"demo"`
	Archived bool   `json:"archived"`
	// Count is how many shots it has, Cover one of them, 0 for none.
	Count int  `json:"count"`
	Cover uint `json:"cover"`
}

// ReelPage are all reels, and what undo and redo would touch of what they are called and where they stand.
type ReelPage struct {
	Reels []ReelHead `json:"reels"`
	Undo  Change     `json:"undo"`
	Redo  Change     `json:"redo"`
}

// Reel is a job with its scenes and shots, in order: shots of a scene stand together, those of none last.
type Reel struct {
	Levels
	Name  string     `json:"name"`
	Demo  bool       `json:"demo"`
	Shots []ShotCard `json:"shots"`
	Undo  Change     `json:"undo"`
	Redo  Change     `json:"redo"`
}

// Levels are the looks above the shots of a reel: its own, and those of its scenes; and the trials of all of them.
type Levels struct {
	ID       uint            `json:"id"`
	Look     json.RawMessage `json:"look" ts:"Look"`
	Revision int             `json:"revision"`
	Scenes   []Scene         `json:"scenes"`
	Trials   []Trial         `json:"trials"`
}

// Scene is a named group of shots.
type Scene struct {
	ID       uint            `json:"id"`
	Name     string          `json:"name"`
	Look     json.RawMessage `json:"look" ts:"Look"`
	Revision int             `json:"revision"`
}

// ShotCard is a shot in the list of its reel.
type ShotCard struct {
	ID   uint   `json:"id"`
	Reel uint   `json:"reel"`
	Name string `json:"name"`
	// SceneID is its scene, 0 for none.
	SceneID uint   `json:"sceneId"`
	Flag    bool   `json:"flag"`
	Note    string `json:"note"`
	// Own are the stations that could follow what is above, and are the shot's own.
	Own []look.Station `json:"own"`
	// Trial is the number of the trial of its own that is in use, 0 for none.
	Trial int `json:"trial"`
	// Marked tells that something of its look came from another picture and is to be looked at again.
	Marked bool    `json:"marked"`
	Kind   string  `json:"kind"`
	Width  int     `json:"width"`
	Height int     `json:"height"`
	Frames int     `json:"frames"`
	Rate   float64 `json:"rate"`
	Depth  int     `json:"depth"`
	Codec  string  `json:"codec"`
	// Says is what the file tells of itself, a line; Doubt what speaks against the declaration.
	Says     string            `json:"says"`
	Doubt    string            `json:"doubt"`
	Suggests studio.Suggestion `json:"suggests"`
	Gaps     []media.Gap       `json:"gaps"`
	First    int               `json:"first"`
	Timecode string            `json:"timecode"`
	In       int               `json:"in"`
	Out      int               `json:"out"`
	Encoding string            `json:"encoding"`
	Frame    int               `json:"frame"`
	// Revision counts the changes of the look and its encoding.
	Revision int `json:"revision"`
}

// Shot is one shot as the screen needs it.
type Shot struct {
	ShotCard
	Look json.RawMessage `json:"look" ts:"Look"`
	// Undo and Redo reach its own look, those above it, and the facts of its reel.
	Undo Change `json:"undo"`
	Redo Change `json:"redo"`
}

// Trial is one alternative version of the look of a shot, a scene or a reel. That which is in use is named by its number in the
// look.
type Trial struct {
	ID     uint       `json:"id"`
	Level  look.Level `json:"level"`
	Of     uint       `json:"of"`
	Number int        `json:"number"`
	Name   string     `json:"name"`
	Answer bool       `json:"answer"`
}

// AskedTrial is a trial of a shot, or of a level above it, by an author.
type AskedTrial struct {
	Author
	Trial uint `json:"trial"`
}

// NewTrial asks for a trial at a level of a shot, by an author.
type NewTrial struct {
	Author
	Level look.Level `json:"level"`
}

// TrialChanged is a change of a trial, by an author.
type TrialChanged struct {
	Author
	Trial uint `json:"trial"`
	studio.TrialChange
}

// Standing is a shot as it is after a change, with the looks above it where they may be others.
type Standing struct {
	Shot   Shot    `json:"shot"`
	Levels *Levels `json:"levels,omitempty"`
}

// Change is what undo or redo would touch: what it is called, empty for nothing, the window whose it is, and of which level
// it is, or that it is of facts.
type Change struct {
	ID     uint   `json:"id"`
	Label  string `json:"label"`
	Window string `json:"window"`
	Of     string `json:"of"`
}

// Author says whose a change is, and for which revision of the look it is meant; undo and redo may say for which change.
type Author struct {
	Window   string `json:"window,omitempty"`
	Revision *int   `json:"revision,omitempty"`
	Change   uint   `json:"change,omitempty"`
}

// By is the author as the library knows it.
func (a Author) By() library.Author {
	return library.Author{Window: a.Window, Revision: a.Revision, Change: a.Change}
}

// Edit is one change of a shot, or of a level above it, by an author; Gesture joins the edits of one drag into one undoable step.
type Edit struct {
	look.Edit
	Level   look.Level `json:"level,omitempty"`
	Gesture string     `json:"gesture,omitempty"`
	Author
}

// By is whose the edit is.
func (e Edit) By() library.Author {
	by := e.Author.By()
	by.Gesture = e.Gesture
	return by
}

// Desk is everything declared: stations, kinds and their settings, encodings, delivery formats.
type Desk struct {
	Stations []StationInfo `json:"stations"`
	Kinds    []*look.Kind  `json:"kinds"`
	// Encodings are those that a shot can be declared to be recorded in.
	Encodings []look.Choice `json:"encodings"`
	// Mattes are the kinds of parts of a matte, MatteSettings those of a whole one.
	Mattes        []*look.MatteKind `json:"mattes"`
	MatteSettings []look.Setting    `json:"matteSettings"`
	// Families are the hue families, in the order of the circle.
	Families []grade.Family  `json:"families"`
	Formats  []studio.Format `json:"formats"`
	// Parts are those of a look that can be carried over.
	Parts []look.PartInfo `json:"parts"`
	// Lays are the ways in which a group of steps is laid over the one above it.
	Lays   []look.LayInfo `json:"lays"`
	Engine string         `json:"engine"`
	// Favourites are the stocks, media and recipes that a person keeps in reach, as kind:id.
	Favourites []string `json:"favourites"`
}

// StationInfo names a station.
type StationInfo struct {
	ID    look.Station `json:"id"`
	Label string       `json:"label"`
}

// NewShots asks for files, sequences and folders to be brought in.
type NewShots struct {
	Paths []string `json:"paths"`
}

// Added is what came in, and what could not be read, a line each.
type Added struct {
	Shots    []Shot   `json:"shots"`
	Problems []string `json:"problems"`
}

// Declaration says how the camera recorded some shots.
type Declaration struct {
	Author
	Shots    []uint `json:"shots"`
	Encoding string `json:"encoding"`
}

// Kept is something in the library.
type Kept struct {
	ID   uint   `json:"id"`
	Kind string `json:"kind"` // encoding, table, stock, grain, look or ready
	// Key is the id by which shots and looks name it.
	Key  string `json:"key"`
	Name string `json:"name"`
	File string `json:"file"`
	// After is the encoding that a table of an input leads to.
	After string `json:"after"`
	// Own are the numbers of an encoding.
	Own *colour.Own `json:"own,omitempty"`
	// Ready are the settings of a kind that are kept ready.
	Ready *studio.OwnReady `json:"ready,omitempty"`
}

// AssetList is all that persons have added.
type AssetList struct {
	Kept []Kept `json:"kept"`
}

// KeptFiles is what became of files sent to the library.
type KeptFiles struct {
	Kept     []Kept   `json:"kept"`
	Problems []string `json:"problems"`
}

// Plot shows an encoding: its curve, and the edge of real colours to draw its gamut in, as x and y.
type Plot struct {
	colour.OwnPlot
	Locus [][2]float64 `json:"locus"`
}

// Span is the first frame that counts, and the one after the last or 0 for the end.
type Span struct {
	Author
	In  int `json:"in"`
	Out int `json:"out"`
}

// Named gives something a name.
type Named struct {
	Author
	Name string `json:"name"`
}

// ReelChange changes the facts of a reel or a scene.
type ReelChange struct {
	Author
	studio.Change
}

// ShotsChange changes the facts of shots.
type ShotsChange struct {
	Author
	studio.Change
	Shots []uint `json:"shots"`
}

// NewScene groups shots into a scene.
type NewScene struct {
	Author
	Name  string `json:"name"`
	Shots []uint `json:"shots"`
}

// Placing puts shots into a scene, 0 for none, before another shot of it, or with 0 at its end.
type Placing struct {
	Author
	Shots  []uint `json:"shots"`
	Scene  uint   `json:"scene"`
	Before uint   `json:"before"`
}

// PlaceBefore puts something before another of its kind, or with 0 at the end.
type PlaceBefore struct {
	Author
	Before uint `json:"before"`
}

// NewProgramme asks for what an edit list shows: Rate is its frames a second, which a CMX list does not say, Handles how many
// frames more at either end of each event.
type NewProgramme struct {
	Author
	Path    string `json:"path"`
	Rate    string `json:"rate,omitempty"`
	Handles int    `json:"handles"`
}

// Splitting makes shots of one, each from one of the frames At on.
type Splitting struct {
	Author
	At []int `json:"at"`
}

// KeepLook keeps the look of a shot.
type KeepLook struct {
	studio.KeepLook
}

// LookWords is what a person says of a kept look.
type LookWords struct {
	Name string `json:"name"`
	Mood string `json:"mood"`
	Note string `json:"note"`
}

// TakenLook gives a shot, or a level above it, a look by its id, at a strength from 0 to 1.
type TakenLook struct {
	Author
	Look     string     `json:"look"`
	Level    look.Level `json:"level,omitempty"`
	Strength float64    `json:"strength"`
}

// MatchTo brings a shot to a reference.
type MatchTo struct {
	Author
	studio.MatchTo
}

// Met is a shot that was brought to a reference: how far the pictures were apart and are, in ΔE, and that in words.
type Met struct {
	Shot Shot    `json:"shot"`
	Same bool    `json:"same"`
	Was  float64 `json:"was"`
	Is   float64 `json:"is"`
	Says string  `json:"says"`
}

// CarryAsk takes parts of a look over to shots.
type CarryAsk struct {
	Author
	studio.CarryAsk
}

// FrameAt remembers where a shot was looked at.
type FrameAt struct {
	Frame int `json:"frame"`
}

// NewDelivery asks for a delivery.
type NewDelivery struct {
	Format string `json:"format"`
	// Shots are those of a contact sheet; without any it is of the shot alone.
	Shots []uint `json:"shots,omitempty"`
	Frame int    `json:"frame"`
	// Placed makes grain of clouds that are placed one by one, a hundred times slower.
	Placed bool `json:"placed,omitempty"`
}

// Delivery is a render to files and how far it is.
type Delivery struct {
	ID     uint   `json:"id"`
	ShotID uint   `json:"shotId"`
	Format string `json:"format"`
	Path   string `json:"path"`
	State  string `json:"state"`
	Done   int    `json:"done"`
	Total  int    `json:"total"`
	Note   string `json:"note"`
	// Trial tells which trials it holds, where there are some.
	Trial string `json:"trial,omitempty"`
}

// Problem is an error as RFC 9457 describes it.
type Problem struct {
	Type   string `json:"type"`
	Title  string `json:"title"`
	Status int    `json:"status"`
	Detail string `json:"detail"`
}

// Pin is a frozen picture.
type Pin struct {
	ID        uint   `json:"id"`
	ReelID    uint   `json:"reelId"`
	Name      string `json:"name"`
	Reference bool   `json:"reference"`
	ShotID    uint   `json:"shotId"`
	Shot      string `json:"shot"`
	Frame     int    `json:"frame"`
	Encoding  string `json:"encoding"`
	Display   string `json:"display"`
	Width     int    `json:"width"`
	Height    int    `json:"height"`
}

// Pins are all pins, and what could not be brought in, a line each.
type Pins struct {
	Pins     []Pin    `json:"pins"`
	Problems []string `json:"problems"`
}

// PinName gives a pin another name.
type PinName struct {
	Name string `json:"name"`
}

// TakenPin names the pin whose settings a shot takes.
type TakenPin struct {
	Author
	Pin uint `json:"pin"`
}

func (s *Server) shot(x *library.Shot) (Shot, error) {
	undo, redo, err := s.neighbours(library.ChainOf(x))
	return Shot{shotCard(x), studio.Read(x.Look), undo, redo}, err
}

func shotCard(x *library.Shot) ShotCard {
	gaps := append([]media.Gap{}, studio.Gaps(x)...)
	return ShotCard{Says: studio.Says(x), Doubt: studio.Doubt(x), Suggests: studio.Suggest(x), Gaps: gaps, First: x.First, Timecode: x.Timecode, In: x.In, Out: x.Out,
		ID: x.ID, Reel: x.ReelID, Name: x.Name, SceneID: x.SceneID, Trial: studio.TrialOf(x), Flag: x.Flag, Note: x.Note, Own: studio.OwnStations(x), Marked: studio.Marked(x), Kind: x.Kind, Width: x.Width, Height: x.Height, Frames: x.Frames, Rate: x.Rate, Depth: x.Depth, Codec: x.Codec,
		Encoding: x.Encoding, Frame: x.Frame, Revision: x.Revision}
}

// neighbours are what undo and redo would touch in a chain.
func (s *Server) neighbours(c library.Chain) (undo, redo Change, err error) {
	u, r, err := s.studio.Neighbours(c)
	change := func(n library.Neighbour) Change { return Change{n.ID, n.Label, n.Window, string(n.Owner.Of)} }
	return change(u), change(r), err
}

// levels are the looks of a reel and its scenes.
func levels(r *library.Reel) Levels {
	out := Levels{ID: r.ID, Look: studio.Read(r.Look), Revision: r.Revision, Scenes: []Scene{}, Trials: trials(r.Trials)}
	for _, c := range r.Scenes {
		out.Scenes = append(out.Scenes, Scene{c.ID, c.Name, studio.Read(c.Look), c.Revision})
	}
	return out
}

func delivery(d *library.Delivery) Delivery {
	return Delivery{d.ID, d.ShotID, d.Format, d.Path, d.State, d.Done, d.Total, d.Note, d.Trial}
}

func pin(p *library.Pin) Pin {
	return Pin{p.ID, p.ReelID, p.Name, p.Reference, p.ShotID, p.Shot, p.Frame, p.Encoding, p.Display, p.Width, p.Height}
}
