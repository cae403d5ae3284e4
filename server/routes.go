package server

import (
	"errors"
	"fmt"
	"net/http"
	"path/filepath"
	"strconv"

	"github.com/gin-gonic/gin"

	"velours/core/colour"
	"velours/core/grade"
	"velours/core/look"
	"velours/core/noise"
	"velours/core/vec"
	"velours/library"
	"velours/studio"
)

// route is one call of the API; the description and the front end's types come from this table.
type route struct {
	method, path, summary string
	in, out               any
	call                  func(s *Server, c *gin.Context) (any, error)
}

var routes = []route{
	{"GET", "/desk", "Everything that is declared: stations, kinds, settings, formats", nil, Desk{}, (*Server).desk},
	{"GET", "/reels", "All reels", nil, ReelPage{}, (*Server).reels},
	{"POST", "/reels", "Make a reel", Named{}, ReelHead{}, (*Server).addReel},
	{"POST", "/reels/undo", "Take back the last change of what reels are called, and where they stand", Author{}, ReelPage{}, (*Server).undoReels},
	{"POST", "/reels/redo", "Do again what that took back", Author{}, ReelPage{}, (*Server).redoReels},
	{"GET", "/reels/:id", "A reel with its scenes and shots", nil, Reel{}, (*Server).reel},
	{"PUT", "/reels/:id", "Name, archive or remove a reel", ReelChange{}, nil, (*Server).changeReel},
	{"POST", "/reels/:id/copy", "Make a reel of the same shots and looks", nil, ReelHead{}, (*Server).copyReel},
	{"POST", "/reels/:id/place", "Put a reel before another", PlaceBefore{}, nil, (*Server).placeReel},
	{"POST", "/reels/:id/undo", "Take back the last change of a reel's look, or of facts of what it holds", Author{}, Reel{}, (*Server).undoReel},
	{"POST", "/reels/:id/redo", "Do again what that took back", Author{}, Reel{}, (*Server).redoReel},
	{"POST", "/reels/:id/scenes", "Group shots into a new scene", NewScene{}, Reel{}, (*Server).addScene},
	{"POST", "/reels/:id/order", "Put shots into a scene, before another shot", Placing{}, Reel{}, (*Server).placeShots},
	{"PUT", "/scenes/:id", "Name or dissolve a scene", ReelChange{}, nil, (*Server).changeScene},
	{"POST", "/scenes/:id/place", "Put a scene before another", PlaceBefore{}, nil, (*Server).placeScene},
	{"POST", "/shots/:id/match", "Bring a shot to a reference by exposure, white balance and contrast, as one act", MatchTo{}, Met{}, (*Server).match},
	{"POST", "/carry", "Take parts of a look over to shots, as one act", CarryAsk{}, []ShotCard{}, (*Server).carry},
	{"PUT", "/shots", "Name, flag, note or remove shots; their files stay", ShotsChange{}, nil, (*Server).changeShots},
	{"GET", "/media", "What lies in a folder (the query's folder; without one, the places that may be looked into)", nil, studio.Listing{}, (*Server).browse},
	{"POST", "/reels/:id/shots", "Bring files, sequences and folders into a reel", NewShots{}, Added{}, (*Server).addShots},
	{"POST", "/reels/:id/programme", "Bring in what an edit list shows, event by event", NewProgramme{}, Added{}, (*Server).addProgramme},
	{"POST", "/shots/:id/split", "Make shots of one that holds several", Splitting{}, []ShotCard{}, (*Server).split},
	{"POST", "/reels/:id/uploads", "Bring files into a reel that come with the request, as multipart/form-data", nil, Added{}, (*Server).upload},
	{"POST", "/declarations", "Declare the encoding of shots", Declaration{}, []Shot{}, (*Server).declare},
	{"GET", "/shots/:id", "One shot", nil, Shot{}, (*Server).getShot},
	{"GET", "/library", "Own encodings and tables", nil, AssetList{}, (*Server).assets},
	{"POST", "/library/encodings", "Keep an own encoding, in place of one of its name", colour.Own{}, Kept{}, (*Server).keepEncoding},
	{"POST", "/library/plot", "What an own encoding would be", colour.Own{}, Plot{}, (*Server).plot},
	{"POST", "/library/files", "Keep files of tables and encodings that come with the request, as multipart/form-data; the query's after names the encoding that a table leads to, if it is an input", nil, KeptFiles{}, (*Server).keepFiles},
	{"POST", "/library/measure", "Make a stock card of measurements: wedges, and shots of charts, scenes, an edge, patches, a lamp; it is not kept yet", studio.FilmAsk{}, studio.Fitted{}, (*Server).measureFilm},
	{"POST", "/library/stand-in", "Bring the stand-in set of measurements in, a reel of shots and two wedges, and what asks for all of it to be measured", nil, studio.FilmAsk{}, (*Server).standIn},
	{"POST", "/library/ready", "Keep settings of a kind ready, in place of those of their name", studio.OwnReady{}, Kept{}, (*Server).keepReady},
	{"POST", "/library/stocks", "Keep a stock card", CardAsk{}, Kept{}, (*Server).keepStock},
	{"POST", "/grain", "Measure the grain of a shot or a pin as a card; it is not kept yet", studio.GrainAsk{}, MeasuredGrain{}, (*Server).measureGrain},
	{"POST", "/library/grain", "Keep a grain card", noise.Card{}, Kept{}, (*Server).keepGrain},
	{"GET", "/library/:id/grain", "A grain card of the library, with a patch of its grain", nil, MeasuredGrain{}, (*Server).grainCard},
	{"POST", "/shots/:id/grain", "Give a shot so much grain on top that it has that of a card, with what there is already", MatchAsk{}, MatchedGrain{}, (*Server).matchGrain},
	{"POST", "/shots/:id/regrain", "Give a shot whose noise is taken out its own grain again, on top", Author{}, MatchedGrain{}, (*Server).regrain},
	{"DELETE", "/library/:id", "Take something out of the library", nil, nil, (*Server).removeAsset},
	{"GET", "/library/:id/file", "The file of something in the library", nil, nil, nil},
	{"DELETE", "/shots/:id", "Take a shot out of its reel; its files stay", nil, nil, (*Server).removeShot},
	{"PUT", "/shots/:id/span", "Set in and out", Span{}, Shot{}, (*Server).span},
	{"POST", "/shots/:id/edits", "Change a shot, or a level above it", Edit{}, Standing{}, (*Server).edit},
	{"POST", "/shots/:id/undo", "Take the last change back that reaches the shot; with a revision or a change, only if nothing has come between", Author{}, Standing{}, (*Server).undo},
	{"POST", "/shots/:id/redo", "Do again what undo took back", Author{}, Standing{}, (*Server).redo},
	{"POST", "/shots/:id/trials", "Keep what a level of a shot has as a trial, and go on in a new one", NewTrial{}, Standing{}, (*Server).addTrial},
	{"POST", "/shots/:id/trial", "Put a trial of a shot, or of a level above it, in use", AskedTrial{}, Standing{}, (*Server).useTrial},
	{"PUT", "/shots/:id/trial", "Name, mark or remove a trial of a shot or of a level above it", TrialChanged{}, Standing{}, (*Server).changeTrial},
	{"PUT", "/shots/:id/frame", "Remember where the shot is looked at", FrameAt{}, nil, (*Server).frame},
	{"POST", "/shots/:id/deliveries", "Start a delivery", NewDelivery{}, Delivery{}, (*Server).deliver},
	{"GET", "/shots/:id/film", "Curves, figures and spectra of a shot's film at the query's frame; with names a stock to compare with, x and y a point of the frame", nil, studio.FilmReading{}, (*Server).film},
	{"GET", "/shots/:id/film.svg", "The same as a drawing; dark draws it for a dim room", nil, nil, nil},
	{"GET", "/shots/:id/film.csv", "The same curves as a table of text", nil, nil, nil},
	{"GET", "/stocks/:id/character.svg", "What makes a stock itself, drawn: where colours go, its greys, its grain and its halo; dark draws it for a dim room", nil, nil, nil},
	{"GET", "/stocks/:id/versus/:other", "Two stocks against each other on the reference print, colour by colour", nil, []studio.VersusRow{}, (*Server).versus},
	{"GET", "/recipes", "Ready films by feeling and era", nil, []ReadyFilm{}, (*Server).recipes},
	{"PUT", "/favourites", "Keep a stock, a medium or a recipe in reach, or no longer", Favourite{}, nil, (*Server).favourite},
	{"GET", "/pins", "All pins and references, newest first", nil, Pins{}, (*Server).pins},
	{"POST", "/shots/:id/pins", "Freeze a frame with its settings", FrameAt{}, Pin{}, (*Server).addPin},
	{"POST", "/reels/:id/references", "Put stills from elsewhere on the pinboard, as multipart/form-data", nil, Pins{}, (*Server).addReferences},
	{"PUT", "/pins/:id", "Rename a pin", PinName{}, Pin{}, (*Server).renamePin},
	{"DELETE", "/pins/:id", "Take a pin off the board", nil, nil, (*Server).removePin},
	{"POST", "/shots/:id/take", "Give a shot the settings of a pin", TakenPin{}, Shot{}, (*Server).takePin},
	{"GET", "/looks", "The looks that can be tried: those that ship, those that are kept, and those of pins", nil, []studio.ReadyLook{}, (*Server).looks},
	{"POST", "/looks", "Keep the look of a shot, whole or in parts", KeepLook{}, Kept{}, (*Server).keepLook},
	{"PUT", "/looks/:id", "Say something else of a kept look", LookWords{}, nil, (*Server).describeLook},
	{"GET", "/looks/file", "Kept looks as one file: the query's ids, with commas", nil, nil, nil},
	{"POST", "/shots/:id/look", "Give a shot, or a level above it, a look at a strength", TakenLook{}, Standing{}, (*Server).takeLook},
	{"GET", "/shots/:id/summary", "What was done to a shot, in words; with the query's format html a page to print, text plain text", nil, look.Told{}, nil},
	{"GET", "/deliveries", "The newest deliveries", nil, []Delivery{}, (*Server).deliveries},
	{"DELETE", "/deliveries/:id", "Cancel a delivery", nil, nil, (*Server).cancel},
	{"GET", "/deliveries/:id/file", "The file of a finished delivery", nil, nil, nil},
}

