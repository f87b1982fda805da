// Package board is the first screen of Weigh: where every project stands.
package board

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/web/shell"
)

//go:embed board.html board.css
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "board.html")

// Style is the page's style sheet.
var Style = func() string {
	b, err := files.ReadFile("board.css")
	if err != nil {
		panic(err) // it is embedded
	}
	return string(b)
}()

// Page is what the template shows.
type Page struct {
	shell.Frame
	Sentence []shell.Phrase
	LeftOut  []string
	Unit     string
	Columns  []Column
	Rows     []Row
	More     int // rows not shown
}

// window is the number of rows shown unless all are asked for.
const window = 150

// Column is a figure of the grid.
type Column struct {
	Title, Name string
	id          figure.ID
	percent     bool
}

// Row is a project or group.
type Row struct {
	Group    bool
	Indent   int
	Code     string // "" for the whole portfolio
	Name     string
	State    string // where it is not active
	Link     string // of a project's sheet
	Overall  chart.Glyph
	Was      *chart.Glyph // the compared period's overall, where it differs
	Stated   *chart.Glyph // where it differs
	Glyphs   []chart.Glyph
	Cells    []Cell
	Currency string
}

// Cell is a figure with its trail, and the compared value where it differs.
type Cell struct {
	shell.Cell
	Link string
	Was  string
	Bad  bool
}

var columns = []Column{
	{Title: "Plan", id: figure.BAC},
	{Title: "Earned", id: figure.EV},
	{Title: "Spent", id: figure.AC},
	{Title: "Computed outlook", id: figure.EACComputed},
	{Title: "Over plan", id: figure.ComputedOver, percent: true},
	{Title: "Stated outlook", id: figure.EACStated},
	{Title: "At stake", id: figure.AtStake},
	{Title: "Finish, stated", id: figure.FinishStated},
	{Title: "Slip", id: figure.FinishSlip},
}

// shown are the dimensions that have rules today.
var shown = []standing.Dimension{standing.Dates, standing.Cost, standing.Progress, standing.Risk, standing.Data}

// Get answers /board.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Board")
		if err != nil {
			return err
		}
		return shell.Render(c, Template, New(f))
	}
}

// New builds the page.
func New(f shell.Frame) *Page {
	p := &Page{Frame: f, Unit: "thousands of " + string(f.Moment.Reporting)}
	if f.Moment.Empty {
		return p
	}
	if f.Moment.InProject {
		p.Unit = "thousands of each project's own currency; groups in " + string(f.Moment.Reporting)
	}
	for _, c := range columns {
		c.Name = figure.Get(c.id).Name
		p.Columns = append(p.Columns, c)
	}
	rows := f.Moment.Board()
	if len(rows) > window && f.State.Show != "all" {
		p.More, rows = len(rows)-window, rows[:window]
	}
	for _, r := range rows {
		p.Rows = append(p.Rows, newRow(f, r))
		if r.Now.Code == "*" && r.Now.Group {
			p.Sentence = sentence(f, r.Now)
			for _, l := range r.Now.LeftOut {
				p.LeftOut = append(p.LeftOut, l.Code+": "+l.Why)
			}
		}
	}
	return p
}

func newRow(f shell.Frame, r office.BoardRow) Row {
	n := r.Now
	row := Row{Group: n.Group, Indent: r.Depth, Code: n.Code, Name: n.Name, Currency: string(n.Currency)}
	if n.Code == "*" && n.Group {
		row.Code, row.Name = "", "Whole portfolio"
	}
	if !n.Group {
		row.Link = f.State.Project(n.Code)
		row.Indent++
		if n.State != portfolio.Active {
			row.State = string(n.State)
		}
		if n.HasSaid && n.Stated != n.Computed[standing.Overall] && n.Stated != standing.Unrated && n.Computed[standing.Overall] != standing.Unrated {
			row.Stated = &chart.Glyph{Standing: n.Stated, Small: true, What: "Stated"}
		}
	}
	row.Overall = chart.Glyph{Standing: n.Standing[standing.Overall], Overall: true, What: "Overall", Why: n.Why}
	if r.Before != nil && r.Before.Standing[standing.Overall] != n.Standing[standing.Overall] {
		row.Was = &chart.Glyph{Standing: r.Before.Standing[standing.Overall], Small: true, What: "Before"}
	}
	for _, d := range shown {
		row.Glyphs = append(row.Glyphs, chart.Glyph{Standing: n.Standing[d], What: title(d)})
	}
	for _, c := range columns {
		row.Cells = append(row.Cells, newCell(f, r, c))
	}
	return row
}

func title(d standing.Dimension) string {
	return map[standing.Dimension]string{standing.Dates: "Dates", standing.Cost: "Cost", standing.Progress: "Progress", standing.Risk: "Risk", standing.Data: "Data"}[d]
}

func newCell(f shell.Frame, r office.BoardRow, c Column) Cell {
	write := func(n *office.Reading) shell.Cell {
		if c.percent {
			return shell.Percent(n.Value(c.id))
		}
		return shell.Format(n.Value(c.id), n.Currency, false)
	}
	cell := Cell{Cell: write(r.Now)}
	if cell.Known {
		cell.Link = f.State.Trail(r.Now.Code, figure.Get(c.id).Name)
	}
	if r.Before != nil {
		if was := write(r.Before).Text; was != cell.Text {
			cell.Was = was
		}
	}
	return cell
}

// sentence says the portfolio in words.
func sentence(f shell.Frame, r *office.Reading) []shell.Phrase {
	counted := 0
	for _, n := range r.Counts {
		counted += n
	}
	say := func(id figure.ID, text string, bad bool) shell.Phrase {
		return shell.Phrase{Text: text, Link: f.State.Trail("*", figure.Get(id).Name), Bad: bad}
	}
	if counted == 0 {
		return []shell.Phrase{{Text: "No project counts toward the portfolio in " + f.Moment.Period.Name + "."}}
	}
	computed, over := r.Value(figure.EACComputed), r.Value(figure.ComputedOver)
	out := []shell.Phrase{
		{Text: shell.Plural(counted, "project stands", "projects stand") + " against a plan of "},
		say(figure.BAC, shell.Millions(r.Value(figure.BAC), r.Currency), false),
		{Text: ". Computed outlook is "},
		say(figure.EACComputed, shell.Millions(computed, r.Currency), over.Known && over.R.Sign() > 0),
	}
	if over.Known {
		out = append(out, shell.Phrase{Text: ", " + shell.OverUnder(over)})
	}
	out = append(out, shell.Phrase{Text: "; leads state "}, say(figure.EACStated, shell.Millions(r.Value(figure.EACStated), r.Currency), false), shell.Phrase{Text: ". "})
	acts, watches := r.Counts[standing.Act], r.Counts[standing.Watch]
	switch {
	case acts > 0:
		out = append(out, shell.Phrase{Text: shell.Capital(shell.Number(acts)) + " at Act", Bad: true}, shell.Phrase{Text: ", " + shell.Number(watches) + " at Watch."})
	case watches > 0:
		out = append(out, shell.Phrase{Text: "None at Act, " + shell.Number(watches) + " at Watch."})
	default:
		out = append(out, shell.Phrase{Text: "None needs attention."})
	}
	return out
}
