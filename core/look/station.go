package look

import (
	"fmt"
	"strings"
)

// Station is one stop on the light path.
type Station string

// The stations, in the order in which light passes them.
const (
	Intake   Station = "intake"
	Balance  Station = "balance"
	Lens     Station = "lens"
	Negative Station = "negative"
	Print    Station = "print"
	Screen   Station = "screen"
	Finish   Station = "finish"
)

// Stations lists all seven in order.
var Stations = []Station{Intake, Balance, Lens, Negative, Print, Screen, Finish}

// Label is the station's name on screen.
func (s Station) Label() string {
	if s == "" {
		return ""
	}
	return strings.ToUpper(string(s[:1])) + string(s[1:])
}

// Index is where the station stands in the order of light, −1 for none.
func (s Station) Index() int {
	for i, t := range Stations {
		if s == t {
			return i
		}
	}
	return -1
}

// ParseStation returns the station of a name, or an error that lists them.
func ParseStation(name string) (Station, error) {
	if s := Station(name); s.Index() >= 0 {
		return s, nil
	}
	var all []string
	for _, s := range Stations {
		all = append(all, string(s))
	}
	return "", fmt.Errorf("unknown station %q; the stations are %s", name, strings.Join(all, ", "))
}
