// Package money is the screen of Weigh that shows money by rows and columns:
// what was planned, what is spent, what is still to come; beside it what another
// version says; and behind each cell what it is made of.
package money

import (
	"embed"
	"fmt"
	"html/template"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office/baseline"
	"turret/internal/office/closing"
	"turret/internal/office/money"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/views"
)

//go:embed money.html cell.html bridge.html money.css
var files embed.FS

// Templates of the screens.
var (
	Template       = shell.Parse(files, "money.html")
	CellTemplate   = shell.Parse(files, "cell.html")
	BridgeTemplate = shell.Parse(files, "bridge.html")
)

// Style is the style sheet of both.
var Style = shell.File(files, "money.css")

// Page shows the money table.
type Page struct {
	shell.Frame
	Table    *money.Table
	Missing  string
	Sentence []shell.Phrase
	Head     []Head
	Rows     []Row
	Foot     Row
	Scale    tell.Scale
	Rounded  bool // shown figures do not add up where the true ones do
	More     string
	Left     int
	Curve    template.HTML
	CurveOf  string
	Menus    []Menu
	Saved    views.Saved
	Cuts     []closing.CutInfo
	Versions []baseline.Version
}

// Head is a column's head; Wide is the number of amounts under it.
type Head struct {
	Name, Class string
	Wide        int
}

// Row is a row as written.
type Row struct {
	Key, Name, Code string
	Depth           int
	Group           bool
	Fold            string // address that turns it, or ""
	Folded          bool
	Chosen          string // address that draws its curve
	Cells           []Cell
}

// Cell is an amount as written.
type Cell struct {
	Text, Title, Link, Class string
	Beside                   string // what is asked to stand with it
}

// window is the number of rows that a page holds.
const window = 100

// ask reads what the address asks of the table.
func ask(s shell.State) money.Ask {
	return money.Ask{
		Project: s.Get(
			"of",
		), Rows: s.Get("rows"), Level: s.Get("level"), Per: s.Get("per"), Span: s.Get("span"), Show: s.Get("amounts"), Sum: s.Get("sum"),
		Plan: s.Get(
			"plan",
		), Beside: s.Get("beside"), Ends: s.Get("ends"), Rates: s.Get("rates"), Currency: s.Get("currency"), Flow: s.Get("flow"), Class: s.Get("class"), Code: s.Get("code"), Centre: s.Get("centre"), Activity: s.Get("activity"), Unfolded: s.Get("open"), Fold: s.Get("fold"), Only: s.Get("only"),
	}
}

// Get answers /money.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Money", shell.StateOf(c).Get("of"))
		if err != nil {
			return err
		}
		f.Step = "weigh"
		p := &Page{Frame: f, Scale: tell.Scale(f.State.Get("unit"))}
		if !slices.Contains(tell.Scales, p.Scale) {
			p.Scale = tell.Thousands
		}
		if f.Moment.Empty {
			return shell.Render(c, Template, p)
		}
		p.Table, err = money.In(site.Office).Table(c.Context(), p.Actor, f.Moment, ask(p.State))
		if shell.Refused(err) {
			p.Missing = err.Error()
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, Template, p)
		}
		if err != nil {
			return err
		}
		if p.Cuts, err = closing.In(site.Office).Cuts(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		if p.Versions, err = baseline.In(site.Office).Named(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		p.Moment.Notes = append(p.Moment.Notes, p.Table.Asked...)
		if p.Saved, err = views.On(c, f, "money"); err != nil {
			return err
		}
		p.fill()
		if shell.Wants(c, "more") {
			return shell.RenderPart(c, Template, "moneyrows", p)
		}
		if err := p.draw(c, site); err != nil {
			return err
		}
		p.Sentence = p.say()
		p.menus()
		return shell.Render(c, Template, p)
	}
}

// fill writes the rows that the page shows.
func (p *Page) fill() {
	t := p.Table
	for i, c := range t.Columns {
		h := Head{Name: c.Name, Wide: len(t.Measures), Class: p.class(i, "")}
		if i == len(t.Columns)-1 {
			h.Wide = len(p.Besides())
		}
		p.Head = append(p.Head, h)
	}
	rows, from := t.Rows, 0
	if show, ok := strings.CutPrefix(p.State.Get("show"), "from-"); ok {
		if n, err := strconv.Atoi(show); err == nil {
			from = min(max(n, 0), len(rows))
		}
	}
	rows = rows[from:]
	if p.State.Get("show") != "all" && len(rows) > window {
		p.Left, p.More = len(rows)-window, p.Turn("show", fmt.Sprintf("from-%d", from+window))
		rows = rows[:window]
	}
	for i := range rows {
		p.Rows = append(p.Rows, p.row(&rows[i]))
	}
	p.Foot = Row{Name: p.all(), Cells: p.cells(t.Root, ""), Chosen: p.Turn("row", "all")}
	p.Rounded = p.roundingShows()
}

