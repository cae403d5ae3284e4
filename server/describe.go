package server

import (
	"cmp"
	"encoding"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"sort"
	"strings"

	"velours/core/look"
	"velours/studio"
)

// Describe is the OpenAPI 3.1 description of the API, made from the table of routes.
func Describe() map[string]any {
	d := &describer{schemas: map[string]any{}}
	paths := map[string]any{}
	for _, r := range routes {
		p := strings.ReplaceAll(r.path, ":id", "{id}")
		op := map[string]any{"summary": r.summary, "responses": map[string]any{
			"default": map[string]any{"description": "A problem (RFC 9457)", "content": map[string]any{"application/problem+json": map[string]any{"schema": d.schema(reflect.TypeOf(Problem{}))}}},
		}}
		ok := map[string]any{"description": "Done"}
		code := "204"
		if r.out != nil {
			code = "200"
			ok["content"] = map[string]any{"application/json": map[string]any{"schema": d.schema(reflect.TypeOf(r.out))}}
		}
		op["responses"].(map[string]any)[code] = ok
		if r.in != nil {
			op["requestBody"] = map[string]any{"required": true, "content": map[string]any{"application/json": map[string]any{"schema": d.schema(reflect.TypeOf(r.in))}}}
		}
		if strings.Contains(p, "{id}") {
			op["parameters"] = []any{map[string]any{"name": "id", "in": "path", "required": true, "schema": map[string]any{"type": "integer"}}}
		}
		if paths[p] == nil {
			paths[p] = map[string]any{}
		}
		paths[p].(map[string]any)[strings.ToLower(r.method)] = op
	}
	window := map[string]any{}
	for _, r := range requests {
		replies := []any{}
		for _, m := range append(slices.Clone(r.replies), problems) {
			replies = append(replies, d.schema(m.body))
		}
		window[r.name] = map[string]any{"summary": r.summary, "request": d.schema(r.body), "replies": replies}
	}
	told := []any{}
	for _, m := range notices {
		told = append(told, d.schema(m.body))
	}
	return map[string]any{
		"x-window-requests": window, "x-window-notices": told, // of the socket at /window, which OpenAPI has no words for
		"openapi": "3.1.0", "info": map[string]any{"title": "Velours", "version": "1"},
		"servers": []any{map[string]any{"url": "/api/v1"}}, "paths": paths,
		"components": map[string]any{"schemas": d.schemas},
	}
}

type describer struct{ schemas map[string]any }

var (
	rawJSON = reflect.TypeFor[json.RawMessage]()
	textual = reflect.TypeFor[encoding.TextMarshaler]()
)

// texts are types that are written as text of a certain form: what TypeScript calls that.
var texts = map[reflect.Type]string{
	reflect.TypeFor[look.StepPath](): "`${string}.${string}`",
	reflect.TypeFor[studio.Side]():   "'' | 'film' | 'entered' | 'previous' | StepPath | `station:${string}` | `shot:${number}` | `onto:${number}` | `pin:${number}` | `trial:${number}`",
	reflect.TypeFor[studio.Show]():   oneOf(studio.Shows()),
	reflect.TypeFor[Stage]():         oneOf([]Stage{Draft, Exact}),
	reflect.TypeFor[look.Op]():       oneOf(look.Ops()),
}

// oneOf is a type of these words.
func oneOf[T ~string](words []T) string {
	var list []string
	for _, w := range words {
		list = append(list, fmt.Sprintf("'%s'", w))
	}
	return strings.Join(list, " | ")
}

func (d *describer) schema(t reflect.Type) map[string]any {
	switch {
	case t == rawJSON:
		return map[string]any{"type": "object"}
	case t.Implements(textual):
		return map[string]any{"type": "string"}
	case t.Kind() == reflect.Pointer:
		return d.schema(t.Elem())
	}
	switch t.Kind() {
	case reflect.String:
		return map[string]any{"type": "string"}
	case reflect.Bool:
		return map[string]any{"type": "boolean"}
	case reflect.Float64, reflect.Float32:
		return map[string]any{"type": "number"}
	case reflect.Int, reflect.Uint, reflect.Uint32, reflect.Int64, reflect.Uint64:
		return map[string]any{"type": "integer"}
	case reflect.Slice:
		return map[string]any{"type": "array", "items": d.schema(t.Elem())}
	case reflect.Array:
		return map[string]any{"type": "array", "items": d.schema(t.Elem()), "minItems": t.Len(), "maxItems": t.Len()}
	case reflect.Map:
		return map[string]any{"type": "object", "additionalProperties": d.schema(t.Elem())}
	case reflect.Interface:
		return map[string]any{}
	case reflect.Struct:
		name := t.Name()
		if _, ok := d.schemas[name]; !ok {
			d.schemas[name] = true // stops recursion
			props := map[string]any{}
			var need []string
			for _, f := range fields(t) {
				props[f.name] = d.schema(f.typ)
				if !f.optional {
					need = append(need, f.name)
				}
			}
			d.schemas[name] = map[string]any{"type": "object", "properties": props, "required": need}
		}
		return map[string]any{"$ref": "#/components/schemas/" + name}
	}
	panic("server: no schema for " + t.String())
}

