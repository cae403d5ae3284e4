package server

import (
	"reflect"
	"time"

	"velours/core/scope"
	"velours/studio"
)

// Replied is what every reply says of itself: its type, and the request that it answers.
type Replied struct {
	Type    string `json:"type"`
	Channel string `json:"channel"`
	Seq     int    `json:"seq"`
}

func replied(kind string, q Asked) Replied { return Replied{kind, q.Channel, q.Seq} }

// message is a type that is sent to a window, by its name.
type message struct {
	name string
	body reflect.Type
}

func messageOf[T any](name string) message { return message{name, reflect.TypeFor[T]()} }

// pictures and scopes have pixels behind them: 8 bits of red, green, blue and opacity.
var pictures, scopes = messageOf[PictureReply]("picture"), messageOf[ScopeReply]("scope")

// problems come in place of any reply.
var problems = messageOf[ProblemReply]("problem")

// notices tell of what has happened, by whichever window.
var notices = []message{
	messageOf[ShotNotice]("shot"), messageOf[LevelsNotice]("levels"), messageOf[ReelsNotice]("reels"), messageOf[AssetsNotice]("assets"), messageOf[DeliveryNotice]("delivery"),
	messageOf[WaitNotice]("wait"),
}

// Stage tells a draft from the picture itself.
type Stage string

// The stages of a picture.
const (
	Draft Stage = "draft"
	Exact Stage = "exact"
)

// Size is that of the pixels behind a message; none where it is 0.
type Size struct {
	W int `json:"width"`
	H int `json:"height"`
}

// PictureReply is a picture.
type PictureReply struct {
	Replied
	Size
	Stage Stage `json:"stage"`
	// Share is the part of its raster, along either side, at which a picture that plays was made; 0 for others.
	Share float64 `json:"share,omitempty"`
	// SourceW and SourceH are the size of the whole picture that it is a view of.
	SourceW int `json:"sourceWidth"`
	SourceH int `json:"sourceHeight"`
	// MS is how long it took, in milliseconds.
	MS float64 `json:"ms"`
	// Note says what the picture shows where it is not simply the shot, Bands the legend of false colour.
	Note  string       `json:"note,omitempty"`
	Bands []scope.Band `json:"bands,omitempty"`
}

func pictureReply(q Asked, stage Stage, im *studio.Image, began time.Time) *PictureReply {
	return &PictureReply{Replied: replied("picture", q), Size: Size{im.W, im.H}, Stage: stage, SourceW: im.SourceW, SourceH: im.SourceH, Note: im.Note, MS: float64(time.Since(began).Microseconds()) / 1000}
}

// ScopeReply is a scope of a picture, with its trace where it has one.
type ScopeReply struct {
	Replied
	Size
	Stage Stage            `json:"stage"`
	Scope studio.ScopeView `json:"scope"`
}

// FillReply tells which frames of a stretch are ready, and which at least decoded, where that takes long: from one up to but not including
// another.
type FillReply struct {
	Replied
	Kept    [][2]int `json:"kept"`
	Decoded [][2]int `json:"decoded"`
}

// LikenessReply tells how far a search for like films is, as a share, and in the end what it found.
type LikenessReply struct {
	Replied
	Done     float64          `json:"done"`
	Likeness *studio.Likeness `json:"likeness,omitempty"`
}

// GrainReply tells how far a measurement of grain is, as a share, and in the end what it came to.
type GrainReply struct {
	Replied
	Done     float64        `json:"done"`
	Measured *MeasuredGrain `json:"measured,omitempty"`
}

// AlikeReply tells how far a search for like shots is, as a share, and in the end which they are.
type AlikeReply struct {
	Replied
	Done  float64 `json:"done"`
	Shots []uint  `json:"shots,omitempty"`
	// Found tells that it is at its end.
	Found bool `json:"found,omitempty"`
}

// CutsReply tells how far a search for cuts is, as a share, and in the end the first frames of further shots.
type CutsReply struct {
	Replied
	Done float64 `json:"done"`
	Cuts []int   `json:"cuts,omitempty"`
	// Found tells that it is at its end.
	Found bool `json:"found,omitempty"`
}

// MeasureReply tells what is under way, and in the end what a measurement came to.
type MeasureReply struct {
	Replied
	Doing  string         `json:"doing,omitempty"`
	Fitted *studio.Fitted `json:"fitted,omitempty"`
}

// ProbeReply reads a pixel.
type ProbeReply struct {
	Replied
	Reading studio.Reading `json:"reading"`
}

// PickReply reads a point.
type PickReply struct {
	Replied
	Picked studio.Picked `json:"picked"`
}

// TonesReply counts light.
type TonesReply struct {
	Replied
	Tones studio.Tones `json:"tones"`
}

// SkinReply reads skin.
type SkinReply struct {
	Replied
	Skin studio.SkinMove `json:"skin"`
}

// NoEffectReply tells why steps change nothing, by station.name.
type NoEffectReply struct {
	Replied
	Reasons map[string]string `json:"reasons"`
}

// ProblemReply tells what is wrong with a request, or why it could not be done.
type ProblemReply struct {
	Replied
	Problem string `json:"problem"`
}

// ShotNotice is a shot that was changed, made in Window.
type ShotNotice struct {
	Type   string `json:"type"`
	Window string `json:"window"`
	Shot   Shot   `json:"shot"`
}

// LevelsNotice tells of looks above shots that were changed, in Window.
type LevelsNotice struct {
	Type   string `json:"type"`
	Window string `json:"window"`
	Levels Levels `json:"levels"`
}

// ReelsNotice tells that reels, scenes or shots have come, gone, or changed their facts.
type ReelsNotice struct {
	Type string `json:"type"`
}

// AssetsNotice tells that encodings, tables, stocks or pins have, so that pictures may be others.
type AssetsNotice struct {
	Type string `json:"type"`
}

// DeliveryNotice tells how far a delivery is.
type DeliveryNotice struct {
	Type     string   `json:"type"`
	Delivery Delivery `json:"delivery"`
}

// WaitNotice tells that the work of a channel of this window waits for memory, and its place in the line: 1 for the next, 0 when its turn has
// come.
type WaitNotice struct {
	Type  string `json:"type"`
	Of    string `json:"of"`
	Place int    `json:"place"`
}
