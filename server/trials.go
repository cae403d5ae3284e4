package server

import (
	"github.com/gin-gonic/gin"

	"velours/library"
	"velours/studio"
)

func trials(list []library.Trial) []Trial {
	out := []Trial{}
	for i := range list {
		t := &list[i]
		out = append(out, Trial{ID: t.ID, Level: studio.TrialLevel(t), Of: t.OwnerID, Number: t.Number, Name: t.Name, Answer: t.Answer})
	}
	return out
}

func (s *Server) addTrial(c *gin.Context) (any, error) {
	n, q, err := asked[NewTrial](c)
	if err != nil {
		return nil, err
	}
	return s.stands(s.studio.AddTrial(n, q.Level, q.By()))
}

func (s *Server) useTrial(c *gin.Context) (any, error) {
	n, q, err := asked[AskedTrial](c)
	if err != nil {
		return nil, err
	}
	if _, err := s.studio.UseTrial(n, q.Trial, q.By()); err != nil {
		return nil, err
	}
	return s.stands(s.studio.Shot(n))
}

func (s *Server) changeTrial(c *gin.Context) (any, error) {
	n, q, err := asked[TrialChanged](c)
	if err != nil {
		return nil, err
	}
	if _, err := s.studio.ChangeTrial(n, q.Trial, q.TrialChange, q.By()); err != nil {
		return nil, err
	}
	return s.stands(s.studio.Shot(n))
}

// stands is a shot after a change, with the looks above it.
func (s *Server) stands(shot *library.Shot, err error) (any, error) {
	if err != nil {
		return nil, err
	}
	return s.standing(shot, true)
}