func id(c *gin.Context) (uint, error) {
	n, err := strconv.ParseUint(c.Param("id"), 10, 32)
	if err != nil {
		return 0, studio.Bad("%q is not a number", c.Param("id"))
	}
	return uint(n), nil
}

// mostBody is how large a JSON body may be, in bytes.
const mostBody = 1 << 20

// body reads a JSON body, refusing what it does not know.
func body[T any](c *gin.Context) (T, error) {
	var v T
	if !isJSON(c.Request) {
		return v, errNotJSON
	}
	if err := decode(http.MaxBytesReader(c.Writer, c.Request.Body, mostBody), &v); err != nil {
		if large := new(http.MaxBytesError); errors.As(err, &large) {
			return v, fmt.Errorf("the request is larger than %d kB: %w", mostBody>>10, err)
		}
		return v, studio.Bad("the request cannot be read: %w", err)
	}
	return v, nil
}

// asked reads what most changes ask with: the number in the path and a JSON body.
func asked[T any](c *gin.Context) (uint, T, error) {
	n, err := id(c)
	if err != nil {
		var none T
		return 0, none, err
	}
	v, err := body[T](c)
	return n, v, err
}

func (s *Server) desk(*gin.Context) (any, error) {
	kept, err := s.studio.Favourites()
	if err != nil {
		return nil, err
	}
	d := Desk{Favourites: kept, Kinds: look.Kinds(), Encodings: studio.Encodings(), Mattes: look.MatteKinds(), MatteSettings: look.MatteSettings(), Families: grade.FamilyList, Formats: studio.Formats, Parts: look.Parts, Lays: look.Lays, Engine: vec.Backend()}
	for _, st := range look.Stations {
		d.Stations = append(d.Stations, StationInfo{st, st.Label()})
	}
	return d, nil
}

