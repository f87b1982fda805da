// Package shell is the frame of every page: its bar, the period, the tokens
// and the standing glyph, and how figures are written.
package shell

import (
	"bytes"
	"embed"
	"html/template"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/portfolio"
	"turret/internal/office"
)

//go:embed shell.html shell.css
var files embed.FS

// Style is the frame's style sheet, with the tokens.
var Style = func() string {
	b, err := files.ReadFile("shell.css")
	if err != nil {
		panic(err) // it is embedded
	}
	return string(b)
}()

// Site is what all screens share.
type Site struct {
	Office *office.Office
	Actor  office.Actor
	Style  string // address of the style sheet
}

// Frame is what every page says around its own matter.
type Frame struct {
	Title  string
	Site   *Site
	Moment *office.Moment
	State  State
	Path   string // of this page, without its query
}

// Turn is the address of this page with one part of its state changed.
func (f Frame) Turn(name, value string) string { return f.Path + f.State.With(name, value).query() }

// State is what the address says beside the page: it goes on to every link.
type State struct {
	At, Vs, Against, In string
	Show                string // all: long tables are not cut
}

// StateOf reads the state of a request.
func StateOf(c fiber.Ctx) State {
	return State{At: c.Query("at"), Vs: c.Query("vs"), Against: c.Query("against"), In: c.Query("in"), Show: c.Query("show")}
}

// Param reads a part of the path; a code may hold a slash, escaped.
func Param(c fiber.Ctx, name string) string {
	s := c.Params(name)
	if plain, err := url.PathUnescape(s); err == nil {
		return plain
	}
	return s
}

// Ask is the state as the office takes it.
func (s State) Ask() office.Ask { return office.Ask{At: s.At, Vs: s.Vs, Against: s.Against, In: s.In} }

// query writes the state as a query, in a fixed order.
func (s State) query() string {
	var out []string
	for _, kv := range [][2]string{{"at", s.At}, {"vs", s.Vs}, {"against", s.Against}, {"in", s.In}, {"show", s.Show}} {
		if kv[1] != "" {
			out = append(out, kv[0]+"="+url.QueryEscape(kv[1]))
		}
	}
	if len(out) == 0 {
		return ""
	}
	return "?" + strings.Join(out, "&")
}

// With changes one part of the state.
func (s State) With(name, value string) State {
	switch name {
	case "at":
		s.At = value
	case "vs":
		s.Vs = value
	case "against":
		s.Against = value
	case "in":
		s.In = value
	case "show":
		s.Show = value
	}
	return s
}

// Board is the address of the board in this state.
func (s State) Board() string { return "/board" + s.query() }

// Project is the address of a project's sheet.
func (s State) Project(code string) string { return "/project/" + url.PathEscape(code) + s.query() }

// Trail is the address of a figure's trail.
func (s State) Trail(scope, figure string) string {
	return "/trail/" + url.PathEscape(scope) + "/" + figure + s.query()
}

// NewFrame reads the moment that a request asks for.
func NewFrame(c fiber.Ctx, site *Site, title string) (Frame, error) {
	state := StateOf(c)
	m, err := site.Office.Moment(c.Context(), site.Actor, state.Ask())
	if err != nil {
		return Frame{}, err
	}
	return Frame{Title: title, Site: site, Moment: m, State: state, Path: c.Path()}, nil
}

// Original tells that figures are against the first baseline.
func (f Frame) Original() bool { return f.Moment.Against == portfolio.Original }

// Parse reads a screen's template together with the frame's.
func Parse(fsys embed.FS, name string) *template.Template {
	return template.Must(template.Must(template.ParseFS(files, "shell.html")).ParseFS(fsys, name))
}

// Render writes a whole page, or nothing but the error.
func Render(c fiber.Ctx, t *template.Template, page any) error {
	var b bytes.Buffer
	if err := t.ExecuteTemplate(&b, "page", page); err != nil {
		return err
	}
	c.Type("html", "utf-8")
	return c.Send(b.Bytes())
}
