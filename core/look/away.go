package look

import "sync"

// away are the ids of stocks, tables and encodings that were added and then put away: lists do not offer them, but
// looks that name them, in the history of a shot or on a pin, work on.
var away sync.Map

// PutAway no longer offers what has an id; Offer offers it again.
func PutAway(id string) { away.Store(id, true) }

// Offer offers again what was put away.
func Offer(id string) { away.Delete(id) }

// IsAway tells whether an id is put away.
func IsAway(id string) bool {
	_, ok := away.Load(id)
	return ok
}
