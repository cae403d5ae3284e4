package studio

import "regexp"

// Favourites lists what is kept in reach, as kind:id; SetFavourite changes it.
func (s *Assets) Favourites() ([]string, error) { return s.lib.Favourites() }

var favouriteKey = regexp.MustCompile(`^(stock|medium|recipe):[a-z0-9.-]{1,80}$`)

// SetFavourite keeps a stock, a medium or a recipe in reach, or no longer.
func (s *Assets) SetFavourite(key string, on bool) error {
	if !favouriteKey.MatchString(key) {
		return Bad("%q is no stock:id, medium:id or recipe:id", key)
	}
	return s.lib.SetFavourite(key, on)
}