func (p *Page) all() string {
	if p.State.Get("flow") == "" || p.State.Get("flow") == "cost" {
		return "All cost"
	}
	if p.State.Get("flow") == string(costs.Margin) {
		return "Margin"
	}
	return "All"
}

func (p *Page) row(x *money.Row) Row {
	r := Row{
		Key:    money.RowKey(x.Row),
		Name:   x.Name,
		Depth:  min(x.Depth-1, 4),
		Group:  len(x.Below) > 0,
		Folded: x.Folded,
	}
	r.Chosen = p.Turn("row", r.Key)
	if r.Key != x.Name &&
		(x.Dimension == costs.ByProject || x.Dimension == costs.ByCode || x.Dimension == costs.ByCentre) {
		r.Code = x.Row.Key
	}
	if len(x.Below) > 0 {
		r.Fold = p.Turn("fold", x.Fold)
	}
	r.Cells = p.cells(x.Row, r.Key)
	return r
}

// class says what a column is to the period: past, now, or to come.
func (p *Page) class(column int, more string) string {
	t := p.Table
	switch {
	case column == len(t.Columns)-1:
		return strings.TrimSpace("total " + more)
	case column == t.Now:
		return strings.TrimSpace("now " + more)
	case column < t.Past:
		return strings.TrimSpace("past " + more)
	}
	return strings.TrimSpace("later " + more)
}

func (p *Page) cells(r *costs.Row, key string) (out []Cell) {
	t := p.Table
	s := p.State.With("row", key).With("show", "")
	for i := range t.Columns {
		last := i == len(t.Columns)-1
		for k, m := range t.Measures {
			c := p.cell(r, i, m)
			if last && k == 0 {
				c.Class = p.class(i, c.Class)
			} else if last {
				c.Class = strings.TrimSpace("sum " + c.Class)
			} else {
				c.Class = p.class(i, c.Class)
			}
			if c.Text != "" && c.Text != tell.Dash && m != costs.InPercent {
				c.Link = s.With("column", strconv.Itoa(i)).
					With("amounts", p.State.Get("amounts")).
					With("cause", string(m)).
					MoneyCell()
			}
			out = append(out, c)
			if last && t.Compared() {
				out = append(out, p.against(r, i, m, s)...)
			}
			if last && t.HasEffect(m) {
				n := t.CurrencyEffect(r, m)
				out = append(out, p.sum(p.Scale.Change(n, t.Currency), n))
			}
		}
	}
	if t.Ends != nil {
		out = append(out, p.ends(r)...)
	}
	return out
}

// sum is an amount beside the whole span, as it is written there.
func (p *Page) sum(text string, n int64) Cell {
	c := Cell{Text: text, Title: p.exact(n), Class: "sum"}
	if n == 0 {
		c.Class = "sum nil"
	}
	return c
}

// ends writes how the fiscal year of a row ends, and how long its money lasts.
func (p *Page) ends(r *costs.Row) []Cell {
	t := p.Table
	end := t.Ends.Of(r)
	carried := p.sum(p.Scale.Change(end.Carried, t.Currency), end.Carried)
	if end.Carried < 0 {
		carried.Class += " act"
	}
	left := tell.Figure(figure.MonthsLeft, figure.Value{Known: end.Why == "", Unit: figure.Periods, R: end.Left, Why: end.Why}, t.Currency, false)
	return []Cell{
		p.sum(p.Scale.Write(end.Outlook, t.Currency), end.Outlook),
		carried,
		{Text: left.Text, Title: left.Title, Class: "sum"},
	}
}

