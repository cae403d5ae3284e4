package server

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"strings"
	"syscall"
	"time"

	"github.com/gin-gonic/gin"

	"velours/core/fault"
	"velours/core/film"
	"velours/core/look"
	"velours/core/strict"
	"velours/library"
	"velours/studio"
)

//go:embed all:dist
var dist embed.FS

// Server serves one studio.
type Server struct {
	studio *studio.Studio
	engine *gin.Engine
	access Access
}

// New prepares the routes.
func New(st *studio.Studio, access Access) *Server {
	gin.SetMode(gin.ReleaseMode)
	s := &Server{studio: st, engine: gin.New(), access: access}
	s.engine.HandleMethodNotAllowed = true
	s.engine.Use(caught, s.access.guard)
	s.engine.NoMethod(func(c *gin.Context) {
		refuse(c, http.StatusMethodNotAllowed, c.Request.Method+" is not done to "+c.Request.URL.Path)
	})
	api := s.engine.Group("/api/v1")
	for _, r := range routes {
		if r.call == nil {
			continue
		}
		api.Handle(r.method, r.path, func(c *gin.Context) {
			out, err := r.call(s, c)
			switch {
			case err != nil:
				problem(c, err)
			case out == nil:
				c.Status(http.StatusNoContent)
			default:
				c.JSON(http.StatusOK, out)
			}
		})
	}
	api.GET("/deliveries/:id/file", s.file)
	api.GET("/library/:id/file", s.assetFile)
	api.GET("/openapi.json", func(c *gin.Context) { c.JSON(http.StatusOK, Describe()) })
	api.GET("/look.schema.json", func(c *gin.Context) { c.JSON(http.StatusOK, look.Schema()) })
	api.GET("/stock.schema.json", func(c *gin.Context) { c.JSON(http.StatusOK, film.StockSchema()) })
	api.GET("/medium.schema.json", func(c *gin.Context) { c.JSON(http.StatusOK, film.MediumSchema()) })
	api.GET("/looks/file", s.lookFile)
	api.GET("/shots/:id/summary", s.summary)
	api.GET("/shots/:id/film.svg", s.filmDrawing)
	api.GET("/stocks/:id/character.svg", s.stockDrawing)
	api.GET("/shots/:id/film.csv", s.filmTable)
	api.GET("/window", s.window)
	s.engine.NoRoute(s.front)
	return s
}

// caught makes a panic a problem of its own request.
func caught(c *gin.Context) {
	err := fault.Do(func() error { c.Next(); return nil })
	if fault.Log("a request", err, "path", c.Request.URL.Path) && !c.Writer.Written() {
		refuse(c, http.StatusInternalServerError, err.Error()+"; what was changed before is kept")
	}
}

// decode reads one JSON value, refusing unknown fields.
func decode(r io.Reader, v any) error {
	data, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	return bounded(data, v)
}

// bounded reads one JSON value that is not nested too deep, refusing unknown fields.
func bounded(data []byte, v any) error {
	if err := checkDepth(data); err != nil {
		return err
	}
	return strict.JSON(data, v)
}

// problem answers with an error as RFC 9457 describes it.
func problem(c *gin.Context, err error) {
	status := http.StatusInternalServerError
	var b studio.BadInput
	var stale *library.StaleError
	var large *http.MaxBytesError
	switch {
	case studio.NotFound(err):
		status = http.StatusNotFound
	case errors.As(err, &stale):
		status = http.StatusConflict
	case errors.Is(err, errNotJSON):
		status = http.StatusUnsupportedMediaType
	case errors.As(err, &large):
		status = http.StatusRequestEntityTooLarge
	case errors.Is(err, errNoRoute):
		status = http.StatusNotFound
	case errors.Is(err, context.Canceled):
		status = 499 // nobody waits for the answer
	case errors.As(err, new(*library.UserError)):
		status = http.StatusInsufficientStorage
	case errors.As(err, &b):
		status = http.StatusUnprocessableEntity
	default:
		if !fault.Log("a request", err, "path", c.Request.URL.Path) {
			slog.Error("a request failed", "path", c.Request.URL.Path, "error", err)
		}
	}
	refuse(c, status, err.Error())
}

var errNoRoute = errors.New("there is nothing of this name")

// front serves the embedded front end; unknown paths get its page.
func (s *Server) front(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		problem(c, fmt.Errorf("%w: %s", errNoRoute, c.Request.URL.Path))
		return
	}
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		problem(c, err)
		return
	}
	name := strings.TrimPrefix(c.Request.URL.Path, "/")
	if name == "" {
		name = "index.html"
	}
	if st, err := fs.Stat(files, name); err != nil || st.IsDir() {
		name = "index.html"
	}
	if strings.HasPrefix(name, "assets/") {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	}
	data, err := fs.ReadFile(files, name)
	if err != nil {
		c.String(http.StatusNotFound, "The front end is not built in; run make build.")
		return
	}
	http.ServeContent(c.Writer, c.Request, name, time.Time{}, strings.NewReader(string(data)))
}

// ServeHTTP lets tests serve without a socket.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.engine.ServeHTTP(w, r) }

// Listen takes a port, before anything else is touched.
func Listen(addr string) (net.Listener, error) {
	l, err := net.Listen("tcp", addr)
	switch {
	case errors.Is(err, syscall.EADDRINUSE):
		return nil, studio.Bad("%s: another program listens there; is Velours running already? choose another port with --addr", addr)
	case errors.Is(err, os.ErrPermission):
		return nil, studio.Bad("%s: you may not listen there; choose a port above 1023 with --addr", addr)
	case err != nil:
		return nil, studio.Bad("%s: cannot listen there (%w); choose another with --addr", addr, err)
	}
	return l, nil
}

// Serve answers on a listener until ctx is done, and a second more.
func (s *Server) Serve(ctx context.Context, l net.Listener) error {
	srv := &http.Server{Handler: s.engine, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10, BaseContext: func(net.Listener) context.Context { return ctx }}
	go func() {
		<-ctx.Done()
		end, cancel := context.WithTimeout(context.Background(), time.Second)
		defer cancel()
		if err := srv.Shutdown(end); err != nil {
			srv.Close()
		}
	}()
	if err := srv.Serve(l); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}
