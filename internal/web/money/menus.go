package money

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/costs"
	"turret/internal/office/baseline"
	"turret/internal/tell"
)

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

// menus are the choices of the table, all of them links.
func (p *Page) menus() {
	p.Menus = []Menu{p.rowsMenu(), p.columnsMenu(), p.showMenu(), p.besideMenu(), p.inMenu()}
}

// item is a choice of one part of the address.
func (p *Page) item(text, part, value string) Item {
	return Item{text, p.With(p.State.With(part, value).With("show", "")), p.State.Get(part) == value}
}

// rowsMenu says what a row is.
func (p *Page) rowsMenu() Menu {
	t, s := p.Table, p.State
	rows := Menu{Name: "Rows"}
	var named []string
	for _, d := range t.Dims {
		named = append(named, dimensionName(d))
	}
	rows.Now = strings.Join(named, ", ")
	rows.Items = p.ways()
	rows.Items = append(rows.Items, Item{Text: "Shown to"})
	for n := 1; n <= min(max(t.Depth, 1), 6); n++ {
		rows.Items = append(
			rows.Items,
			Item{
				"level " + strconv.Itoa(n),
				p.With(s.With("open", strconv.Itoa(n)).With("fold", "").With("show", "")),
				t.Unfolded == n,
			},
		)
	}
	if slices.Contains(t.Dims, costs.ByCode) && !slices.Contains(t.Dims, costs.ByProgramme) {
		rows.Items = append(
			rows.Items,
			Item{Text: "Cost codes down to"},
			p.item("the level of your role", "level", ""),
			p.item("the first level", "level", "1"),
			p.item("the second", "level", "2"),
			p.item("the third", "level", "3"),
			p.item("the last", "level", "all"),
		)
	}
	rows.Items = append(
		rows.Items,
		Item{Text: "Rows without amounts"},
		p.item("left out", "only", ""),
		p.item("listed", "only", "empty"),
		Item{Text: "How many"},
		p.item("the ten largest", "only", "largest"),
	)
	if t.Compared() {
		rows.Items = append(rows.Items, p.item("only what differs", "only", "differs"))
	}
	return rows
}

// ways are the ways to arrange rows.
func (p *Page) ways() (out []Item) {
	t, s := p.Table, p.State
	choices := []string{
		"",
		"programme",
		"project",
		"code",
		"class",
		"programme,project,code",
		"programme,class",
		"code,project",
		"class,code",
		"centre",
		"activity",
		"client",
		"client,project",
		"flow,code",
	}
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
		out = append(
			out,
			Item{
				text,
				p.With(s.With("rows", v).With("fold", "").With("open", "").With("row", "").With("show", "")),
				s.Get("rows") == v,
			},
		)
	}
	return out
}

// columnsMenu says what a column is.
func (p *Page) columnsMenu() Menu {
	t := p.Table
	columns := Menu{
		Name: "Columns",
		Now:  map[costs.Per]string{costs.PerPeriod: "periods", costs.PerQuarter: "quarters", costs.PerYear: "years", costs.ToDate: "to date and to go"}[t.Per],
	}
	if t.Per != costs.ToDate {
		columns.Now += " of " + t.Span
	}
	columns.Items = []Item{
		p.item("periods", "per", ""),
		p.item("quarters", "per", "quarter"),
		p.item("fiscal years", "per", "year"),
		p.item("to date, to go, at completion", "per", "completion"),
		{Text: "Over"},
		p.item("this fiscal year", "span", ""),
		p.item("everything", "span", "all"),
	}
	for _, y := range t.Years {
		columns.Items = append(columns.Items, p.item(y, "span", y))
	}
	columns.Items = append(
		columns.Items,
		Item{Text: "Amounts"},
		p.item("by period", "sum", ""),
		p.item("cumulative", "sum", "cumulative"),
	)
	return columns
}

// showMenu says which amounts are shown.
func (p *Page) showMenu() Menu {
	t, s := p.Table, p.State
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
		show.Items = append(
			show.Items,
			Item{m.Title(), p.With(s.With("amounts", strings.Join(list, ",")).With("show", "")), on},
		)
	}
	show.Now = strings.Join(shown, "; ")
	ends := p.item("how "+t.Year+" ends, and what is left", "ends", "year")
	if ends.On {
		ends = Item{ends.Text, p.With(s.With("ends", "").With("show", "")), true}
	}
	show.Items = append(show.Items, Item{Text: "At the end of each row"}, ends)
	return show
}

