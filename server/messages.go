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

// Reel is a job with its shots.
type Reel struct {
	ID    uint   `json:"id"`
	Name  string `json:"name"`
	Demo  bool   `json:"demo"`
	Shots []Shot `json:"shots"`
}

// Shot is one shot as the screen needs it.
type Shot struct {
	ID     uint    `json:"id"`
	Name   string  `json:"name"`
	Scene  string  `json:"scene"`
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
	Look     json.RawMessage   `json:"look" ts:"Look"`
	Frame    int               `json:"frame"`
	// Revision counts the changes of the look and its encoding.
	Revision int    `json:"revision"`
	Undo     Change `json:"undo"`
	Redo     Change `json:"redo"`
}

// Change is what undo or redo would touch: what it is called, empty for nothing, and the window whose it is.
type Change struct {
	Label  string `json:"label"`
	Window string `json:"window"`
}

// Author says whose a change is, and for which revision of the shot it is meant.
type Author struct {
	Window   string `json:"window,omitempty"`
	Revision *int   `json:"revision,omitempty"`
}

// By is the author as the library knows it.
func (a Author) By() library.Author { return library.Author{Window: a.Window, Revision: a.Revision} }

// Edit is one change of a shot, by an author; Gesture joins the edits of one drag into one undoable step.
type Edit struct {
	look.Edit
	Gesture string `json:"gesture,omitempty"`
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
	Engine   string          `json:"engine"`
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
	Shots    []uint `json:"shots"`
	Encoding string `json:"encoding"`
}

// Kept is something in the library.
type Kept struct {
	ID   uint   `json:"id"`
	Kind string `json:"kind"` // encoding, table, stock or grain
	// Key is the id by which shots and looks name it.
	Key  string `json:"key"`
	Name string `json:"name"`
	File string `json:"file"`
	// After is the encoding that a table of an input leads to.
	After string `json:"after"`
	// Own are the numbers of an encoding.
	Own *colour.Own `json:"own,omitempty"`
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
	In  int `json:"in"`
	Out int `json:"out"`
}

// FrameAt remembers where a shot was looked at.
type FrameAt struct {
	Frame int `json:"frame"`
}

// NewDelivery asks for a delivery.
type NewDelivery struct {
	Format string `json:"format"`
	Frame  int    `json:"frame"`
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
	undo, redo, err := s.studio.Neighbours(x)
	gaps := append([]media.Gap{}, studio.Gaps(x)...)
	return Shot{Says: studio.Says(x), Doubt: studio.Doubt(x), Suggests: studio.Suggest(x), Gaps: gaps, First: x.First, Timecode: x.Timecode, In: x.In, Out: x.Out,
		ID: x.ID, Name: x.Name, Scene: x.Scene, Kind: x.Kind, Width: x.Width, Height: x.Height, Frames: x.Frames, Rate: x.Rate, Depth: x.Depth, Codec: x.Codec,
		Encoding: x.Encoding, Look: studio.Read(x.Look), Frame: x.Frame, Revision: x.Revision, Undo: Change(undo), Redo: Change(redo)}, err
}

func delivery(d *library.Delivery) Delivery {
	return Delivery{d.ID, d.ShotID, d.Format, d.Path, d.State, d.Done, d.Total, d.Note}
}

func pin(p *library.Pin) Pin {
	return Pin{p.ID, p.ReelID, p.Name, p.Reference, p.ShotID, p.Shot, p.Frame, p.Encoding, p.Display, p.Width, p.Height}
}
