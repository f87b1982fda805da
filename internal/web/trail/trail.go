// Package trail tells how a figure came about: its formula with the values in
// it, its inputs, and the files and rows they came from; as a page of its own,
// or beside the page one is reading.
package trail

import (
	"embed"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office/trail"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed trail.html page.html trail.css
var files embed.FS

var panel = shell.Parse(files, "trail.html")

// Template is the page.
var Template = panel.And(files, "page.html")

// Style is the page's style sheet.
var Style = shell.File(files, "trail.css")

// Parse reads a screen's template together with the panel.
func Parse(fsys embed.FS, name string) shell.Templates { return panel.And(fsys, name) }

// Page is what the template shows. Now is nil where there is no such scope or
// figure; Source is a row of a file in place of a figure.
type Page struct {
	shell.Frame
	Scope, Figure string
	Now, Before   *Panel
	Missing       string
	Source        *Source
	Close         string // address of the page without the panel
	Whole         string // address of the trail as a page of its own

	beside bool
}

// Source is a row of a received file.
type Source struct {
	*trail.SourceRow
	Place string
	Cells []Named
}

// Named is a cell with its column.
type Named struct{ Column, Text string }

// Panel is the trail at one period.
type Panel struct {
	Period   string
	Entry    *figure.Entry
	ScopeOf  string // in words
	Link     string // of the project's sheet, or of the board
	Value    tell.Cell
	Shown    string // an amount in the reporting currency, or how much of a ratio is currency
	Formula  []Piece
	With     []Piece
	Inputs   []Input
	Facts    []Fact
	Behind   []Made
	Omitted  int
	Files    []trail.SourceFile
	Trend    string // address of how it moved; "" of a cost code
	Ask      string // address where a question on it is asked; "" of a group
	History  string // address of the history of what it is made of; "" of a group
	Baseline string
	Drift    string
	Currency string
}

// Piece is a stretch of the formula.
type Piece struct{ Text, Link, Title string }

// Input is an entry that the formula asked for.
type Input struct {
	Title, Symbol, Period, Link string
	Value                       tell.Cell
	Indent                      int
}

// Fact is a row behind a figure.
type Fact struct {
	What, Detail, Period, From, Place, Link, PlaceLink string
	Value                                              tell.Cell
	Postings                                           []Posting
	Open                                               bool // its postings are listed at once
}

// Made is what an input of a figure is made of: its first rows, and where the others are.
type Made struct {
	Title, Link string
	Facts       []Fact
	Omitted     int
}

// Posting is a ledger line with the address of its row.
type Posting struct {
	trail.Posting
	Link string
}

// Get answers /trail/{scope}/{figure}.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Trail", "")
		if err != nil {
			return err
		}
		p := &Page{Frame: f, Scope: shell.Param(c, "scope"), Figure: shell.Param(c, "figure")}
		if err := p.read(c); err != nil {
			return err
		}
		if p.Missing != "" {
			c.Status(fiber.StatusNotFound)
		}
		return shell.Render(c, Template, p)
	}
}

// sourceScope stands in place of a scope where the trail is a row of a file.
const sourceScope = "row"

// Frame is what every page says that shows a moment, with room for a trail
// beside it.
type Frame struct {
	shell.Frame
	Trail *Page // nil where the address asks for none
}

// Open begins such a page, as shell.NewFrame does. Where the request wants the
// trail alone it is answered, and nothing is left to do.
func Open(c fiber.Ctx, site *shell.Site, t shell.Templates, title, project string) (f Frame, answered bool, err error) {
	if f.Frame, err = shell.NewFrame(c, site, title, project); err != nil {
		return f, false, err
	}
	if f.Trail, err = beside(c, f.Frame); err != nil {
		return f, false, err
	}
	if shell.Wants(c, "trail") {
		return f, true, shell.RenderPart(c, t, "trail", f)
	}
	return f, false, nil
}

// beside reads the trail that a page's address asks for beside it; nil for
// none.
func beside(c fiber.Ctx, f shell.Frame) (*Page, error) {
	scope, name, ok := cutLast(f.State.Get("trail"))
	if !ok {
		return nil, nil
	}
	if plain, err := url.PathUnescape(name); err == nil { // it may name a cost code
		name = plain
	}
	p := &Page{Frame: f, Scope: scope, Figure: name, beside: true}
	p.Close = f.Turn("trail", "")
	p.Whole = f.State.Trail(scope, url.PathEscape(name))
	return p, p.read(c)
}

