package path

import (
	"math"

	"velours/core/grade"
)

// byChoices say what a tone scale goes by.
var byChoices = []Choice{
	{ID: "brightness", Label: "Brightness", Note: "Hue and saturation stay"},
	{ID: "channels", Label: "Channels", Note: "Colours grow stronger where it is steep, as on film"},
}

func by(v values) grade.By {
	if v.choice("by") == "channels" {
		return grade.ByChannels
	}
	return grade.ByBrightness
}

var bySetting = Setting{ID: "by", Label: "Goes by", Choices: byChoices, Help: "Brightness keeps hue and saturation; channels let both follow, as film does."}

func primariesKind() *Kind {
	k := &Kind{
		ID: "primaries", Label: "Primaries", Mixes: true, Editor: "grid", Shelf: "Tone",
		Lead:    leads("lift", "gamma", "gain", "offset"),
		Purpose: "Lift, gamma, gain and offset of each channel: dark, middle and bright parts, and all together.",
		Settings: join(
			triple("lift", "Lift", "of white", -0.5, 0.5, 0, 0.002, "Moves the dark end and leaves white. Take a cast out of the blacks here, watching the feet of the parade."),
			triple("gamma", "Gamma", "power", 0.25, 4, 1, 0.005, "Bends the middle and leaves black and white. Above 1 is brighter."),
			triple("gain", "Gain", "×", 0, 4, 1, 0.005, "Multiplies light: moves the bright end most and leaves black."),
			triple("offset", "Offset", "of white", -0.2, 0.2, 0, 0.0005, "Adds light to all tones alike, 1 for white. Below 0 takes haze away."),
		),
		grade: func(v values) grade.Op {
			return &grade.Primaries{Lift: v.triple("lift"), Gamma: v.triple("gamma"), Gain: v.triple("gain"), Offset: v.triple("offset")}
		},
	}
	return atRest(k, "all at rest, nothing moves")
}

func leads(ids ...string) []string {
	var out []string
	for _, id := range ids {
		for _, c := range channels {
			out = append(out, id+"-"+c.id)
		}
	}
	return out
}

func cdlKind() *Kind {
	k := &Kind{
		ID: "cdl", Label: "CDL", Mixes: true, Editor: "grid", Shelf: "Tone",
		Purpose: "The correction of the ASC, for values that come from the set or go to others: slope, offset and power, then saturation.",
		Settings: join(
			[]Setting{{ID: "on", Label: "Acts on", Choices: []Choice{{ID: "acescct", Label: "ACEScct codes"}, {ID: "light", Label: "Linear light"}}, Help: "What the numbers were made for. On set it is mostly log."}},
			triple("slope", "Slope", "×", 0, 4, 1, 0.005, "Multiplies."),
			triple("offset", "Offset", "of 1", -1, 1, 0, 0.001, "Adds, after the slope."),
			triple("power", "Power", "power", 0.1, 4, 1, 0.005, "Bends, after slope and offset. Below 1 is brighter."),
			[]Setting{
				dial("saturation", "Saturation", "×", 0, 4, 1, 0.01, "With the weights of BT.709, after all else."),
				{ID: "clamp", Label: "Values", Choices: []Choice{{ID: "free", Label: "Free"}, {ID: "held", Label: "Held to 0…1"}}, Help: "The standard holds values to 0…1, which cuts lights off on linear light. Free lets them pass."},
			},
		),
		grade: func(v values) grade.Op {
			return &grade.CDL{Slope: v.triple("slope"), Offset: v.triple("offset"), Power: v.triple("power"), Saturation: v.number("saturation"), Log: v.choice("on") == "acescct", Clamp: v.choice("clamp") == "held"}
		},
	}
	atRest(k, "all at rest, nothing moves")
	free := k.Still
	k.Still = func(v values) string {
		if v.choice("clamp") == "held" {
			return ""
		}
		return free(v)
	}
	return k
}

