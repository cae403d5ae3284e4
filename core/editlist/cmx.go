package editlist

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// mostEvents is how many events a list may have.
const mostEvents = 20000

// ReadCMX reads a CMX 3600 edit list, which does not say its frame rate. Pictures alone come in; what cannot be read is told.
func ReadCMX(data []byte, r Rate) (*List, error) {
	if r.Num < 1 || r.Den < 1 || r.Nominal() < 1 || r.Nominal() > 1000 {
		return nil, fmt.Errorf("%d/%d is no frame rate", r.Num, r.Den)
	}
	c := &cmx{list: &List{Rate: r}}
	scan := bufio.NewScanner(bytes.NewReader(bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))))
	scan.Buffer(nil, 1<<16)
	for scan.Scan() {
		c.number++
		if err := c.line(strings.TrimSpace(scan.Text())); err != nil {
			return nil, err
		}
	}
	if err := scan.Err(); err != nil {
		return nil, fmt.Errorf("line %d: %w", c.number+1, err)
	}
	c.check()
	if len(c.list.Events) == 0 {
		return nil, errors.New("no event of a picture is in it: is it a CMX 3600 edit list?")
	}
	return c.list, nil
}

// cmx reads an edit list line by line.
type cmx struct {
	list   *List
	number int // of the line
	drop   bool
	last   *Event // the latest event, to which what follows belongs, nil for none
	timed  bool   // it has its speed
}

func (c *cmx) line(text string) error {
	word, rest, _ := strings.Cut(text, " ")
	rest = strings.TrimSpace(rest)
	switch {
	case text == "" || strings.HasPrefix(text, ">>>"):
	case strings.HasPrefix(text, "TITLE:"):
		c.list.Title = strings.TrimSpace(text[len("TITLE:"):])
	case strings.HasPrefix(text, "FCM:"):
		c.drop = strings.TrimSpace(text[len("FCM:"):]) == "DROP FRAME"
	case strings.HasPrefix(text, "*"):
		c.comment(strings.TrimSpace(text[1:]))
	case word == "M2":
		c.speed(rest)
	case word[0] >= '0' && word[0] <= '9':
		return c.event(strings.Fields(text))
	}
	return nil
}

// event reads a line such as
//
//	001  TAPE     V     D    024 01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00
func (c *cmx) event(fields []string) error {
	c.check()
	c.last, c.timed = nil, false
	if len(fields) < 8 {
		c.list.tell("line %d: an event has its number, tape, channels, transition and four time codes; this was left out", c.number)
		return nil
	}
	for _, channel := range strings.Split(fields[2], "/") {
		if channel == "V" || channel == "B" || len(channel) > 1 && channel[0] == 'V' && channel[1] >= '0' && channel[1] <= '9' || channel == "VA" || channel == "AV" {
			fields[2] = "V"
		}
	}
	if fields[2] != "V" { // sound
		return nil
	}
	e := Event{Number: fields[0], Tape: fields[1], Speed: 1}
	if e.Tape == "BL" { // black
		return nil
	}
	var at [4]int
	for i, text := range fields[len(fields)-4:] {
		n, err := ParseTimecode(text, c.list.Rate, c.drop)
		if err != nil {
			c.list.tell("line %d: %v; event %s was left out", c.number, err, e.Number)
			return nil
		}
		at[i] = n
	}
	e.Source, e.Record = Span{at[0], at[1]}, Span{at[2], at[3]}
	kind := fields[3]
	switch {
	case kind == "C":
	case kind == "D" || kind[0] == 'W':
		e.Transition.Kind = "wipe"
		if kind == "D" {
			e.Transition.Kind = "dissolve"
		}
		frames, err := strconv.Atoi(fields[4])
		if err != nil || len(fields) < 9 || frames < 0 {
			c.list.tell("line %d: how long the %s of event %s takes cannot be read; it cuts", c.number, e.Transition.Kind, e.Number)
			e.Transition = Transition{}
			break
		}
		e.Transition.Frames = frames
	default: // a key, a picture over another
		c.list.tell("line %d: event %s is laid over another (%s); it was left out", c.number, e.Number, kind)
		return nil
	}
	if e.Record.Frames() == 0 && e.Source.Frames() == 0 { // what a dissolve comes from: it is an event of its own already
		return nil
	}
	if e.Record.Frames() <= 0 || e.Source.Frames() < 0 {
		c.list.tell("line %d: event %s ends before it begins; it was left out", c.number, e.Number)
		return nil
	}
	if len(c.list.Events) == mostEvents {
		return fmt.Errorf("line %d: there are more than %d events", c.number, mostEvents)
	}
	c.list.Events = append(c.list.Events, e)
	c.last = &c.list.Events[len(c.list.Events)-1]
	return nil
}

// comment reads what a note says of the events before it.
func (c *cmx) comment(text string) {
	name, value, ok := strings.Cut(text, ":")
	if !ok || c.last == nil {
		return
	}
	value = strings.TrimSpace(value)
	e := c.last
	switch strings.TrimSpace(name) {
	case "FROM CLIP NAME":
		if e.Transition.Kind == "" { // of a dissolve it is where it comes from
			e.Name = value
		}
	case "TO CLIP NAME":
		e.Name = value
	case "SOURCE FILE":
		e.File = value
	}
}

// speed reads a motion line: a tape, and the frames of it that go by in a second.
func (c *cmx) speed(text string) {
	fields := strings.Fields(text)
	if c.last == nil {
		return
	}
	e := c.last
	if len(fields) < 2 || fields[0] != e.Tape {
		c.list.tell("line %d: a change of speed that is not of event %s was left out", c.number, e.Number)
		return
	}
	fps, err := strconv.ParseFloat(fields[1], 64)
	if err != nil || math.Abs(fps) > 1e5 || math.IsNaN(fps) {
		c.list.tell("line %d: %q is no speed; event %s goes as it was recorded", c.number, fields[1], e.Number)
		return
	}
	e.Speed, c.timed = fps/float64(c.list.Rate.Nominal()), true
}

// check looks at the latest event once all that is said of it was read.
func (c *cmx) check() {
	if c.last == nil {
		return
	}
	e := c.last
	if s, r := e.Source.Frames(), e.Record.Frames(); s != r && !c.timed {
		e.Speed = float64(s) / float64(r)
		c.list.tell("event %s takes %d frames of its recording for %d of the programme and says no speed; it is taken to go at %.4g", e.Number, s, r, e.Speed)
	}
}
