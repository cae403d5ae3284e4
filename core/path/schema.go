package path

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
		stations[string(s)] = object(map[string]any{
			"on":       map[string]any{"type": "boolean"},
			"strength": share(),
			"steps":    map[string]any{"type": "array", "items": map[string]any{"oneOf": steps}},
		}, "on", "strength", "steps")
	}
	root := object(map[string]any{
		"velours":  map[string]any{"const": Version, "description": "version of the format"},
		"name":     map[string]any{"type": "string"},
		"stations": object(stations),
	}, "velours", "stations")
	root["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	root["title"] = "A Velours look"
	return root
}

func (k *Kind) schema() map[string]any {
	settings := map[string]any{}
	for _, s := range k.Settings {
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
	step := object(map[string]any{
		"kind":     map[string]any{"const": k.ID},
		"on":       map[string]any{"type": "boolean"},
		"strength": share(),
		"settings": object(settings),
		"matte":    map[string]any{"type": "null"},
	}, "kind", "on", "strength")
	step["description"] = k.Purpose
	return step
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
