// Package board is the first screen of Weigh: where every project stands.
package board

import (
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/forecast"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/baseline"
	"turret/internal/office/board"
	"turret/internal/office/brief"
	"turret/internal/office/check"
	"turret/internal/office/structure"
	"turret/internal/office/weigh"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
	"turret/internal/web/views"
)

//go:embed board.html board.css
var files embed.FS

// Template is the page.
var Template = trail.Parse(files, "board.html")

// Style is the page's style sheet.
var Style = shell.File(files, "board.css")

// Page is what the template shows.
type Page struct {
	trail.Frame
	List       *board.List
	Beginning  []shell.Begin // of an office that begins, for those who can do any of it
	Sentence   []shell.Phrase
	NotCounted string
	Said       string // the office's summary of the scope, of the period; "" for none
	Passed     string // how much of the actual cost is a plan
	Band       template.HTML
	Columns    []Column
	Others     []Column // that could be added
	NameSort   string
	NameSorted string
	Rows       []Row
	Foot       *Row
	More       string // address of the next rows, or ""
	Left       int    // rows after these
	Chips      []Chip
	Filters    []Chip
	Groups     []Chip
	Views      []Chip
	ViewName   string
	Own        views.Own // view that it was opened from
	Moved      []Moved
	Trust      *check.Trust
	Waiting    []baseline.BaselineEntry // baselines that are to be decided about

	strips func(string) [board.StripLength]board.Mark
	errors map[string]forecast.Summary // of forecasts, where a column has them
	names  [board.StripLength]string
}

// Chip is a choice: a filter that is on or can be, a way to group, a view.
type Chip struct {
	Text, Link, Hint string
	On               bool
	Glyph            *chart.Glyph
}

// window is the number of rows that a page holds; more are fetched when they
// come into sight.
const window = 200

// Get answers /board.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		to, err := views.Default(c, site)
		if err != nil {
			return err
		}
		if to != "" {
			return c.Redirect().Status(fiber.StatusSeeOther).To(to)
		}
		if add := c.Query("add"); add != "" { // of the form of columns
			s := shell.StateOf(c)
			list, _ := chosen(s.Get("cols"))
			if x, ok := byName[add]; ok {
				list = append(list, x)
			}
			return c.Redirect().Status(fiber.StatusSeeOther).To(s.With("cols", join(list)).Board() + "#columns")
		}
		f, answered, err := trail.Open(c, site, Template, "Board", "")
		if err != nil || answered {
			return err
		}
		p := &Page{Frame: f}
		if f.Moment.Empty {
			begun, err := structure.In(site.Office).Founding(c.Context(), p.Actor)
			if err != nil {
				return err
			}
			if steps := shell.Beginning(begun); slices.ContainsFunc(steps, func(b shell.Begin) bool { return b.Link != "" }) {
				p.Beginning = steps
			}
			return shell.Render(c, Template, p)
		}
		if err := p.fill(c, site); err != nil {
			return err
		}
		if shell.Wants(c, "more") {
			return shell.RenderPart(c, Template, "rows", p)
		}
		return shell.Render(c, Template, p)
	}
}

// Workbook answers /board.xlsx: what the board lists, as a spreadsheet.
func Workbook(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		a, s := shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(c.Context(), a, s.Ask())
		if err != nil {
			return err
		}
		if m.Empty {
			return fiber.NewError(fiber.StatusNotFound)
		}
		body, err := brief.In(site.Office).BoardWorkbook(c.Context(), a, m, s.Order())
		if err != nil {
			return err
		}
		return shell.Send(
			c,
			"Board "+m.Period.Code+".xlsx",
			"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
			body,
		)
	}
}

// Spreadsheet is the address of the board as a spreadsheet.
func (p *Page) Spreadsheet() string { return "/board.xlsx?" + p.State.List().Query() }

