// Package history shows who changed what, when and from what: a list of all
// batches to look through, and a batch with everything in it, which can be
// taken back.
package history

import (
	"embed"
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/history"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed history.html batch.html rows.html history.css
var files embed.FS

// Templates of the list and of a batch.
var (
	Template      = shell.Parse(files, "history.html", "rows.html")
	BatchTemplate = shell.Parse(files, "batch.html", "rows.html")
)

// Style is the style sheet of both.
var Style = shell.File(files, "history.css")

// names are the parts of the list's query, in the order of its form.
var names = [...]string{"who", "project", "table", "row", "file", "from", "to"}

// Page is the list of batches.
type Page struct {
	shell.Frame
	Ask     history.Ask
	History *history.History
	Asked   bool // for something
}

// Batch is a batch in the list.
type Batch struct {
	history.Batch
	Link    string
	Differs []Row
}

// Row is a value that changed, or a row that came or went with all its values.
type Row struct {
	history.Differs
	Link  string // of the received row that it came from, or ""
	Of    string // the history of the row
	First bool   // of its record
}

// Get answers /history.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "History", "")
		if err != nil {
			return err
		}
		f.Step = "history"
		q := func(name string) string { return c.Query(name) }
		p := &Page{
			Frame: f,
			Ask: history.Ask{
				Who:     q("who"),
				Project: q("project"),
				Table:   q("table"),
				Row:     q("row"),
				File:    q("file"),
				From:    q("from"),
				To:      q("to"),
			},
		}
		p.Ask.Before, _ = strconv.ParseInt(c.Query("before"), 10, 64) // anything else is the last page
		for _, n := range names {
			p.Asked = p.Asked || q(n) != ""
		}
		p.History, err = history.In(site.Office).History(c.Context(), p.Actor, f.Moment, p.Ask)
		if shell.Refused(err) {
			p.Wrong, err = err.Error(), nil
			c.Status(fiber.StatusUnprocessableEntity)
		}
		if err != nil {
			return err
		}
		return shell.Render(c, Template, p)
	}
}

// Batches are those of the list.
func (p *Page) Batches() (out []Batch) {
	for _, b := range p.History.Batches {
		x := Batch{Batch: b, Link: batchAt(p.State, b.ID, p.Ask.Project), Differs: rows(p.State, b.Rows)}
		out = append(out, x)
	}
	return out
}

// filesShown is the number of files that the list names of a batch.
const filesShown = 3

// Others is the number of files beyond those.
func (p *Page) Others(n int) int { return n - filesShown }

// Next is the address where the list goes on.
func (p *Page) Next() string {
	v := make(url.Values)
	for i, x := range [...]string{p.Ask.Who, p.Ask.Project, p.Ask.Table, p.Ask.Row, p.Ask.File, p.Ask.From, p.Ask.To} {
		if x != "" {
			v.Set(names[i], x)
		}
	}
	v.Set("before", strconv.FormatInt(p.History.Next, 10))
	return "/history?" + v.Encode()
}

func batchAt(s shell.State, id int64, project string) string {
	to := s.To(fmt.Sprintf("/history/%d", id))
	if project == "" {
		return to
	}
	return with(to, "project", project)
}

func with(to, name, value string) string {
	u, err := url.Parse(to)
	if err != nil {
		return to
	}
	q := u.Query()
	q.Set(name, value)
	u.RawQuery = q.Encode()
	return u.String()
}

// rows links values to where they came from, and to the history of their row. A
// row that came or went is one line.
func rows(s shell.State, list []history.Differs) (out []Row) {
	for len(list) > 0 {
		n := 1
		for n < len(list) && sameRow(list[0], list[n]) {
			n++
		}
		for i, d := range whole(list[:n]) {
			r := Row{Differs: d, First: i == 0}
			if d.Source.File != 0 && r.First {
				r.Link = s.Trail("row", fmt.Sprintf("%d.%d", d.Source.File, d.Source.Row))
			}
			v := url.Values{"table": {d.Table}, "row": {d.Key}}
			if d.Project != "" {
				v.Set("project", d.Project)
			}
			r.Of = "/history?" + v.Encode()
			out = append(out, r)
		}
		list = list[n:]
	}
	return out
}