// zoneNames are the five zones, dark to bright.
var zoneNames = []struct{ id, label string }{{"black", "Black"}, {"shadow", "Shadow"}, {"mid", "Mid"}, {"light", "Light"}, {"white", "White"}}

func zonesKind(borders [4]float64) *Kind {
	k := &Kind{
		ID: "zones", Label: "Zones", Mixes: true, Editor: "zones", Shelf: "Tone",
		Purpose: "Five zones of the tone scale, each with its level and its tint. Brighter stays brighter, whatever the levels.",
	}
	for _, z := range zoneNames {
		row := []Setting{
			dial(z.id+"-level", z.label+" level", "stops", -3, 3, 0, 0.02, "Lifts or lowers the zone."),
			dial(z.id+"-warm", z.label+" warm", "stops", -1, 1, 0, 0.01, "Red against blue: right is warmer."),
			dial(z.id+"-green", z.label+" green", "stops", -1, 1, 0, 0.01, "Green against red and blue: up is greener, down more magenta."),
		}
		for i, column := range []string{"Level", "Warm", "Green"} {
			row[i].Group, row[i].Column = z.label, column
			k.Lead = append(k.Lead, row[i].ID)
		}
		k.Settings = append(k.Settings, row...)
	}
	for i, at := range borders {
		s := dial("border-"+string(rune('1'+i)), zoneNames[i].label+" ends", "stops", -10, 8, at, 0.05, "Where "+zoneNames[i].label+" passes into "+zoneNames[i+1].label+", in stops from mid grey.")
		s.Group = "Borders"
		k.Settings = append(k.Settings, s)
	}
	k.Settings = append(k.Settings, dial("softness", "Softness", "stops", 0.5, 6, 2.2, 0.05, "How many stops it takes from one zone into the next. Narrow borders show in skies."))
	k.grade = func(v values) grade.Op { return v.zones().Op() }
	return atRest(k, "all levels and tints at 0", "border-1", "border-2", "border-3", "border-4", "softness")
}

func (v values) zones() *grade.Zones {
	z := &grade.Zones{Softness: v.number("softness")}
	for i, n := range zoneNames {
		z.Level[i], z.Warm[i], z.Green[i] = v.number(n.id+"-level"), v.number(n.id+"-warm"), v.number(n.id+"-green")
	}
	last := math.Inf(-1)
	for i := range z.Borders {
		last = max(last, v.number("border-"+string(rune('1'+i))))
		z.Borders[i] = last
	}
	return z
}

func contrastKind() *Kind {
	return &Kind{
		ID: "contrast", Label: "Contrast", Mixes: true, Shelf: "Tone", Lead: []string{"amount"}, Still: still("at 100 % every tone stays", 100, "amount"),
		Purpose: "Draws tones apart or together about a pivot, with soft ends.",
		Settings: []Setting{
			dial("amount", "Contrast", "%", 30, 250, 100, 1, "Above 100 draws tones apart. A print adds contrast of its own: stay near 100 before the film."),
			dial("pivot", "Pivot", "stops", -5, 4, 0, 0.05, "The tone that stays, in stops from mid grey. Set it on skin, and faces keep their brightness."),
			dial("toe", "Soft shadows", "%", 0, 100, 50, 1, "How soon it fades below the pivot: at 100 within two stops, at 0 never."),
			dial("shoulder", "Soft lights", "%", 0, 100, 50, 1, "How soon it fades above the pivot: at 100 within two stops, at 0 never."),
			bySetting,
		},
		grade: func(v values) grade.Op {
			c := grade.Contrast{Slope: v.number("amount") / 100, Pivot: v.number("pivot"), Toe: v.number("toe") / 100, Shoulder: v.number("shoulder") / 100}
			return grade.NewTone(by(v), c.Gain)
		},
	}
}

