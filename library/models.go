package library

import "time"

// Reel is one job.
type Reel struct {
	ID        uint   `gorm:"primaryKey"`
	Name      string `gorm:"not null"`
	Demo      bool
	CreatedAt time.Time
	Shots     []Shot
}

// Shot is one movie, sequence or still in a reel, with the look it has now.
type Shot struct {
	ID       uint `gorm:"primaryKey"`
	ReelID   uint `gorm:"index;not null"`
	Position int
	Scene    string
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
	// Start is the look that a reset of everything goes back to.
	Start string `gorm:"not null"`
	// Cursor is how many of the shot's changes are done; those beyond are undone.
	Cursor int
	// Frame is where the shot was last looked at.
	Frame int
	// Revision counts the changes of the look and the encoding, undo among them.
	Revision int
}

// Change is one undoable step in a shot's history.
type Change struct {
	ID     uint `gorm:"primaryKey"`
	ShotID uint `gorm:"index:at,unique;not null"`
	Seq    int  `gorm:"index:at,unique;not null"`
	Label  string
	// Gesture joins the many small changes of one drag into one step.
	Gesture string
	Before  string
	After   string
	Encoded string // declared encoding before, a slash, and after
	// Window is the window that made it, and Revision that of the shot since.
	Window   string
	Revision int
	At       time.Time
}

// Delivery is a render of a shot to files.
type Delivery struct {
	ID        uint `gorm:"primaryKey"`
	ShotID    uint `gorm:"index;not null"`
	Format    string
	Path      string
	State     string // running, done, cancelled or failed
	Done      int
	Total     int
	Note      string
	Frame     int
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
