// Package amounts is the page on which the money of a project is typed as a table: kept as it
// is typed, changed in blocks with what that does shown first, and sent as one statement.
package amounts

import (
	"fmt"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/amounts"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Template of the page.
var Template = shell.Parse(files, "amounts.html")

// Page is what it shows.
type Page struct {
	shell.Frame
	Code, Kind string
	Missing    string // why there is no such table, or ""
	Table      *amounts.Table
	Kinds      []Tab
	Besides    []Tab
	BesideName string
	Codes      [][2]string
	Sending    *amounts.Sending
	Effect     shell.Effect
	Settles    int
	Brings     int
	Preview    *amounts.Preview
	Steps      []amounts.Step
	More       int // steps that are not listed
	Facts      []Fact
	Following  []Follow
	Noted      *amounts.Cell // the cell whose note is written
	NotedTitle string
}

// Tab is a choice of the page.
type Tab struct {
	Title, Link string
	On          bool
}

// Fact is a figure that follows what is typed: what it is without the table, in minor units,
// and the sign with which the table's cells of some periods count.
type Fact struct{ Title, Value, Base, From, To, Flow string }

// Follow is a cell that the server made another than it was typed.
type Follow struct{ Field, Value string }

// mostSteps is how many cells of a change are listed before it is kept, mostMoves how many
// figures an effect lists.
const (
	mostSteps = 60
	mostMoves = 8
)

// Names that the page shows: of changes, and of ways to spread.
func (*Page) Changes() [][2]string { return amounts.Changes }

// Keeps tells whether the actor keeps versions of what holds.
func (p *Page) Keeps() bool { return office.MayClose(p.Actor) && !p.Moment.Empty }

// Ways are how a total can be spread.
func (*Page) Ways() [][2]string { return amounts.Ways }

// Get answers /amounts/{project}/{kind}.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p, err := page(c, site)
		if err != nil {
			return err
		}
		return shell.Render(c, Template, p)
	}
}

func page(c fiber.Ctx, site *shell.Site) (*Page, error) {
	code, kind := shell.Param(c, "project"), shell.Param(c, "kind")
	f, err := shell.NewFrame(c, site, "Money of "+code, "")
	if err != nil {
		return nil, err
	}
	p := &Page{Frame: f, Code: code, Kind: kind}
	p.Step = "desk"
	if office.MayGather(f.Actor) {
		p.Step = "gather"
	}
	room := amounts.In(site.Office)
	p.Table, err = room.Table(c.Context(), p.Actor, f.Moment, code, kind, p.State.Get("beside"))
	if shell.Refused(err) {
		p.Missing = err.Error()
		c.Status(fiber.StatusNotFound)
		return p, nil
	}
	if err != nil {
		return nil, err
	}
	if p.Sending, err = room.Sending(c.Context(), p.Actor, f.Moment, p.Table); err != nil {
		return nil, err
	}
	p.effect(p.Sending.Effect)
	for _, k := range amounts.Kinds {
		if amounts.May(p.Actor, f.Moment, code, &k) {
			p.Kinds = append(p.Kinds, Tab{k.Title, p.State.With("beside", "").With("row", "").To("/amounts/" + url.PathEscape(code) + "/" + k.Name), k.Name == kind})
		}
	}
	for _, b := range p.Table.Besides {
		p.Besides = append(p.Besides, Tab{b.Name, p.Turn("beside", b.Code), b.Code == p.Table.Beside})
		if b.Code == p.Table.Beside {
			p.BesideName = b.Name
		}
	}
	p.Codes = amounts.Codes(f.Moment)
	p.facts(f.Moment)
	p.follow(c)
	if field := p.State.Get("row"); field != "" {
		if l, cell := p.Table.Cell(field); cell != nil {
			p.Noted, p.NotedTitle = cell, l.Title()
		}
	}
	p.Preview = fiber.Locals[*amounts.Preview](c, previewKey{})
	if p.Preview != nil {
		p.Kept = make(url.Values)
		for k, v := range c.Request().PostArgs().All() {
			p.Kept.Set(string(k), string(v)) // so that it can be changed and tried again
		}
		p.Steps = p.Preview.Steps
		if len(p.Steps) > mostSteps {
			p.More, p.Steps = len(p.Steps)-mostSteps, p.Steps[:mostSteps]
		}
	}
	return p, nil
}

// effect writes what sending would do.
func (p *Page) effect(e *entry.Effect) {
	if e == nil {
		return
	}
	p.Effect = shell.EffectOf(e, mostMoves)
	settled, brought := e.Settles()
	p.Settles, p.Brings = len(settled), len(brought)
}

// facts are the totals that follow what is typed.
func (p *Page) facts(m *office.Moment) {
	for _, x := range p.Table.Totals() {
		value := tell.Figure(figure.BAC, figure.Whole(figure.Money, x.Value), p.Table.Currency, true).Text
		p.Facts = append(p.Facts, Fact{x.Title, value, fmt.Sprint(x.Base), x.From, x.To, x.Flow})
	}
}

// Bridge writes the lines that sending moves, by how much.
func (p *Page) Bridge() (out [][2]string) {
	for _, x := range p.Sending.Bridge {
		text := money.Grouped(money.Format(x.Is-x.Was, x.Currency))
		if x.Is > x.Was {
			text = "+" + text
		}
		if x.Currency != p.Table.Currency {
			text += " " + string(x.Currency)
		}
		out = append(out, [2]string{x.Title, strings.Replace(text, "-", "−", 1)})
	}
	return out
}

