package studio

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"

	"velours/core/colour"
	"velours/core/film"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/strict"
	"velours/library"
)

// LookFile is a file of looks, with all that they need which does not ship: it opens on another machine and makes the same
// pictures. The format is ours, open, and told by docs/looks.md.
type LookFile struct {
	Format int         `json:"velours-looks"`
	Looks  []SavedLook `json:"looks"`
	// Needs are own stocks, tables, encodings and grain cards; Cards those of stocks and media as the looks know them; Pictures
	// the stills that mattes name.
	Needs    []LookNeed    `json:"needs,omitempty"`
	Cards    []LookCard    `json:"cards,omitempty"`
	Pictures []LookPicture `json:"pictures,omitempty"`
}

// lookFormat is the version of the file format that this program writes.
const lookFormat = 1

// SavedLook is a look that is kept, with what a person says of it. Thumbnail is a small PNG.
type SavedLook struct {
	Name      string          `json:"name"`
	Mood      string          `json:"mood,omitempty"`
	Note      string          `json:"note,omitempty"`
	Look      json.RawMessage `json:"look" ts:"Look"`
	Thumbnail []byte          `json:"thumbnail,omitempty"`
}

// LookNeed is something of a library that a look names.
type LookNeed struct {
	Kind  string `json:"kind"` // stock, table, encoding or grain
	Key   string `json:"key"`
	Name  string `json:"name"`
	File  string `json:"file"`
	After string `json:"after,omitempty"`
	Data  []byte `json:"data"`
}

// LookCard is the card of a stock or medium.
type LookCard struct {
	Kind string          `json:"kind"`
	Key  string          `json:"key"`
	Data json.RawMessage `json:"data" ts:"unknown"`
}

// LookPicture is a still that mattes name.
type LookPicture struct {
	ID      string  `json:"id"`
	Name    string  `json:"name"`
	Display string  `json:"display"`
	White   float64 `json:"white"`
	Peak    float64 `json:"peak"`
	Width   int     `json:"width"`
	Height  int     `json:"height"`
	Ext     string  `json:"ext"`
	Data    []byte  `json:"data"`
}

// mostLookFile is how large a file of looks may be, and mostLooksInFile how many it may hold.
const mostLookFile, mostLooksInFile = 128 << 20, 500

// namesIn are the ids that a look names: of stocks, media, tables, encodings, grain cards and pictures.
func namesIn(l *look.Look) map[string]bool {
	out := map[string]bool{}
	note := func(values map[string]any) {
		for _, v := range values {
			if id, ok := v.(string); ok {
				out[id] = true
			}
		}
	}
	l.Steps(func(k *look.Kind, p *look.Step) { note(l.Values(k, p)) })
	for _, m := range l.Mattes {
		for _, p := range m.Parts {
			note(p.Settings)
		}
	}
	return out
}

// WriteLooks puts kept looks, by their ids in the library, into one file.
func (s *Assets) WriteLooks(ids []uint) ([]byte, error) {
	if len(ids) == 0 {
		return nil, Bad("choose the looks that the file is to hold")
	}
	file := LookFile{Format: lookFormat}
	names := map[string]bool{}
	digests := map[string]bool{}
	for _, id := range ids {
		a, err := s.lib.Asset(id)
		if err != nil {
			return nil, err
		}
		if a.Kind != "look" {
			return nil, Bad("%s is no look", a.Name)
		}
		saved, l, err := savedLook(a)
		if err != nil {
			return nil, err
		}
		for name := range namesIn(l) {
			names[name] = true
		}
		if l.Made != nil {
			for key, digest := range l.Made.Cards {
				digests[key+"@"+digest] = true
			}
		}
		file.Looks = append(file.Looks, *saved)
	}
	assets, err := s.lib.Assets()
	if err != nil {
		return nil, err
	}
	for _, a := range assets {
		if names[a.Key] && a.Kind != "look" {
			file.Needs = append(file.Needs, LookNeed{a.Kind, a.Key, a.Name, a.File, a.After, a.Data})
		}
	}
	kept, err := s.lib.Cards()
	if err != nil {
		return nil, err
	}
	for _, c := range kept {
		if digests[c.Digest] {
			file.Cards = append(file.Cards, LookCard{c.Kind, c.Key, c.Data})
		}
	}
	pins, err := s.lib.Pins()
	if err != nil {
		return nil, err
	}
	for i := range pins {
		p := &pins[i]
		if !names[pictureID(p)] {
			continue
		}
		data, err := os.ReadFile(p.File)
		if err != nil {
			return nil, Bad("the picture %s of a matte is gone: %w", p.Name, err)
		}
		file.Pictures = append(file.Pictures, LookPicture{pictureID(p), p.Name, p.Display, p.White, p.Peak, p.Width, p.Height, filepath.Ext(p.File), data})
	}
	return json.MarshalIndent(file, "", " ")
}

