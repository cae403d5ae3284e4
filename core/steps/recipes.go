package steps

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"velours/core/look"
)

// Recipe is a ready look of film alone: stock, print and settings by feeling and era. It opens as ordinary settings.
type Recipe struct {
	ID    string         `json:"id"`
	Label string         `json:"label"`
	Note  string         `json:"note"`
	Era   string         `json:"era"`
	Tags  []string       `json:"tags"`
	Set   map[string]any `json:"set"`
}

//go:embed recipes/recipes.json
var recipesFile []byte

// Recipes lists the recipes that ship. It fails where one asks for what is not there.
func Recipes() ([]Recipe, error) {
	var list []Recipe
	if err := json.Unmarshal(recipesFile, &list); err != nil {
		return nil, fmt.Errorf("the recipes: %w", err)
	}
	return list, nil
}

// recipeStations are what a recipe replaces; how a shot was brought in, balanced and shown stays.
var recipeStations = []look.Station{look.Lens, look.Negative, look.Print}

// Onto is a look with the recipe's film in place of its own. What makes the shot neutral stays, and so does its
// screen; of the finish, the overall strength is the recipe's.
func (r *Recipe) Onto(l *look.Look) (*look.Look, error) {
	c := l.Clone()
	for _, s := range recipeStations {
		delete(c.Stations, s)
	}
	if st := c.Stations[look.Finish]; st != nil {
		st.Steps = slices.DeleteFunc(st.Steps, func(p *look.Step) bool { return p.Kind == overallKind.ID })
	}
	for _, at := range slices.Sorted(maps.Keys(r.Set)) {
		if err := c.Set(at, r.Set[at]); err != nil {
			return nil, fmt.Errorf("the recipe %s: %w", r.ID, err)
		}
	}
	return c, c.Check()
}