func cutLast(s string) (before, after string, ok bool) {
	i := strings.LastIndexByte(s, '/')
	if i < 0 {
		return "", "", false
	}
	return s[:i], s[i+1:], true
}

func (p *Page) read(c fiber.Ctx) error {
	if p.Scope == sourceScope {
		return p.source(c)
	}
	name, code, coded := strings.Cut(p.Figure, ":")
	id, ok := figure.Lookup(name)
	switch {
	case p.Moment.Empty:
		p.Missing = "Nothing is stated yet, so there are no figures."
		return nil
	case !ok:
		p.Missing = fmt.Sprintf("There is no figure %q.", p.Figure)
		return nil
	}
	if r, _ := p.Moment.Find(p.Scope); r != nil && !r.Group {
		m, err := p.Site.Office.OfOne(c.Context(), p.Moment)
		if err != nil {
			return err
		}
		p.Moment = m
	}
	of := func(compared bool) (*trail.Trail, error) {
		if coded {
			return trail.In(p.Site.Office).CodeTrail(c.Context(), p.Actor, p.Moment, compared, p.Scope, id, code)
		}
		return trail.In(p.Site.Office).Trail(c.Context(), p.Actor, p.Moment, compared, p.Scope, id)
	}
	now, err := of(false)
	if err != nil {
		return err
	}
	if now == nil {
		p.Missing = fmt.Sprintf("There is no project or programme %q.", p.Scope)
		return nil
	}
	if !p.beside {
		p.Title = now.Entry.Title
	}
	p.Now = p.panel(p.State, p.Moment.Period.Name, now)
	if p.Moment.Vs.Code == "" {
		return nil
	}
	before, err := of(true)
	if err != nil || before == nil {
		return err
	}
	p.Before = p.panel(p.State.With("at", p.Moment.Vs.Code).With("vs", ""), p.Moment.Vs.Name, before)
	return nil
}

// source reads a row of a file, named FILE.ROW.
func (p *Page) source(c fiber.Ctx) error {
	file, row, _ := strings.Cut(p.Figure, ".")
	f, err := strconv.ParseInt(file, 10, 32)
	n, err2 := strconv.ParseInt(row, 10, 32)
	if err != nil || err2 != nil {
		p.Missing = "There is no such row."
		return nil
	}
	x, err := trail.In(p.Site.Office).SourceRow(c.Context(), p.Actor, int32(f), int32(n))
	if err != nil {
		return err
	}
	if x == nil {
		p.Missing = "There is no such file."
		return nil
	}
	p.Source = &Source{SourceRow: x, Place: fmt.Sprintf("%s, row %d", x.File, x.Row)}
	for i, cell := range x.Cells {
		named := Named{Text: cell}
		if i < len(x.Head) {
			named.Column = x.Head[i]
		}
		p.Source.Cells = append(p.Source.Cells, named)
	}
	return nil
}

// link is the address of another trail: beside the same page, or on its own.
func (p *Page) link(state shell.State, scope, name string) string {
	if p.beside && state == p.State {
		return p.Frame.Figure(scope, name)
	}
	return state.Trail(scope, name)
}

