package server

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"velours/core/film"
	"velours/core/path"
	"velours/studio"
)

//go:embed all:dist
var dist embed.FS

// Server serves one studio.
type Server struct {
	studio *studio.Studio
	engine *gin.Engine
}

// New prepares the routes.
func New(st *studio.Studio) *Server {
	gin.SetMode(gin.ReleaseMode)
	s := &Server{studio: st, engine: gin.New()}
	s.engine.Use(gin.CustomRecovery(func(c *gin.Context, what any) {
		slog.Error("a request panicked", "path", c.Request.URL.Path, "problem", what)
		problem(c, errors.New("something broke here; the change before is saved"))
	}), sameOrigin)
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
	api.GET("/look.schema.json", func(c *gin.Context) { c.JSON(http.StatusOK, path.Schema()) })
	api.GET("/stock.schema.json", func(c *gin.Context) { c.JSON(http.StatusOK, film.StockSchema()) })
	api.GET("/medium.schema.json", func(c *gin.Context) { c.JSON(http.StatusOK, film.MediumSchema()) })
	api.GET("/shots/:id/film.svg", s.filmDrawing)
	api.GET("/shots/:id/film.csv", s.filmTable)
	api.GET("/window", s.window)
	s.engine.NoRoute(s.front)
	return s
}

// sameOrigin refuses requests that another site's page sends to this address.
func sameOrigin(c *gin.Context) {
	if o := c.GetHeader("Origin"); o != "" && !strings.HasSuffix(o, "//"+c.Request.Host) {
		c.AbortWithStatusJSON(http.StatusForbidden, Problem{"about:blank", "Forbidden", http.StatusForbidden, "requests come from this page alone"})
		return
	}
	c.Next()
}

// decode reads one JSON value, refusing unknown fields.
func decode(r io.Reader, v any) error {
	d := json.NewDecoder(r)
	d.DisallowUnknownFields()
	return d.Decode(v)
}

// problem answers with an error as RFC 9457 describes it.
func problem(c *gin.Context, err error) {
	status := http.StatusInternalServerError
	var b studio.BadInput
	switch {
	case studio.NotFound(err):
		status = http.StatusNotFound
	case errors.As(err, &b):
		status = http.StatusUnprocessableEntity
	default:
		slog.Error("a request failed", "path", c.Request.URL.Path, "error", err)
	}
	c.Header("Content-Type", "application/problem+json")
	c.AbortWithStatusJSON(status, Problem{"about:blank", http.StatusText(status), status, err.Error()})
}

// front serves the embedded front end; unknown paths get its page.
func (s *Server) front(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		problem(c, studio.Bad("there is no %s", c.Request.URL.Path))
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

// Serve listens on addr until ctx is done. ready is told the address once it listens.
func (s *Server) Serve(ctx context.Context, addr string, ready func(url string)) error {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return studio.Bad("%s: cannot listen there (%w); is it running already? choose another with --addr", addr, err)
	}
	srv := &http.Server{Handler: s.engine, ReadHeaderTimeout: 10 * time.Second, BaseContext: func(net.Listener) context.Context { return ctx }}
	go func() {
		<-ctx.Done()
		end, cancel := context.WithTimeout(context.Background(), 3*time.Second)
		defer cancel()
		if err := srv.Shutdown(end); err != nil {
			srv.Close()
		}
	}()
	ready(fmt.Sprintf("http://%s", l.Addr()))
	if err := srv.Serve(l); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}
