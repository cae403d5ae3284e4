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
	At      time.Time
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
