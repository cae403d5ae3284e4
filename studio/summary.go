package studio

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"html/template"
	"strings"

	"velours/core/look"
	"velours/core/render"
)

// Summary is what was done to a shot, over all levels, in words and pictures.
type Summary struct {
	*look.Told
	// Shot, Reel and Scene are their names, Encoding and Display what it was recorded in and is made for.
	Shot, Reel, Scene, Encoding, Display string
	frame                                []byte // as a PNG
	film                                 []byte // its curves, as a drawing; nil without film
}

// summaryWidth is how wide the frame of a summary is.
const summaryWidth = 960

// Summary tells what was done to a shot, with a frame of it and the curves of its film.
func (s *Sessions) Summary(ctx context.Context, id uint, n int) (*Summary, error) {
	v := View{Shot: id, Frame: n, W: summaryWidth, H: summaryWidth}
	c, err := s.prepare(ctx, &v)
	if err != nil {
		return nil, err
	}
	if n < 0 || n >= c.shot.Frames {
		return nil, Bad("%s has no frame %d", c.shot.Name, n)
	}
	reel, err := s.lib.ReelAlone(c.shot.ReelID)
	if err != nil {
		return nil, err
	}
	out := &Summary{Told: c.look.Tell(), Shot: c.shot.Name, Reel: reel.Name, Encoding: "not declared", Display: render.DisplayOf(c.look).Label}
	out.Name = c.shot.Name
	if c.encoding != nil {
		out.Encoding = c.encoding.Label
	}
	if c.shot.SceneID != 0 {
		scene, err := s.lib.Scene(c.shot.SceneID)
		if err != nil {
			return nil, err
		}
		out.Scene = scene.Name
	}
	p, err := s.Picture(ctx, v)
	if err != nil {
		return nil, err
	}
	if out.frame, err = p.png(); err != nil {
		return nil, err
	}
	if render.FilmOf(c.look) != nil {
		r, err := s.ReadFilm(ctx, View{Shot: id, Frame: n}, "", nil)
		if err != nil {
			return nil, err
		}
		var b bytes.Buffer
		if err := DrawFilm(&b, r.Film, r.Drawing(false)); err != nil {
			return nil, err
		}
		out.film = b.Bytes()
	}
	return out, nil
}

// Text is the summary as plain text.
func (s *Summary) Text() string {
	head := fmt.Sprintf("recorded as %s, shown on %s; reel %s", s.Encoding, s.Display, s.Reel)
	if s.Scene != "" {
		head += ", scene " + s.Scene
	}
	text := s.String()
	title, rest, _ := strings.Cut(text, "\n")
	line, rest, _ := strings.Cut(rest, "\n")
	return title + "\n" + line + "\n" + head + "\n" + rest
}

// HTML is the summary as a page to print, whole in itself.
func (s *Summary) HTML() ([]byte, error) {
	var b bytes.Buffer
	err := summaryPage.Execute(&b, map[string]any{
		"S": s, "Frame": template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(s.frame)), "Film": template.HTML(s.film),
	})
	return b.Bytes(), err
}

var summaryPage = template.Must(template.New("summary").Parse(`<!doctype html>
<html lang="en"><meta charset="utf-8"><title>{{.S.Shot}}: what was done</title>
<style>
body { font: 10pt/1.4 sans-serif; color: #111; background: #fff; max-width: 180mm; margin: 12mm auto; }
h1 { font-size: 16pt; margin: 0 0 1mm; } h2 { font-size: 11pt; margin: 6mm 0 1mm; border-bottom: 1px solid #999; } h3 { font-size: 10pt; margin: 2mm 0 0; }
img { width: 100%; background: #000; } svg { width: 100%; height: auto; } p { margin: 0 0 3mm; color: #555; }
table { border-collapse: collapse; margin: 0 0 1mm 5mm; } td { padding: 0 6mm 0 0; vertical-align: top; } td + td { font-variant-numeric: tabular-nums; }
small { color: #666; font-weight: normal; } section, table { break-inside: avoid; }
</style>
<h1>{{.S.Shot}}</h1>
<p>{{.S.Reel}}{{with .S.Scene}}, scene {{.}}{{end}}. Recorded as {{.S.Encoding}}, shown on {{.S.Display}}.</p>
<img src="{{.Frame}}" alt="A frame of {{.S.Shot}}">
{{range .S.Stations}}<section><h2>{{.Label}} <small>{{if .Off}}off{{else if ne .Strength 100.0}}at {{.Strength}} %{{end}}</small></h2>
{{range .Steps}}<h3>{{.Called}} <small>{{with .Level}}of the {{.}}{{end}} {{if .Off}}off{{else if ne .Strength 100.0}}at {{.Strength}} %{{end}} {{with .Matte}}matte {{.}}{{end}}</small></h3>
<table>{{range .Values}}<tr><td>{{.Label}}{{if ge .Frame 0}}, frame {{.Frame}}{{end}}</td><td>{{.Says}}</td></tr>{{end}}</table>
{{end}}</section>{{end}}
{{if .S.Mattes}}<section><h2>Mattes</h2><table>{{range .S.Mattes}}<tr><td>{{.Name}}</td><td>{{range .Parts}}{{.}}<br>{{end}}</td></tr>{{end}}</table></section>{{end}}
{{if .Film}}<section><h2>Film</h2>{{.Film}}</section>{{end}}
</html>
`))
