package editlist

import "fmt"

// List is what an edit list says, in the order of the programme.
type List struct {
	Title  string
	Rate   Rate
	Events []Event
	// Told is what was left out or guessed, a sentence each, with where in the list.
	Told []string

	names map[string]bool // of files that events mean
}

// Event is a piece of the programme.
type Event struct {
	// Number is what the list calls it.
	Number string
	// Tape is the name of the recording, Name that of the clip, File the file that it came from; each may be empty.
	Tape, Name, File string
	// Source is what of the recording is seen, Record where it stands in the programme, in frames of the list's rate.
	Source, Record Span
	// Speed is how many frames of the recording go by for one of the programme: 1 usually, 0 for a frame that stands, below 0 backwards.
	Speed float64
	// Transition is how it begins.
	Transition Transition
}

// Span is frames from In up to but not including Out.
type Span struct{ In, Out int }

// Frames is how many there are.
func (s Span) Frames() int { return s.Out - s.In }

// Transition is how an event begins: the zero Transition is a cut.
type Transition struct {
	Kind   string // "", "dissolve" or "wipe"
	Frames int
}

func (l *List) tell(format string, args ...any) {
	const most = 200 // who reads more?
	if len(l.Told) < most {
		l.Told = append(l.Told, fmt.Sprintf(format, args...))
	}
}
