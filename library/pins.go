package library

import "fmt"

// Pins lists the pins of all reels, newest first.
func (l *Library) Pins() ([]Pin, error) {
	var p []Pin
	err := l.db.Order("id desc").Find(&p).Error
	return p, err
}

// Pin finds one.
func (l *Library) Pin(id uint) (*Pin, error) {
	var p Pin
	err := l.db.First(&p, id).Error
	return &p, found(err, "pin", id)
}

// SavePin makes or changes a pin.
func (l *Library) SavePin(p *Pin) error { return writeProblem(l.db.Save(p).Error) }

// RemovePin takes a pin off; its file is the caller's.
func (l *Library) RemovePin(id uint) error {
	d := l.db.Delete(&Pin{}, id)
	if d.Error == nil && d.RowsAffected == 0 {
		return fmt.Errorf("pin %d: %w", id, ErrNotFound)
	}
	return d.Error
}
