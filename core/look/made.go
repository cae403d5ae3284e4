package look

import (
	_ "embed"
	"encoding/json"
	"maps"
	"strings"
)

// Process counts the changes of the light path that move pictures on purpose. A look keeps the number it was made
// under; an operation whose picture changes asks for it (render.Builder.Process) and goes on as before for older looks.
//
//	1  the first
//	2  stocks that ship have halation of their own: base, backing or undercoat, share of each layer
//	3  stocks that ship have characters of their own: new cards
//	4  layers of stocks that ship scatter light each by its own share; linked grain is neutral after printing, and the picture is made of it
const Process = 4

// Made is what a look needs beside its settings to be reproduced by a later program.
type Made struct {
	// Process is the number of the light path under which the look was made.
	Process int `json:"process"`
	// Stations are the numbers of stations that came from a look of another process.
	Stations map[Station]int `json:"stations,omitempty"`
	// Defaults are the values of settings that a step leaves out, by kind (station.kind), as they were when a step
	// of the kind came into the look; fixed kinds are among them.
	Defaults map[string]map[string]any `json:"defaults,omitempty"`
	// Cards are the digests of the stock and medium cards that the look names, as "stock id" or "medium id".
	Cards map[string]string `json:"cards,omitempty"`
}

// defaults1 are the defaults of all kinds as they were before looks kept theirs, in November 2026.
//
//go:embed defaults1.json
var defaults1 []byte

var firstDefaults = func() map[string]map[string]any {
	var d map[string]map[string]any
	if err := json.Unmarshal(defaults1, &d); err != nil {
		panic("look: defaults1.json: " + err.Error())
	}
	return d
}()

func (m *Made) clone() *Made {
	if m == nil {
		return nil
	}
	c := &Made{Process: m.Process, Stations: maps.Clone(m.Stations), Defaults: map[string]map[string]any{}, Cards: maps.Clone(m.Cards)}
	for k, v := range m.Defaults {
		c.Defaults[k] = maps.Clone(v)
	}
	return c
}

// check brings noted defaults to their own form, and drops those that nothing has any more.
func (m *Made) check() {
	if m.Process < 1 {
		m.Process = 1
	}
	maps.DeleteFunc(m.Stations, func(s Station, n int) bool { return s.Index() < 0 || n < 1 })
	for path, d := range m.Defaults {
		s, id, _ := strings.Cut(path, ".")
		k, err := FindKind(Station(s), id)
		if err != nil {
			delete(m.Defaults, path)
			continue
		}
		for id, v := range d {
			set := k.Setting(id)
			if set == nil {
				delete(d, id)
			} else if v, err := set.Check(v); err != nil {
				delete(d, id)
			} else {
				d[id] = v
			}
		}
	}
}

// processOf is the number of the light path under which a station was made.
func (m *Made) processOf(s Station) int {
	if n := m.Stations[s]; n > 0 {
		return n
	}
	return m.Process
}

// noteProcess notes it.
func (m *Made) noteProcess(s Station, process int) {
	delete(m.Stations, s)
	if process != m.Process {
		if m.Stations == nil {
			m.Stations = map[Station]int{}
		}
		m.Stations[s] = process
	}
	if len(m.Stations) == 0 {
		m.Stations = nil
	}
}

// ProcessOf is the number of the light path under which a station of the look was made.
func (l *Look) ProcessOf(s Station) int {
	if l.Made == nil {
		return Process
	}
	return l.Made.processOf(s)
}

// madeFirst is what a look was made with that does not say: it is of before looks were signed.
func (l *Look) madeFirst() *Made {
	m := &Made{Process: 1, Defaults: map[string]map[string]any{}}
	for _, k := range kinds {
		if d := firstDefaults[k.Path()]; d != nil && l.has(k) {
			m.Defaults[k.Path()] = maps.Clone(d)
		}
	}
	return m
}

