package look

import (
	"fmt"
	"slices"
	"strings"
)

// Part is a part of a look that can be carried over to another by itself.
type Part string

// The parts. Framing, cleaning and the screen go along only where they are asked for; the declared encoding and the camera
// gamut's step, which are no settings of a look, never do.
const (
	PartBalance  Part = "balance"
	PartLens     Part = "lens"
	PartFilm     Part = "film"
	PartPrint    Part = "print"
	PartFinish   Part = "finish"
	PartMattes   Part = "mattes" // steps that act in a matte, with it; without this part they stay behind
	PartFraming  Part = "framing"
	PartCleaning Part = "cleaning"
	PartScreen   Part = "screen"
)

// PartInfo names a part, for the screen.
type PartInfo struct {
	ID    Part   `json:"id"`
	Label string `json:"label"`
	Note  string `json:"note"`
	// Usual parts go along unless they are left out.
	Usual bool `json:"usual"`
}

// Parts lists all parts.
var Parts = []PartInfo{
	{PartBalance, "Balance", "what makes the shot natural: exposure, white balance, corrections", true},
	{PartLens, "Lens", "diffusion, bloom, vignette", true},
	{PartFilm, "Film", "stock, gauge, halation, grain", true},
	{PartPrint, "Print", "medium, lights, filtration", true},
	{PartFinish, "Finish", "last corrections, overall strength", true},
	{PartMattes, "Mattes", "steps that act in a matte, and the mattes", true},
	{PartFraming, "Framing", "how the shot is cut and turned: it rarely suits another", false},
	{PartCleaning, "Cleaning", "noise and fringes taken out", false},
	{PartScreen, "Screen", "the display and the neutral scale", false},
}

// UnmarshalText reads a part's name.
func (p *Part) UnmarshalText(text []byte) error {
	*p = Part(text)
	var ids []string
	for _, q := range Parts {
		if q.ID == *p {
			return nil
		}
		ids = append(ids, string(q.ID))
	}
	return fmt.Errorf("there is no part %q to carry over; there are %s", text, strings.Join(ids, ", "))
}

// carried are the stations of the parts; which kinds of intake are of one they say themselves (Kind.Carried).
var carried = map[Part]Station{PartBalance: Balance, PartLens: Lens, PartFilm: Negative, PartPrint: Print, PartFinish: Finish, PartScreen: Screen, PartFraming: Intake, PartCleaning: Intake}

// Carries tells whether steps of a kind are of a part.
func (p Part) Carries(k *Kind) bool {
	return carried[p] == k.Station && (k.Station != Intake || k.Carried == p)
}

// Carry takes parts, or single steps, of one look over to others.
type Carry struct {
	Parts []Part     `json:"parts,omitempty"`
	Steps []StepPath `json:"steps,omitempty"`
	// Add puts what comes after what is there, where a station can hold both; else it takes its place.
	Add bool `json:"add,omitempty"`
}

// picks tells whether a step goes along. Of single steps all go, their mattes with them.
func (c *Carry) picks(from *Look, k *Kind, p *Step) bool {
	if slices.Contains(c.Steps, StepPath{k.Station, p.Name()}) {
		return true
	}
	if from.covered(k.Station, p) && !slices.Contains(c.Parts, PartMattes) {
		return false
	}
	return slices.ContainsFunc(c.Parts, func(q Part) bool { return q.Carries(k) })
}

// whole tells whether a station is carried as a part: what it has in the other look goes then, unless steps are added.
func (c *Carry) whole(k *Kind) bool {
	return slices.ContainsFunc(c.Parts, func(q Part) bool { return q.Carries(k) })
}

// To carries from one look over to another, and returns the other as it is then. Of a station that follows in from, follow returns
// the look that it follows, which is copied then, or nil for the other to follow too. Values that depend on the picture are marked
// (Step.Again).
func (c *Carry) To(to, from *Look, follow func(s Station) *Look) (*Look, error) {
	out := to.Clone()
	for _, s := range Stations {
		if err := c.station(out, from, s, follow); err != nil {
			return nil, err
		}
	}
	if c.carriesTreatment(from) {
		out.Treatment = nil
		if t := from.Treatment; t != nil {
			out.Treatment = &Treatment{t.On, t.Strength}
		}
	}
	return out, out.Check()
}

// carriesTreatment tells whether the switch and strength of the treatment go along: where all that they are of does.
func (c *Carry) carriesTreatment(from *Look) bool {
	some := false
	for p, s := range carried {
		if !s.Treats() {
			continue
		}
		has := slices.Contains(c.Parts, p)
		if st := from.Stations[s]; !has && st != nil && (len(st.Steps) > 0 || st.Follows) {
			return false
		}
		some = some || has
	}
	return some && !c.Add
}

