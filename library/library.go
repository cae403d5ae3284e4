package library

import (
	"errors"
	"fmt"
	"time"

	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// ErrNotFound says that there is no such thing.
var ErrNotFound = errors.New("not found")

// Library is an open database. It is safe for concurrent use.
type Library struct{ db *gorm.DB }

// Open opens or makes the database file. Every write is on the disk when its call returns.
func Open(file string) (*Library, error) {
	db, err := gorm.Open(sqlite.Open("file:"+file+"?_journal_mode=WAL&_synchronous=NORMAL&_busy_timeout=5000&_foreign_keys=1"), &gorm.Config{
		Logger:         logger.Default.LogMode(logger.Silent),
		TranslateError: true,
	})
	if err != nil {
		return nil, fmt.Errorf("opening the library %s: %w", file, err)
	}
	sqlDB, err := db.DB()
	if err != nil {
		return nil, fmt.Errorf("opening the library %s: %w", file, err)
	}
	sqlDB.SetMaxOpenConns(1) // SQLite writes one at a time; waiting here beats being refused there
	if err := db.AutoMigrate(&Reel{}, &Shot{}, &Change{}, &Delivery{}, &Asset{}, &Favourite{}, &Pin{}); err != nil {
		return nil, fmt.Errorf("preparing the library %s: %w", file, err)
	}
	return &Library{db}, nil
}

// Close closes the database.
func (l *Library) Close() error {
	db, err := l.db.DB()
	if err != nil {
		return err
	}
	return db.Close()
}

func found(err error, what string, id uint) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return fmt.Errorf("%s %d: %w", what, id, ErrNotFound)
	}
	return err
}

// Reels lists all reels with their shots in order.
func (l *Library) Reels() ([]Reel, error) {
	var r []Reel
	err := l.db.Preload("Shots", func(db *gorm.DB) *gorm.DB { return db.Order("position, id") }).Order("id").Find(&r).Error
	return r, err
}

// AddReel makes a reel.
func (l *Library) AddReel(r *Reel) error { return l.db.Create(r).Error }

// AddShot puts a shot at the end of its reel.
func (l *Library) AddShot(s *Shot) error {
	return l.db.Transaction(func(tx *gorm.DB) error {
		var last int
		if err := tx.Model(&Shot{}).Where("reel_id = ?", s.ReelID).Select("coalesce(max(position), -1)").Scan(&last).Error; err != nil {
			return err
		}
		s.Position = last + 1
		return tx.Create(s).Error
	})
}

// Shot finds a shot.
func (l *Library) Shot(id uint) (*Shot, error) {
	var s Shot
	err := l.db.First(&s, id).Error
	return &s, found(err, "shot", id)
}

// SetPath points a shot at another file, for media that has moved.
func (l *Library) SetPath(id uint, path string) error {
	return l.db.Model(&Shot{}).Where("id = ?", id).Update("path", path).Error
}

// SetSpan sets the in and out points of a shot.
func (l *Library) SetSpan(id uint, in, out int) (*Shot, error) {
	s, err := l.Shot(id)
	if err != nil {
		return nil, err
	}
	s.In, s.Out = in, out
	return s, l.db.Model(s).Select("In", "Out").Updates(s).Error
}

// RemoveShot takes a shot and its history out of the library; its files stay.
func (l *Library) RemoveShot(id uint) error {
	return l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.Where("shot_id = ?", id).Delete(&Change{}).Error; err != nil {
			return err
		}
		d := tx.Delete(&Shot{}, id)
		if d.Error == nil && d.RowsAffected == 0 {
			return fmt.Errorf("shot %d: %w", id, ErrNotFound)
		}
		return d.Error
	})
}

// SetFrame remembers where a shot was looked at.
func (l *Library) SetFrame(id uint, frame int) error {
	return l.db.Model(&Shot{}).Where("id = ?", id).Update("frame", frame).Error
}

// Apply changes a shot's look in one transaction and records the change; what had been undone
// is forgotten. change returns the new look, its encoding, and a label. Changes of one gesture
// that follow each other become one step.
func (l *Library) Apply(id uint, gesture string, change func(s *Shot) (look, encoding, label string, err error)) (*Shot, error) {
	var s Shot
	err := l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.First(&s, id).Error; err != nil {
			return found(err, "shot", id)
		}
		look, encoding, label, err := change(&s)
		if err != nil {
			return err
		}
		if look == s.Look && encoding == s.Encoding {
			return nil
		}
		if err := tx.Where("shot_id = ? AND seq >= ?", id, s.Cursor).Delete(&Change{}).Error; err != nil {
			return err
		}
		var last Change
		joins := gesture != "" && s.Cursor > 0 &&
			tx.Where("shot_id = ? AND seq = ?", id, s.Cursor-1).Limit(1).Find(&last).Error == nil && last.Gesture == gesture
		if joins {
			if err := tx.Model(&last).Updates(Change{After: look, At: time.Now()}).Error; err != nil {
				return err
			}
		} else {
			c := Change{ShotID: id, Seq: s.Cursor, Label: label, Gesture: gesture, Before: s.Look, After: look, Encoded: s.Encoding + "/" + encoding, At: time.Now()}
			if err := tx.Create(&c).Error; err != nil {
				return err
			}
			s.Cursor++
		}
		s.Look, s.Encoding = look, encoding
		return tx.Save(&s).Error
	})
	return &s, err
}

