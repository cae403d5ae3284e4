package studio

import (
	"bytes"
	"context"
	"crypto/sha256"
	"fmt"
	"image"
	"image/png"

	"velours/core/look"
	"velours/library"
)

// KeepLook asks for the look of a shot to be kept: of its parts or steps, or with neither whole but for how the shot came in.
type KeepLook struct {
	look.Carry
	Shot  uint   `json:"shot"`
	Frame int    `json:"frame"`
	Name  string `json:"name"`
	Mood  string `json:"mood,omitempty"`
	Note  string `json:"note,omitempty"`
}

// thumbnailWidth is how wide the thumbnail of a look is.
const thumbnailWidth = 320

func digest4(data []byte) string { return fmt.Sprintf("%x", sha256.Sum256(data))[:8] }

// KeepLook keeps the look of a shot in the library, over all levels, with its frame as a thumbnail.
func (s *Assets) KeepLook(ctx context.Context, q KeepLook) (*library.Asset, error) {
	shot, err := s.lib.Shot(q.Shot)
	if err != nil {
		return nil, err
	}
	v, err := s.levelsOf(shot, nil)
	if err != nil {
		return nil, err
	}
	flat, _ := v.Flat()
	carry := q.Carry
	if len(carry.Parts)+len(carry.Steps) == 0 {
		for _, p := range look.Parts {
			if p.Usual || p.ID == look.PartScreen {
				carry.Parts = append(carry.Parts, p.ID)
			}
		}
	}
	l, err := carry.To(look.NewLook(q.Name), flat, nil)
	if err != nil {
		return nil, BadInput{err}
	}
	l.Unmark()
	doc, err := l.Stored()
	if err != nil {
		return nil, err
	}
	saved := SavedLook{Name: q.Name, Mood: q.Mood, Note: q.Note, Look: doc}
	p, err := s.sessions.Picture(ctx, View{Shot: q.Shot, Frame: q.Frame, W: thumbnailWidth, H: thumbnailWidth})
	if err != nil {
		return nil, err
	}
	if saved.Thumbnail, err = p.png(); err != nil {
		return nil, err
	}
	a, err := lookAsset(saved)
	if err != nil {
		return nil, err
	}
	if err := s.lib.SaveAsset(a); err != nil {
		return nil, err
	}
	s.tell(Event{Assets: true})
	return a, nil
}

// png is the picture as a PNG file.
func (im *Image) png() ([]byte, error) {
	var data bytes.Buffer
	err := png.Encode(&data, &image.NRGBA{Pix: im.RGBA, Stride: 4 * im.W, Rect: image.Rect(0, 0, im.W, im.H)})
	return data.Bytes(), err
}

// DescribeLook changes what a person says of a kept look.
func (s *Assets) DescribeLook(id uint, name, mood, note string) error {
	a, err := s.lib.Asset(id)
	if err != nil {
		return err
	}
	if a.Kind != "look" {
		return Bad("%s is no look", a.Name)
	}
	saved, _, err := savedLook(a)
	if err != nil {
		return err
	}
	saved.Name, saved.Mood, saved.Note = name, mood, note
	next, err := lookAsset(*saved)
	if err != nil {
		return err
	}
	a.Name, a.File, a.Data = next.Name, next.File, next.Data
	if err := s.lib.SaveAsset(a); err != nil {
		return err
	}
	s.tell(Event{Assets: true})
	return nil
}

// TakeLook gives a shot the stations that a look has something in, at a level and with a strength from 0 to 1; how the shot came in,
// and the stations of which the look says nothing, stay. What depends on the picture is marked.
func (s *Sessions) TakeLook(id uint, level look.Level, from string, strength float64, by library.Author) (*library.Shot, error) {
	if !(strength >= 0 && strength <= 1) {
		return nil, Bad("a strength goes from 0 to 1, not %g", strength)
	}
	shot, err := s.lib.Shot(id)
	if err != nil {
		return nil, err
	}
	src, err := s.carrySource(CarrySource{Look: from})
	if err != nil {
		return nil, err
	}
	return s.changeAt(shot, level, by, func(_ *library.Document, l *look.Look) (*look.Look, string, error) {
		after, err := Laid(l, src.look, strength)
		return after, "Take " + src.name, err
	})
}

// Laid is a look with another's stations in place of its own, by a strength: in balance settings that go from rest are mixed, in the
// others the station's strength is.
func Laid(on, l *look.Look, strength float64) (*look.Look, error) {
	c := look.Carry{Parts: []look.Part{look.PartMattes}}
	for part, s := range map[look.Part]look.Station{look.PartBalance: look.Balance, look.PartLens: look.Lens, look.PartFilm: look.Negative, look.PartPrint: look.Print, look.PartFinish: look.Finish, look.PartScreen: look.Screen} {
		if st := l.Stations[s]; st != nil && len(st.Steps) > 0 {
			c.Parts = append(c.Parts, part)
		}
	}
	return c.To(on, l.Weaker(strength), nil)
}
