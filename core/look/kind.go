package look

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// Setting declares one value of a kind: what the desk shows, what the command line takes, and
// what is allowed.
type Setting struct {
	ID      string   `json:"id"`
	Label   string   `json:"label"`
	Unit    string   `json:"unit,omitempty"`
	Min     float64  `json:"min"`
	Max     float64  `json:"max"`
	Default float64  `json:"default"`
	Step    float64  `json:"step,omitempty"`
	Choices []Choice `json:"choices,omitempty"`
	// Live, if set, gives the choices there are now; List is either.
	Live func() []Choice `json:"-"`
	// Refers, for a setting that names something with contents of its own, says how to tell what that is.
	Refers *Reference `json:"-"`
	// Names are words that stand for numbers, as "intact" for 100.
	Names map[string]float64 `json:"names,omitempty"`
	// Curve above 1 gives a slider more travel at the low end, or about 0 where that lies within.
	Curve float64 `json:"curve,omitempty"`
	Help  string  `json:"help"`
	// Points lets the setting be a line through points, as text: x:y pairs, between spaces. "curve" has its x
	// rise and its y not fall, both from Min to Max; "outline" goes around a shape. Empty is none.
	Points string `json:"points,omitempty"`
	// Kelvin, if set, is where in mired the scale's 0 lies, for a reading beside it.
	Kelvin float64 `json:"kelvin,omitempty"`
	// Group puts settings together that the desk shows as one row, and Column says where in it.
	Group  string `json:"group,omitempty"`
	Column string `json:"column,omitempty"`
	// Only holds the choices of the kind's first setting under which this one matters; empty for all.
	Only []string `json:"only,omitempty"`
	// Pick, if set, lets the setting be read off a place of the picture: its "hue" or its "stops" from mid grey; with a hue,
	// PickTint names the setting that says how much of it, which is then as strong as the colour there.
	Pick     string `json:"pick,omitempty"`
	PickTint string `json:"pickTint,omitempty"`
	// Formerly are defaults of before: of looks of an earlier process that did not note theirs.
	Formerly []Former `json:"-"`
	// Away is what is said while the setting is away from its default.
	Away string `json:"away,omitempty"`
	// Fold puts a setting with others under a heading that the desk keeps closed until it is wanted.
	Fold string `json:"fold,omitempty"`
}

// Former is the default of a setting for looks of less than a process.
type Former struct {
	Process int
	Default any
}

// Reference is to what a setting names: an encoding, a card, a table.
type Reference struct {
	// Key tells what an id stands for, by its contents: of now, or where there is a digest, of then.
	Key func(id, digest string) string
	// Card, if set, is the sort of card that it names; looks note the digest that it has.
	Card   string
	Digest func(id string) string
	// Earlier is the digest by which a look of an earlier process goes on with it, from the one that the look noted, "" for
	// none; nil for cards that never changed.
	Earlier func(id, noted string, process int) string
}

// List is what a setting that is chosen can be, nothing for one that is dialled.
func (s *Setting) List() []Choice {
	if s.Live != nil {
		return s.Live()
	}
	return s.Choices
}

// MarshalJSON writes the choices there are now.
func (s Setting) MarshalJSON() ([]byte, error) {
	type plain Setting
	p := plain(s)
	p.Choices = s.List()
	return json.Marshal(p)
}

// Choice is one option of a setting that is chosen, not dialled.
type Choice struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Note  string `json:"note,omitempty"`
	// Says is what is known of it beside the note, a line each.
	Says []string `json:"says,omitempty"`
	// Group is with which others it stands, and Tags what it may be found by, where there are many.
	Group string   `json:"group,omitempty"`
	Tags  []string `json:"tags,omitempty"`
	// Away is set for what was put away: it is no longer offered, but works where it is named.
	Away bool `json:"away,omitempty"`
}