func (c *Carry) station(out, from *Look, s Station, follow func(s Station) *Look) error {
	asked := slices.ContainsFunc(kinds, func(k *Kind) bool { return k.Station == s && c.whole(k) })
	single := slices.ContainsFunc(c.Steps, func(p StepPath) bool { return p.Station == s })
	if !asked && !single {
		return nil
	}
	if from.IsFollowing(s) {
		home := follow(s)
		if home == nil {
			if !asked {
				return nil
			}
			next, err := out.Follow(s)
			if err != nil {
				return err
			}
			*out = *next
			return nil
		}
		from = home
	}
	src := from.Stations[s]
	if src == nil {
		src = &StationInLook{On: true, Strength: 1}
	}
	was := out.Stations[s]
	if was != nil && was.Follows { // what comes is its own
		was = nil
	}
	dst := &StationInLook{On: true, Strength: 1}
	if was != nil {
		dst = was
	}
	out.Stations[s] = dst
	replaced := asked && !c.Add
	if replaced {
		// what is of no part that is asked for stays, and so do steps in mattes if mattes do not come: they are this picture's
		dst.Steps = slices.DeleteFunc(dst.Steps, func(p *Step) bool {
			k, err := FindKind(s, p.Kind)
			return err == nil && c.whole(k) && (!out.covered(s, p) || slices.Contains(c.Parts, PartMattes))
		})
		if s != Intake {
			dst.On, dst.Strength = src.On, src.Strength
		}
		out.madeAs(s, from)
	}
	groups := map[string]string{} // names there and here
	for _, p := range src.Steps {
		k, err := FindKind(s, p.Kind)
		if err != nil || !c.picks(from, k, p) || !k.travels() {
			continue
		}
		q := p.Clone()
		q.Group = ""
		if g := src.GroupOf(p); g != nil && asked { // single steps leave theirs
			if groups[p.Group] == "" {
				groups[p.Group] = dst.freeGroup()
				g = g.Clone()
				g.Matte = out.matteFrom(g.Matte, from, "")
				dst.setGroup(groups[p.Group], g)
			}
			q.Group = groups[p.Group]
		}
		if err := out.carryStep(k, q, from, c.Add, dst); err != nil {
			return err
		}
	}
	return nil
}

// covered tells whether a step acts in a matte, its own or its group's.
func (l *Look) covered(s Station, p *Step) bool {
	g := l.Stations[s].GroupOf(p)
	return p.Matte != nil || g != nil && g.Matte != nil
}

// travels tells whether steps of a kind may go to another shot at all.
func (k *Kind) travels() bool { return k.Station != Intake || k.Carried != "" }

// carryStep brings one step. beside puts it after one of its name, where a station can hold both; else it takes that one's place.
func (l *Look) carryStep(k *Kind, p *Step, from *Look, beside bool, st *StationInLook) error {
	q := p.Clone()
	q.Level = ""
	l.bringMatte(q, from, "")
	l.settleAs(k.Station, q, from)
	q.Again = l.ofPicture(k, q)
	have := l.Step(k.Station, p.Name())
	switch {
	case have == nil:
		q.ID = p.ID
		st.Steps = append(st.Steps, q)
	case beside && k.Repeatable:
		q.ID = l.free(k.Station, k.ID)
		st.Steps = append(st.Steps, q)
	default:
		q.ID = have.ID
		*have = *q
	}
	return nil
}

// OfPicture are the settings of a kind that depend on the picture they were made on: exposures, tones at which something
// begins or ends, places.
func (k *Kind) OfPicture() []string {
	list := slices.Clone(k.Pictured)
	if k.Range != nil {
		list = append(list, k.Range.Low)
		if k.Range.High != "" {
			list = append(list, k.Range.High)
		}
	}
	return list
}

// Again marks what of a step is to be looked at again.
const (
	AgainMatte = "matte" // where it acts
	AgainKeys  = "keys"  // what moves over frames
)

// ofPicture are the settings of a step that depend on the picture and are not at their defaults; with them its matte, and its keys.
func (l *Look) ofPicture(k *Kind, p *Step) []string {
	var list []string
	for _, id := range k.OfPicture() {
		if v, ok := p.Settings[id]; ok && v != l.initial(k, k.Setting(id)) {
			list = append(list, id)
		}
	}
	if len(p.Keys) > 0 {
		list = append(list, AgainKeys)
	}
	if p.Matte != nil {
		if m := l.Mattes[*p.Matte]; m != nil && len(m.Parts) > 0 {
			list = append(list, AgainMatte)
		}
	}
	return list
}

// seen takes marks away from a step: of settings, or with none all.
func (p *Step) seen(settings ...string) {
	if len(settings) == 0 {
		p.Again = nil
		return
	}
	p.Again = slices.DeleteFunc(p.Again, func(id string) bool { return slices.Contains(settings, id) })
	if len(p.Again) == 0 {
		p.Again = nil
	}
}

// MarksOf are the steps of a look with something to be looked at again.
func (l *Look) MarksOf() map[StepPath][]string {
	out := map[StepPath][]string{}
	for s, st := range l.Stations {
		for _, p := range st.Steps {
			if len(p.Again) > 0 {
				out[StepPath{s, p.Name()}] = slices.Clone(p.Again)
			}
		}
	}
	return out
}

// checkAgain drops marks of what a kind does not have.
func (p *Step) checkAgain(k *Kind) {
	p.Again = slices.DeleteFunc(p.Again, func(id string) bool { return id != AgainMatte && id != AgainKeys && k.Setting(id) == nil })
	if len(p.Again) == 0 {
		p.Again = nil
	}
}

// Unmark takes all marks away.
func (l *Look) Unmark() {
	for _, st := range l.Stations {
		for _, p := range st.Steps {
			p.Again = nil
		}
	}
}

// Weaker is the look at a strength from 0 to 1. In balance what leads a step goes towards its default, so that steps stay
// whole; stations after it act by that share of their strength.
func (l *Look) Weaker(strength float64) *Look {
	c := l.Clone()
	if strength == 1 {
		return c
	}
	for s, st := range c.Stations {
		switch s {
		case Balance:
			for _, p := range st.Steps {
				k, err := FindKind(s, p.Kind)
				if err != nil {
					continue
				}
				if len(k.Lead) == 0 || len(p.Keys) > 0 {
					p.Strength *= strength
					continue
				}
				v := c.Values(k, p)
				for _, id := range k.Lead {
					set := k.Setting(id)
					if x, ok := v[id].(float64); ok {
						rest, _ := set.Initial().(float64)
						p.Settings[id] = rest + strength*(x-rest)
					}
				}
			}
		case Lens, Negative, Print, Finish:
			st.Strength *= strength
		}
	}
	return c
}
