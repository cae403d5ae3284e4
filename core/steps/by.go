package steps

import (
	"velours/core/grade"
	"velours/core/look"
)

// byChoices say what a tone scale goes by.
var byChoices = []look.Choice{
	{ID: "brightness", Label: "Brightness", Note: "Hue and saturation stay"},
	{ID: "channels", Label: "Channels", Note: "Colours grow stronger where it is steep, as on film"},
}

func by(v look.Values) grade.By {
	if v.Choice("by") == "channels" {
		return grade.ByChannels
	}
	return grade.ByBrightness
}

var bySetting = look.Setting{ID: "by", Label: "Goes by", Choices: byChoices, Help: "Brightness keeps hue and saturation; channels let both follow, as film does."}