// fill reads everything that the page shows.
func (p *Page) fill(c fiber.Ctx, site *shell.Site) (err error) {
	ctx, m := c.Context(), p.Moment
	if sort := p.State.Get("sort"); sort != "" && !board.Sortable(sort) {
		m.Notes = append(m.Notes, fmt.Sprintf("The list cannot be sorted by %q; it is sorted by code.", sort))
		p.State = p.State.With("sort", "")
	}
	if p.List, err = board.In(site.Office).List(ctx, p.Actor, m, p.State.Order()); err != nil {
		return err
	}
	if p.strips, err = board.In(site.Office).Strips(ctx, p.Actor, m); err != nil {
		return err
	}
	p.names = board.StripPeriods(m)
	if p.Trust, err = check.In(site.Office).Trust(ctx, p.Actor, m); err != nil {
		return err
	}
	if p.Waiting, err = baseline.In(site.Office).Waiting(ctx, p.Actor, m); err != nil {
		return err
	}
	var unknown []string
	if p.Columns, unknown = chosen(p.State.Get("cols")); len(unknown) > 0 {
		m.Notes = append(m.Notes, fmt.Sprintf("There is no column %s.", strings.Join(unknown, ", ")))
	}
	if slices.ContainsFunc(p.Columns, func(c Column) bool { return c.Kind == "error" }) {
		if p.errors, err = weigh.In(site.Office).ForecastErrors(ctx, p.Actor, m, weigh.ErrorAhead); err != nil {
			return err
		}
	}
	p.arrange()
	remarks, err := site.Office.Remarks(ctx, m, cmp.Or(m.Scope.Code, portfolio.Everywhere))
	if err != nil {
		return err
	}
	if list := remarks["summary"]; len(list) > 0 && list[0].Period == m.Period.Number {
		p.Said = list[0].Text
	}
	p.Sentence, p.NotCounted = p.say(), board.NotCounted(p.Moment, p.List)
	p.Passed = tell.Passed(p.List.Total.Now.Value(figure.ACFromPlan), p.List.Total.Now.Currency)
	p.Band = p.band()
	p.choices()
	saved, err := account.In(site.Office).Views(ctx, p.Actor)
	if err != nil {
		return err
	}
	p.offer(saved)
	rows, from := p.List.Rows, 0
	if show, ok := strings.CutPrefix(p.State.Get("show"), "from-"); ok {
		n, err := strconv.Atoi(show)
		if err == nil {
			from = min(max(n, 0), len(rows))
		}
	}
	rows = rows[from:]
	if p.State.Get("show") != "all" && len(rows) > window {
		p.Left, p.More = len(rows)-window, p.Turn("show", fmt.Sprintf("from-%d", from+window))
		rows = rows[:window]
	}
	for _, r := range rows {
		p.Rows = append(p.Rows, p.row(r))
	}
	if p.List.Total.Now != nil {
		foot := p.row(p.List.Total)
		foot.Name, foot.Fold = cmp.Or(p.Moment.Scope.Name, p.Moment.Everything()), ""
		p.Foot = &foot
	}
	for _, x := range m.Moved() {
		p.Moved = append(p.Moved, p.moved(x))
	}
	return nil
}

// trail is the address of this board with a figure's trail beside it.
func (p *Page) trail(r board.Row, id figure.ID) string {
	s := p.State
	if r.Group {
		s = s.Filtered(r.Filter)
	}
	if r.Filter != p.Moment.Filter && r.Group { // a group of its own: its trail is a page
		return s.Trail(r.Scope, figure.Get(id).Name)
	}
	return p.Figure(r.Scope, figure.Get(id).Name)
}

// choices are the filters and groupings to choose from.
func (p *Page) choices() {
	f := p.Moment.Filter
	chip := func(text string, g office.Filter, on bool, glyph *chart.Glyph) Chip {
		return Chip{Text: text, Link: p.With(p.State.Filtered(g)), On: on, Glyph: glyph}
	}
	all := f
	all.Standing, all.Disagree = "", false
	p.Chips = append(p.Chips, chip(fmt.Sprintf("All %d", p.List.All), all, f.Standing == "" && !f.Disagree, nil))
	for _, st := range [...]standing.Standing{standing.Act, standing.Watch, standing.Steady, standing.Unrated} {
		if n := p.List.Counts[st]; n > 0 || f.Standing == st.Code() {
			g := all
			g.Standing = st.Code()
			p.Chips = append(
				p.Chips,
				chip(
					fmt.Sprintf("%s %d", st, n),
					g,
					f.Standing == st.Code(),
					&chart.Glyph{Standing: st, What: "Overall"},
				),
			)
		}
	}
	if p.List.Apart > 0 || f.Disagree {
		g := all
		g.Disagree = true
		x := chip(fmt.Sprintf("Disagree %d", p.List.Apart), g, f.Disagree, nil)
		x.Hint = "their leads state better than the figures say"
		p.Chips = append(p.Chips, x)
	}
	for _, x := range [...]struct{ name, text, v string }{{"lead", "lead", f.Lead}, {"stage", "stage", f.Stage}, {"state", "state", f.State}, {"q", "text", f.Text}} {
		if x.v != "" {
			if x.v == "-" {
				x.v = "none"
			}
			p.Filters = append(p.Filters, Chip{Text: x.text + " " + x.v, Link: p.Turn(x.name, ""), On: true})
		}
	}
	group := cmp.Or(p.State.Get("group"), "programme")
	for _, g := range [...]string{"programme", "lead", "stage", "none"} {
		p.Groups = append(
			p.Groups,
			Chip{Text: g, Link: p.With(p.State.With("group", g).With("fold", "")), On: g == group},
		)
	}
}