func (p *Page) panel(state shell.State, period string, t *trail.Trail) *Panel {
	scope := p.Scope
	out := &Panel{
		Period:   period,
		Entry:    t.Entry,
		Value:    tell.Figure(figureID(t.Entry), t.Value, t.Currency, true),
		Omitted:  t.Omitted,
		Files:    t.Files,
		Drift:    t.Drift,
		Currency: string(t.Currency),
	}
	switch {
	case !t.Scope.Group:
		out.ScopeOf, out.Link = t.Scope.Code+" "+t.Scope.Name, state.Project(scope)
		out.History = "/history?project=" + url.QueryEscape(scope)
		if p.MayAsk() {
			out.Ask = p.State.AskPage(scope, "figure "+t.Entry.Name)
		}
	case scope == "*":
		out.ScopeOf, out.Link = "the whole portfolio", state.With("scope", "").Board()
	default:
		out.ScopeOf, out.Link = "programme "+t.Scope.Name, state.With("scope", scope).Board()
	}
	out.Shown = p.shown(t)
	if t.Code == "" && !t.Some {
		out.Trend = state.TrendPage(scope, t.Entry.Name)
	}
	if t.Some {
		out.ScopeOf = tell.Plural(t.Parts, "project", "projects") + " of " + out.ScopeOf
	}
	if t.Code != "" {
		out.ScopeOf += ", cost code " + t.Code
	}
	if t.Against > 0 {
		out.Baseline = fmt.Sprintf("against baseline %d", t.Against)
	} else if p.Moment.Against == portfolio.Original {
		out.Baseline = "against the original baselines"
	}
	pieces := func(list []trail.Piece) (pieces []Piece) {
		for _, x := range list {
			y := Piece{Text: x.Text}
			if x.Entry != nil {
				cell := tell.Figure(figureID(x.Entry), x.Value, t.Currency, true)
				y.Text, y.Title = cell.Text, x.Entry.Title
				if x.Back == 0 && x.Value.Known {
					y.Link = p.link(state, scope, x.Entry.Name)
				}
			}
			if x.Back > 0 && x.Entry == nil {
				y.Text += fmt.Sprintf(" (%d before)", x.Back)
			}
			pieces = append(pieces, y)
		}
		return pieces
	}
	out.Formula, out.With = pieces(t.Formula), pieces(t.With)
	for _, in := range t.Inputs {
		x := Input{
			Title:  in.Entry.Title,
			Symbol: in.Entry.Symbol,
			Value:  tell.Figure(figureID(in.Entry), in.Value, in.Currency, true),
			Indent: in.Depth,
		}
		if in.Own && in.Value.Known {
			x.Link = p.link(state, scope, in.Entry.Name)
		}
		if !in.Own {
			x.Period = in.Period
		}
		out.Inputs = append(out.Inputs, x)
	}
	out.Facts = p.facts(state, t, t.Facts)
	for _, b := range t.Behind {
		out.Behind = append(out.Behind, Made{
			Title:   b.Entry.Title,
			Link:    p.link(state, scope, b.Entry.Name),
			Facts:   p.facts(state, t, b.Facts),
			Omitted: b.Omitted,
		})
	}
	return out
}

// shown says what an amount in a project's own currency is in the reporting one, or how
// much of a ratio of amounts as shown would be currency.
func (p *Page) shown(t *trail.Trail) string {
	id, in := figureID(t.Entry), p.Moment.Reporting
	if t.Shown.Known {
		return fmt.Sprintf(
			"In %s, the project's own currency; in %s %s.", t.Currency, in, tell.Figure(id, t.Shown, in, true).Text,
		)
	}
	if !t.Divided.Known || t.Currency == in || !slices.ContainsFunc(t.Inputs, trail.Input.Amount) {
		return ""
	}
	return strings.TrimSpace(
		fmt.Sprintf("Of amounts in %s, the project's own currency. ", t.Currency) + tell.CurrencyPart(id, t.Value, t.Divided, in),
	)
}

// Facts writes the rows of a trail for a page of its own; nothing leads from
// them to other figures.
func Facts(s shell.State, t *trail.Trail) (out []Fact) {
	p := &Page{Frame: shell.Frame{Page: shell.Page{State: s}}}
	list := slices.Clone(t.Facts)
	for i := range list {
		list[i].Scope = ""
	}
	return p.facts(s, t, list)
}

// facts writes rows, the postings of the first at once.
func (p *Page) facts(state shell.State, t *trail.Trail, list []trail.Fact) (out []Fact) {
	for i, x := range list {
		y := p.fact(state, t, x)
		y.Open = i == 0
		out = append(out, y)
	}
	return out
}

func (p *Page) fact(state shell.State, t *trail.Trail, x trail.Fact) Fact {
	y := Fact{
		What:   x.What,
		Detail: x.Detail,
		Period: x.Period,
		From:   x.From,
		Place:  x.Place,
		Value:  tell.Format(x.Value, t.Currency, true),
	}
	place := func(s portfolio.Source) string {
		return p.link(state, sourceScope, fmt.Sprintf("%d.%d", s.File, s.Row))
	}
	if x.Scope != "" && x.Value.Known {
		y.Link = p.link(state, x.Scope, t.Entry.Name)
	}
	if x.Place != "" {
		y.PlaceLink = place(x.Source)
	}
	for _, q := range x.Postings {
		z := Posting{Posting: q}
		if q.Place != "" {
			z.Link = place(q.Source)
		}
		y.Postings = append(y.Postings, z)
	}
	return y
}

// figureID is the place of an entry in the catalogue.
func figureID(e *figure.Entry) figure.ID {
	id, _ := figure.Lookup(e.Name)
	return id
}
