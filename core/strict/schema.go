package strict

import (
	"reflect"
	"strconv"
	"strings"
)

// Schema is the JSON Schema (2020-12) of values of a type that describes itself: tags of its fields hold the name (json), the range (range, as
// "0,1") and what it means (doc).
func Schema(t reflect.Type, title string) map[string]any {
	s := schemaOf(t, "")
	s["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	s["title"] = title
	return s
}

// Field is a field's name in JSON, and whether it may be left out.
func Field(f reflect.StructField) (key string, optional bool) {
	key, rest, _ := strings.Cut(f.Tag.Get("json"), ",")
	return key, strings.Contains(rest, "omit")
}

// Range reads a range: two numbers, a comma between.
func Range(limits string) (lo, hi float64) {
	a, b, _ := strings.Cut(limits, ",")
	lo, _ = strconv.ParseFloat(a, 64)
	hi, _ = strconv.ParseFloat(b, 64)
	return lo, hi
}

func schemaOf(t reflect.Type, limits string) map[string]any {
	switch t.Kind() {
	case reflect.Struct:
		properties, required := map[string]any{}, []any{}
		for i := range t.NumField() {
			f := t.Field(i)
			if !f.IsExported() {
				continue
			}
			key, optional := Field(f)
			p := schemaOf(f.Type, f.Tag.Get("range"))
			p["description"] = f.Tag.Get("doc")
			properties[key] = p
			if !optional {
				required = append(required, key)
			}
		}
		return map[string]any{"type": "object", "properties": properties, "required": required, "additionalProperties": false}
	case reflect.Pointer:
		return schemaOf(t.Elem(), limits)
	case reflect.Array:
		return map[string]any{"type": "array", "minItems": t.Len(), "maxItems": t.Len(), "items": schemaOf(t.Elem(), limits)}
	case reflect.Slice:
		return map[string]any{"type": "array", "items": schemaOf(t.Elem(), limits)}
	case reflect.String:
		return map[string]any{"type": "string"}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	}
	s := map[string]any{"type": "number"}
	if limits != "" {
		s["minimum"], s["maximum"] = Range(limits)
	}
	return s
}
