package look

import (
	"fmt"
	"maps"
	"slices"
)

// Flat is Whole as a look that stands for itself, with names as any look has them; left are the steps that it cannot hold,
// of which a station takes one.
func (v Levels) Flat() (flat *Look, left []string) {
	w := v.Whole()
	flat = w.Clone()
	flat.Mattes, flat.Trial = nil, 0
	renamed := map[string]string{}
	for _, name := range slices.Sorted(maps.Keys(w.Mattes)) {
		free := nearName(name)
		for n := 2; flat.Mattes[free] != nil || free != name && w.Mattes[free] != nil; n++ {
			free = fmt.Sprintf("%s %d", nearName(name), n)
		}
		flat.SetMatte(free, w.Mattes[name].Clone())
		renamed[name] = free
	}
	for _, s := range Stations {
		st := flat.Stations[s]
		if st == nil {
			continue
		}
		kept := st.Steps
		st.Steps = []*Step{}
		flat.flattenGroups(st, kept, renamed)
		for _, own := range []bool{true, false} { // names of the shot's own stay
			for _, p := range kept {
				if (p.Level == "") != own {
					continue
				}
				if p.Matte != nil {
					name := renamed[*p.Matte]
					p.Matte = &name
				}
				if !own {
					k, err := FindKind(s, p.Kind)
					if err != nil || !k.Repeatable && flat.Step(s, p.Kind) != nil {
						left = append(left, flat.Called(s, p))
						continue
					}
					p.ID, p.Level = flat.free(s, p.Kind), ""
				}
				st.Steps = append(st.Steps, p)
			}
		}
	}
	return flat, left
}

// flattenGroups gives the groups of a station, and the steps in them, names without a level, and mattes as they are called now.
func (l *Look) flattenGroups(st *StationInLook, steps []*Step, mattes map[string]string) {
	was := st.Groups
	st.Groups = nil
	renamed := map[string]string{}
	for _, name := range slices.Sorted(maps.Keys(was)) {
		g := was[name]
		if g.Matte != nil {
			to := mattes[*g.Matte]
			g.Matte = &to
		}
		to := nearName(name)
		for n := 2; st.Groups[to] != nil || to != name && was[to] != nil; n++ {
			to = fmt.Sprintf("group-%d", n)
		}
		st.setGroup(to, g)
		renamed[name] = to
	}
	for _, p := range steps {
		p.Group = renamed[p.Group]
	}
}

// nearName is a name without the level before it.
func nearName(name string) string {
	for _, of := range upwards {
		if n := len(of) + 1; len(name) > n && name[:n] == string(of)+":" {
			return name[n:]
		}
	}
	return name
}
