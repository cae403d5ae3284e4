package server

import (
	"context"
	"log/slog"

	"github.com/gin-gonic/gin"

	"velours/core/noise"
	"velours/library"
	"velours/studio"
)

// MeasuredGrain is a grain card with a patch of its grain, pixel for pixel on three greys: a PNG in a data URL.
type MeasuredGrain struct {
	Card  *noise.Card `json:"card"`
	Patch string      `json:"patch"`
}

// MatchAsk asks for the grain of a card of the library on a shot.
type MatchAsk struct {
	Author
	Card string `json:"card"`
}

// MatchedGrain is what a match came to, with the shot as it is now.
type MatchedGrain struct {
	studio.Matched
	Shot Shot `json:"shot"`
}

func (s *Server) measureGrain(c *gin.Context) (any, error) {
	q, err := body[studio.GrainAsk](c)
	if err != nil {
		return nil, err
	}
	card, err := s.studio.MeasureGrain(c.Request.Context(), q, nil)
	if err != nil {
		return nil, err
	}
	return drawn(c.Request.Context(), card)
}

// drawn is a card with its patch.
func drawn(ctx context.Context, card *noise.Card) (*MeasuredGrain, error) {
	patch, err := studio.GrainPatch(ctx, card)
	if err != nil {
		return nil, err
	}
	return &MeasuredGrain{card, patch}, nil
}

// GrainRequest asks for the grain of a shot, or of a pin, to be measured.
type GrainRequest struct {
	Asked
	Grain studio.GrainAsk `json:"grain"`
}

func (w *window) grain(ctx context.Context, q *GrainRequest) error {
	card, err := w.s.studio.MeasureGrain(ctx, q.Grain, now(func(done float64) {
		if err := w.send(ctx, &GrainReply{Replied: replied("grain", q.Asked), Done: done}, nil); err != nil {
			slog.Debug("telling how far grain is measured", "error", err)
		}
	}))
	if err != nil {
		return err
	}
	made, err := drawn(ctx, card)
	if err != nil {
		return err
	}
	return w.send(ctx, &GrainReply{replied("grain", q.Asked), 1, made}, nil)
}

func (s *Server) grainCard(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	a, err := s.studio.Asset(n)
	if err != nil {
		return nil, err
	}
	if a.Kind != "grain" {
		return nil, studio.Bad("%s is no grain card", a.Name)
	}
	card, err := noise.ParseCard(a.Data)
	if err != nil {
		return nil, err
	}
	return drawn(c.Request.Context(), card)
}

func (s *Server) keepGrain(c *gin.Context) (any, error) {
	card, err := body[noise.Card](c)
	if err != nil {
		return nil, err
	}
	a, err := s.studio.AddGrain(&card)
	if err != nil {
		return nil, err
	}
	return kept(a)
}

func (s *Server) matchGrain(c *gin.Context) (any, error) {
	q, err := body[MatchAsk](c)
	if err != nil {
		return nil, err
	}
	return s.matched(c, func(id uint) (*studio.Matched, error) {
		return s.studio.MatchGrain(c.Request.Context(), id, q.Card, q.By())
	})
}

func (s *Server) regrain(c *gin.Context) (any, error) {
	q, err := body[Author](c)
	if err != nil {
		return nil, err
	}
	return s.matched(c, func(id uint) (*studio.Matched, error) {
		return s.studio.Regrain(c.Request.Context(), id, q.By())
	})
}

// matched answers with what a match of the shot came to.
func (s *Server) matched(c *gin.Context, do func(id uint) (*studio.Matched, error)) (any, error) {
	var out *studio.Matched
	shot, err := s.withShot(c, func(id uint) (_ *library.Shot, err error) {
		if out, err = do(id); err != nil {
			return nil, err
		}
		return out.Shot, nil
	})
	if err != nil {
		return nil, err
	}
	return MatchedGrain{*out, shot.(Shot)}, nil
}
