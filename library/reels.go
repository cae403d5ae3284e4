package library

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"
)

// Reels lists the reels that are not removed, each with its scenes and shots in order.
func (l *Library) Reels() ([]Reel, error) {
	var r []Reel
	err := l.db.Preload("Scenes", there).Preload("Shots", there).Where("NOT removed").Order("position, id").Find(&r).Error
	for i := range r {
		r[i].order()
	}
	return r, err
}

// DemoRemoved tells whether there was a demo reel that is removed.
func (l *Library) DemoRemoved() (bool, error) {
	var n int64
	err := l.db.Model(&Reel{}).Where("demo AND removed").Count(&n).Error
	return n > 0, err
}

// briefly are the columns of a shot but for its looks, which are most of it.
var briefly = []string{"id", "reel_id", "position", "scene_id", "flag", "note", "name", "path", "kind", "width", "height", "frames", "rate", "rate_text", "depth", "codec", "full", "matrix", "transfer", "primaries",
	"timecode", "rotated", "dark", "aspect", "gaps", "first", "in", "out", "encoding", "frame", "revision"}

// FollowedStations are those that can follow, in the order of Shot.Follows.
var FollowedStations = []string{"lens", "negative", "print", "screen"}

// follows is the column of Shot.Follows.
func follows() string {
	var paths []string
	for _, s := range FollowedStations {
		paths = append(paths, "'$.stations."+s+".follows'")
	}
	return "CASE WHEN json_valid(look) THEN json_extract(look, " + strings.Join(paths, ", ") + ") ELSE '[]' END AS follows"
}

// Reel finds a reel with its scenes and shots in order; the shots' looks are left out.
func (l *Library) Reel(id uint) (*Reel, error) {
	var r Reel
	err := l.db.Preload("Scenes", there).Preload("Trials", trials).Preload("Shots", func(db *gorm.DB) *gorm.DB {
		return there(db).Select(append([]string{follows(), "look LIKE '%\"again\":[%' AS marked", "CASE WHEN json_valid(look) THEN coalesce(json_extract(look, '$.trial'), 0) ELSE 0 END AS trial"}, briefly...))
	}).First(&r, id).Error
	r.order()
	return &r, found(err, "reel", id)
}

func there(db *gorm.DB) *gorm.DB { return db.Where("NOT removed").Order("position, id") }

// order puts shots in the order of their scenes, those of none last.
func (r *Reel) order() {
	at := map[uint]int{0: len(r.Scenes)}
	for i, s := range r.Scenes {
		at[s.ID] = i
	}
	for i := range r.Shots {
		if _, ok := at[r.Shots[i].SceneID]; !ok { // its scene is gone
			r.Shots[i].SceneID = 0
		}
	}
	slices.SortStableFunc(r.Shots, func(a, b Shot) int { return cmp.Compare(at[a.SceneID], at[b.SceneID]) })
}

// Headline is what the page of reels tells of one.
type Headline struct {
	Reel
	Count int
	// Cover is a shot of it, 0 if there is none.
	Cover uint
}

// Headlines lists the reels that are not removed, with how many shots they have and the first of them.
func (l *Library) Headlines() ([]Headline, error) {
	var reels []Reel
	if err := l.db.Where("NOT removed").Order("position, id").Find(&reels).Error; err != nil {
		return nil, err
	}
	var rows []struct {
		ReelID uint
		Count  int
		Cover  uint
	}
	if err := l.db.Model(&Shot{}).Where("NOT removed").Select("reel_id, count(*) AS count, min(id) AS cover").Group("reel_id").Scan(&rows).Error; err != nil {
		return nil, err
	}
	out := make([]Headline, len(reels))
	for i, r := range reels {
		out[i] = Headline{Reel: r}
		for _, x := range rows {
			if x.ReelID == r.ID {
				out[i].Count, out[i].Cover = x.Count, x.Cover
			}
		}
	}
	return out, nil
}

// AddReel makes a reel, the last on the page.
func (l *Library) AddReel(r *Reel) error {
	return writeProblem(l.db.Transaction(func(tx *gorm.DB) error { return addReel(tx, r) }))
}

func addReel(tx *gorm.DB, r *Reel) error {
	if err := last(tx.Model(&Reel{}), &r.Position); err != nil {
		return err
	}
	return tx.Create(r).Error
}

// last is the position after all others.
func last(tx *gorm.DB, position *float64) error {
	return tx.Select("coalesce(max(position), 0) + 1").Scan(position).Error
}

// AddFullReel makes a reel with its scenes and shots, whole or not at all. A shot's SceneID is the place of its scene in the list, counted
// from 1, 0 for none.
func (l *Library) AddFullReel(r *Reel, scenes []*Scene, shots []*Shot) error {
	return writeProblem(l.db.Transaction(func(tx *gorm.DB) error {
		if err := addReel(tx, r); err != nil {
			return err
		}
		for i, s := range scenes {
			s.ReelID, s.Position = r.ID, float64(i+1)
			if err := tx.Create(s).Error; err != nil {
				return err
			}
		}
		for i, s := range shots {
			s.ReelID, s.Position = r.ID, float64(i+1)
			if s.SceneID > 0 {
				s.SceneID = scenes[s.SceneID-1].ID
			}
			if err := tx.Create(s).Error; err != nil {
				return err
			}
		}
		return nil
	}))
}

