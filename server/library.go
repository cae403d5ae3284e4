package server

import (
	"errors"
	"fmt"
	"io"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"velours/core/colour"
	"velours/core/spectrum"
	"velours/library"
	"velours/studio"
)

func kept(a *library.Asset) (Kept, error) {
	k := Kept{ID: a.ID, Kind: a.Kind, Key: a.Key, Name: a.Name, File: a.File, After: a.After}
	var err error
	if a.Kind == "encoding" {
		k.Own, err = colour.ParseOwn(a.Data)
	}
	if a.Kind == "ready" { // one of a kind or a setting that is gone is told without its values
		if r, err := studio.ParseReady(a.Data); err == nil {
			k.Ready = r
		}
	}
	return k, err
}

func (s *Server) keepReady(c *gin.Context) (any, error) {
	r, err := body[studio.OwnReady](c)
	if err != nil {
		return nil, err
	}
	a, err := s.studio.KeepReady(r)
	if err != nil {
		return nil, err
	}
	return kept(a)
}

func (s *Server) assets(*gin.Context) (any, error) {
	list, err := s.studio.AllAssets()
	if err != nil {
		return nil, err
	}
	out := AssetList{Kept: []Kept{}}
	for i := range list {
		k, err := kept(&list[i])
		if err != nil {
			return nil, err
		}
		out.Kept = append(out.Kept, k)
	}
	return out, nil
}

func (s *Server) keepEncoding(c *gin.Context) (any, error) {
	o, err := body[colour.Own](c)
	if err != nil {
		return nil, err
	}
	a, err := s.studio.AddEncoding(&o)
	if err != nil {
		return nil, err
	}
	return kept(a)
}

func (s *Server) plot(c *gin.Context) (any, error) {
	o, err := body[colour.Own](c)
	if err != nil {
		return nil, err
	}
	return Plot{o.Plot(), spectrum.Locus()}, nil
}

func (s *Server) keepFiles(c *gin.Context) (any, error) {
	parts, err := c.Request.MultipartReader()
	if err != nil {
		return nil, studio.Bad("files are sent as multipart/form-data: %w", err)
	}
	out := KeptFiles{Kept: []Kept{}, Problems: []string{}}
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, studio.Bad("the sending broke off: %w; send again", err)
		}
		var a *library.Asset
		if strings.HasSuffix(strings.ToLower(part.FileName()), ".looks.json") {
			reel, _ := strconv.ParseUint(c.Query("reel"), 10, 32)
			if err := s.readLooks(part.FileName(), part, uint(reel), &out); err != nil {
				out.Problems = append(out.Problems, err.Error())
			}
			continue
		}
		if strings.EqualFold(filepath.Ext(part.FileName()), ".json") {
			a, err = s.studio.AddCardFile(part.FileName(), part)
		} else {
			a, err = s.studio.AddTable(part.FileName(), c.Query("after"), part)
		}
		var bad studio.BadInput
		if errors.As(err, &bad) {
			out.Problems = append(out.Problems, err.Error())
			continue
		}
		if err != nil {
			return nil, err
		}
		k, err := kept(a)
		if err != nil {
			return nil, err
		}
		out.Kept = append(out.Kept, k)
	}
}

func (s *Server) removeAsset(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.RemoveAsset(n)
}

// assetFile sends the file of something in the library.
func (s *Server) assetFile(c *gin.Context) {
	n, err := id(c)
	if err == nil {
		var a *library.Asset
		if a, err = s.studio.Asset(n); err == nil {
			c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", a.File))
			c.Data(200, "application/octet-stream", a.Data)
			return
		}
	}
	problem(c, err)
}
