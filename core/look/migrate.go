package look

import (
	"encoding/json"
	"slices"
)

// migrations[i] brings a look's document from version i+1 to the next. Those that have shipped are never changed.
var migrations = []func(doc map[string]json.RawMessage) error{leaveEncoding}

// Version is the version of the look format that this program writes.
var Version = len(migrations) + 1

// migrate brings a look's document to Version; one of another version, or that is no document, stays as it is.
func migrate(data []byte) []byte {
	var doc map[string]json.RawMessage
	if json.Unmarshal(data, &doc) != nil {
		return data
	}
	var version int
	if !take(doc, "velours", &version) || version < 1 || version >= Version {
		return data
	}
	for ; version < Version; version++ {
		if migrations[version-1](doc) != nil {
			return data
		}
	}
	doc["velours"], _ = json.Marshal(Version)
	now, err := json.Marshal(doc)
	if err != nil {
		return data
	}
	return now
}

// leaveEncoding takes the encoding out of a look: since version 2 it is the shot's alone.
func leaveEncoding(doc map[string]json.RawMessage) error {
	_, err := takeEncoding(doc)
	return err
}

// FormerEncoding is the encoding that a look of version 1 may have carried, empty if it did not.
func FormerEncoding(data []byte) string {
	var doc map[string]json.RawMessage
	var version int
	if json.Unmarshal(data, &doc) != nil || !take(doc, "velours", &version) || version != 1 {
		return ""
	}
	id, _ := takeEncoding(doc)
	return id
}

// takeEncoding removes the step intake.encoding, and returns the id that it had.
func takeEncoding(doc map[string]json.RawMessage) (id string, err error) {
	var stations, intake map[string]json.RawMessage
	var steps []json.RawMessage
	if !take(doc, "stations", &stations) || !take(stations, string(Intake), &intake) || !take(intake, "steps", &steps) {
		return "", nil
	}
	kept := slices.DeleteFunc(steps, func(raw json.RawMessage) bool {
		var step struct {
			Kind     string
			Settings struct{ ID string }
		}
		if json.Unmarshal(raw, &step) != nil || step.Kind != "encoding" {
			return false
		}
		id = step.Settings.ID
		return true
	})
	if id == "" && len(kept) == len(steps) {
		return "", nil
	}
	if intake["steps"], err = json.Marshal(kept); err != nil {
		return "", err
	}
	if stations[string(Intake)], err = json.Marshal(intake); err != nil {
		return "", err
	}
	doc["stations"], err = json.Marshal(stations)
	return id, err
}
