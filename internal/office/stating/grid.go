package stating

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// Section is a kind of statement, as a part of what a project states.
type Section struct {
	Name  string // as addresses and rules of what is owed call it
	Title string
	Kind  portfolio.PartKind
	Table string // in which its rows are sent
	lay   func(context.Context, *subject) (*Grid, error)
	rows  func(*subject, *Grid) []map[string]string
}

// Sections are the parts of a statement that can be owed, in the order in which they are
// walked.
var Sections = []Section{
	{"progress", "Dates and progress", portfolio.ProgressPart, "progress", layProgress, changedRows},
	{"forecast", "Forecast", portfolio.ForecastPart, "costs", layAmounts, amountRows},
	{"commitment", "Orders", portfolio.CommitmentPart, "costs", layAmounts, amountRows},
	{"risks", "Risks and issues", portfolio.RiskPart, "risks", layRisks, changedRows},
	{"narratives", "Words", portfolio.NarrativePart, "narratives", layWords, changedRows},
}

// steps is the section of steps that are ticked: progress of another form, owed and
// stated with it.
var steps = Section{"steps", "Steps", portfolio.StepPart, "steps", laySteps, stepRows}

// walked are all sections, in the order in which they are walked.
var walked = slices.Insert(slices.Clone(Sections), 1, steps)

// right is the kind of statement that lets someone state a section.
func (s *Section) right() string {
	if s.Kind == portfolio.StepPart {
		return portfolio.ProgressPart.String()
	}
	return s.Name
}

// sectionNamed finds a section; nil where there is none of that name.
func sectionNamed(name string) *Section {
	if i := slices.IndexFunc(walked, func(s Section) bool { return s.Name == name }); i >= 0 {
		return &walked[i]
	}
	return nil
}

// subject is a section of one project, for a period, as a snapshot knows it.
type subject struct {
	*Section
	snap    *book.Snapshot
	project *portfolio.Project
	at      calendar.Period
	stated  bool // something of the kind was stated for the period
	today   calendar.Date
}

// Grid is what a section shows to be typed in: a row for each thing it speaks of.
type Grid struct {
	Columns []Column
	Rows    []Row
	Note    string // what is to be known of it, or ""
}

// Column is what is typed in one column.
type Column struct {
	Name    string
	Title   string
	Choices []string // the words it takes; none: any
	Long    bool     // a text of sentences
	Number  bool
	Locked  bool // it only tells
}

// Row is a thing that a section speaks of.
type Row struct {
	Key         string
	Code, Title string
	Group       string // what the rows from this one on have in common; "" as before
	Folded      bool   // its group is folded until it is asked for
	Cells       []Cell // by column

	keys map[string]string // the cells that tell the row
	rest string            // of what was forecast for the period, what did not come; "": all came
}

// Cell is what one row says in one column.
type Cell struct {
	Name  string // of the field
	Is    string // what holds, in canonical form
	Last  string // what held in the period before
	Fixed bool   // nothing is typed here, whatever its column takes
	Typed *Typed // what its writer has typed and not sent; nil: nothing
	Wrong string // why it cannot be taken, or ""
}

// Value is what the cell shows.
func (c *Cell) Value() string {
	if c.Typed != nil {
		return c.Typed.Text
	}
	return c.Is
}

// Shown is what the cell showed when it was typed in: what holds, where it was not.
func (c *Cell) Shown() string {
	if c.Typed != nil {
		return c.Typed.Was
	}
	return c.Is
}

// Changed tells that sending would change what holds.
func (c *Cell) Changed() bool { return c.Typed != nil && c.Typed.Text != c.Is }

// Clashes tells that someone else stated another value since this one was typed.
func (c *Cell) Clashes() bool { return c.Changed() && c.Typed.Was != c.Is }

// nameOf is the field of a row and a column.
func nameOf(row, column string) string { return row + "/" + column }

// Cell finds a field; nil where there is none.
func (g *Grid) Cell(name string) *Cell {
	for i := range g.Rows {
		if strings.HasPrefix(name, g.Rows[i].Key+"/") {
			for j := range g.Rows[i].Cells {
				if g.Rows[i].Cells[j].Name == name {
					return &g.Rows[i].Cells[j]
				}
			}
		}
	}
	return nil
}

// take puts what was typed into the grid; what no field takes any more is left out.
func (g *Grid) take(typed map[string]Typed) {
	for name, t := range typed {
		if c := g.Cell(name); c != nil && !c.Fixed {
			c.Typed = &t
		}
	}
}

// Changes counts the cells that sending would change.
func (g *Grid) Changes() (n int) {
	g.each(func(_ *Row, _ int, c *Cell) {
		if c.Changed() {
			n++
		}
	})
	return n
}

// Clashing counts the cells that someone else stated otherwise meanwhile.
func (g *Grid) Clashing() (n int) {
	g.each(func(_ *Row, _ int, c *Cell) {
		if c.Clashes() {
			n++
		}
	})
	return n
}

func (g *Grid) each(do func(r *Row, column int, c *Cell)) {
	for i := range g.Rows {
		for j := range g.Rows[i].Cells {
			do(&g.Rows[i], j, &g.Rows[i].Cells[j])
		}
	}
}

// fill makes the cells of a row from what holds and what held before.
func (g *Grid) fill(r *Row, is, last map[string]string) {
	for _, c := range g.Columns {
		r.Cells = append(r.Cells, Cell{Name: nameOf(r.Key, c.Name), Is: is[c.Name], Last: last[c.Name]})
	}
}

// changedRows are the rows of which something was typed, with those cells alone; what
// was emptied is cleared.
func changedRows(s *subject, g *Grid) (out []map[string]string) {
	for i := range g.Rows {
		row := map[string]string{"project": s.project.Code, "period": s.snap.Office.Periods.Code(s.at)}
		changed := false
		for j := range g.Rows[i].Cells {
			c := &g.Rows[i].Cells[j]
			if !c.Changed() {
				continue
			}
			changed = true
			text := strings.TrimSpace(c.Typed.Text)
			if g.Columns[j].Number {
				text = strings.TrimSuffix(plainAmount(text), "%")
			}
			row[g.Columns[j].Name] = cmp.Or(text, "-")
		}
		if !changed {
			continue
		}
		for name, text := range g.Rows[i].keys {
			row[name] = text
		}
		out = append(out, row)
	}
	return out
}

// cell gives the cell of a column.
func (r *Row) cell(g *Grid, column string) *Cell {
	return &r.Cells[slices.IndexFunc(g.Columns, func(c Column) bool { return c.Name == column })]
}

// wrongs counts the cells that cannot be taken, and wrong says why of the first.
func (g *Grid) wrongs() (n int) {
	g.each(func(_ *Row, _ int, c *Cell) {
		if c.Wrong != "" {
			n++
		}
	})
	return n
}

func (g *Grid) wrong() (why string) {
	g.each(func(r *Row, j int, c *Cell) {
		if c.Wrong != "" && why == "" {
			why = fmt.Sprintf("%s, %s: %s", strings.TrimSpace(r.Code+" "+r.Title), g.Columns[j].Title, c.Wrong)
		}
	})
	return why
}