type field struct {
	name     string
	typ      reflect.Type
	optional bool
	ts       string
}

func fields(t reflect.Type) []field {
	var out []field
	for f := range t.Fields() {
		if f.Anonymous {
			out = append(out, fields(f.Type)...)
			continue
		}
		tag := f.Tag.Get("json")
		if !f.IsExported() || tag == "" || tag == "-" {
			continue
		}
		name, rest, _ := strings.Cut(tag, ",")
		out = append(out, field{name, f.Type, strings.Contains(rest, "omit"), f.Tag.Get("ts")})
	}
	return out
}

// TypeScript is the front end's view of every message, so that nothing is typed twice.
func TypeScript() string {
	w := &typist{done: map[string]string{}, literal: map[reflect.Type]string{}}
	for _, r := range routes {
		for _, v := range []any{r.in, r.out} {
			if v != nil {
				w.name(reflect.TypeOf(v))
			}
		}
	}
	for _, v := range []any{Problem{}, look.Look{}} {
		w.name(reflect.TypeOf(v))
	}
	unions := ""
	union := func(name string, members []message) {
		var list []string
		for _, m := range members {
			w.literal[m.body] = m.name
			list = append(list, w.name(m.body))
		}
		unions += fmt.Sprintf("\nexport type %s = %s\n", name, strings.Join(list, " | "))
	}
	var asked []message
	answered := []message{problems}
	byRequest := ""
	for _, r := range requests {
		asked = append(asked, message{r.name, r.body})
		var own []string
		for _, m := range r.replies {
			if !slices.Contains(answered, m) {
				answered = append(answered, m)
			}
			own = append(own, m.body.Name())
		}
		byRequest += fmt.Sprintf("  '%s': %s\n", r.name, cmp.Or(strings.Join(own, " | "), "never"))
	}
	union("Request", asked)
	union("Reply", answered)
	union("Notice", notices)
	unions += "\n/** What answers each request, if no problem does. */\nexport interface Replies {\n" + byRequest + "}\n"
	var names []string
	for n := range w.done {
		names = append(names, n)
	}
	sort.Strings(names)
	var b strings.Builder
	b.WriteString("// Made from the Go types by `go generate ./server`. Do not edit.\n")
	for _, n := range names {
		if body := w.done[n]; strings.HasPrefix(body, "=") {
			fmt.Fprintf(&b, "\nexport type %s %s\n", n, body)
		} else {
			fmt.Fprintf(&b, "\nexport interface %s {\n%s}\n", n, body)
		}
	}
	return b.String() + unions
}

// typist writes types: done by their names, and which word the field type of a message is.
type typist struct {
	done    map[string]string
	literal map[reflect.Type]string
}

func (w *typist) name(t reflect.Type) string {
	switch {
	case t == rawJSON:
		return "unknown"
	case texts[t] != "":
		w.done[t.Name()] = "= " + texts[t]
		if t == reflect.TypeFor[studio.Side]() {
			w.name(reflect.TypeFor[look.StepPath]())
		}
		return t.Name()
	case t.Kind() == reflect.Pointer:
		return w.name(t.Elem())
	}
	switch t.Kind() {
	case reflect.String:
		return "string"
	case reflect.Bool:
		return "boolean"
	case reflect.Float64, reflect.Float32, reflect.Int, reflect.Uint, reflect.Uint32, reflect.Int64, reflect.Uint64:
		return "number"
	case reflect.Slice:
		return w.name(t.Elem()) + "[]"
	case reflect.Array:
		return "[" + strings.TrimSuffix(strings.Repeat(w.name(t.Elem())+", ", t.Len()), ", ") + "]"
	case reflect.Map:
		return "Record<string, " + w.name(t.Elem()) + ">"
	case reflect.Interface:
		return "unknown"
	}
	name := t.Name()
	if _, ok := w.done[name]; !ok {
		w.done[name] = ""
		var b strings.Builder
		for _, f := range fields(t) {
			mark := ""
			if f.optional {
				mark = "?"
			}
			typ := w.name(f.typ)
			if f.ts != "" {
				typ = f.ts
			}
			if word := w.literal[t]; word != "" && f.name == "type" {
				typ = "'" + word + "'"
			}
			if f.typ.Kind() == reflect.Pointer && !f.optional && f.ts == "" {
				typ += " | null"
			}
			fmt.Fprintf(&b, "  %s%s: %s\n", f.name, mark, typ)
		}
		w.done[name] = b.String()
	}
	return name
}