// Kind declares one kind of step.
type Kind struct {
	ID      string  `json:"id"`
	Station Station `json:"station"`
	// Place is where it stands among the kinds of its station, from 0 up.
	Place    int       `json:"-"`
	Label    string    `json:"label"`
	Purpose  string    `json:"purpose"`
	Settings []Setting `json:"settings"`
	// HasStrength tells whether the step has a strength; a choice such as the gauge has none.
	HasStrength bool `json:"hasStrength"`
	// Fixed kinds are part of every path and cannot be switched off.
	Fixed bool `json:"fixed,omitempty"`
	// Film kinds are what "without film" leaves out.
	Film bool `json:"film,omitempty"`
	// Precondition says what must hold for the kind to have an effect: "print", "unprinted", "on the film"
	// or "film"; Unmet is the sentence that the desk shows while it does not.
	Precondition string `json:"precondition,omitempty"`
	Unmet        string `json:"unmet,omitempty"`
	// KeepsGrey and KeepsOrder are what a correction promises whatever its settings: that grey stays grey, and that of
	// two greys the brighter stays brighter.
	KeepsGrey  bool `json:"-"`
	KeepsOrder bool `json:"-"`
	// Provides is what others may wait for by their Precondition: "print", or "sizes" that are measured on the film.
	Provides string `json:"provides,omitempty"`
	// Rest holds the settings at which a fixed kind does no more than a picture needs.
	Rest map[string]any `json:"-"`
	// Lead names the amounts that go to the top of their range when the step is exaggerated.
	Lead []string `json:"lead,omitempty"`
	// NoEffect tells why settings change nothing, empty if they do.
	NoEffect func(Values) string `json:"-"`
	// Wants is what a frame must have for the kind to act on: "bright" light or "wide" colours, "noise" that can be told, or "tones" in which grain is seen.
	Wants string `json:"wants,omitempty"`
	// Spatial kinds need neighbouring pixels, or their place, so no table can carry them.
	Spatial bool `json:"spatial,omitempty"`
	// Repeatable kinds can stand several times in their station, in any order.
	Repeatable bool `json:"repeatable,omitempty"`
	// Masks kinds take a matte; all that can stand several times do.
	Masks bool `json:"masks,omitempty"`
	// Keyed are settings that can have keys over the frames of a shot.
	Keyed []string `json:"keyed,omitempty"`
	// Range, if set, draws settings over the tones of the light that enters.
	Range *Range `json:"range,omitempty"`
	// Gains, if set, draws settings over the tones of the light that enters.
	Gains *ToneGains `json:"gains,omitempty"`
	// Scatters kinds spread light: their matte acts on the source or on the result, and what feeds them can be shown.
	Scatters bool `json:"scatters,omitempty"`
	// Group is the heading under which the kind can be added; the desk shows the others always.
	Group string `json:"group,omitempty"`
	// Editor names the control that the desk shows in place of one for each setting.
	Editor string `json:"editor,omitempty"`
	// Pictured are settings that depend on the picture: they are marked when they come to another (OfPicture).
	Pictured []string `json:"-"`
	// Carried is, of a kind of intake, the part with which it goes to other shots; without one it never does.
	Carried Part `json:"-"`
	// Tool names a panel that goes with the kind: "grain" for grain cards, "noise" for them and for putting grain back.
	Tool string `json:"tool,omitempty"`
	// Ready are groups of settings to start from.
	Ready []Ready `json:"ready,omitempty"`
	// Begin are the settings of a step that is added by hand, where the defaults would show nothing.
	Begin map[string]any `json:"-"`

	// Spreads tells whether settings make a kind spatial that is not always so.
	Spreads func(v Values) bool `json:"-"`
	// Work is what steps of the kind do, in terms of who compiles them (render.Work).
	Work any `json:"-"`
}

// Range names the settings of a kind that take part of the tone scale: what is brighter than Low, coming in over the Knee below
// it, and darker than High, going out over the Knee above it. Under Fold they stand. Besides, if set, is a setting that brings light
// of its own while it is away from its default.
type Range struct {
	Low  string `json:"low"`
	High string `json:"high,omitempty"`
	Knee string `json:"knee"`
	Fold string `json:"fold,omitempty"`

	Besides string `json:"-"`
}

// ToneGains names the settings of a kind that are gains by tone: Mids at the Middle, from which Low and High are reached, smoothly, after so many
// stops as Reach says. Under Fold they stand.
type ToneGains struct {
	Low    string `json:"low"`
	Mids   string `json:"mids"`
	High   string `json:"high"`
	Middle string `json:"middle"`
	Reach  string `json:"reach"`
	Fold   string `json:"fold"`
}

