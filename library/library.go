package library

import (
	"errors"
	"fmt"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// ErrNotFound says that there is no such thing.
var ErrNotFound = errors.New("not found")

func found(err error, what string, id uint) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return fmt.Errorf("%s %d: %w", what, id, ErrNotFound)
	}
	return err
}

// Shot finds a shot. One of a scene that is removed is in none.
func (l *Library) Shot(id uint) (*Shot, error) {
	var s Shot
	if err := l.db.First(&s, id).Error; err != nil {
		return &s, found(err, "shot", id)
	}
	if s.SceneID == 0 {
		return &s, nil
	}
	var there int64
	if err := l.db.Model(&Scene{}).Where("id = ? AND NOT removed", s.SceneID).Count(&there).Error; err != nil {
		return &s, err
	}
	if there == 0 {
		s.SceneID = 0
	}
	return &s, nil
}

// SetPath points a shot at another file, for media that has moved.
func (l *Library) SetPath(id uint, path string) error {
	return l.db.Model(&Shot{}).Where("id = ?", id).Update("path", path).Error
}

// SetFrame remembers where a shot was looked at.
func (l *Library) SetFrame(id uint, frame int) error {
	d := l.db.Model(&Shot{}).Where("id = ?", id).Update("frame", frame)
	if d.Error == nil && d.RowsAffected == 0 {
		return fmt.Errorf("shot %d: %w", id, ErrNotFound)
	}
	return writeProblem(d.Error)
}

// Assets lists what persons have added, oldest first.
func (l *Library) Assets() ([]Asset, error) {
	var a []Asset
	err := l.db.Order("id").Find(&a).Error
	return a, err
}

// AssetKeys lists the keys of all assets.
func (l *Library) AssetKeys() ([]string, error) {
	var keys []string
	err := l.db.Model(&Asset{}).Pluck("key", &keys).Error
	return keys, err
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

// Uses counts the shots, scenes and reels whose encoding or look names a key, and the tables that lead to it.
func (l *Library) Uses(key string) (int64, error) {
	named := "%\"" + key + "\"%"
	var all int64
	for _, q := range []*gorm.DB{
		l.db.Model(&Shot{}).Where("NOT removed AND (encoding = ? OR look LIKE ?)", key, named),
		l.db.Model(&Scene{}).Where("NOT removed AND look LIKE ?", named),
		l.db.Model(&Reel{}).Where("NOT removed AND look LIKE ?", named),
		l.db.Model(&Trial{}).Where("NOT removed AND look LIKE ?", named),
		l.db.Model(&Asset{}).Where("after = ?", key),
	} {
		var n int64
		if err := q.Count(&n).Error; err != nil {
			return 0, err
		}
		all += n
	}
	return all, nil
}

// Remembered counts the changes, pins and removed shots that name a key: undo and pins would miss it.
func (l *Library) Remembered(key string) (int64, error) {
	named := "%\"" + key + "\"%"
	var all int64
	for _, q := range []*gorm.DB{
		l.db.Model(&Change{}).Where("before LIKE ? OR after LIKE ? OR encoded = ? OR encoded LIKE ? OR encoded LIKE ?", named, named, key, key+"/%", "%/"+key),
		l.db.Model(&Pin{}).Where("look LIKE ? OR encoding = ?", named, key),
		l.db.Model(&Trial{}).Where("removed AND look LIKE ?", named),
		l.db.Model(&Shot{}).Where("removed AND (encoding = ? OR look LIKE ?)", key, named),
	} {
		var n int64
		if err := q.Count(&n).Error; err != nil {
			return 0, err
		}
		all += n
	}
	return all, nil
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

// AddDelivery takes up a delivery at the path that place gives for its id: both are kept, or neither.
func (l *Library) AddDelivery(d *Delivery, place func(id uint) (string, error)) error {
	return l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.Create(d).Error; err != nil {
			return writeProblem(err)
		}
		var err error
		if d.Path, err = place(d.ID); err != nil {
			return err
		}
		return writeProblem(tx.Model(d).Update("path", d.Path).Error)
	})
}

// SaveDelivery updates a delivery.
func (l *Library) SaveDelivery(d *Delivery) error { return writeProblem(l.db.Save(d).Error) }

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

// KeepCards keeps cards, once for each digest.
func (l *Library) KeepCards(list []Card) error {
	return writeProblem(l.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&list).Error)
}

// Cards lists the cards that were kept.
func (l *Library) Cards() ([]Card, error) {
	var c []Card
	err := l.db.Order("digest").Find(&c).Error
	return c, err
}