func sameRow(a, b history.Differs) bool {
	return a.Key == b.Key && a.Version == b.Version && a.Table == b.Table && a.Project == b.Project
}

// whole puts the values of a row that came or went into one.
func whole(list []history.Differs) []history.Differs {
	came, went := true, true
	var was, is []string
	for i := range list {
		d := &list[i]
		d.Column, d.Was, d.Is = strings.ReplaceAll(d.Column, "_", " "), tell.Value(d.Was), tell.Value(d.Is)
		came, went = came && d.Was == "", went && d.Is == ""
		was, is = append(was, d.Column+" "+d.Was), append(is, d.Column+" "+d.Is)
	}
	d := list[0]
	switch {
	case len(list) == 1 || came == went:
		return list
	case came:
		d.Column, d.Is = "new", strings.Join(is, " · ")
	default:
		d.Column, d.Was = "gone", strings.Join(was, " · ")
	}
	return []history.Differs{d}
}

// BatchPage is everything that a batch changed.
type BatchPage struct {
	shell.Frame
	Batch   *history.Batch // nil where there is none
	Rows    []Row
	Project string
	Undoing *history.Undoing // nil where it cannot be taken back, or not by the actor
}

// GetBatch answers /history/{batch}.
func GetBatch(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Batch", "")
		if err != nil {
			return err
		}
		f.Step = "history"
		p := &BatchPage{Frame: f, Project: c.Query("project")}
		if id, err := strconv.ParseInt(shell.Param(c, "batch"), 10, 64); err == nil {
			if p.Batch, err = history.In(site.Office).BatchOf(c.Context(), p.Actor, f.Moment, id, p.Project); err != nil &&
				!shell.Refused(err) {
				return err
			}
		}
		if p.Batch != nil && p.Limited() && len(p.Batch.Rows) == 0 {
			p.Batch = nil // it says nothing of their project, so even that it was is not theirs to read
		}
		if p.Batch == nil {
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, BatchTemplate, p)
		}
		p.Rows = rows(p.State, p.Batch.Rows)
		if p.Gathers() {
			if p.Undoing, err = history.In(site.Office).Undoing(c.Context(), p.Actor, p.Batch.ID); err != nil {
				return err
			}
		}
		return shell.Render(c, BatchTemplate, p)
	}
}

// Many tells whether there are other projects in the batch to look at.
func (p *BatchPage) Many() bool { return p.Project != "" || p.Batch.Projects > 1 }

// At is the address of a batch.
func (p *BatchPage) At(id int64) string { return batchAt(p.State, id, "") }

// Run is the address of what the batch read.
func (p *BatchPage) Run() string { return p.State.To(fmt.Sprintf("/gather/run/%d", p.Batch.ID)) }

// Post takes a batch back: whole, or of the projects that nothing stands on.
func Post(site *shell.Site) fiber.Handler {
	again := GetBatch(site)
	return func(c fiber.Ctx) error {
		id, err := strconv.ParseInt(shell.Param(c, "batch"), 10, 64)
		if err != nil {
			return again(c)
		}
		var rest bool
		done := "It is undone: all that it changed is as it was before."
		switch c.FormValue("do") {
		case "undo":
		case "rest":
			rest, done = true, "It is undone of the projects that nothing later stands on."
		default:
			return shell.Settle(c, shell.Unclear(), again, "")
		}
		_, err = history.In(site.Office).Undo(c.Context(), shell.Actor(c), id, rest)
		return shell.Settle(c, err, again, shell.WithDone(batchAt(shell.StateOf(c), id, ""), done))
	}
}