// Travel undoes (−1) or redoes (+1) one change. It reports ErrNotFound at either end of the history.
func (l *Library) Travel(id uint, by int) (*Shot, error) {
	var s Shot
	err := l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.First(&s, id).Error; err != nil {
			return found(err, "shot", id)
		}
		at := s.Cursor
		if by < 0 {
			at--
		}
		var c Change
		if err := tx.Where("shot_id = ? AND seq = ?", id, at).First(&c).Error; err != nil {
			return found(err, "change", uint(max(at, 0)))
		}
		before, after := splitEncoded(c.Encoded)
		if by < 0 {
			s.Look, s.Encoding, s.Cursor = c.Before, before, s.Cursor-1
		} else {
			s.Look, s.Encoding, s.Cursor = c.After, after, s.Cursor+1
		}
		return tx.Save(&s).Error
	})
	return &s, err
}

func splitEncoded(s string) (string, string) {
	for i := range s {
		if s[i] == '/' {
			return s[:i], s[i+1:]
		}
	}
	return s, s
}

// Neighbours returns the labels of the changes that undo and redo would touch, empty where there is none.
func (l *Library) Neighbours(s *Shot) (undo, redo string, err error) {
	var c []Change
	err = l.db.Where("shot_id = ? AND seq IN ?", s.ID, []int{s.Cursor - 1, s.Cursor}).Find(&c).Error
	for _, x := range c {
		if x.Seq == s.Cursor {
			redo = x.Label
		} else {
			undo = x.Label
		}
	}
	return undo, redo, err
}

// Assets lists what persons have added, oldest first.
func (l *Library) Assets() ([]Asset, error) {
	var a []Asset
	err := l.db.Order("id").Find(&a).Error
	return a, err
}

// SaveAsset adds an asset, in place of one of its key.
func (l *Library) SaveAsset(a *Asset) error {
	return l.db.Transaction(func(tx *gorm.DB) error {
		var old Asset
		if err := tx.Where(&Asset{Key: a.Key}).Limit(1).Find(&old).Error; err != nil {
			return err
		}
		if old.ID != 0 {
			a.ID, a.CreatedAt = old.ID, old.CreatedAt
		}
		return tx.Save(a).Error
	})
}

// Asset finds one.
func (l *Library) Asset(id uint) (*Asset, error) {
	var a Asset
	err := l.db.First(&a, id).Error
	return &a, found(err, "asset", id)
}

// RemoveAsset takes an asset out of the library.
func (l *Library) RemoveAsset(id uint) error { return l.db.Delete(&Asset{}, id).Error }

// Uses counts the shots whose encoding or look names a key, and the tables that lead to it.
func (l *Library) Uses(key string) (int64, error) {
	var shots, tables int64
	if err := l.db.Model(&Shot{}).Where("encoding = ? OR look LIKE ?", key, "%\""+key+"\"%").Count(&shots).Error; err != nil {
		return 0, err
	}
	err := l.db.Model(&Asset{}).Where("after = ?", key).Count(&tables).Error
	return shots + tables, err
}

// Remembered counts the changes and pins that name a key: undo and pins would miss it.
func (l *Library) Remembered(key string) (int64, error) {
	var changes, pins int64
	named := "%\"" + key + "\"%"
	if err := l.db.Model(&Change{}).Where("before LIKE ? OR after LIKE ? OR encoded = ? OR encoded LIKE ? OR encoded LIKE ?", named, named, key, key+"/%", "%/"+key).Count(&changes).Error; err != nil {
		return 0, err
	}
	err := l.db.Model(&Pin{}).Where("look LIKE ? OR encoding = ?", named, key).Count(&pins).Error
	return changes + pins, err
}

// Favourites lists the keys of what is kept in reach.
func (l *Library) Favourites() ([]string, error) {
	keys := []string{}
	err := l.db.Model(&Favourite{}).Order("key").Pluck("key", &keys).Error
	return keys, err
}

// SetFavourite keeps a key in reach, or no longer.
func (l *Library) SetFavourite(key string, on bool) error {
	if !on {
		return l.db.Delete(&Favourite{}, "key = ?", key).Error
	}
	return l.db.Save(&Favourite{Key: key}).Error
}

// SaveDelivery makes or updates a delivery.
func (l *Library) SaveDelivery(d *Delivery) error { return l.db.Save(d).Error }

// Deliveries lists the newest deliveries first.
func (l *Library) Deliveries(limit int) ([]Delivery, error) {
	var d []Delivery
	err := l.db.Order("id desc").Limit(limit).Find(&d).Error
	return d, err
}

// Delivery finds a delivery.
func (l *Library) Delivery(id uint) (*Delivery, error) {
	var d Delivery
	err := l.db.First(&d, id).Error
	return &d, found(err, "delivery", id)
}

// EndRunning marks deliveries that a stopped program left running as failed.
func (l *Library) EndRunning(note string) error {
	return l.db.Model(&Delivery{}).Where("state = ?", "running").Updates(Delivery{State: "failed", Note: note}).Error
}