// besideMenu says what stands beside each amount.
func (p *Page) besideMenu() Menu {
	t, s := p.Table, p.State
	beside := Menu{Name: "Beside", Now: cmp.Or(t.Version, "nothing")}
	vs := func(text, at string) Item {
		return Item{
			text,
			p.With(s.With("vs", at).With("beside", "").With("show", "")),
			s.Get("vs") == at && s.Get("beside") == "",
		}
	}
	beside.Items = []Item{vs("nothing", "")}
	if p.Moment.Before.Code != "" {
		beside.Items = append(beside.Items, vs("as stated in "+p.Moment.Before.Name, p.Moment.Before.Code))
	}
	if y := p.YearBefore(); y != nil {
		beside.Items = append(beside.Items, vs("as stated in "+y.Name, y.Code))
	}
	beside.Items = append(beside.Items, p.named(vs)...)
	if p.Original() {
		beside.Items = append(beside.Items, p.item("the latest plan", "beside", "latest"))
	} else {
		beside.Items = append(beside.Items, p.item("the original plan", "beside", "original"))
	}
	for _, n := range t.Baselines {
		beside.Items = append(beside.Items, p.item(fmt.Sprintf("baseline %d", n), "beside", fmt.Sprintf("baseline%d", n)))
	}
	const mostCuts = 6
	for i, x := range p.Cuts {
		if i == mostCuts {
			break
		}
		beside.Items = append(beside.Items, p.item("cut: "+x.Name+", "+x.At, "beside", fmt.Sprintf("cut%d", x.ID)))
	}
	beside.Items = append(beside.Items, Item{"all versions, and their names …", s.Scoped("/versions"), false})
	if t.Compared() {
		beside.Items = append(
			beside.Items,
			Item{Text: "In each cell"},
			p.item("mark what differs", "each", ""),
			p.item("what it said", "each", "was"),
			p.item("the change", "each", "change"),
			p.item("the change in percent", "each", "percent"),
		)
	}
	return beside
}

// named are the versions that have a name, and can stand beside this table.
func (p *Page) named(vs func(text, at string) Item) (out []Item) {
	t := p.Table
	for _, v := range p.Versions {
		if v.Name == "" || v.Kind == baseline.BaselineVersion && (t.Project == nil || t.Project.Code != v.Project) ||
			v.Kind == baseline.StatementVersion && v.Version == p.Moment.Period.Code {
			continue
		}
		text := v.Name + " (" + v.Title + ")"
		switch v.Kind {
		case baseline.StatementVersion:
			out = append(out, vs(text, v.Version))
		case baseline.CutVersion:
			out = append(out, p.item(text, "beside", "cut"+v.Version))
		default:
			out = append(out, p.item(text, "beside", "baseline"+v.Version))
		}
	}
	return out
}

// inMenu says in what money is shown.
func (p *Page) inMenu() Menu {
	t, s := p.Table, p.State
	in := Menu{Name: "In", Now: p.In()}
	in.Items = []Item{
		p.item("thousands", "unit", ""),
		p.item("millions", "unit", "m"),
		p.item("to the cent", "unit", "1"),
		{Text: "Converted at"},
		p.item("the rates of each period", "rates", ""),
		p.item("constant plan rates", "rates", "plan"),
	}
	if t.Project != nil || len(t.Currencies) > 0 {
		of := func(text, in, currency string) Item {
			return Item{
				text,
				p.With(s.With("in", in).With("currency", currency)),
				s.Get("in") == in && s.Get("currency") == currency,
			}
		}
		in.Items = append(in.Items, Item{Text: "Currency"}, of(string(p.Moment.Reporting), "", ""))
		if t.Project != nil {
			in.Items = append(in.Items, of("the project's own", "project", ""))
		}
		for _, c := range t.Currencies {
			in.Items = append(in.Items, of(c, "", c))
		}
	}
	return in
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

// Bridge is the address of the bridge of the whole table.
func (p *Page) Bridge() string {
	s := p.State.With("amounts", "").With("row", "").With("show", "").With("cause", "").With("group", "")
	if slices.Equal(p.Table.Measures, []costs.Measure{costs.Planned}) {
		s = s.With("amounts", string(costs.Planned))
	}
	return s.BridgePage()
}

// Spreadsheet is the address of the table as XLSX.
func (p *Page) Spreadsheet() string { return p.State.MoneyFile("xlsx") }

// Text is the address of the table as CSV.
func (p *Page) Text() string { return p.State.MoneyFile("csv") }

// Copied is the address of the table as text that spreadsheets paste.
func (p *Page) Copied() string { return p.State.MoneyFile("tsv") }

// Named is what a dimension's head says.
func (p *Page) Named(d costs.Dimension) string { return tell.Capital(dimensionName(d)) }

// TypeIt is where the money of the one project that is shown is typed; "" for who may not, and
// where several are shown.
func (p *Page) TypeIt() string {
	of := p.State.Get("of")
	if of == "" {
		return ""
	}
	return p.State.AmountsPage(p.Moment, p.Actor, of)
}
