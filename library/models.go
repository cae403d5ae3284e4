package library

import "time"

// Reel is one job.
type Reel struct {
	ID        uint   `gorm:"primaryKey"`
	Name      string `gorm:"not null"`
	Demo      bool
	CreatedAt time.Time
	// Position is its place on the page of reels. One that is archived is put aside there; one that is removed is gone from
	// it until that is undone.
	Position          float64
	Archived, Removed bool
	// Look is the house look, that shots follow; Revision counts its changes.
	Look     string `gorm:"not null"`
	Revision int
	Scenes   []Scene
	Shots    []Shot
	Trials   []Trial
}

// Scene is a named group of shots in a reel.
type Scene struct {
	ID       uint   `gorm:"primaryKey"`
	ReelID   uint   `gorm:"index;not null"`
	Name     string `gorm:"not null"`
	Position float64
	Removed  bool
	// Look is that of the scene, which follows the reel's; Revision counts its changes.
	Look     string `gorm:"not null"`
	Revision int
}

// Shot is one movie, sequence or still in a reel, with the look it has now.
type Shot struct {
	ID       uint `gorm:"primaryKey"`
	ReelID   uint `gorm:"index;not null"`
	Position float64
	// SceneID is its scene, 0 for none.
	SceneID uint
	// Removed tells that it is gone from its reel until that is undone.
	Removed  bool
	Flag     bool
	Note     string
	Name     string `gorm:"not null"`
	Path     string `gorm:"not null"`
	Kind     string
	Width    int
	Height   int
	Frames   int
	Rate     float64
	RateText string
	Depth    int
	Codec    string
	// What the file says of itself beside its size.
	Full      bool
	Matrix    string
	Transfer  string
	Primaries string
	Timecode  string
	Rotated   int
	// Dark is the share of the first frame that is darker than a log curve can be.
	Dark   float64
	Aspect float64
	// Gaps are the missing frames of a sequence, as JSON; First is the number of its first file.
	Gaps  string
	First int
	// In is the first frame that counts and Out the one after the last, 0 for the end.
	In  int
	Out int
	// Encoding is the declared encoding, empty until somebody declares it.
	Encoding string
	// Look is the shot's look, as its JSON document.
	Look string `gorm:"not null"`
	// Follows tells, where the look itself was left out, which stations of it follow: a JSON list of true, in the order of
	// FollowedStations, null for those that do not.
	Follows string `gorm:"->;-:migration"`
	// Marked tells, where the look itself was left out, that something of it is to be looked at again.
	Marked bool `gorm:"->;-:migration"`
	// Trial is, where the look itself was left out, the number of the trial in use, 0 for none.
	Trial int `gorm:"->;-:migration"`
	// Start is the look that a reset of everything goes back to.
	Start string `gorm:"not null"`
	// Frame is where the shot was last looked at.
	Frame int
	// Revision counts the changes of the look and the encoding, undo among them.
	Revision int
}

// Change is one undoable step in the past of an owner.
type Change struct {
	ID uint `gorm:"primaryKey"`
	// Owner and OwnerID are whose past it is in, ReelID the reel of that.
	Owner   Part `gorm:"index:past,unique;not null"`
	OwnerID uint `gorm:"index:past,unique;not null"`
	ReelID  uint
	// Seq is its place in the owner's past; of those that are done the last is how the owner is now.
	Seq  int `gorm:"index:past,unique;not null"`
	Done bool
	// Act joins changes that are undone together; Inverse is that of an act which this one took back out of what came after it.
	Act, Inverse uint
	// Tick is when it was last done or undone, Made when it was made: the later, the greater.
	Tick, Made uint
	Label      string
	// Gesture joins the many small changes of one drag into one step.
	Gesture string
	// Before and After are the text of a look, or facts as JSON.
	Before  string
	After   string
	Encoded string // declared encoding before, a slash, and after
	// Origin is a shot from which it was made, where that is another; 0 for none.
	Origin uint
	// Window is the window that made it, and Revision that of the look since.
	Window   string
	Revision int
	At       time.Time
}

// Delivery is a render of a shot to files.
type Delivery struct {
	ID     uint `gorm:"primaryKey"`
	ShotID uint `gorm:"index;not null"`
	Format string
	Path   string
	State  string // running, done, cancelled or failed
	Done   int
	Total  int
	Note   string
	Frame  int
	// Trial tells which trials it holds, where there are some.
	Trial     string
	CreatedAt time.Time
}

// Asset is something a person has added to the library: an encoding or a table.
type Asset struct {
	ID   uint   `gorm:"primaryKey"`
	Kind string `gorm:"index;not null"` // encoding, table or stock
	// Key is the id by which shots and looks name it.
	Key  string `gorm:"uniqueIndex;not null"`
	Name string
	// File is the name of the file it came from, Data what was in it.
	File string
	Data []byte
	// After is the encoding that a table of an input leads to; empty for tables that are steps.
	After string
	// Away tells that it was taken out while the past of a shot, or a pin, still names it: it is kept for them alone.
	Away      bool
	CreatedAt time.Time
}

// Favourite is a choice that a person keeps in reach: a stock, a medium or a recipe, as kind:id.
type Favourite struct {
	Key string `gorm:"primaryKey"`
}

// Pin is a frozen picture on a reel's pinboard: a frame with the settings that made it, or a reference
// still from elsewhere, which has none.
type Pin struct {
	ID     uint `gorm:"primaryKey"`
	ReelID uint `gorm:"index;not null"`
	Name   string
	// Reference tells a still from elsewhere.
	Reference bool
	// ShotID, Shot, Frame, Look and Encoding say what it was made of; the shot may be gone since.
	ShotID   uint
	Shot     string
	Frame    int
	Look     string
	Encoding string
	// File holds its code values, for a display of this white and peak in cd/m².
	File        string `gorm:"not null"`
	Display     string
	White, Peak float64
	Width       int
	Height      int
	CreatedAt   time.Time
}

// Card is a stock or medium card as looks that were made with it know it, by a digest of its data.
type Card struct {
	Digest string `gorm:"primaryKey"`
	Kind   string // stock or medium
	Key    string // the card's id
	Data   []byte
}
