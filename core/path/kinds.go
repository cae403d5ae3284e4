package path

func init() {
	declare(encodingKind, compressKind, reframeKind)
	declare(exposureKind, whiteKind, pointsKind)
	declare(corrections(Balance)...)
	declare(bloomKind, vignetteKind)
	declare(stockKind, gaugeKind, halationKind, sharpnessKind, grainKind)
	declare(mediumKind, tableKind, lightsKind, filtrationKind)
	declare(displayKind, toneKind)
	declare(corrections(Finish)...)
	declare(overallKind)
}

// corrections are the kinds that correct tone, colour and texture, for a station: those that need scene light
// are left out of the finish.
func corrections(s Station) []*Kind {
	borders := [4]float64{-5.5, -2.5, 0.8, 2.8}
	if s == Finish { // a display has no more than two and a half stops above grey
		borders = [4]float64{-4.5, -2, 0.3, 1.5}
	}
	all := []*Kind{
		primariesKind(), cdlKind(), zonesKind(borders), contrastKind(), curveKind(), levelsKind(), rollOffKind(), floorKind(),
		familiesKind(), saturationKind(), keepKind(), splitKind(), crosstalkKind(), remapKind(), skinKind(), monoKind(),
		textureKind(), softenKind(), sharpenKind(), patchKind(),
	}
	var out []*Kind
	for _, k := range all {
		if s == Finish && (k.ID == "crosstalk" || k.ID == "remap") {
			continue
		}
		k.Station, k.Many = s, true
		out = append(out, k)
	}
	return out
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

var channels = []struct{ id, label string }{{"red", "Red"}, {"green", "Green"}, {"blue", "Blue"}}

// triple is one dial for each channel, in a row.
func triple(id, label, unit string, lo, hi, usual, step float64, help string) []Setting {
	var out []Setting
	for _, c := range channels {
		s := dial(id+"-"+c.id, label+" "+c.label, unit, lo, hi, usual, step, help)
		s.Group, s.Column = label, c.label
		out = append(out, s)
	}
	return out
}

func (v values) triple(id string) [3]float64 {
	var t [3]float64
	for i, c := range channels {
		t[i] = v.number(id + "-" + c.id)
	}
	return t
}

// atRest is the reason of a kind whose numbers are all at their defaults.
func atRest(k *Kind, why string, but ...string) *Kind {
	k.Still = func(v values) string {
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
