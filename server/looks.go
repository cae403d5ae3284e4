package server

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"velours/core/look"
	"velours/studio"
)

func (s *Server) keepLook(c *gin.Context) (any, error) {
	q, err := body[KeepLook](c)
	if err != nil {
		return nil, err
	}
	a, err := s.studio.KeepLook(c.Request.Context(), q.KeepLook)
	if err != nil {
		return nil, err
	}
	return kept(a)
}

func (s *Server) describeLook(c *gin.Context) (any, error) {
	n, w, err := asked[LookWords](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.DescribeLook(n, w.Name, w.Mood, w.Note)
}

func (s *Server) takeLook(c *gin.Context) (any, error) {
	n, q, err := asked[TakenLook](c)
	if err != nil {
		return nil, err
	}
	if q.Level == "" {
		q.Level = look.OfShot
	}
	shot, err := s.studio.TakeLook(n, q.Level, q.Look, q.Strength, q.By())
	if err != nil {
		return nil, err
	}
	return s.standing(shot, q.Level != look.OfShot)
}

// lookFile sends kept looks as one file.
func (s *Server) lookFile(c *gin.Context) {
	var ids []uint
	for _, text := range strings.Split(c.Query("ids"), ",") {
		n, err := strconv.ParseUint(text, 10, 32)
		if err != nil {
			problem(c, studio.Bad("%q is not a number", text))
			return
		}
		ids = append(ids, uint(n))
	}
	data, err := s.studio.WriteLooks(ids)
	if err != nil {
		problem(c, err)
		return
	}
	name := "looks"
	if len(ids) == 1 {
		if a, err := s.studio.Asset(ids[0]); err == nil {
			name = strings.TrimSuffix(a.File, ".looks.json")
		}
	}
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name+".looks.json"))
	c.Data(http.StatusOK, "application/json", data)
}

// summary tells what was done to a shot.
func (s *Server) summary(c *gin.Context) {
	n, err := id(c)
	if err != nil {
		problem(c, err)
		return
	}
	frame, _ := strconv.Atoi(c.Query("frame"))
	t, err := s.studio.Summary(c.Request.Context(), n, frame)
	if err != nil {
		problem(c, err)
		return
	}
	switch c.Query("format") {
	case "text":
		c.Data(http.StatusOK, "text/plain; charset=utf-8", []byte(t.Text()))
	case "html":
		page, err := t.HTML()
		if err != nil {
			problem(c, err)
			return
		}
		c.Data(http.StatusOK, "text/html; charset=utf-8", page)
	default:
		c.JSON(http.StatusOK, t.Told)
	}
}

// readLooks keeps the looks of a file.
func (s *Server) readLooks(name string, r io.Reader, reel uint, out *KeptFiles) error {
	data, err := io.ReadAll(io.LimitReader(r, 129<<20))
	if err != nil {
		return err
	}
	list, err := s.studio.ReadLooks(name, data, reel)
	if err != nil {
		return err
	}
	for _, a := range list {
		k, err := kept(a)
		if err != nil {
			return err
		}
		out.Kept = append(out.Kept, k)
	}
	return nil
}