// withShot runs f on the shot of the path and answers with the shot as it is then.
func (s *Server) withShot(c *gin.Context, f func(id uint) (*library.Shot, error)) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	shot, err := f(n)
	if err != nil {
		return nil, err
	}
	return s.shot(shot)
}

func (s *Server) getShot(c *gin.Context) (any, error) { return s.withShot(c, s.studio.Shot) }

func (s *Server) edit(c *gin.Context) (any, error) {
	n, e, err := asked[Edit](c)
	if err != nil {
		return nil, err
	}
	if e.Level == "" {
		e.Level = look.OfShot
	}
	shot, err := s.studio.EditAt(n, e.Level, e.Edit, e.By())
	if err != nil {
		return nil, err
	}
	return s.standing(shot, e.Level != look.OfShot || e.Op == look.OpLift)
}

// standing is a shot after a change, with the looks above it if they may have changed.
func (s *Server) standing(x *library.Shot, above bool) (any, error) {
	shot, err := s.shot(x)
	out := Standing{Shot: shot}
	if err != nil || !above {
		return out, err
	}
	reel, err := s.studio.Levels(x.ReelID)
	if err != nil {
		return nil, err
	}
	l := levels(reel)
	out.Levels = &l
	return out, nil
}

func (s *Server) undo(c *gin.Context) (any, error) { return s.travel(c, s.studio.Undo) }
func (s *Server) redo(c *gin.Context) (any, error) { return s.travel(c, s.studio.Redo) }

