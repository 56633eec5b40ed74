package server

import (
	"crypto/rand"
	"encoding/base64"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// nonceMark stands in index.html where the page's nonce goes.
const nonceMark = "__NONCE__"

// static serves the front end. A path that is no file is a page of it.
func (s *server) static(c fiber.Ctx) error {
	name := strings.TrimPrefix(path.Clean("/"+c.Path()), "/")
	data, err := fs.ReadFile(s.Web, name)
	if name == "" || name == "index.html" || err != nil {
		if path.Ext(name) != "" && name != "index.html" {
			return problem(http.StatusNotFound, "There is no such file.", "")
		}
		return s.page(c)
	}
	c.Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
	// Vite names its assets by their content.
	if strings.HasPrefix(name, "assets/") {
		c.Set("Cache-Control", "public, max-age=31536000, immutable")
	}
	return c.Send(data)
}

func (s *server) page(c fiber.Ctx) error {
	data, err := fs.ReadFile(s.Web, "index.html")
	if err != nil {
		return problem(http.StatusNotFound, "The front end is not in this binary.", "build it with make build")
	}
	var b [16]byte
	if _, err := rand.Read(b[:]); err != nil {
		return err
	}
	nonce := base64.StdEncoding.EncodeToString(b[:])
	c.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-"+nonce+"'; font-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	c.Set("Content-Type", "text/html; charset=utf-8")
	c.Set("Cache-Control", "no-store")
	return c.SendString(strings.ReplaceAll(string(data), nonceMark, nonce))
}