// Ready is a group of settings with a name.
type Ready struct {
	ID     string         `json:"id"`
	Label  string         `json:"label"`
	Note   string         `json:"note,omitempty"`
	Values map[string]any `json:"values"`
}

// Path is the kind's full name, station.kind.
func (k *Kind) Path() string { return string(k.Station) + "." + k.ID }

// Setting is the declaration of a setting, nil if the kind has none of that id.
func (k *Kind) Setting(id string) *Setting { return settingOf(k.Settings, id) }

func settingOf(list []Setting, id string) *Setting {
	for i := range list {
		if list[i].ID == id {
			return &list[i]
		}
	}
	return nil
}

var kinds []*Kind

// Declare adds kinds. Within a station they stand by their Place, which is the order of their cards on the desk and that in
// which they act until a hand moves them.
func Declare(list ...*Kind) {
	for _, k := range list {
		k.Masks = k.Masks || k.Repeatable
	}
	kinds = append(kinds, list...)
	slices.SortStableFunc(kinds, func(a, b *Kind) int {
		return cmp.Or(cmp.Compare(a.Station.Index(), b.Station.Index()), cmp.Compare(a.Place, b.Place))
	})
}

// Kinds lists every kind in order of action.
func Kinds() []*Kind { return kinds }

// FindKind returns a kind by station and id.
func FindKind(s Station, id string) (*Kind, error) {
	var ids []string
	for _, k := range kinds {
		if k.Station != s {
			continue
		}
		if k.ID == id {
			return k, nil
		}
		ids = append(ids, k.ID)
	}
	if len(ids) == 0 {
		if _, err := ParseStation(string(s)); err != nil {
			return nil, err
		}
	}
	return nil, fmt.Errorf("station %s has no step %q; it has %s", s, id, strings.Join(ids, ", "))
}

// Check returns v in the setting's own form: float64 for a number, string for a choice.
func (s *Setting) Check(v any) (any, error) {
	if list := s.List(); len(list) > 0 {
		id, ok := v.(string)
		if !ok {
			return nil, fmt.Errorf("%s wants one of its ids as text, not %v", s.ID, v)
		}
		var ids []string
		for _, c := range list {
			if c.ID == id {
				return id, nil
			}
			ids = append(ids, c.ID)
		}
		return nil, fmt.Errorf("%s has no option %q; it has %s", s.ID, id, strings.Join(ids, ", "))
	}
	if s.Points != "" {
		text, ok := v.(string)
		if !ok {
			return nil, fmt.Errorf("%s wants points as text, x:y between spaces, not %v", s.ID, v)
		}
		p, err := s.ParsePoints(text)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", s.ID, err)
		}
		return writePoints(p), nil
	}
	var x float64
	switch t := v.(type) {
	case float64:
		x = t
	case int:
		x = float64(t)
	case string:
		if n, ok := s.Names[t]; ok {
			x = n
			break
		}
		n, err := strconv.ParseFloat(strings.TrimSuffix(strings.TrimSpace(t), "%"), 64)
		if err != nil {
			return nil, fmt.Errorf("%s wants a number, not %q", s.ID, t)
		}
		x = n
	default:
		return nil, fmt.Errorf("%s wants a number, not %v", s.ID, v)
	}
	if math.IsNaN(x) || x < s.Min || x > s.Max {
		return nil, fmt.Errorf("%s is %g; it goes from %g to %g %s", s.ID, x, s.Min, s.Max, s.Unit)
	}
	return x, nil
}

// Initial is the setting's default in its own form.
func (s *Setting) Initial() any {
	if list := s.List(); len(list) > 0 {
		return list[int(s.Default)].ID
	}
	if s.Points != "" {
		return ""
	}
	return s.Default
}

// Values are the checked settings of one step.
type Values map[string]any

// Number is a setting that is dialled, Choice one that is chosen; the kind must have it.
func (v Values) Number(id string) float64 { return v[id].(float64) }

// Choice is the id of what is chosen.
func (v Values) Choice(id string) string { return v[id].(string) }