func (s *Server) travel(c *gin.Context, f func(uint, library.Author) (*library.Shot, error)) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	a, err := author(c)
	if err != nil {
		return nil, err
	}
	shot, err := f(n, a)
	if err != nil {
		return nil, err
	}
	return s.standing(shot, true)
}

// author reads who it is, which need not be said.
func author(c *gin.Context) (library.Author, error) {
	if c.Request.ContentLength == 0 {
		return library.Author{}, nil
	}
	a, err := body[Author](c)
	return a.By(), err
}

func (s *Server) frame(c *gin.Context) (any, error) {
	n, f, err := asked[FrameAt](c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.SetFrame(n, f.Frame)
}

func (s *Server) deliver(c *gin.Context) (any, error) {
	n, q, err := asked[NewDelivery](c)
	if err != nil {
		return nil, err
	}
	var d *library.Delivery
	if len(q.Shots) > 0 {
		d, err = s.studio.DeliverSheet(q.Shots, q.Format)
	} else {
		d, err = s.studio.Deliver(n, q.Format, q.Frame, q.Placed)
	}
	if err != nil {
		return nil, err
	}
	return delivery(d), nil
}

func (s *Server) deliveries(*gin.Context) (any, error) {
	list, err := s.studio.Deliveries()
	if err != nil {
		return nil, err
	}
	out := []Delivery{}
	for i := range list {
		out = append(out, delivery(&list[i]))
	}
	return out, nil
}

func (s *Server) cancel(c *gin.Context) (any, error) {
	n, err := id(c)
	if err != nil {
		return nil, err
	}
	return nil, s.studio.CancelDelivery(n)
}

// file sends a finished delivery's file.
func (s *Server) file(c *gin.Context) {
	n, err := id(c)
	if err == nil {
		var d *library.Delivery
		if d, err = s.studio.Delivery(n); err == nil {
			if d.State != "done" {
				err = studio.Bad("delivery %d is not finished", n)
			} else {
				c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", filepath.Base(d.Path)))
				c.File(d.Path)
				return
			}
		}
	}
	problem(c, err)
}