// cell writes an amount of the first version, and marks where the second
// differs.
func (p *Page) cell(r *costs.Row, column int, m costs.Measure) Cell {
	t := p.Table
	if m == costs.InPercent {
		part, whole, ok := t.Percent(r, 0, column)
		if !ok {
			return Cell{Text: tell.Dash, Title: "There is no plan in this column", Class: "quiet"}
		}
		return Cell{Text: tell.Share(part, whole, true), Class: bad(part < 0)}
	}
	n, _ := t.Value(r, 0, m, column)
	c := Cell{Text: p.Scale.Write(n, t.Currency), Title: p.exact(n)}
	if n == 0 {
		c.Class = "nil"
	}
	if m == costs.Variance {
		c.Class = bad(n < 0)
	}
	was, known := t.Value(r, 1, m, column)
	if !known {
		return c
	}
	if was != n {
		c.Class = strings.TrimSpace(c.Class + " differs")
		c.Title += "; " + t.Version + ": " + p.exact(was)
	}
	switch p.State.Get("each") {
	case "was":
		c.Beside = p.Scale.Write(was, t.Currency)
	case "change":
		if was != n {
			c.Beside = p.Scale.Change(n-was, t.Currency)
		}
	case "percent":
		if was != n {
			c.Beside = tell.Share(n-was, was, true)
		}
	}
	return c
}

func bad(is bool) string {
	if is {
		return "act"
	}
	return ""
}

// against writes what the second version says of the whole span, and the change.
func (p *Page) against(r *costs.Row, column int, m costs.Measure, s shell.State) []Cell {
	t := p.Table
	if m == costs.InPercent {
		text := tell.Dash
		if part, whole, ok := t.Percent(r, 1, column); ok {
			text = tell.Share(part, whole, true)
		}
		return []Cell{{Text: text, Class: "sum"}, {Class: "sum"}}
	}
	n, _ := t.Value(r, 0, m, column)
	was, _ := t.Value(r, 1, m, column)
	worse := n > was
	if m == costs.Variance {
		worse = n < was
	}
	change := Cell{
		Text:  p.Scale.Change(n-was, t.Currency),
		Title: p.exact(n - was),
		Class: strings.TrimSpace("sum " + bad(worse && m != costs.Planned)),
	}
	if n == was {
		change.Class = "sum nil"
	} else {
		change.Title += ", " + tell.Share(n-was, was, true)
	}
	return []Cell{
		{
			Text:  p.Scale.Write(was, t.Currency),
			Title: p.exact(was),
			Class: "sum",
			Link:  s.With("column", strconv.Itoa(column)).With("cause", string(m)).With("version", "1").MoneyCell(),
		},
		change,
	}
}

func (p *Page) exact(n int64) string {
	return tell.Units.Write(n, p.Table.Currency) + " " + string(p.Table.Currency)
}

// roundingShows tells whether the shown amounts of the rows below the total do
// not add up to it, though the true ones do.
func (p *Page) roundingShows() bool {
	t := p.Table
	if p.Scale == tell.Units {
		return false
	}
	for i := range t.Columns {
		for _, m := range t.Measures {
			var shown int64
			for _, r := range t.Root.Below {
				n, _ := t.Value(r, 0, m, i)
				shown += p.Scale.Round(n, t.Currency)
			}
			if n, ok := t.Value(t.Root, 0, m, i); ok && shown != p.Scale.Round(n, t.Currency) {
				return true
			}
		}
	}
	return false
}

// Besides are the heads of what stands at the side: the whole span, what the
// second version says of it with the change, and the currency effect.
func (p *Page) Besides() (out []string) {
	t := p.Table
	for _, m := range t.Measures {
		name := t.Columns[len(t.Columns)-1].Name
		if len(t.Measures) > 1 {
			name = tell.Capital(m.Title())
		}
		out = append(out, name)
		if t.Compared() {
			said := t.Version
			if p.State.Get("beside") == "" {
				said += " said"
			}
			out = append(out, said, "Change")
		}
		if t.HasEffect(m) {
			out = append(out, "Currency effect")
		}
	}
	if t.Ends != nil {
		out = append(out, "Outlook "+t.Year, "Carried over", "Periods left")
	}
	return out
}

// Sided tells whether anything stands beside the whole span.
func (p *Page) Sided() bool { return len(p.Besides()) > len(p.Table.Measures) }

// Many tells whether several amounts stand side by side.
func (p *Page) Many() bool { return len(p.Table.Measures) > 1 }

// Span is the number of the table's columns.
func (p *Page) Span() int {
	return 1 + (len(p.Table.Columns)-1)*len(p.Table.Measures) + len(p.Besides())
}

// In says what the amounts are in.
func (p *Page) In() string {
	rates := "period rates"
	if p.State.Get("rates") == "plan" {
		rates = "constant plan rates"
	}
	return p.Scale.Name(p.Table.Currency) + ", " + rates
}

// LastColumn is the place of the column of the whole span.
func (p *Page) LastColumn() int { return len(p.Head) - 1 }
