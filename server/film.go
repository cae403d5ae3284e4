package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"velours/core/look"
	"velours/core/steps"
	"velours/studio"
)

// CardAsk is a stock card to be kept.
type CardAsk struct {
	Card json.RawMessage `json:"card" ts:"unknown"`
}

// ReadyFilm is a recipe: stations to put in place of a look's own.
type ReadyFilm struct {
	ID    string          `json:"id"`
	Label string          `json:"label"`
	Note  string          `json:"note"`
	Era   string          `json:"era"`
	Tags  []string        `json:"tags"`
	Look  json.RawMessage `json:"look" ts:"Look"`
}

// Favourite keeps something in reach.
type Favourite struct {
	Key string `json:"key"`
	On  bool   `json:"on"`
}

func (s *Server) measureFilm(c *gin.Context) (any, error) {
	q, err := body[studio.FilmAsk](c)
	if err != nil {
		return nil, err
	}
	return s.studio.MeasureShots(c.Request.Context(), q, nil)
}

func (s *Server) standIn(c *gin.Context) (any, error) {
	return s.studio.StandIn(c.Request.Context())
}

func (s *Server) keepStock(c *gin.Context) (any, error) {
	q, err := body[CardAsk](c)
	if err != nil {
		return nil, err
	}
	a, err := s.studio.AddStock(q.Card)
	if err != nil {
		return nil, err
	}
	return kept(a)
}

func (s *Server) recipes(*gin.Context) (any, error) {
	list, err := steps.Recipes()
	if err != nil {
		return nil, err
	}
	out := []ReadyFilm{}
	for _, r := range list {
		l, err := r.Onto(look.NewLook(r.Label))
		if err != nil {
			return nil, err
		}
		doc, err := json.Marshal(l)
		if err != nil {
			return nil, err
		}
		out = append(out, ReadyFilm{r.ID, r.Label, r.Note, r.Era, r.Tags, doc})
	}
	return out, nil
}

func (s *Server) favourite(c *gin.Context) (any, error) {
	f, err := body[Favourite](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.SetFavourite(f.Key, f.On)
}

// film reads the film of a shot, as its query asks.
func (s *Server) film(c *gin.Context) (any, error) { return s.readFilm(c) }

func (s *Server) readFilm(c *gin.Context) (*studio.FilmReading, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	v := studio.View{Shot: n}
	if q := c.Query("frame"); q != "" {
		if v.Frame, err = strconv.Atoi(q); err != nil {
			return nil, studio.Bad("frame is %q, not a number", q)
		}
	}
	var at *studio.Probe
	if c.Query("x") != "" {
		at = &studio.Probe{}
		for name, to := range map[string]*float64{"x": &at.X, "y": &at.Y} {
			if *to, err = strconv.ParseFloat(c.Query(name), 64); err != nil {
				return nil, studio.Bad("%s is %q, not a number", name, c.Query(name))
			}
		}
	}
	return s.studio.ReadFilm(c.Request.Context(), v, c.Query("with"), at)
}

// sendFilm answers with what write makes of a shot's film; save names a file to keep it under.
func (s *Server) sendFilm(c *gin.Context, kind, save string, write func(r *studio.FilmReading, b *bytes.Buffer) error) {
	r, err := s.readFilm(c)
	var b bytes.Buffer
	if err == nil {
		err = write(r, &b)
	}
	if err != nil {
		problem(c, err)
		return
	}
	if c.Query("save") != "" {
		c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", save))
	}
	c.Data(http.StatusOK, kind, b.Bytes())
}

func (s *Server) filmDrawing(c *gin.Context) {
	s.sendFilm(c, "image/svg+xml", "film.svg", func(r *studio.FilmReading, b *bytes.Buffer) error {
		return studio.DrawFilm(b, r.Film, r.Drawing(c.Query("dark") != ""))
	})
}

// versus sets two stocks against each other.
func (s *Server) versus(c *gin.Context) (any, error) {
	return studio.Versus(c.Param("id"), c.Param("other"))
}

// stockDrawing answers with the character of a stock, drawn.
func (s *Server) stockDrawing(c *gin.Context) {
	var b bytes.Buffer
	if err := studio.DrawCharacter(c.Request.Context(), &b, c.Param("id"), c.Query("dark") != ""); err != nil {
		problem(c, err)
		return
	}
	c.Data(http.StatusOK, "image/svg+xml", b.Bytes())
}

func (s *Server) filmTable(c *gin.Context) {
	s.sendFilm(c, "text/csv; charset=utf-8", "film.csv", func(r *studio.FilmReading, b *bytes.Buffer) error {
		return studio.WriteFilmCSV(b, r.Film, r.Other)
	})
}