// Picked tells that a line is one that the change which is shown is for.
func (p *Page) Picked(line string) bool {
	return p.Preview != nil && slices.Contains(p.Preview.Lines, line)
}

// follow tells which cells the server made others than they were typed.
func (p *Page) follow(c fiber.Ctx) {
	for name, t := range shell.Fields(c) {
		if _, cell := p.Table.Cell(name); cell != nil && cell.Value() != t.Text {
			p.Following = append(p.Following, Follow{"f:" + name, cell.Value()})
		}
	}
	slices.SortFunc(p.Following, func(a, b Follow) int { return strings.Compare(a.Field, b.Field) })
}

// Exponent is the number of digits of a currency's minor unit.
func (*Page) Exponent(code string) int { return money.Currency(code).Exponent() }

// Rates are the rates of a line into the project's currency, by column, as a script reads
// them; none is 0, and "" is of a line in that currency.
func (p *Page) Rates(l amounts.Line) string {
	list := p.Table.Rates(&l)
	out := make([]string, len(list))
	for i, r := range list {
		if out[i] = "0"; r != nil {
			out[i] = r.RatString()
		}
	}
	return strings.Join(out, " ")
}

// Grouped writes a number in groups of three, for reading.
func (*Page) Grouped(text string) string { return tell.Amount(text, -1) }

// Long tells when the draft was begun.
func (p *Page) Long() string {
	if p.Table.Since.IsZero() {
		return ""
	}
	return p.Table.Since.Format("2 Jan 15:04")
}

// previewKey is of what a change would do, before it is kept.
type previewKey struct{}

// changeOf reads what is to be done with the cells that are chosen.
func changeOf(c fiber.Ctx) amounts.Change {
	x := amounts.Change{
		Do: c.FormValue("what"), From: c.FormValue("from"), To: c.FormValue("to"), Total: c.FormValue("total"), Percent: c.FormValue("percent"),
		How: c.FormValue("how"), Steep: amounts.Number(c.FormValue("steep")), By: amounts.Number(c.FormValue("by")), Years: amounts.Number(c.FormValue("years")), Rest: c.FormValue("rest"),
		Line: added(c),
	}
	for _, v := range c.Request().PostArgs().PeekMulti("line") {
		if len(v) > 0 {
			x.Lines = append(x.Lines, string(v))
		}
	}
	return x
}

func added(c fiber.Ctx) amounts.Added {
	return amounts.Added{
		Code: c.FormValue("cost_code"), Flow: c.FormValue("flow"), Class: c.FormValue("class"), Centre: c.FormValue("cost_centre"),
		Activity: c.FormValue("activity"), Currency: c.FormValue("currency"),
	}
}

// Post keeps what is typed, shows and keeps what a change of a block does, adds lines, settles
// what two made different, and sends.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		room, project, kind := amounts.In(site.Office), shell.Param(c, "project"), shell.Param(c, "kind")
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		to := s.With("row", "").Page(c.Path())
		do, field, _ := strings.Cut(c.FormValue("do"), " ")
		if do != "drop" {
			if list := shell.Fields(c); len(list) > 0 {
				if err := room.Keep(ctx, a, m, project, kind, list); err != nil {
					return shell.Settle(c, err, again, to)
				}
			}
		}
		switch do {
		case "keep":
			if shell.Wants(c, "effect") {
				p, err := page(c, site)
				if err != nil {
					return err
				}
				return shell.RenderPart(c, Template, "effect", p)
			}
		case "own", "theirs":
			err = room.Choose(ctx, a, m, project, kind, field, do == "own")
		case "drop":
			err = room.Drop(ctx, a, m, project, kind)
			to = shell.WithDone(to, "What was typed here is dropped; what holds is as it was.")
		case "add":
			_, err = room.Add(ctx, a, m, project, kind, added(c))
			to = shell.WithDone(to, "The line is there; it is kept once it has an amount and is sent.")
		case "note":
			err = room.Note(ctx, a, m, project, kind, c.FormValue("cell"), c.FormValue("note"))
			to = shell.WithDone(to, "The note is kept with the draft.")
		case "version":
			if err = closing.In(site.Office).MakeCut(ctx, a, m, c.FormValue("name")); err == nil {
				var list []closing.CutInfo
				if list, err = closing.In(site.Office).Cuts(ctx, a, m); err == nil && len(list) > 0 {
					to = shell.WithDone(s.With("beside", fmt.Sprintf("cut-%d", list[0].ID)).Page(c.Path()), "The version is kept, and stands beside what is typed.")
				}
			}
		case "try":
			var p *amounts.Preview
			if p, err = room.Preview(ctx, a, m, project, kind, changeOf(c)); err == nil {
				fiber.Locals(c, previewKey{}, p)
				return again(c)
			}
		case "apply":
			var p *amounts.Preview
			if p, err = room.Apply(ctx, a, m, project, kind, changeOf(c), c.FormValue("seen")); err == nil {
				to = shell.WithDone(to, fmt.Sprintf("Kept in the draft: %s.", tell.Plural(len(p.Steps), "cell", "cells")))
			}
		case "send":
			_, err = room.Send(ctx, a, m, project, kind)
			to = shell.WithDone(to, "Sent. A later correction is a new statement.")
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}