// ReadLooks brings the looks of a file into the library, with all that they need; pictures of mattes go to the pinboard of a reel. A file
// that does not hold is refused whole, with the place of what is wrong.
func (s *Assets) ReadLooks(name string, data []byte, reel uint) ([]*library.Asset, error) {
	if len(data) > mostLookFile {
		return nil, Bad("%s is larger than %d MB", name, mostLookFile>>20)
	}
	var file LookFile
	if err := strict.JSON(data, &file); err != nil {
		return nil, Bad("%s is no file of looks: %w", name, err)
	}
	if file.Format < 1 || file.Format > lookFormat {
		return nil, Bad("%s is a file of looks of format %d; this program reads up to %d: open it with the newer program that wrote it", name, file.Format, lookFormat)
	}
	if len(file.Looks) == 0 || len(file.Looks) > mostLooksInFile {
		return nil, Bad("%s holds %d looks; there can be 1 to %d", name, len(file.Looks), mostLooksInFile)
	}
	var made []func() // undo what was brought in, if a look does not hold
	fail := func(err error) ([]*library.Asset, error) {
		for _, f := range slices.Backward(made) {
			f()
		}
		return nil, err
	}
	var cards []library.Card
	for i, c := range file.Cards {
		digest, err := film.Remember(c.Kind, c.Data)
		if err != nil {
			return fail(Bad("%s: card %d, %s: %w", name, i+1, c.Key, err))
		}
		cards = append(cards, library.Card{Digest: digest, Kind: c.Kind, Key: c.Key, Data: c.Data})
	}
	for i := range file.Needs {
		back, err := s.bring(&file.Needs[i])
		if err != nil {
			return fail(Bad("%s: need %d, %s: %w", name, i+1, file.Needs[i].Name, err))
		}
		made = append(made, back)
	}
	for i := range file.Pictures {
		back, err := s.bringPicture(&file.Pictures[i], reel)
		if err != nil {
			return fail(Bad("%s: picture %d, %s: %w", name, i+1, file.Pictures[i].Name, err))
		}
		made = append(made, back)
	}
	var assets []*library.Asset
	for i := range file.Looks {
		a, err := lookAsset(file.Looks[i])
		if err != nil {
			return fail(Bad("%s: look %d, %q: %w", name, i+1, file.Looks[i].Name, err))
		}
		assets = append(assets, a)
	}
	if len(cards) > 0 {
		if err := s.lib.KeepCards(cards); err != nil {
			return fail(err)
		}
	}
	for _, a := range assets {
		if err := s.lib.SaveAsset(a); err != nil {
			return fail(err)
		}
	}
	s.tell(Event{Assets: true})
	return assets, nil
}

// bring brings something that a look needs into the library, unless it is there; the returned function takes it out again.
func (s *Assets) bring(n *LookNeed) (func(), error) {
	nothing := func() {}
	if !slices.Contains([]string{"stock", "table", "encoding", "grain"}, n.Kind) {
		return nothing, Bad("there is nothing of the kind %q", n.Kind)
	}
	list, err := s.lib.Assets()
	if err != nil {
		return nothing, err
	}
	for _, a := range list {
		if a.Key != n.Key {
			continue
		}
		if bytes.Equal(a.Data, n.Data) || a.Kind == "stock" { // a stock of another card goes by its digest
			return nothing, nil
		}
		return nothing, Bad("the library holds another %s of the name %s; take that out or name it otherwise, then load again", n.Kind, a.Name)
	}
	a := &library.Asset{Kind: n.Kind, Key: n.Key, Name: n.Name, File: filepath.Base(n.File), After: n.After, Data: n.Data}
	if err := sameKey(a); err != nil {
		return nothing, err
	}
	if err := s.keep(a); err != nil {
		return nothing, err
	}
	return func() { _ = s.RemoveAsset(a.ID) }, nil
}

