package studio

import (
	"encoding/json"
	"fmt"
	"strings"

	"velours/core/cache"
	"velours/core/colour"
	"velours/core/look"
	"velours/library"
)

// parsedLooks are stored looks as they were parsed last; nobody changes them.
var parsedLooks = cache.Results[*look.Look]{Size: 1024}

// parse reads a stored look, to be looked at only.
func parse(doc string) (*look.Look, error) {
	return parsedLooks.Get(doc, func() (*look.Look, error) { return look.ParseStored([]byte(doc)) })
}

// forgetParsed has looks read anew: what can be read of them changes with what the library holds.
func forgetParsed() {
	readLooks.Clear()
	parsedLooks.Clear()
}

// levelsOf are the looks that make a shot's picture, to be looked at only. Those of above stand in place of the ones that
// are kept.
func (p *shared) levelsOf(shot *library.Shot, above map[look.Level]*look.Look) (v look.Levels, err error) {
	if v.Shot, err = parse(shot.Look); err != nil {
		return v, fmt.Errorf("the look of %s: %w", shot.Name, err)
	}
	if v.Reel = above[look.OfReel]; v.Reel == nil {
		reel, err := p.lib.ReelAlone(shot.ReelID)
		if err != nil {
			return v, err
		}
		if v.Reel, err = parse(reel.Look); err != nil {
			return v, fmt.Errorf("the look of the reel %s: %w", reel.Name, err)
		}
	}
	if v.Scene = above[look.OfScene]; v.Scene == nil && shot.SceneID != 0 {
		scene, err := p.lib.Scene(shot.SceneID)
		if err != nil {
			return v, err
		}
		if v.Scene, err = parse(scene.Look); err != nil {
			return v, fmt.Errorf("the look of the scene %s: %w", scene.Name, err)
		}
	}
	if shot.SceneID == 0 {
		v.Scene = nil
	}
	return v, nil
}

// lookOf is the whole look of a shot, over all levels, and its encoding as encodingOf has it.
func (p *shared) lookOf(shot *library.Shot) (*look.Look, *colour.Encoding, error) {
	v, err := p.levelsOf(shot, nil)
	if err != nil {
		return nil, nil, err
	}
	e, err := encodingOf(shot.Encoding)
	return v.Whole(), e, err
}

// OwnStations are the stations of a shot that could follow, and are its own.
func OwnStations(shot *library.Shot) []look.Station {
	own := []look.Station{}
	var follows []*bool
	if shot.Look == "" {
		if json.Unmarshal([]byte(shot.Follows), &follows) != nil {
			return own
		}
	}
	l, err := parse(shot.Look)
	for i, name := range library.FollowedStations {
		s := look.Station(name)
		switch {
		case i < len(follows) && follows[i] != nil && *follows[i]:
		case shot.Look != "" && (err != nil || l.IsFollowing(s)):
		default:
			own = append(own, s)
		}
	}
	return own
}

// Marked tells whether something of a shot's look is to be looked at again.
func Marked(shot *library.Shot) bool {
	return shot.Marked || strings.Contains(shot.Look, `"again":[`)
}

// TrialOf is the number of the trial of a shot that is in use, 0 for none.
func TrialOf(shot *library.Shot) int {
	if l, err := parse(shot.Look); shot.Look != "" && err == nil {
		return l.Trial
	}
	return shot.Trial
}

// owner is whose look a level of a shot is.
func owner(shot *library.Shot, of look.Level) (library.Owner, error) {
	switch of {
	case look.OfShot:
		return library.Owner{Of: library.ShotLook, ID: shot.ID}, nil
	case look.OfReel:
		return library.Owner{Of: library.ReelLook, ID: shot.ReelID}, nil
	}
	if shot.SceneID == 0 {
		return library.Owner{}, Bad("%s is in no scene; group shots into one first, or change the reel", shot.Name)
	}
	return library.Owner{Of: library.SceneLook, ID: shot.SceneID}, nil
}

// newReel is a reel whose house look is clean.
func newReel(name string) (*library.Reel, error) {
	doc, err := marshal(look.NewLook(""))
	return &library.Reel{Name: name, Look: doc}, err
}

// newScene is a scene that follows its reel.
func newScene(name string) (*library.Scene, error) {
	doc, err := marshal(look.Following(""))
	return &library.Scene{Name: name, Look: doc}, err
}
