package server

import (
	"fmt"
	"io"

	"github.com/gin-gonic/gin"

	"velours/library"
	"velours/studio"
)

func (s *Server) pins(*gin.Context) (any, error) {
	list, err := s.studio.Pins()
	if err != nil {
		return nil, err
	}
	out := Pins{Pins: []Pin{}, Problems: []string{}}
	for i := range list {
		out.Pins = append(out.Pins, pin(&list[i]))
	}
	return out, nil
}

func (s *Server) addPin(c *gin.Context) (any, error) {
	n, f, err := asked[FrameAt](c)
	if err != nil {
		return nil, err
	}
	p, err := s.studio.AddPin(c.Request.Context(), n, f.Frame)
	if err != nil {
		return nil, err
	}
	return pin(p), nil
}

func (s *Server) looks(*gin.Context) (any, error) { return s.studio.Looks() }

// maxReference is how large a reference's file may be.
const maxReference = 256 << 20

func (s *Server) addReferences(c *gin.Context) (any, error) {
	reel, err := id(c)
	if err != nil {
		return nil, err
	}
	parts, err := c.Request.MultipartReader()
	if err != nil {
		return nil, studio.Bad("the request cannot be read: %w", err)
	}
	out := Pins{Pins: []Pin{}, Problems: []string{}}
	for {
		part, err := parts.NextPart()
		if err == io.EOF {
			return out, nil
		}
		if err != nil {
			return nil, studio.Bad("the sending broke off: %w", err)
		}
		data, err := io.ReadAll(io.LimitReader(part, maxReference+1))
		if err != nil {
			return nil, studio.Bad("the sending broke off: %w", err)
		}
		if len(data) > maxReference {
			out.Problems = append(out.Problems, fmt.Sprintf("%s is larger than %d MB, the most for a reference", part.FileName(), maxReference>>20))
			continue
		}
		p, err := s.studio.AddReference(c.Request.Context(), reel, part.FileName(), data)
		if err != nil {
			out.Problems = append(out.Problems, err.Error())
			continue
		}
		out.Pins = append(out.Pins, pin(p))
	}
}

func (s *Server) renamePin(c *gin.Context) (any, error) {
	n, b, err := asked[PinName](c)
	if err != nil {
		return nil, err
	}
	p, err := s.studio.RenamePin(n, b.Name)
	if err != nil {
		return nil, err
	}
	return pin(p), nil
}

func (s *Server) removePin(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.RemovePin(n)
}

func (s *Server) takePin(c *gin.Context) (any, error) {
	b, err := body[TakenPin](c)
	if err != nil {
		return nil, err
	}
	return s.withShot(c, func(shot uint) (*library.Shot, error) {
		return s.studio.TakePin(shot, b.Pin, b.By())
	})
}
