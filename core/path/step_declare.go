package path

import "fmt"

// inStation declares a correction, of which a station may have many.
func inStation(s Station, k *Kind) {
	k.Station, k.Many = s, true
	Declare(k)
}

// inBalanceAndFinish declares a correction for scene light and for the finished picture.
func inBalanceAndFinish(kind func(s Station) *Kind) {
	inStation(Balance, kind(Balance))
	inStation(Finish, kind(Finish))
}

// dial is a number's setting.
func dial(id, label, unit string, lo, hi, usual, step float64, help string) Setting {
	return Setting{ID: id, Label: label, Unit: unit, Min: lo, Max: hi, Default: usual, Step: step, Help: help}
}

// fold puts a setting under a heading.
func fold(heading string, s Setting) Setting {
	s.Fold = heading
	return s
}

// atRest is the reason of a kind whose numbers are all at their defaults.
func atRest(k *Kind, why string, but ...string) *Kind {
	k.Still = func(v Values) string {
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

func join(lists ...[]Setting) []Setting {
	var out []Setting
	for _, l := range lists {
		out = append(out, l...)
	}
	return out
}

// still is the reason of a kind whose settings all do nothing at a value.
func still(why string, at float64, ids ...string) func(Values) string {
	return func(v Values) string {
		for _, id := range ids {
			if v.Number(id) != at {
				return ""
			}
		}
		return fmt.Sprintf("Resting: %s.", why)
	}
}