func curveKind() *Kind {
	line := func(id, label, help string) Setting {
		return Setting{ID: id, Label: label, Unit: "stops", Points: "curve", Min: -12, Max: 10, Help: help}
	}
	k := &Kind{
		ID: "curve", Label: "Tone curve", Mixes: true, Editor: "curve", Shelf: "Tone",
		Purpose: "Redraws the tone scale through points, in stops in and stops out. It never turns back between them.",
		Settings: []Setting{
			bySetting,
			line("all", "All", "The curve of all channels. Press on it to add a point; drag to move, Delete to take it away."),
			line("red", "Red", "A curve of red alone, after that of all."),
			line("green", "Green", "A curve of green alone, after that of all."),
			line("blue", "Blue", "A curve of blue alone, after that of all."),
		},
		grade: func(v values) grade.Op {
			all := grade.NewTone(by(v), grade.Through(v.points("all")))
			if v["red"] == "" && v["green"] == "" && v["blue"] == "" {
				return all
			}
			own := grade.NewTones(grade.ByChannels, [3]func(float64) float64{grade.Through(v.points("red")), grade.Through(v.points("green")), grade.Through(v.points("blue"))})
			return grade.Chain{all, own}
		},
	}
	return atRest(k, "a curve without points is straight")
}

func levelsKind() *Kind {
	return &Kind{
		ID: "levels", Label: "Levels", Mixes: true, Editor: "levels", Shelf: "Tone", Lead: []string{"black", "white", "mid"}, Still: still("all at 0, the ends stay", 0, "black", "white", "mid"),
		Purpose: "Puts the darkest, the middle and the brightest tone where they should be, by the frame's own histogram.",
		Settings: []Setting{
			dial("black", "Black", "% light", -5, 20, 0, 0.05, "The light that becomes black. Haze is light added everywhere: put this at its foot."),
			dial("mid", "Mid", "stops", -2, 2, 0, 0.02, "Where mid grey goes if the ends stay."),
			dial("white", "White", "stops", -4, 4, 0, 0.05, "The light that becomes a white sheet, in stops from one."),
		},
		grade: func(v values) grade.Op {
			return &grade.Levels{Black: v.number("black") / 100, White: max(math.Exp2(v.number("white")), v.number("black")/100+0.01), Mid: v.number("mid")}
		},
	}
}

func rollOffKind() *Kind {
	return &Kind{
		ID: "rolloff", Label: "Roll-off", Mixes: true, Shelf: "Tone", Lead: []string{"amount"}, Still: still("at 0 % lights stay", 0, "amount"), Wants: "light",
		Purpose:  "Holds the brightest parts back, so that skies and windows keep detail. Hue stays: all channels follow the strongest.",
		Begin:    map[string]any{"amount": 40.0},
		Settings: []Setting{dial("knee", "Knee", "stops", -1, 6, 2, 0.05, "Where it begins, in stops from mid grey. A white sheet is at +2.3."), dial("amount", "Amount", "%", 0, 100, 0, 1, "How firmly it holds: at 100, four stops above the knee become one and a third. Film has a shoulder of its own; a little is enough.")},
		grade: func(v values) grade.Op {
			o := grade.RollOff{Knee: v.number("knee"), Amount: v.number("amount") / 100}
			return grade.NewTone(grade.ByStrongest, o.Gain)
		},
	}
}

func floorKind() *Kind {
	return &Kind{
		ID: "floor", Label: "Black floor", Mixes: true, Shelf: "Tone", Lead: []string{"floor", "clean"}, Still: still("no floor and nothing cleaned", 0, "floor", "clean"),
		Purpose: "Cleans the deepest tones of a cast, and lifts black to a floor.",
		Settings: []Setting{
			dial("clean", "Clean", "%", 0, 100, 0, 1, "How much colour the deepest tones lose. Blacks with a cast show first in the parade."),
			dial("below", "Below", "stops", -10, 0, -5, 0.1, "Tones under this are cleaned, fading over two stops above."),
			dial("floor", "Floor", "% light", 0, 3, 0, 0.01, "The light that black keeps. Half a per cent gives the depth of a print on a lit screen."),
		},
		grade: func(v values) grade.Op {
			return (&grade.Floor{Level: v.number("floor") / 100, Clean: v.number("clean") / 100, Below: v.number("below")}).Op()
		},
	}
}
