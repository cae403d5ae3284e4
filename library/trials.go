package library

import (
	"fmt"

	"gorm.io/gorm"
)

// Trial is one alternative version of the look of a shot, a scene or a reel. That which is in use is the look itself, which
// names it by its number; what is kept here of it is how it was when it was last left.
type Trial struct {
	ID     uint `gorm:"primaryKey"`
	ReelID uint `gorm:"index;not null"`
	// Owner and OwnerID are whose look it is an alternative of; Number tells it from others of that look, and is never given again.
	Owner   Part `gorm:"index:trial,unique;not null"`
	OwnerID uint `gorm:"index:trial,unique;not null"`
	Number  int  `gorm:"index:trial,unique;not null"`
	Name    string
	// Position is its place among those of its look.
	Position float64
	Removed  bool
	// Answer marks the one that was chosen.
	Answer bool
	// Look, and a shot's Encoding, are as they were when the trial was last left.
	Look, Encoding string
	Revision       int
}

// Of is whose look the trial is an alternative of.
func (t *Trial) Of() Owner { return Owner{t.Owner, t.OwnerID} }

// Trial finds a trial.
func (l *Library) Trial(id uint) (*Trial, error) {
	var t Trial
	err := l.db.First(&t, id).Error
	return &t, found(err, "trial", id)
}

// Trials lists the trials of looks that are not removed, in order; their own looks are left out.
func (l *Library) Trials(of ...Owner) ([]Trial, error) {
	q := l.db.Where("1 = 0")
	for _, o := range of {
		q = q.Or("owner = ? AND owner_id = ?", o.Of, o.ID)
	}
	var t []Trial
	err := l.db.Select("id", "reel_id", "owner", "owner_id", "number", "name", "position", "answer").Where(q).Where("NOT removed").Order("position, id").Find(&t).Error
	return t, err
}

// AddTrials makes trials of one look, as it is, as an act which also changes documents: those of owners, by change. Their numbers
// and places are given before change is asked.
func (l *Library) AddTrials(by Author, label string, trials []*Trial, owners []Owner, change func(d *Document) (string, error)) error {
	return l.begin(by, label, owners, change, func(tx *gorm.DB) ([]Owner, error) {
		var out []Owner
		for _, t := range trials {
			var last struct {
				Number   int
				Position float64
			}
			q := tx.Model(&Trial{}).Where("owner = ? AND owner_id = ?", t.Owner, t.OwnerID)
			if err := q.Select("coalesce(max(number), 0) AS number, coalesce(max(position), 0) AS position").Scan(&last).Error; err != nil {
				return nil, err
			}
			d, err := load(tx, t.Of())
			if err != nil {
				return nil, err
			}
			t.Number, t.Position, t.ReelID, t.Look, t.Encoding = last.Number+1, last.Position+1, d.ReelID, d.Look, d.Encoding
			if err := tx.Create(t).Error; err != nil {
				return nil, fmt.Errorf("keeping the trial %s: %w", t.Name, err)
			}
			out = append(out, Owner{TrialFacts, t.ID})
		}
		return out, nil
	})
}

// copyTrials gives a copied look the trials of the one that it was copied from.
func copyTrials(tx *gorm.DB, from, to Owner, reel uint) error {
	var list []Trial
	if err := tx.Where("owner = ? AND owner_id = ? AND NOT removed", from.Of, from.ID).Order("id").Find(&list).Error; err != nil {
		return err
	}
	for _, t := range list {
		t.ID, t.OwnerID, t.ReelID, t.Revision = 0, to.ID, reel, 0
		if err := tx.Create(&t).Error; err != nil {
			return err
		}
	}
	return nil
}
