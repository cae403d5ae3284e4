package look

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"sort"

	"velours/core/matte"
)

// Key is what settings are at a frame of the shot. Between keys they move smoothly, before the first and after the last they
// stay.
type Key struct {
	Frame    int            `json:"frame"`
	Settings map[string]any `json:"settings"`
}

// mostKeys bounds the keys of a shape or a step.
const mostKeys = 1000

func cloneKeys(list []*Key) []*Key {
	var out []*Key
	for _, k := range list {
		if k != nil { // one that is none is refused by a check
			k = &Key{k.Frame, maps.Clone(k.Settings)}
		}
		out = append(out, k)
	}
	return out
}

// checkKeys brings keyed settings to their own form; path names their owner.
func checkKeys(path string, declared []Setting, keys []*Key) error {
	if len(keys) > mostKeys {
		return fmt.Errorf("%s: %d keys are more than %d", path, len(keys), mostKeys)
	}
	for i, key := range keys {
		if key == nil || key.Frame < 0 || i > 0 && key.Frame <= keys[i-1].Frame {
			return fmt.Errorf("%s: its keys stand at frames that rise", path)
		}
		if key.Settings == nil {
			key.Settings = map[string]any{}
		}
		if err := CheckSettings(fmt.Sprintf("%s at frame %d", path, key.Frame), declared, key.Settings); err != nil {
			return err
		}
	}
	return nil
}

// keyedAt are settings at a frame: what a key leaves out is as given, or at its default.
func keyedAt(declared []Setting, given map[string]any, keys []*Key, frame int) map[string]any {
	frames := make([]int, len(keys))
	all := make([]Values, len(keys))
	for i, key := range keys {
		own := maps.Clone(given)
		if own == nil {
			own = map[string]any{}
		}
		maps.Copy(own, key.Settings)
		frames[i], all[i] = key.Frame, Filled(declared, own)
	}
	last := max(sort.SearchInts(frames, frame+1)-1, 0) // of the keys that have come
	out := map[string]any{}
	for _, s := range declared {
		out[s.ID] = all[last][s.ID]
		if s.Points != "" {
			out[s.ID] = movedPoints(frames, all, s.ID, frame, last)
		} else if len(s.List()) == 0 {
			v := make([]float64, len(all))
			for i := range all {
				v[i] = all[i].Number(s.ID)
			}
			out[s.ID] = matte.Between(frames, v, frame)
		}
	}
	return out
}

// movedPoints moves an outline point by point; outlines of different lengths change at once.
func movedPoints(frames []int, all []Values, id string, frame, last int) string {
	lines := make([][][2]float64, len(all))
	for i := range all {
		lines[i] = all[i].Points(id)
		if len(lines[i]) != len(lines[0]) {
			return all[last][id].(string)
		}
	}
	out := make([][2]float64, len(lines[0]))
	v := make([]float64, len(all))
	for k := range out {
		for axis := range 2 {
			for i := range lines {
				v[i] = lines[i][k][axis]
			}
			out[k][axis] = matte.Between(frames, v, frame)
		}
	}
	return writePoints(out)
}

// keyed are the settings of a kind that can be keyed.
func (k *Kind) keyed() []Setting {
	var out []Setting
	for _, s := range k.Settings {
		if slices.Contains(k.Keyed, s.ID) {
			out = append(out, s)
		}
	}
	return out
}

// ValuesAt are a step's settings at a frame of the shot, keys and all.
func (l *Look) ValuesAt(k *Kind, p *Step, frame int) Values {
	v := l.Values(k, p)
	if len(p.Keys) > 0 {
		maps.Copy(v, keyedAt(k.keyed(), v, p.Keys, frame))
	}
	return v
}

// setKey makes a frame a key of a step, with the settings that it has there and the values that are given.
func setKey(e *Edit, l *Look, k *Kind, p *Step) (string, error) {
	frame, err := e.frame()
	if err != nil {
		return "", err
	}
	if len(k.Keyed) == 0 {
		return "", fmt.Errorf("%s has nothing that moves over frames", k.Path())
	}
	at := slices.IndexFunc(p.Keys, func(q *Key) bool { return q.Frame == frame })
	if at < 0 {
		now, own := l.ValuesAt(k, p, frame), map[string]any{}
		for _, id := range k.Keyed {
			own[id] = now[id]
		}
		at = slices.IndexFunc(p.Keys, func(q *Key) bool { return q.Frame > frame })
		if at < 0 {
			at = len(p.Keys)
		}
		p.Keys = slices.Insert(p.Keys, at, &Key{frame, own})
	}
	maps.Copy(p.Keys[at].Settings, e.Values)
	p.On, l.Station(k.Station).On = true, true
	return "Key of " + k.Called(p), nil
}

// removeKey takes the key at a frame away; of the last one the settings stay as they were there.
func removeKey(e *Edit, _ *Look, k *Kind, p *Step) (string, error) {
	frame, err := e.frame()
	if err != nil {
		return "", err
	}
	at := slices.IndexFunc(p.Keys, func(q *Key) bool { return q.Frame == frame })
	if at < 0 {
		return "", fmt.Errorf("%s has no key at frame %d", k.Path(), frame)
	}
	if len(p.Keys) == 1 {
		maps.Copy(p.Settings, p.Keys[0].Settings)
	}
	p.Keys = slices.Delete(p.Keys, at, at+1)
	return "Key of " + k.Called(p), nil
}

func (e *Edit) frame() (int, error) {
	v, ok := e.Value.(float64)
	if !ok || v != float64(int(v)) || v < 0 {
		return 0, errors.New("a key stands at a frame, counted from 0")
	}
	return int(v), nil
}
