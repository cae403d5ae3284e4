package server

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"mime"
	"net"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
)

// Access says who may talk to the server.
type Access struct {
	// Hosts are the names under which it answers, beside those of the loopback: a page elsewhere on the web whose name
	// leads here is refused by its name.
	Hosts []string
	// Token, if set, must be shown by every request: by the link with which the page is opened, and from then on by a
	// cookie, or as a bearer token.
	Token string
}

// NewToken is a token that nobody guesses.
func NewToken() string {
	b := make([]byte, 24)
	rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(b)
}

// Loopback tells whether an address to listen on can be reached from this machine alone.
func Loopback(addr string) bool {
	host, _, err := net.SplitHostPort(addr)
	return err == nil && loopbackName(host)
}

func loopbackName(host string) bool {
	if ip := net.ParseIP(host); ip != nil {
		return ip.IsLoopback()
	}
	return host == "localhost" || strings.HasSuffix(host, ".localhost")
}

// hostOf is the name in a Host header, without its port.
func hostOf(header string) string {
	host, _, err := net.SplitHostPort(header)
	if err != nil {
		host = header
	}
	return strings.ToLower(strings.TrimSuffix(strings.Trim(host, "[]"), "."))
}

func (a *Access) knows(host string) bool {
	if loopbackName(host) {
		return true
	}
	for _, h := range a.Hosts {
		if host == hostOf(h) {
			return true
		}
	}
	return false
}

// guard refuses what does not come from a page of this server, and says what a page of it may do.
func (a *Access) guard(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("X-Frame-Options", "DENY")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; font-src 'self' data:; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	if host := hostOf(c.Request.Host); !a.knows(host) {
		refuse(c, http.StatusMisdirectedRequest, fmt.Sprintf("requests for %q are not answered here; if that is this machine, start with --host %s", host, host))
		return
	}
	if err := crossSite(c.Request); err != nil {
		refuse(c, http.StatusForbidden, "this came from a page of another site; requests come from pages of this server alone")
		return
	}
	if a.Token != "" && !a.shown(c) {
		refuse(c, http.StatusUnauthorized, "open the page by the link that the program printed when it started: it holds the token")
		return
	}
	c.Next()
}

// crossSite tells whether another site's page sent a request. Reading and sockets are held to what the standard
// library holds changes to, but for opening the page itself by a link.
func crossSite(r *http.Request) error {
	if r.Header.Get("Sec-Fetch-Mode") == "navigate" && r.Method == http.MethodGet && !strings.HasPrefix(r.URL.Path, "/api/") {
		return nil
	}
	q := *r
	q.Method = http.MethodPost
	return http.NewCrossOriginProtection().Check(&q)
}

const tokenCookie = "velours-token"

// shown tells whether a request shows the token. One in the link of the page is put into a cookie.
func (a *Access) shown(c *gin.Context) bool {
	if t, ok := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer "); ok && same(t, a.Token) {
		return true
	}
	if t, err := c.Cookie(tokenCookie); err == nil && same(t, a.Token) {
		return true
	}
	if t := c.Query("token"); t != "" && same(t, a.Token) {
		http.SetCookie(c.Writer, &http.Cookie{Name: tokenCookie, Value: a.Token, Path: "/", HttpOnly: true, SameSite: http.SameSiteStrictMode, MaxAge: 30 * 24 * 3600})
		return true
	}
	return false
}

func same(a, b string) bool {
	x, y := sha256.Sum256([]byte(a)), sha256.Sum256([]byte(b))
	return subtle.ConstantTimeCompare(x[:], y[:]) == 1
}

// refuse ends a request with a problem.
func refuse(c *gin.Context, status int, detail string) {
	c.Header("Content-Type", "application/problem+json")
	c.AbortWithStatusJSON(status, Problem{"about:blank", http.StatusText(status), status, detail})
}

// errNotJSON says that a body is of another sort: a form of another site can send text, but no JSON.
var errNotJSON = errors.New("the body must be JSON: send it with Content-Type: application/json")

func isJSON(r *http.Request) bool {
	kind, _, err := mime.ParseMediaType(r.Header.Get("Content-Type"))
	return err == nil && kind == "application/json"
}

// mostDepth is how deep JSON may be nested: a look is nine deep.
const mostDepth = 40

// checkDepth refuses JSON that is nested deeper than anything here is.
func checkDepth(data []byte) error {
	depth, quoted, escaped := 0, false, false
	for _, b := range data {
		switch {
		case escaped:
			escaped = false
		case quoted:
			escaped = b == '\\'
			quoted = b != '"'
		case b == '"':
			quoted = true
		case b == '{', b == '[':
			if depth++; depth > mostDepth {
				return fmt.Errorf("it is nested more than %d deep", mostDepth)
			}
		case b == '}', b == ']':
			depth--
		}
	}
	return nil
}
