// Package money is the screen of Weigh that shows money by rows and columns:
// what was planned, what is spent, what is still to come; beside it what another
// version says; and behind each cell what it is made of.
package money

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

	"turret/internal/core/costs"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/views"
)

//go:embed money.html cell.html bridge.html baselines.html money.css
var files embed.FS

// Templates of the screens.
var (
	Template          = shell.Parse(files, "money.html")
	CellTemplate      = shell.Parse(files, "cell.html")
	BridgeTemplate    = shell.Parse(files, "bridge.html")
	BaselinesTemplate = shell.Parse(files, "baselines.html")
)

// Style is the style sheet of both.
var Style = shell.File(files, "money.css")

// Page shows the money table.
type Page struct {
	shell.Frame
	Table    *office.MoneyTable
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
	Cuts     []office.CutInfo
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

// Menu is a choice of the table.
type Menu struct {
	Name, Now string
	Items     []Item
}

// Item is a choice; one without a link is a heading.
type Item struct {
	Text, Link string
	On         bool
}

// window is the number of rows that a page holds.
const window = 150

// ask reads what the address asks of the table.
func ask(s shell.State) office.MoneyAsk {
	return office.MoneyAsk{
		Project: s.Get("of"), Rows: s.Get("rows"), Level: s.Get("level"), Per: s.Get("per"), Span: s.Get("span"), Show: s.Get("amounts"), Sum: s.Get("sum"),
		Beside: s.Get("beside"), Rates: s.Get("rates"), Flow: s.Get("flow"), Class: s.Get("class"), Code: s.Get("code"), Unfolded: s.Get("open"), Fold: s.Get("fold"), Only: s.Get("only"),
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
		p.Table, err = site.Office.MoneyTable(c.Context(), p.Actor, f.Moment, ask(p.State))
		if shell.Refused(err) {
			p.Missing = err.Error()
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, Template, p)
		}
		if err != nil {
			return err
		}
		if p.Cuts, err = site.Office.Cuts(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		p.Moment.Notes = append(p.Moment.Notes, p.Table.Asked...)
		if p.Views, err = site.Office.Views(c.Context(), p.Actor); err != nil {
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
		if t.Compared() && i == len(t.Columns)-1 {
			h.Wide *= 3
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
	return "All"
}

func (p *Page) row(x *office.MoneyRow) Row {
	r := Row{Key: x.Key, Name: x.Name, Depth: min(x.Depth-1, 4), Group: len(x.Below) > 0, Folded: x.Folded, Chosen: p.Turn("row", x.Key)}
	if x.Key != x.Name && (x.Dimension == costs.ByProject || x.Dimension == costs.ByCode || x.Dimension == costs.ByCentre) {
		r.Code = x.Row.Key
	}
	if len(x.Below) > 0 {
		r.Fold = p.Turn("fold", x.Fold)
	}
	r.Cells = p.cells(x.Row, x.Key)
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
				c.Link = s.With("column", strconv.Itoa(i)).With("amounts", p.State.Get("amounts")).With("cause", string(m)).MoneyCell()
			}
			out = append(out, c)
			if last && t.Compared() {
				out = append(out, p.against(r, i, m, s)...)
			}
		}
	}
	return out
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
	change := Cell{Text: p.Scale.Change(n-was, t.Currency), Title: p.exact(n - was), Class: strings.TrimSpace("sum " + bad(worse && m != costs.Planned))}
	if n == was {
		change.Class = "sum nil"
	} else {
		change.Title += ", " + tell.Share(n-was, was, true)
	}
	return []Cell{{Text: p.Scale.Write(was, t.Currency), Title: p.exact(was), Class: "sum", Link: s.With("column", strconv.Itoa(column)).With("cause", string(m)).With("version", "1").MoneyCell()}, change}
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

// Besides are the heads of what stands at the side, where two versions are
// compared.
func (p *Page) Besides() (out []string) {
	for _, m := range p.Table.Measures {
		said := p.Table.Version
		if p.State.Get("beside") == "" {
			said += " said"
		}
		out = append(out, p.Table.Columns[len(p.Table.Columns)-1].Name, said, "Change")
		if len(p.Table.Measures) > 1 {
			out[len(out)-3] = tell.Capital(m.Title())
		}
	}
	return out
}

// Many tells whether several amounts stand side by side.
func (p *Page) Many() bool { return len(p.Table.Measures) > 1 }

// Span is the number of the table's columns.
func (p *Page) Span() int {
	n := 1 + len(p.Table.Columns)*len(p.Table.Measures)
	if p.Table.Compared() {
		n += 2 * len(p.Table.Measures)
	}
	return n
}

// In says what the amounts are in.
func (p *Page) In() string {
	rates := "period rates"
	if p.State.Get("rates") == "plan" {
		rates = "constant plan rates"
	}
	return p.Scale.Name(p.Table.Currency) + ", " + rates
}

// Effect tells what rates do to the total, at constant rates.
func (p *Page) Effect() string {
	t := p.Table
	if t.Effect == nil {
		return ""
	}
	last := len(t.Columns) - 1
	var out []string
	for _, m := range t.Measures {
		usual, ok := t.Effect.Value(t.Effect.Root, 0, m, last)
		n, _ := t.Value(t.Root, 0, m, last)
		if ok && usual != n {
			out = append(out, fmt.Sprintf("%s %s", m.Title(), p.Scale.Change(usual-n, t.Currency)))
		}
	}
	if len(out) == 0 {
		return "Currency effect: none."
	}
	return "Currency effect, which period rates add: " + strings.Join(out, ", ") + " " + p.Scale.Name(t.Currency) + "."
}

// menus are the choices of the table, all of them links.
func (p *Page) menus() {
	t, s := p.Table, p.State
	item := func(text, part, value string) Item {
		return Item{text, p.With(s.With(part, value).With("show", "")), s.Get(part) == value}
	}
	rows := Menu{Name: "Rows"}
	var named []string
	for _, d := range t.Dims {
		named = append(named, dimensionName(d))
	}
	rows.Now = strings.Join(named, ", ")
	choices := []string{"", "programme", "project", "code", "class", "programme,project,code", "programme,class", "code,project", "class,code", "centre", "activity", "flow,code"}
	if t.Project != nil {
		choices = []string{"", "code,class", "class,code", "code,activity", "activity", "centre", "flow,code"}
	}
	for _, v := range choices {
		text := "as usual"
		if v != "" {
			var list []string
			for _, d := range strings.Split(v, ",") {
				list = append(list, dimensionName(costs.Dimension(d)))
			}
			text = strings.Join(list, ", ")
		}
		rows.Items = append(rows.Items, Item{text, p.With(s.With("rows", v).With("fold", "").With("open", "").With("row", "").With("show", "")), s.Get("rows") == v})
	}
	rows.Items = append(rows.Items, Item{Text: "Shown to"})
	for n := 1; n <= min(max(t.Depth, 1), 6); n++ {
		rows.Items = append(rows.Items, Item{"level " + strconv.Itoa(n), p.With(s.With("open", strconv.Itoa(n)).With("fold", "").With("show", "")), t.Unfolded == n})
	}
	rows.Items = append(rows.Items, Item{Text: "Rows without amounts"}, item("left out", "only", ""), item("listed", "only", "empty"))
	if t.Compared() {
		rows.Items = append(rows.Items, item("only what differs", "only", "differs"))
	}
	rows.Items = append(rows.Items, Item{Text: "Only"}, item("all classes", "class", ""))
	for _, c := range t.Classes {
		rows.Items = append(rows.Items, item(c, "class", c))
	}
	rows.Items = append(rows.Items, item("cost", "flow", ""), item("income", "flow", "income"), item("benefit", "flow", "benefit"), item("all flows", "flow", "all"))

	columns := Menu{Name: "Columns", Now: map[costs.Per]string{costs.PerPeriod: "periods", costs.PerQuarter: "quarters", costs.PerYear: "years", costs.ToDate: "to date and to go"}[t.Per]}
	if t.Per != costs.ToDate {
		columns.Now += " of " + t.Span
	}
	columns.Items = []Item{item("periods", "per", ""), item("quarters", "per", "quarter"), item("fiscal years", "per", "year"), item("to date, to go, at completion", "per", "completion"), {Text: "Over"}, item("this fiscal year", "span", ""), item("everything", "span", "all")}
	for _, y := range t.Years {
		columns.Items = append(columns.Items, item(y, "span", y))
	}
	columns.Items = append(columns.Items, Item{Text: "Amounts"}, item("by period", "sum", ""), item("cumulative", "sum", "cumulative"))

	show := Menu{Name: "Show"}
	var shown []string
	for _, m := range costs.Measures {
		on := slices.Contains(t.Measures, m)
		if on {
			shown = append(shown, m.Title())
		}
		list := make([]string, 0, len(t.Measures)+1)
		for _, x := range costs.Measures {
			if x != m && slices.Contains(t.Measures, x) || x == m && !on {
				list = append(list, string(x))
			}
		}
		show.Items = append(show.Items, Item{m.Title(), p.With(s.With("amounts", strings.Join(list, ",")).With("show", "")), on})
	}
	show.Now = strings.Join(shown, "; ")

	beside := Menu{Name: "Beside", Now: cmp.Or(t.Version, "nothing")}
	vs := func(text, at string) Item {
		return Item{text, p.With(s.With("vs", at).With("beside", "").With("show", "")), s.Get("vs") == at && s.Get("beside") == ""}
	}
	beside.Items = []Item{vs("nothing", "")}
	if p.Moment.Before.Code != "" {
		beside.Items = append(beside.Items, vs("as stated in "+p.Moment.Before.Name, p.Moment.Before.Code))
	}
	if y := p.YearBefore(); y != nil {
		beside.Items = append(beside.Items, vs("as stated in "+y.Name, y.Code))
	}
	if p.Original() {
		beside.Items = append(beside.Items, item("the latest plan", "beside", "latest"))
	} else {
		beside.Items = append(beside.Items, item("the original plan", "beside", "original"))
	}
	const mostCuts = 6
	for i, x := range p.Cuts {
		if i == mostCuts {
			break
		}
		beside.Items = append(beside.Items, item("cut: "+x.Name+", "+x.At, "beside", fmt.Sprintf("cut%d", x.ID)))
	}
	if t.Compared() {
		beside.Items = append(beside.Items, Item{Text: "In each cell"}, item("mark what differs", "each", ""), item("what it said", "each", "was"), item("the change", "each", "change"), item("the change in percent", "each", "percent"))
	}
	in := Menu{Name: "In", Now: p.In()}
	in.Items = []Item{item("thousands", "unit", ""), item("millions", "unit", "m"), item("to the cent", "unit", "1"), {Text: "Converted at"}, item("the rates of each period", "rates", ""), item("constant plan rates", "rates", "plan")}
	if t.Project != nil && money.Currency(t.Project.Currency) != "" {
		in.Items = append(in.Items, Item{Text: "Currency"}, item(string(p.Moment.Reporting), "in", ""), item("the project's own", "in", "project"))
	}
	p.Menus = []Menu{rows, columns, show, beside, in}
}

func dimensionName(d costs.Dimension) string {
	switch d {
	case costs.ByCode:
		return "cost code"
	case costs.ByCentre:
		return "cost centre"
	}
	return string(d)
}

// View is a saved money table with its address.
type View struct {
	Name, Link, Owner string
	On                bool
}

// Saved are the money tables that were saved under a name.
func (p *Page) Saved() (out []View) {
	for _, v := range p.Views {
		if !views.Money(v) {
			continue
		}
		x := View{Name: v.Name, Link: views.Link(v), On: p.State.Get("view") == strconv.FormatInt(v.ID, 10)}
		if v.Account != p.Actor.Account {
			x.Owner = v.Owner
		}
		out = append(out, x)
	}
	return out
}

// Shares tells whether the actor may share views.
func (p *Page) Shares() bool { return office.MayShare(p.Actor) }

// Bridge is the address of the bridge of the whole table.
func (p *Page) Bridge() string {
	s := p.State.With("amounts", "").With("row", "").With("show", "").With("cause", "").With("group", "")
	if slices.Equal(p.Table.Measures, []costs.Measure{costs.Planned}) {
		s = s.With("amounts", string(costs.Planned))
	}
	return s.BridgePage()
}

// Spreadsheet and Text are the addresses of the table as files.
func (p *Page) Spreadsheet() string { return p.State.MoneyFile("xlsx") }

// Text is the address of the table as CSV.
func (p *Page) Text() string { return p.State.MoneyFile("csv") }

// Named is what a dimension's head says.
func (p *Page) Named(d costs.Dimension) string { return tell.Capital(dimensionName(d)) }

// LastColumn is the place of the column of the whole span.
func (p *Page) LastColumn() int { return len(p.Head) - 1 }

// Hidden are the parts of the address that a form of one part must carry.
func (p *Page) Hidden(but ...string) (out [][2]string) {
	values, err := url.ParseQuery(p.State.Query())
	if err != nil {
		return nil // written by the state itself
	}
	for k := range values {
		if !slices.Contains(but, k) {
			out = append(out, [2]string{k, values.Get(k)})
		}
	}
	slices.SortFunc(out, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
	return out
}

// forms are the files that the table is written as.
var forms = map[string]string{"xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "csv": "text/csv; charset=utf-8"}

// File answers /money.xlsx and /money.csv: the table as it is seen.
func File(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		a, s := shell.Actor(c), shell.StateOf(c)
		form := shell.Param(c, "form")
		m, err := site.Office.Moment(c.Context(), a, s.Ask())
		if err != nil {
			return err
		}
		if m.Empty || forms[form] == "" {
			return fiber.NewError(fiber.StatusNotFound)
		}
		body, err := site.Office.MoneyFile(c.Context(), a, m, ask(s), form)
		if shell.Refused(err) {
			return fiber.NewError(fiber.StatusNotFound, strings.TrimSuffix(err.Error(), "."))
		}
		if err != nil {
			return err
		}
		return shell.Send(c, "Money "+m.Period.Code+"."+form, forms[form], body)
	}
}
