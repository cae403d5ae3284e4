package look

// Schema is the JSON Schema (2020-12) of a look, made from the declarations.
func Schema() map[string]any {
	stations := map[string]any{}
	for _, s := range Stations {
		var steps []any
		for _, k := range kinds {
			if k.Station == s {
				steps = append(steps, k.schema())
			}
		}
		station := map[string]any{
			"on":       map[string]any{"type": "boolean"},
			"strength": share(),
			"steps":    map[string]any{"type": "array", "items": map[string]any{"oneOf": steps}},
		}
		if s.Groups() {
			station["groups"] = map[string]any{"type": "object", "additionalProperties": groupSchema(s), "description": "runs of steps that are switched, mixed and covered together, by the names that their steps give as theirs"}
		}
		if s.Follows() {
			station["follows"] = map[string]any{"type": "boolean", "default": false, "description": "the station is as the level above has it, and has no steps of its own"}
		}
		stations[string(s)] = object(station, "on", "strength", "steps")
	}
	root := object(map[string]any{
		"velours":   map[string]any{"const": Version, "description": "version of the format"},
		"name":      map[string]any{"type": "string"},
		"treatment": object(map[string]any{"on": map[string]any{"type": "boolean"}, "strength": share()}, "on", "strength"),
		"stations":  object(stations),
		"mattes":    map[string]any{"type": "object", "additionalProperties": matteSchema(), "description": "the look's mattes, by the names under which its steps share them"},
	}, "velours", "stations")
	root["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	root["title"] = "A Velours look"
	return root
}

func (k *Kind) schema() map[string]any {
	properties := map[string]any{
		"kind":     map[string]any{"const": k.ID},
		"on":       map[string]any{"type": "boolean"},
		"strength": share(),
		"settings": settingsSchema(k.Settings),
		"matte":    map[string]any{"type": "null"},
	}
	if k.Station.Groups() {
		properties["group"] = map[string]any{"type": "string", "description": "the name of the group of its station that it is in"}
	}
	if k.Masks {
		properties["matte"] = map[string]any{"type": []any{"string", "null"}, "description": "the name of the matte in which the step acts"}
		properties["outside"] = map[string]any{"type": "boolean", "description": "it acts outside the matte"}
	}
	if k.Scatters {
		properties["source"] = map[string]any{"type": "boolean", "description": "its matte chooses the light that spreads, not where it may"}
	}
	if again := k.OfPicture(); len(again) > 0 || k.Masks {
		properties["again"] = map[string]any{"type": "array", "items": map[string]any{"type": "string"}, "description": "settings that came from another picture, and \"matte\" and \"keys\": to be looked at on this one"}
	}
	if len(k.Keyed) > 0 {
		properties["keys"] = map[string]any{"type": "array", "description": "settings at frames of the shot, rising; between them they move smoothly", "items": object(map[string]any{
			"frame": map[string]any{"type": "integer", "minimum": 0}, "settings": settingsSchema(k.keyed()),
		}, "frame", "settings")}
	}
	if k.Repeatable {
		properties["id"] = map[string]any{"type": "string", "pattern": "^" + k.ID + "-([2-9]|[1-9][0-9]+)$", "description": "tells further steps of the kind from the first"}
		properties["title"] = map[string]any{"type": "string", "maxLength": 80, "description": "what a person calls the step"}
	}
	step := object(properties, "kind", "on", "strength")
	step["description"] = k.Purpose
	return step
}

// settingsSchema allows the settings declared, all of which can be left out.
func settingsSchema(list []Setting) map[string]any {
	settings := map[string]any{}
	for _, s := range list {
		if list := s.List(); len(list) > 0 {
			var ids []any
			for _, c := range list {
				ids = append(ids, c.ID)
			}
			if s.Live != nil { // a person's own may come in
				settings[s.ID] = map[string]any{"type": "string", "examples": ids, "default": s.Initial(), "description": s.Help}
				continue
			}
			settings[s.ID] = map[string]any{"enum": ids, "default": s.Initial(), "description": s.Help}
			continue
		}
		if s.Points != "" {
			settings[s.ID] = map[string]any{"type": "string", "default": "", "pattern": `^(\S+:\S+(\s+|$))*$`, "description": s.Label + ", x:y pairs. " + s.Help}
			continue
		}
		settings[s.ID] = map[string]any{"type": "number", "minimum": s.Min, "maximum": s.Max, "default": s.Default, "description": s.Label + ", " + s.Unit + ". " + s.Help}
	}
	return object(settings)
}

// matteSchema is that of a matte.
func matteSchema() map[string]any {
	var parts []any
	for _, k := range matteKinds {
		properties := map[string]any{
			"kind":     map[string]any{"const": k.ID},
			"join":     map[string]any{"enum": []any{"", "add", "within", "without"}, "default": "add"},
			"invert":   map[string]any{"type": "boolean", "default": false},
			"settings": settingsSchema(k.Settings),
		}
		if k.Shape {
			key := object(map[string]any{"frame": map[string]any{"type": "integer", "minimum": 0}, "settings": settingsSchema(k.Settings)}, "frame", "settings")
			properties["keys"] = map[string]any{"type": "array", "items": key, "maxItems": mostKeys, "description": "what the shape is at frames of the shot, which rise"}
		}
		part := object(properties, "kind")
		part["description"] = k.Purpose
		parts = append(parts, part)
	}
	properties := map[string]any{
		"parts":  map[string]any{"type": "array", "items": map[string]any{"oneOf": parts}, "maxItems": mostParts},
		"invert": map[string]any{"type": "boolean", "default": false},
	}
	for _, s := range matteSettings {
		properties[s.ID] = map[string]any{"type": "number", "minimum": s.Min, "maximum": s.Max, "default": 0, "description": s.Label + ", " + s.Unit + ". " + s.Help}
	}
	return object(properties, "parts")
}

// groupSchema is that of a group of a station.
func groupSchema(s Station) map[string]any {
	properties := map[string]any{
		"title":    map[string]any{"type": "string", "maxLength": mostLetters},
		"on":       map[string]any{"type": "boolean"},
		"strength": share(),
		"matte":    map[string]any{"type": []any{"string", "null"}, "description": "the name of the matte in which the group acts"},
		"outside":  map[string]any{"type": "boolean", "description": "it acts outside the matte"},
	}
	if s.Lays() {
		var ids []any
		for _, y := range Lays {
			ids = append(ids, string(y.ID))
		}
		properties["lay"] = map[string]any{"enum": ids, "default": "", "description": "how it is laid over the step or group above it; with one it takes the picture from before that"}
	}
	return object(properties, "title", "on", "strength")
}

func share() map[string]any {
	return map[string]any{"type": "number", "minimum": 0, "maximum": 1}
}

// object is a schema that refuses what it does not name.
func object(properties map[string]any, required ...string) map[string]any {
	o := map[string]any{"type": "object", "properties": properties, "additionalProperties": false}
	if len(required) > 0 {
		o["required"] = required
	}
	return o
}