// offer lists the saved views.
func (p *Page) offer(saved []account.View) {
	on := p.State.Get("view")
	p.Views = append(
		p.Views,
		Chip{Text: "Plain board", Link: p.State.Moment().With("view", "plain").Board(), On: on == "" || on == "plain"},
	)
	for _, v := range saved {
		if !views.Board(v) {
			continue
		}
		x := Chip{Text: v.Name, Link: views.Link(v), On: views.Is(p.State, v)}
		if v.Account != p.Actor.Account {
			x.Hint = v.Owner
		}
		if x.On {
			p.ViewName, p.Own = v.Name, views.OwnOf(p.State, p.Actor.Account, v)
		}
		if at := p.State.Get("at"); at != "" && shell.ParseState(v.Query).Get("at") == "" {
			x.Link += "&at=" + url.QueryEscape(at)
		}
		p.Views = append(p.Views, x)
	}
}

// SaveQuery is what a saved view would keep.
func (p *Page) SaveQuery() string { return p.State.List().With("view", "").Query() }

// Wide tells that the columns need more room than the page has.
func (p *Page) Wide() bool { return len(p.Columns) > 14 }

// Span is the number of the table's columns.
func (p *Page) Span() int { return len(p.Columns) + 1 }

// SortedBy says what the list is sorted by.
func (p *Page) SortedBy() string {
	by := strings.TrimPrefix(cmp.Or(p.State.Get("sort"), "project"), "-")
	if c, ok := byName[by]; ok {
		return strings.ToLower(c.Title[:1]) + c.Title[1:]
	}
	return by
}

// band draws the money of all that is listed.
func (p *Page) band() template.HTML {
	r := p.List.Total.Now
	b, ok := tell.Band(
		"Money of what is listed",
		r.Value,
		r.Currency,
		func(id figure.ID) string { return p.trail(p.List.Total, id) },
	)
	if !ok {
		return ""
	}
	return chart.Fit(1220, b.Draw)
}

// MoneyRow is a figure of the band, as a table has it.
type MoneyRow struct {
	Title, Link string
	tell.Cell
}

// MoneyRows are the figures of the band, exactly.
func (p *Page) MoneyRows() []MoneyRow {
	r := p.List.Total.Now
	var out []MoneyRow
	for _, id := range [...]figure.ID{figure.AC, figure.OnOrder, figure.BeyondOrders, figure.EACStated, figure.BAC, figure.EV, figure.EACComputed, figure.AtStake} {
		x := MoneyRow{Title: figure.Get(id).Title, Cell: tell.Figure(id, r.Value(id), r.Currency, true)}
		if x.Known {
			x.Link = p.trail(p.List.Total, id)
		}
		out = append(out, x)
	}
	return out
}

// LedgerRow compares postings and sums of a currency, as written.
type LedgerRow struct{ Currency, Posted, Counted string }

// Ledger compares postings and sums by currency.
func (p *Page) Ledger() []LedgerRow {
	var out []LedgerRow
	for _, l := range p.Trust.Ledger {
		write := func(n int64) string {
			return tell.Format(figure.Whole(figure.Money, n), l.Currency, true).Text
		}
		out = append(out, LedgerRow{string(l.Currency), write(l.Posted), write(l.Counted)})
	}
	return out
}

// PutOnPage is the address that puts the board, as it is shown, on a page.
func (p *Page) PutOnPage() string {
	return shell.Adding("/page", "add", "/board?"+p.State.Query())
}

// Words is the address of the office's words on the scope.
func (p *Page) Words() string {
	return p.State.Scoped("/words/" + url.PathEscape(cmp.Or(p.Moment.Scope.Code, portfolio.Everywhere)))
}
