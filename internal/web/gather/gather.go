// Package gather is the first step of the month: what came in and what is
// owed, the files that wait to be accepted, and the rows that were refused.
package gather

import (
	"embed"
	"fmt"
	"io"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/office/stating"
	"turret/internal/web/shell"
)

//go:embed *.html *.css *.js
var files embed.FS

// Templates of the screens.
var (
	Template        = shell.Parse(files, "gather.html")
	PreviewTemplate = shell.Parse(files, "preview.html")
	RunTemplate     = shell.Parse(files, "run.html")
	RefusedTemplate = shell.Parse(files, "refused.html")
	CodesTemplate   = shell.Parse(files, "codes.html")
)

// Style is the screens' style sheet.
var Style = shell.File(files, "gather.css") + shell.File(files, "preview.css")

// Scripts are the screens' modules, by name.
var Scripts = map[string]string{"drop.js": shell.File(files, "drop.js"), "cells.js": shell.File(files, "cells.js")}

// Page is what the template shows.
type Page struct {
	shell.Frame
	Sentence []shell.Phrase
	Intake   *intake.Matrix
	Groups   []intake.Group // under the filter
	Chips    []Chip
	Drafts   []intake.Draft
	Runs     []entry.Run
	Waiting  int                                    // rows that were refused
	Typed    map[string]map[portfolio.PartKind]bool // of which someone has typed something and not sent it
	Codes    []entry.WaitingCode
}

// mostQuestions are the questions that the screen lists.
const mostQuestions = 6

// Questions are findings that were sent back and wait for an answer.
func (p *Page) Questions() []office.Finding {
	list := p.Moment.Questions(p.Actor)
	return list[:min(len(list), mostQuestions)]
}

// Chip is a filter of the matrix.
type Chip struct {
	Text, Link string
	On         bool
}

// runsShown are the last runs that the screen lists.
const runsShown = 12

// Get answers /gather.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Gather", "")
		if err != nil {
			return err
		}
		f.Step = "gather"
		p := &Page{Frame: f}
		if p.Intake, err = intake.In(site.Office).Matrix(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		if p.Typed, err = stating.In(site.Office).Drafted(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		if p.Runs, err = entry.In(site.Office).Runs(c.Context(), p.Actor, runsShown); err != nil {
			return err
		}
		if p.Codes, _, err = entry.In(site.Office).WaitingCodes(c.Context(), p.Actor); err != nil {
			return err
		}
		refused, err := intake.In(site.Office).Refused(c.Context(), p.Actor, 0, mostRefused)
		if err != nil {
			return err
		}
		for _, r := range refused {
			p.Waiting += len(r.Rows)
		}
		if p.Gathers() {
			if p.Drafts, err = intake.In(site.Office).Drafts(c.Context(), p.Actor); err != nil {
				return err
			}
		}
		p.filter()
		p.Sentence = p.say()
		return shell.Render(c, Template, p)
	}
}

// filter shows all projects, or those that owe something or said the same as
// last.
func (p *Page) filter() {
	show := p.State.Get("show")
	owing := p.Intake.Owing - p.Intake.Stated
	all := 0
	for _, g := range p.Intake.Groups {
		all += len(g.Rows)
	}
	for _, x := range []struct {
		name, text string
		n          int
	}{{"", "All", all}, {"owing", "Owing", owing}, {"same", "Same as last", p.Intake.Same}} {
		p.Chips = append(p.Chips, Chip{fmt.Sprintf("%s %d", x.text, x.n), p.Turn("show", x.name), show == x.name})
	}
	for _, g := range p.Intake.Groups {
		var rows []intake.Row
		for _, r := range g.Rows {
			same := false
			for _, c := range r.Cells {
				same = same || c.State == intake.Same
			}
			if show == "" || show == "owing" && len(r.Owes) > 0 || show == "same" && same {
				rows = append(rows, r)
			}
		}
		if len(rows) > 0 {
			g.Rows = rows
			p.Groups = append(p.Groups, g)
		}
	}
}

