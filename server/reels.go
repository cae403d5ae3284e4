package server

import (
	"github.com/gin-gonic/gin"

	"velours/library"
	"velours/studio"
)

func (s *Server) reels(*gin.Context) (any, error) {
	list, err := s.studio.Headlines()
	if err != nil {
		return nil, err
	}
	out := ReelPage{Reels: []ReelHead{}}
	for i := range list {
		out.Reels = append(out.Reels, reelHead(&list[i].Reel, list[i].Count, list[i].Cover))
	}
	out.Undo, out.Redo, err = s.neighbours(library.Chain{})
	return out, err
}

func reelHead(r *library.Reel, count int, cover uint) ReelHead {
	return ReelHead{ID: r.ID, Name: r.Name, Demo: r.Demo, Archived: r.Archived, Count: count, Cover: cover}
}

func (s *Server) addReel(c *gin.Context) (any, error) {
	n, err := body[Named](c)
	if err != nil {
		return nil, err
	}
	r, err := s.studio.AddReel(n.Name)
	if err != nil {
		return nil, err
	}
	return reelHead(r, 0, 0), nil
}

func (s *Server) copyReel(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	r, err := s.studio.CopyReel(n)
	if err != nil {
		return nil, err
	}
	return reelHead(r, 0, 0), nil
}

func (s *Server) reel(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	return s.reelOf(n)
}

// reelOf is a reel with all that it holds.
func (s *Server) reelOf(n uint) (any, error) {
	r, err := s.studio.Reel(n)
	if err != nil {
		return nil, err
	}
	out := Reel{Levels: levels(r), Name: r.Name, Demo: r.Demo, Shots: []ShotCard{}}
	for i := range r.Shots {
		out.Shots = append(out.Shots, shotCard(&r.Shots[i]))
	}
	out.Undo, out.Redo, err = s.neighbours(library.Chain{Reel: n})
	return out, err
}

func (s *Server) changeReel(c *gin.Context) (any, error) {
	n, q, err := asked[ReelChange](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.ChangeReel(n, q.Change, q.By())
}

func (s *Server) changeScene(c *gin.Context) (any, error) {
	n, q, err := asked[ReelChange](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.ChangeScene(n, q.Change, q.By())
}

func (s *Server) changeShots(c *gin.Context) (any, error) {
	q, err := body[ShotsChange](c)
	if err != nil {
		return nil, err
	}
	if len(q.Shots) == 0 {
		return nil, studio.Bad("no shot is chosen")
	}
	return nil, s.studio.ChangeShots(q.Shots, q.Change, q.By())
}

func (s *Server) match(c *gin.Context) (any, error) {
	n, q, err := asked[MatchTo](c)
	if err != nil {
		return nil, err
	}
	met, err := s.studio.Match(c.Request.Context(), n, q.MatchTo, q.By())
	if err != nil {
		return nil, err
	}
	shot, err := s.shot(met.Shot)
	return Met{shot, met.Same, met.Was, met.Is, met.Says}, err
}

func (s *Server) carry(c *gin.Context) (any, error) {
	q, err := body[CarryAsk](c)
	if err != nil {
		return nil, err
	}
	shots, err := s.studio.Carry(q.CarryAsk, q.By())
	if err != nil {
		return nil, err
	}
	return shotCards(shots), nil
}

func shotCards(list []*library.Shot) []ShotCard {
	out := []ShotCard{}
	for _, x := range list {
		out = append(out, shotCard(x))
	}
	return out
}

func (s *Server) placeReel(c *gin.Context) (any, error) {
	n, q, err := asked[PlaceBefore](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.PlaceReel(n, q.Before, q.By())
}

func (s *Server) placeScene(c *gin.Context) (any, error) {
	n, q, err := asked[PlaceBefore](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.PlaceScene(n, q.Before, q.By())
}

func (s *Server) addScene(c *gin.Context) (any, error) {
	n, q, err := asked[NewScene](c)
	if err != nil {
		return nil, err
	}
	if _, err := s.studio.AddScene(n, q.Name, q.Shots, q.By()); err != nil {
		return nil, err
	}
	return s.reelOf(n)
}

func (s *Server) placeShots(c *gin.Context) (any, error) {
	n, q, err := asked[Placing](c)
	if err != nil {
		return nil, err
	}
	if len(q.Shots) == 0 {
		return nil, studio.Bad("no shot is chosen")
	}
	if err := s.studio.Place(n, q.Shots, q.Scene, q.Before, q.By()); err != nil {
		return nil, err
	}
	return s.reelOf(n)
}

func (s *Server) undoReel(c *gin.Context) (any, error) { return s.travelReel(c, s.studio.UndoReel) }
func (s *Server) redoReel(c *gin.Context) (any, error) { return s.travelReel(c, s.studio.RedoReel) }

func (s *Server) travelReel(c *gin.Context, f func(uint, library.Author) error) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	a, err := author(c)
	if err != nil {
		return nil, err
	}
	if err := f(n, a); err != nil {
		return nil, err
	}
	return s.reelOf(n)
}

func (s *Server) undoReels(c *gin.Context) (any, error) { return s.travelPage(c, s.studio.UndoReel) }
func (s *Server) redoReels(c *gin.Context) (any, error) { return s.travelPage(c, s.studio.RedoReel) }

func (s *Server) travelPage(c *gin.Context, f func(uint, library.Author) error) (any, error) {
	a, err := author(c)
	if err != nil {
		return nil, err
	}
	if err := f(0, a); err != nil {
		return nil, err
	}
	return s.reels(c)
}
