package path

import "velours/core/grade"

// byChoices say what a tone scale goes by.
var byChoices = []Choice{
	{ID: "brightness", Label: "Brightness", Note: "Hue and saturation stay"},
	{ID: "channels", Label: "Channels", Note: "Colours grow stronger where it is steep, as on film"},
}

func by(v Values) grade.By {
	if v.Choice("by") == "channels" {
		return grade.ByChannels
	}
	return grade.ByBrightness
}

var bySetting = Setting{ID: "by", Label: "Goes by", Choices: byChoices, Help: "Brightness keeps hue and saturation; channels let both follow, as film does."}