// Age writes how long ago something came.
func (p *Page) Age(days int) string {
	switch days {
	case 0:
		return "today"
	case 1:
		return "1 d ago"
	}
	return fmt.Sprintf("%d d ago", days)
}

// Word is what a cell of the matrix says.
func (p *Page) Word(c intake.Cell) string {
	switch {
	case c.State == intake.Came && c.Late:
		return p.Age(c.Days) + ", late"
	case c.State == intake.Came:
		return p.Age(c.Days)
	case c.State == intake.Same:
		return "same as " + p.Short(c.Before)
	case c.State == intake.Missing && c.Late:
		return "late"
	case c.State == intake.NotOwed:
		return "·"
	}
	return c.State
}

// Stating is the address where a kind of statement is made for a project; "" where it is
// not the actor's to make, or nobody's.
func (p *Page) Stating(project string, kind office.OwedKind) string {
	if kind.Part == 0 || !stating.May(p.Actor, p.Moment, project, kind.Part) {
		return ""
	}
	return p.State.To("/state/" + url.PathEscape(project) + "/" + kind.Part.String())
}

// Begun tells whether someone has typed something of a kind for a project and not sent
// it yet.
func (p *Page) Begun(project string, kind office.OwedKind) bool {
	return kind.Part != 0 && p.Typed[project][kind.Part]
}

// CellTitle says a cell of the matrix in words.
func (p *Page) CellTitle(c intake.Cell) string {
	before := "never stated before"
	if c.Before != "" {
		before = "last stated for " + c.Before
	}
	after := ""
	if c.Late {
		after = ", after the day it was due, " + p.Day(c.Due)
	}
	switch c.State {
	case intake.Came:
		return fmt.Sprintf("%s, %s by %s%s", c.Source, c.At.Format("2 Jan 15:04"), c.By, after)
	case intake.Confirmed:
		return fmt.Sprintf("confirmed %s by %s%s: what was stated before still holds", c.At.Format("2 Jan 15:04"), c.By, after)
	case intake.Same:
		return fmt.Sprintf(
			"%s, %s by %s%s; it says the same as %s",
			c.Source,
			c.At.Format("2 Jan 15:04"),
			c.By,
			after,
			c.Before,
		)
	case intake.Missing:
		due := ""
		if c.Late {
			due = " though it was due on " + p.Day(c.Due)
		} else if c.Due != 0 {
			due = "; it is due on " + p.Day(c.Due)
		}
		return "Owed and not stated" + due + "; " + before
	}
	return "Not owed; " + before
}

// Day writes a day without its year.
func (p *Page) Day(d calendar.Date) string { return d.Time().Format("2 Jan") }

// Short is a period's name without its year.
func (p *Page) Short(name string) string {
	short, _, _ := strings.Cut(name, " ")
	return short
}

// Post takes files or pasted rows into a draft.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		got, err := received(c)
		var id int64
		if err == nil {
			id, err = intake.In(site.Office).SaveDraft(c.Context(), shell.Actor(c), got)
		}
		return shell.Settle(c, err, again, shell.StateOf(c).To(fmt.Sprintf("/gather/draft/%d", id)))
	}
}

// received reads the files of a form, and its pasted rows as one more.
func received(c fiber.Ctx) ([]entry.File, error) {
	var out []entry.File
	if form, err := c.MultipartForm(); err == nil {
		for _, h := range form.File["files"] {
			f, err := h.Open()
			if err != nil {
				return nil, err
			}
			body := make([]byte, h.Size) // grown step by step, it would take twice the memory
			_, err = io.ReadFull(f, body)
			f.Close()
			if err != nil {
				return nil, err
			}
			if h.Filename != "" && (len(body) > 0 || h.Size > 0) {
				out = append(out, entry.File{Name: h.Filename, Body: body})
			}
		}
	}
	if text := c.FormValue("pasted"); strings.TrimSpace(text) != "" {
		name := strings.TrimSpace(c.FormValue("name"))
		if name == "" {
			name = "Pasted rows"
		}
		out = append(out, entry.File{Name: name + ".tsv", Body: []byte(text)})
	}
	return out, nil
}
