package editlist

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/url"
	"strings"
)

// ReadOTIO reads the JSON of OpenTimelineIO: tracks of pictures one after the other, with clips, gaps and transitions. What is nested, or of another kind, is
// left out and told. The rate is that of the first clip.
func ReadOTIO(data []byte) (*List, error) {
	var top otioItem
	if err := json.Unmarshal(data, &top); err != nil {
		return nil, fmt.Errorf("not JSON that can be read: %w", err)
	}
	if top.is("SerializableCollection") {
		for _, c := range top.Children {
			if c.is("Timeline") {
				top = c
				break
			}
		}
	}
	stack := &top
	if top.is("Timeline") && top.Tracks != nil {
		stack = top.Tracks
	}
	if !stack.is("Stack") {
		return nil, errors.New("no timeline is in it: is it OpenTimelineIO's JSON?")
	}
	o := &otio{list: &List{Title: top.Name}}
	for i := range stack.Children {
		if t := &stack.Children[i]; t.is("Track") && (t.Kind == "" || t.Kind == "Video") {
			if err := o.track(t, top.GlobalStart); err != nil {
				return nil, err
			}
		}
	}
	if len(o.list.Events) == 0 {
		return nil, errors.New("no clip of a picture is in it")
	}
	return o.list, nil
}

// otioItem is any object of the format, with what is read of it.
type otioItem struct {
	Schema      string              `json:"OTIO_SCHEMA"`
	Name        string              `json:"name"`
	Kind        string              `json:"kind"`
	Tracks      *otioItem           `json:"tracks"`
	Children    []otioItem          `json:"children"`
	GlobalStart *otioTime           `json:"global_start_time"`
	Source      *otioRange          `json:"source_range"`
	Available   *otioRange          `json:"available_range"`
	Media       *otioItem           `json:"media_reference"`
	Medias      map[string]otioItem `json:"media_references"`
	Active      string              `json:"active_media_reference_key"`
	URL         string              `json:"target_url"`
	Effects     []otioItem          `json:"effects"`
	Scalar      *float64            `json:"time_scalar"`
	In          *otioTime           `json:"in_offset"`
	Out         *otioTime           `json:"out_offset"`
	Transition  string              `json:"transition_type"`
}

type otioRange struct {
	Start    otioTime `json:"start_time"`
	Duration otioTime `json:"duration"`
}

type otioTime struct {
	Value float64 `json:"value"`
	Rate  float64 `json:"rate"`
}

// is tells whether an item is of a schema, of any version.
func (i *otioItem) is(schema string) bool {
	name, _, _ := strings.Cut(i.Schema, ".")
	return name == schema
}

// otio makes a list of tracks.
type otio struct {
	list *List
	at   int // where the next item stands
}

// frames is a time in frames of the list.
func (o *otio) frames(t *otioTime) (int, error) {
	if t == nil {
		return 0, nil
	}
	if !(t.Rate > 0 && t.Rate <= 1e6) {
		return 0, fmt.Errorf("a time of %g at %g a second", t.Value, t.Rate)
	}
	if o.list.Rate.Num == 0 {
		if !(t.Rate >= 1 && t.Rate <= 1000) {
			return 0, fmt.Errorf("a rate of %g a second", t.Rate)
		}
		o.list.Rate = RateOf(t.Rate)
	}
	v := t.Value
	if math.Abs(t.Rate-o.list.Rate.FPS()) > 1e-3*t.Rate {
		v *= o.list.Rate.FPS() / t.Rate
	}
	if !(math.Abs(v) < 1e9) {
		return 0, fmt.Errorf("a time of %g at %g a second", t.Value, t.Rate)
	}
	return int(math.Round(v)), nil
}

func (o *otio) track(t *otioItem, start *otioTime) (err error) {
	if o.list.Rate.Num == 0 { // the first clip says it, before anything is counted
		for i := range t.Children {
			if r := t.Children[i].span(); t.Children[i].is("Clip") && r != nil {
				if _, err := o.frames(&r.Duration); err != nil {
					return fmt.Errorf("clip %q has %w", t.Children[i].Name, err)
				}
				break
			}
		}
	}
	if o.at, err = o.frames(start); err != nil {
		return fmt.Errorf("the timeline begins at %w", err)
	}
	var before Transition
	for i := range t.Children {
		c := &t.Children[i]
		if c.is("Transition") {
			in, err := o.frames(c.In)
			out, err2 := o.frames(c.Out)
			if err = errors.Join(err, err2); err != nil || in < 0 || out < 0 {
				o.list.tell("transition %q has times that cannot be read; it cuts", c.Name)
				continue
			}
			before = Transition{"dissolve", in + out}
			if c.Transition != "" && c.Transition != "SMPTE_Dissolve" {
				before.Kind = "wipe"
			}
			continue
		}
		if err := o.item(c, before); err != nil {
			return fmt.Errorf("%s %q has %w", strings.ToLower(strings.SplitN(c.Schema, ".", 2)[0]), c.Name, err)
		}
		before = Transition{}
	}
	return nil
}

// span is what of it is used: its own range, or all that there is of its recording.
func (i *otioItem) span() *otioRange {
	if i.Source != nil {
		return i.Source
	}
	if m := i.media(); m != nil {
		return m.Available
	}
	return nil
}

// media is what a clip is of, nil for nothing.
func (i *otioItem) media() *otioItem {
	key := i.Active
	if key == "" {
		key = "DEFAULT_MEDIA"
	}
	if m, ok := i.Medias[key]; ok {
		return &m
	}
	return i.Media
}

// item adds a child of a track.
func (o *otio) item(c *otioItem, before Transition) error {
	r := c.span()
	if r == nil {
		o.list.tell("%q does not say how long it is; it was left out, and what follows may stand too early", c.Name)
		return nil
	}
	first, err := o.frames(&r.Start)
	if err != nil {
		return err
	}
	n, err := o.frames(&r.Duration)
	if err != nil {
		return err
	}
	if n < 0 {
		return fmt.Errorf("%d frames", n)
	}
	from := o.at
	o.at += n
	if c.is("Gap") {
		return nil
	}
	if !c.is("Clip") {
		o.list.tell("%q is nested (%s); it was left out", c.Name, c.Schema)
		return nil
	}
	if n == 0 {
		return nil
	}
	if len(o.list.Events) == mostEvents {
		return fmt.Errorf("no place: there are more than %d clips", mostEvents)
	}
	e := Event{Number: fmt.Sprint(len(o.list.Events) + 1), Name: c.Name, Record: Span{from, o.at}, Speed: 1, Transition: before}
	if m := c.media(); m != nil {
		e.File = pathOf(m.URL)
		if m.Name != "" {
			e.Tape = m.Name
		}
	}
	for _, x := range c.Effects {
		switch {
		case x.is("FreezeFrame"):
			e.Speed = 0
		case x.Scalar != nil && math.Abs(*x.Scalar) < 1e5:
			e.Speed *= *x.Scalar
		default:
			o.list.tell("%q has an effect that is not followed (%s)", c.Name, x.Schema)
		}
	}
	e.Source = Span{first, first + int(math.Round(math.Abs(e.Speed)*float64(n)))}
	o.list.Events = append(o.list.Events, e)
	return nil
}

// pathOf is the path of a file's URL, or the text itself.
func pathOf(text string) string {
	if u, err := url.Parse(text); err == nil && u.Scheme == "file" {
		return u.Path
	}
	return text
}