// CopyReel makes a reel with the scenes and shots of another, as they are now; its name gets an ending.
func (l *Library) CopyReel(id uint, ending string) (*Reel, error) {
	var r Reel
	err := l.db.Transaction(func(tx *gorm.DB) error {
		if err := tx.Preload("Scenes", there).Preload("Shots", there).First(&r, id).Error; err != nil {
			return found(err, "reel", id)
		}
		scenes, shots := r.Scenes, r.Shots
		old := r.ID
		r.ID, r.Name, r.Demo, r.Archived, r.CreatedAt, r.Scenes, r.Shots = 0, r.Name+ending, false, false, now(), nil, nil
		if err := addReel(tx, &r); err != nil {
			return err
		}
		if err := copyTrials(tx, Owner{ReelLook, old}, Owner{ReelLook, r.ID}, r.ID); err != nil {
			return err
		}
		ids := map[uint]uint{}
		for _, s := range scenes {
			was := s.ID
			s.ID, s.ReelID = 0, r.ID
			if err := tx.Create(&s).Error; err != nil {
				return err
			}
			if err := copyTrials(tx, Owner{SceneLook, was}, Owner{SceneLook, s.ID}, r.ID); err != nil {
				return err
			}
			ids[was] = s.ID
		}
		for _, s := range shots {
			was := s.ID
			s.ID, s.ReelID, s.SceneID = 0, r.ID, ids[s.SceneID]
			if err := tx.Create(&s).Error; err != nil {
				return err
			}
			if err := copyTrials(tx, Owner{ShotLook, was}, Owner{ShotLook, s.ID}, r.ID); err != nil {
				return err
			}
		}
		return nil
	})
	return &r, writeProblem(err)
}

// AddShots puts shots at the end of their reel, as an act, which may change documents of others: those of owners, by change.
func (l *Library) AddShots(by Author, label string, shots []*Shot, owners []Owner, change func(d *Document) (string, error)) error {
	return l.begin(by, label, owners, change, func(tx *gorm.DB) ([]Owner, error) {
		var out []Owner
		for _, s := range shots {
			if err := hasReel(tx, s.ReelID); err != nil {
				return nil, err
			}
			if s.Position == 0 {
				if err := last(tx.Model(&Shot{}).Where("reel_id = ?", s.ReelID), &s.Position); err != nil {
					return nil, err
				}
			}
			if err := tx.Create(s).Error; err != nil {
				return nil, err
			}
			out = append(out, Owner{ShotFacts, s.ID})
		}
		return out, nil
	})
}

// AddScene makes a scene, the last of its reel, as an act, which may change documents of others.
func (l *Library) AddScene(by Author, label string, s *Scene, owners []Owner, change func(d *Document) (string, error)) error {
	return l.begin(by, label, owners, change, func(tx *gorm.DB) ([]Owner, error) {
		if err := hasReel(tx, s.ReelID); err != nil {
			return nil, err
		}
		if err := last(tx.Model(&Scene{}).Where("reel_id = ?", s.ReelID), &s.Position); err != nil {
			return nil, err
		}
		if err := tx.Create(s).Error; err != nil {
			return nil, err
		}
		return []Owner{{SceneFacts, s.ID}}, nil
	})
}

// begin makes what create does and changes documents of others, as one act; undone, what was made is removed.
func (l *Library) begin(by Author, label string, owners []Owner, change func(d *Document) (string, error), create func(tx *gorm.DB) ([]Owner, error)) error {
	return writeProblem(l.db.Transaction(func(tx *gorm.DB) error {
		k, err := newClock(tx)
		if err != nil {
			return err
		}
		act := k.next()
		made, err := create(tx)
		if err != nil {
			return err
		}
		for _, o := range made {
			if err := k.began(tx, act, by, label, o); err != nil {
				return err
			}
		}
		for _, o := range owners {
			d, err := load(tx, o)
			if err != nil {
				return err
			}
			if err := k.record(tx, act, by, d, change, false); err != nil {
				return err
			}
		}
		return nil
	}))
}

// Scene finds a scene.
func (l *Library) Scene(id uint) (*Scene, error) {
	var s Scene
	err := l.db.First(&s, id).Error
	return &s, found(err, "scene", id)
}

// trials leaves the looks of trials out.
func trials(db *gorm.DB) *gorm.DB {
	return there(db).Select("id", "reel_id", "owner", "owner_id", "number", "name", "answer")
}

// Levels finds a reel with its scenes and trials, without its shots.
func (l *Library) Levels(id uint) (*Reel, error) {
	var r Reel
	err := l.db.Preload("Scenes", there).Preload("Trials", trials).First(&r, id).Error
	return &r, found(err, "reel", id)
}

// ReelAlone finds a reel without its shots.
func (l *Library) ReelAlone(id uint) (*Reel, error) {
	var r Reel
	err := l.db.First(&r, id).Error
	return &r, found(err, "reel", id)
}

// HasReel is ErrNotFound if there is no such reel.
func (l *Library) HasReel(id uint) error { return hasReel(l.db, id) }

func hasReel(tx *gorm.DB, id uint) error {
	var n int64
	if err := tx.Model(&Reel{}).Where("id = ? AND NOT removed", id).Count(&n).Error; err != nil {
		return err
	}
	if n == 0 {
		return fmt.Errorf("reel %d: %w", id, ErrNotFound)
	}
	return nil
}
