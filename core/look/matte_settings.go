package look

// matteSettings are those of a whole matte.
var matteSettings = []Setting{
	{ID: "grow", Label: "Grow", Unit: "% width", Min: -5, Max: 5, Step: 0.02, Help: "Moves the edge outwards; below 0 inwards. A little inwards hides a rim that the key has caught."},
	{ID: "refine", Label: "Draw to edges", Unit: "% width", Min: 0, Max: 3, Step: 0.05, Help: "Lets the edge find the outlines of things in the picture nearby. It helps a rough shape fit, and hair keep its own edge."},
	{ID: "blur", Label: "Soften", Unit: "% width", Min: 0, Max: 5, Step: 0.02, Help: "Softens the edge all around. Enough that you do not see where the correction ends."},
}

// MatteSettings are the settings of a whole matte: grow, refine and blur.
func MatteSettings() []Setting { return matteSettings }