// noteEarlier notes the cards of a look of an earlier process as they were for it: those it names, if it never noted any, and
// those it noted that are not known here. What it comes to name later is as it is then.
func (l *Look) noteEarlier(noted bool) {
	if l.Made.Process >= Process {
		return
	}
	l.Steps(func(k *Kind, p *Step) {
		for i := range k.Settings {
			r := k.Settings[i].Refers
			if r == nil || r.Earlier == nil {
				continue
			}
			id := l.Values(k, p).Choice(k.Settings[i].ID)
			key := r.Card + " " + id
			was := l.Made.Cards[key]
			if was == "" && noted {
				continue
			}
			if digest := r.Earlier(id, was, l.Made.Process); digest != was {
				if l.Made.Cards == nil {
					l.Made.Cards = map[string]string{}
				}
				l.Made.Cards[key] = digest
			}
		}
	})
}

// Sign notes what the look is made with: the defaults of kinds that have come into it and the cards it names, as they
// are now. What is noted already stays, so that the look goes on as it was made.
func (l *Look) Sign() {
	if l.Made == nil {
		l.Made = &Made{Process: Process}
	}
	m := l.Made
	if m.Defaults == nil {
		m.Defaults = map[string]map[string]any{}
	}
	if m.Cards == nil {
		m.Cards = map[string]string{}
	}
	named := map[string]bool{}
	l.Steps(func(k *Kind, p *Step) {
		if len(k.Settings) > 0 && m.Defaults[k.Path()] == nil && !l.IsFollowing(k.Station) {
			d := map[string]any{}
			for i := range k.Settings {
				d[k.Settings[i].ID] = l.initial(k, &k.Settings[i])
			}
			m.Defaults[k.Path()] = d
		}
		for i := range k.Settings {
			r := k.Settings[i].Refers
			if r == nil || r.Card == "" {
				continue
			}
			id := l.Values(k, p).Choice(k.Settings[i].ID)
			key := r.Card + " " + id
			named[key] = true
			if digest := r.Digest(id); m.Cards[key] == "" && digest != "" {
				m.Cards[key] = digest
			}
		}
	})
	maps.DeleteFunc(m.Cards, func(key, _ string) bool { return !named[key] })
}

// DigestFor is the digest that a card had when the look was made, empty for what is not noted.
func (l *Look) DigestFor(kind, id string) string {
	if l.Made == nil {
		return ""
	}
	return l.Made.Cards[kind+" "+id]
}

// initial is the value of a setting that a step of the look leaves out.
func (l *Look) initial(k *Kind, s *Setting) any {
	if l.Made != nil {
		if v, ok := l.Made.Defaults[k.Path()][s.ID]; ok {
			return v
		}
		for _, f := range s.Formerly {
			if l.Made.processOf(k.Station) < f.Process {
				return f.Default
			}
		}
	}
	return s.Initial()
}

// Settle writes into the steps what they leave out, where the default that they were made with is another today: so that
// who knows today's defaults alone reads the values that act.
func (l *Look) Settle() {
	l.Steps(func(k *Kind, p *Step) {
		for i := range k.Settings {
			s := &k.Settings[i]
			v := l.initial(k, s)
			if _, given := p.Settings[s.ID]; given || v == s.Initial() {
				continue
			}
			if own, err := l.Ensure(k.Station, p.Name()); err == nil { // a fixed kind may have no step yet
				own.Settings[s.ID] = v
			}
		}
	})
}

// Values are a step's settings with defaults filled in.
func (l *Look) Values(k *Kind, p *Step) Values {
	v := Values{}
	for i := range k.Settings {
		s := &k.Settings[i]
		x, ok := p.Settings[s.ID]
		if !ok {
			x = l.initial(k, s)
		}
		v[s.ID] = x
	}
	return v
}

// Reset puts a setting of a step back to the default there is now; with an empty setting, all of them.
func (l *Look) Reset(k *Kind, p *Step, setting string) {
	for i := range k.Settings {
		s := &k.Settings[i]
		if setting != "" && s.ID != setting {
			continue
		}
		delete(p.Settings, s.ID)
		if now := s.Initial(); l.initial(k, s) != now { // the look was made under another
			p.Settings[s.ID] = now
		}
	}
}
