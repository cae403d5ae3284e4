package steps

import (
	"fmt"

	"velours/core/look"
)

// inStation declares a correction, of which a station may have many.
func inStation(s look.Station, k *look.Kind) {
	k.Station, k.Repeatable = s, true
	look.Declare(k)
}

// inBalanceAndFinish declares a correction for scene light and for the finished picture.
func inBalanceAndFinish(kind func(s look.Station) *look.Kind) {
	inStation(look.Balance, kind(look.Balance))
	inStation(look.Finish, kind(look.Finish))
}

// dial is a number's setting.
func dial(id, label, unit string, lo, hi, usual, step float64, help string) look.Setting {
	return look.Setting{ID: id, Label: label, Unit: unit, Min: lo, Max: hi, Default: usual, Step: step, Help: help}
}

// fold puts a setting under a heading.
func fold(heading string, s look.Setting) look.Setting {
	s.Fold = heading
	return s
}

// travels gives a dial more travel at its low end, or about 0 where that lies within.
func travels(curve float64, s look.Setting) look.Setting {
	s.Curve = curve
	return s
}

// atRest is the reason of a kind whose numbers are all at their defaults.
func atRest(k *look.Kind, why string, but ...string) *look.Kind {
	k.NoEffect = func(v look.Values) string {
	settings:
		for i := range k.Settings {
			s := &k.Settings[i]
			for _, id := range but {
				if s.ID == id {
					continue settings
				}
			}
			if len(s.List()) == 0 && v[s.ID] != s.Initial() {
				return ""
			}
		}
		return "Resting: " + why + "."
	}
	return k
}

func join(lists ...[]look.Setting) []look.Setting {
	var out []look.Setting
	for _, l := range lists {
		out = append(out, l...)
	}
	return out
}

// noEffectAt is the reason of a kind whose settings all do nothing at a value.
func noEffectAt(why string, at float64, ids ...string) func(look.Values) string {
	return func(v look.Values) string {
		for _, id := range ids {
			if v.Number(id) != at {
				return ""
			}
		}
		return fmt.Sprintf("Resting: %s.", why)
	}
}
