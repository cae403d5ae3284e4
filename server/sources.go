package server

import (
	"context"
	"io"
	"log/slog"

	"github.com/gin-gonic/gin"

	"velours/library"
	"velours/studio"
)

func (s *Server) browse(c *gin.Context) (any, error) { return s.studio.Browse(c.Query("folder")) }

func (s *Server) addShots(c *gin.Context) (any, error) {
	reel, n, err := asked[NewShots](c)
	if err != nil {
		return nil, err
	}
	return s.added(s.studio.AddSources(c.Request.Context(), reel, n.Paths))
}

func (s *Server) addProgramme(c *gin.Context) (any, error) {
	reel, n, err := asked[NewProgramme](c)
	if err != nil {
		return nil, err
	}
	return s.added(s.studio.AddProgramme(c.Request.Context(), reel, n.Path, n.Rate, n.Handles, n.By()))
}

func (s *Server) split(c *gin.Context) (any, error) {
	n, q, err := asked[Splitting](c)
	if err != nil {
		return nil, err
	}
	shots, err := s.studio.Split(n, q.At, q.By())
	if err != nil {
		return nil, err
	}
	return shotCards(shots), nil
}

// upload takes files as they come, to the disk, and then brings in what they make together.
func (s *Server) upload(c *gin.Context) (any, error) {
	reel, err := id(c)
	if err != nil {
		return nil, err
	}
	parts, err := c.Request.MultipartReader()
	if err != nil {
		return nil, studio.Bad("files are sent as multipart/form-data: %w", err)
	}
	return s.added(s.studio.Upload(c.Request.Context(), reel, func() (string, io.Reader, error) {
		part, err := parts.NextPart()
		if err != nil {
			return "", nil, err
		}
		return part.FileName(), part, nil
	}))
}

func (s *Server) added(got *studio.Added, err error) (any, error) {
	if err != nil {
		return nil, err
	}
	shots, err := s.shots(got.Shots)
	if err != nil {
		return nil, err
	}
	return Added{shots, append([]string{}, got.Problems...)}, nil
}

func (s *Server) shots(list []*library.Shot) ([]Shot, error) {
	out := []Shot{}
	for _, x := range list {
		o, err := s.shot(x)
		if err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	return out, nil
}

func (s *Server) declare(c *gin.Context) (any, error) {
	d, err := body[Declaration](c)
	if err != nil {
		return nil, err
	}
	list, err := s.studio.Declare(d.Shots, d.Encoding, d.By())
	if err != nil {
		return nil, err
	}
	return s.shots(list)
}

func (s *Server) span(c *gin.Context) (any, error) {
	p, err := body[Span](c)
	if err != nil {
		return nil, err
	}
	return s.withShot(c, func(id uint) (*library.Shot, error) { return s.studio.SetSpan(id, p.In, p.Out, p.By()) })
}

func (s *Server) removeShot(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	gone := true
	return nil, s.studio.ChangeShots([]uint{n}, studio.Change{Removed: &gone}, library.Author{})
}

// AlikeRequest asks for the shots of a shot's reel that look like it as they came in.
type AlikeRequest struct {
	Asked
	Shot uint `json:"shot"`
}

func (w *window) alike(ctx context.Context, q *AlikeRequest) error {
	list, err := w.s.studio.Alike(ctx, q.Shot, now(func(done float64) {
		if err := w.send(ctx, &AlikeReply{Replied: replied("alike", q.Asked), Done: done}, nil); err != nil {
			slog.Debug("telling how far like shots are found", "error", err)
		}
	}))
	if err != nil {
		return err
	}
	return w.send(ctx, &AlikeReply{replied("alike", q.Asked), 1, list, true}, nil)
}

// CutsRequest asks for the cuts of a shot's movie.
type CutsRequest struct {
	Asked
	Shot uint `json:"shot"`
}

func (w *window) cuts(ctx context.Context, q *CutsRequest) error {
	list, err := w.s.studio.Cuts(ctx, q.Shot, now(func(done float64) {
		if err := w.send(ctx, &CutsReply{Replied: replied("cuts", q.Asked), Done: done}, nil); err != nil {
			slog.Debug("telling how far cuts are found", "error", err)
		}
	}))
	if err != nil {
		return err
	}
	return w.send(ctx, &CutsReply{replied("cuts", q.Asked), 1, list, true}, nil)
}