// sameKey refuses an asset that would be known by another key than it says.
func sameKey(a *library.Asset) error {
	key := a.Key
	switch a.Kind {
	case "stock":
		c, err := film.ParseStock(a.Data)
		if err != nil {
			return err
		}
		if film.ShippedCard("stock", c.ID) != nil {
			return Bad("its id %s is that of a stock that ships", c.ID)
		}
		key = c.ID
	case "grain":
		c, err := noise.ParseCard(a.Data)
		if err != nil {
			return err
		}
		key = c.ID
	case "encoding":
		o, err := colour.ParseOwn(a.Data)
		if err != nil {
			return err
		}
		e, err := o.Encoding()
		if err != nil {
			return err
		}
		key = e.ID
	case "table":
		l, err := ReadTable(a.File, bytes.NewReader(a.Data))
		if err != nil {
			return err
		}
		_, key = tableName(a.File, l, a.Data, a.After)
	}
	if key != a.Key {
		return Bad("it is called %s, and is %s", a.Key, key)
	}
	return nil
}

var pictureName = regexp.MustCompile(`^pin-([0-9]{1,20})$`)

// bringPicture puts a still that mattes name on the pinboard, unless it is there.
func (s *Assets) bringPicture(p *LookPicture, reel uint) (func(), error) {
	nothing := func() {}
	m := pictureName.FindStringSubmatch(p.ID)
	ext := strings.ToLower(p.Ext)
	if m == nil || !slices.Contains([]string{".png", ".jpg", ".jpeg", ".tif", ".tiff", ".exr", ".dpx"}, ext) {
		return nothing, Bad("%q is no picture of a pinboard", p.ID+p.Ext)
	}
	pins, err := s.lib.Pins()
	if err != nil {
		return nothing, err
	}
	for i := range pins {
		if pictureID(&pins[i]) == p.ID {
			return nothing, nil
		}
	}
	if err := s.lib.HasReel(reel); err != nil {
		return nothing, err
	}
	dir := filepath.Join(s.dir, "pins")
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nothing, fmt.Errorf("the folder of pins: %w", err)
	}
	file := filepath.Join(dir, m[1]+ext)
	if err := os.WriteFile(file, p.Data, 0o644); err != nil {
		return nothing, fmt.Errorf("keeping it: %w", err)
	}
	pin := &library.Pin{ReelID: reel, Name: p.Name, Reference: true, File: file, Display: p.Display, White: p.White, Peak: p.Peak, Width: p.Width, Height: p.Height}
	if _, err := pinDisplay(pin); err != nil {
		os.Remove(file)
		return nothing, BadInput{err}
	}
	if err := s.savePin(pin); err != nil {
		os.Remove(file)
		return nothing, err
	}
	return func() { _ = s.RemovePin(pin.ID) }, nil
}

// lookAsset is a look as the library keeps it, checked.
func lookAsset(saved SavedLook) (*library.Asset, error) {
	name, err := nameOf("look", saved.Name)
	if err != nil {
		return nil, err
	}
	saved.Name = name
	if len([]rune(saved.Mood)) > mostName || len([]rune(saved.Note)) > mostNote || len(saved.Thumbnail) > 1<<20 {
		return nil, Bad("its mood, note or thumbnail is too long")
	}
	l, err := look.ParseLook(saved.Look)
	if err != nil {
		return nil, BadInput{err}
	}
	l.Name = name
	if saved.Look, err = l.Stored(); err != nil {
		return nil, err
	}
	data, err := json.Marshal(saved)
	if err != nil {
		return nil, err
	}
	key := strings.Trim(notWord.ReplaceAllString(strings.ToLower(name), "-"), "-")
	if len(key) > 40 {
		key = key[:40]
	}
	return &library.Asset{Kind: "look", Key: fmt.Sprintf("look:%s-%s", key, digest4(saved.Look)), Name: name, File: key + ".looks.json", Data: data}, nil
}

// savedLook is a look of the library.
func savedLook(a *library.Asset) (*SavedLook, *look.Look, error) {
	var saved SavedLook
	if err := json.Unmarshal(a.Data, &saved); err != nil {
		return nil, nil, fmt.Errorf("the look %s: %w", a.Name, err)
	}
	saved.Name = a.Name
	l, err := look.ParseStored(saved.Look)
	if err != nil {
		return nil, nil, fmt.Errorf("the look %s: %w", a.Name, err)
	}
	return &saved, l, nil
}
