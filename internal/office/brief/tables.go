package brief

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/brief"
	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/sheet"
	"turret/internal/right"
	"turret/internal/tell"
)

// boardFigures are the figures of the board's spreadsheet; those that add up
// have a total at their foot.
var boardFigures = []struct {
	id  figure.ID
	sum bool
}{
	{figure.BAC, true},
	{figure.PV, true},
	{figure.EV, true},
	{figure.AC, true},
	{figure.OnOrder, false},
	{figure.EACStated, false},
	{figure.EACComputed, true},
	{figure.AtStake, true},
	{figure.ComputedOver, false},
	{figure.StatedOver, false},
	{figure.CPI, false},
	{figure.SPI, false},
	{figure.SPIT, false},
	{figure.EarnedShare, false},
	{figure.SpentShare, false},
	{figure.LateShare, false},
	{figure.FinishPlanned, false},
	{figure.FinishStated, false},
	{figure.FinishComputed, false},
	{figure.FinishSlip, false},
}

// typedReason writes what a rule read as a cell of a spreadsheet, exactly.
func typedReason(r *standing.Reason, c money.Currency) brief.Cell {
	if r.Own == "" {
		return typed(r.Reading, r.Value, c)
	}
	x := brief.Cell{Type: brief.Ratio}
	if r.Value.Known {
		x.Number = r.Value.Text(c)
	}
	return x
}

// typed writes a figure as a cell of a spreadsheet, exactly.
func typed(id figure.ID, v figure.Value, c money.Currency) brief.Cell {
	t := brief.Ratio
	switch u := figure.Get(id).Unit; {
	case u == figure.Money:
		t = brief.Money
	case u == figure.Day:
		t = brief.Day
	case u == figure.Workdays || u == figure.Count:
		t = brief.Count
	case strings.HasSuffix(tell.Figure(id, figure.Exact(figure.Ratio, exact.Of(1, 2)), c, false).Text, "%") && u == figure.Ratio:
		t = brief.Share
	}
	if !v.Known {
		return brief.Cell{Type: t}
	}
	return brief.Cell{Type: t, Number: v.Text(c)}
}

// notes stand above every table of a workbook.
func (w *briefWriter) notes() []string {
	return []string{w.b.Title, w.b.Pack.Foot}
}

// boardTable is the board as a spreadsheet: projects that count, with totals;
// those that do not come after.
func boardTable(name string, notes []string, m *office.Moment, codes []string) []brief.Table {
	t := brief.Table{
		Name:  name,
		Notes: notes,
		Total: "Total",
		Columns: []brief.Column{
			{Head: "Project", Width: 10},
			{Head: "Name", Width: 30},
			{Head: "Programme", Width: 20},
			{Head: "Lead", Width: 18},
			{Head: "State", Width: 10},
		},
	}
	for _, d := range boardGlyphs {
		t.Columns = append(t.Columns, brief.Column{Head: tell.Capital(d.String()), Width: 10})
	}
	t.Columns = append(
		t.Columns,
		brief.Column{Head: "Stated standing", Width: 10},
		brief.Column{Head: "Currency", Width: 9},
	)
	for _, f := range boardFigures {
		t.Columns = append(t.Columns, brief.Column{Head: figure.Get(f.id).Title, Width: 15, Sum: f.sum})
	}
	t.Columns = append(t.Columns, brief.Column{Head: "Next milestone", Width: 24}, brief.Column{Head: "On", Width: 11})
	out := t
	out.Name, out.Total, out.Rows = name+", not counted", "", nil
	left := make(map[string]bool)
	if total := m.Readings().Group("*"); total != nil {
		for _, x := range total.LeftOut {
			left[x.Code] = true
		}
	}
	for _, code := range codes {
		n, _ := m.Find(code)
		if n == nil || n.Group {
			continue
		}
		row := []brief.Cell{{Text: n.Code}, {Text: n.Name}, {Text: n.Parent}, {Text: n.Lead}, {Text: string(n.State)}}
		for _, d := range boardGlyphs {
			row = append(row, brief.Cell{Text: n.Standing[d].String()})
		}
		stated := ""
		if n.HasSaid {
			stated = n.Stated.String()
		}
		row = append(row, brief.Cell{Text: stated}, brief.Cell{Text: string(n.Currency)})
		for _, f := range boardFigures {
			row = append(row, typed(f.id, n.Value(f.id), n.Currency))
		}
		on := brief.Cell{Type: brief.Day}
		if n.Next.Date != 0 {
			on.Number = n.Next.Date.String()
		}
		row = append(row, brief.Cell{Text: n.Next.Said(m.Period.Last)}, on)
		if n.State == portfolio.Proposed || n.State == portfolio.Cancelled || left[code] {
			out.Rows = append(out.Rows, row)
		} else {
			t.Rows = append(t.Rows, row)
		}
	}
	if len(out.Rows) == 0 {
		return []brief.Table{t}
	}
	return []brief.Table{t, out}
}

// tables are the sheets of a portfolio's or programme's workbook.
func (w *briefWriter) tables(sheets []*sheet.Sheet) {
	w.b.tables = boardTable("Board", w.notes(), w.m, w.list.Codes)
	w.b.tables = append(w.b.tables, w.movedTable(), w.milestoneTable(sheets), w.ruleTable(sheets))
}

// movedTable lists what moved since the compared period, and by which rule.
func (w *briefWriter) movedTable() brief.Table {
	t := brief.Table{
		Name:  "What moved",
		Notes: w.notes(),
		Columns: []brief.Column{
			{Head: "Project", Width: 10},
			{Head: "Name", Width: 30},
			{Head: "Dimension", Width: 12},
			{Head: "Was", Width: 10},
			{Head: "Is", Width: 10},
			{Head: "By", Width: 50},
		},
	}
	for _, x := range w.m.Moved() {
		for _, c := range x.Changes {
			by := ""
			if c.Rule {
				then, at := x.Written(&c)
				by = fmt.Sprintf("%s %s → %s", c.Reason.Title(), then, at)
			}
			t.Rows = append(t.Rows, []brief.Cell{
				{Text: x.Now.Code},
				{Text: x.Now.Name},
				{Text: tell.Capital(c.Name)},
				{Text: c.Was.String()},
				{Text: c.Is.String()},
				{Text: by},
			})
		}
	}
	return t
}

// milestoneTable lists the milestones that show on the upper screens.
func (w *briefWriter) milestoneTable(sheets []*sheet.Sheet) brief.Table {
	t := brief.Table{
		Name:  "Milestones",
		Notes: w.notes(),
		Columns: []brief.Column{
			{Head: "Project", Width: 10},
			{Head: "Milestone", Width: 30},
			{Head: "Level", Width: 11},
			{Head: "Planned", Width: 11},
			{Head: "Current", Width: 11},
			{Head: "Slip, working days", Width: 10},
			{Head: "State", Width: 12},
		},
	}
	for _, s := range sheets {
		for i := range s.Milestones {
			m := &s.Milestones[i]
			if !m.Raised {
				continue
			}
			t.Rows = append(t.Rows, []brief.Cell{
				{Text: s.Now.Code},
				{Text: m.Name},
				{Text: m.Level},
				day(m.Baseline),
				day(m.Current),
				{Type: brief.Count, Number: fmt.Sprint(m.Slip)},
				{Text: string(m.State)},
			})
		}
	}
	return t
}

// ruleTable lists what each rule says of each project.
func (w *briefWriter) ruleTable(sheets []*sheet.Sheet) brief.Table {
	t := brief.Table{
		Name:  "Rules",
		Notes: w.notes(),
		Columns: []brief.Column{
			{Head: "Project", Width: 10},
			{Head: "Dimension", Width: 12},
			{Head: "Reading", Width: 34},
			{Head: "Value", Width: 12},
			{Head: "Limits", Width: 28},
			{Head: "Standing", Width: 10},
			{Head: "Silent, since", Width: 40},
		},
	}
	for _, s := range sheets {
		for _, r := range s.Now.Reasons {
			st := ""
			if r.Silent == "" {
				st = r.Standing.String()
			}
			t.Rows = append(t.Rows, []brief.Cell{
				{Text: s.Now.Code},
				{Text: tell.Capital(r.Rates)},
				{Text: r.Title()},
				typedReason(&r, s.Now.Currency),
				{Text: tell.Limits(r)},
				{Text: st},
				{Text: r.Silent},
			})
		}
	}
	return t
}

func day(d calendar.Date) brief.Cell { return brief.Cell{Type: brief.Day, Number: d.String()} }

// projectTables are the sheets of a project's workbook.
func (w *briefWriter) projectTables(s *sheet.Sheet) {
	n := s.Now
	figures := brief.Table{
		Name:    "Figures",
		Notes:   w.notes(),
		Columns: []brief.Column{{Head: "Figure", Width: 40}, {Head: w.m.Period.Name, Width: 18}},
	}
	if s.Shown != nil {
		figures.Columns[1].Head += ", " + string(n.Currency)
		figures.Columns = append(figures.Columns, brief.Column{Head: "Amounts in " + string(w.m.Reporting), Width: 18})
	}
	for i := range figure.Len() {
		id := figure.ID(i)
		row := []brief.Cell{{Text: figure.Get(id).Title}, typed(id, n.Value(id), n.Currency)}
		if s.Shown != nil {
			shown := brief.Cell{}
			if figure.Get(id).Unit == figure.Money {
				shown = typed(id, s.Shown.Value(id), w.m.Reporting)
			}
			row = append(row, shown)
		}
		figures.Rows = append(figures.Rows, row)
	}
	codes := brief.Table{
		Name:  "Cost codes",
		Notes: w.notes(),
		Total: "All",
		Columns: []brief.Column{
			{Head: "Cost code", Width: 12},
			{Head: "Name", Width: 30},
			{Head: "Plan, " + string(n.Currency), Width: 15, Sum: true},
			{Head: "Spent", Width: 15, Sum: true},
			{Head: "On order", Width: 15, Sum: true},
			{Head: "Still to come", Width: 15, Sum: true},
		},
	}
	for i, c := range s.Codes {
		if i+1 < len(s.Codes) && s.Codes[i+1].Depth > c.Depth {
			continue // the codes below it are listed, and add up to it with its own
		}
		amount := func(v int64) brief.Cell { return brief.Cell{Type: brief.Money, Number: money.Format(v, n.Currency)} }
		plan := amount(c.Plan)
		if c.Reserve {
			plan = brief.Cell{Type: brief.Money}
		}
		codes.Rows = append(
			codes.Rows,
			[]brief.Cell{{Text: c.Code}, {Text: c.Name}, plan, amount(c.Spent), amount(c.OnOrder), amount(c.ToGo)},
		)
	}
	acts := brief.Table{
		Name:  "Activities",
		Notes: w.notes(),
		Columns: []brief.Column{
			{Head: "Activity", Width: 10},
			{Head: "Name", Width: 30},
			{Head: "Kind", Width: 10},
			{Head: "Planned start", Width: 12},
			{Head: "Planned finish", Width: 12},
			{Head: "Current start", Width: 12},
			{Head: "Current finish", Width: 12},
			{Head: "Done", Width: 12},
			{Head: "Slip, working days", Width: 10},
		},
	}
	for _, a := range s.Activities {
		slip := brief.Cell{Type: brief.Count}
		if a.HasSlip {
			slip.Number = fmt.Sprint(a.Slip)
		}
		acts.Rows = append(
			acts.Rows,
			[]brief.Cell{
				{Text: a.Code},
				{Text: a.Name},
				{Text: string(a.Kind)},
				day(a.Planned[0]),
				day(a.Planned[1]),
				day(a.Current[0]),
				day(a.Current[1]),
				day(a.Done),
				slip,
			},
		)
	}
	w.b.tables = []brief.Table{figures, codes, acts}
}

// BoardWorkbook writes the board as a spreadsheet: the projects that are
// listed, in their order, with typed cells and totals.
func (o Room) BoardWorkbook(ctx context.Context, a right.Actor, m *office.Moment, order board.Order) ([]byte, error) {
	l, err := board.In(o.Office).List(ctx, a, m, order)
	if err != nil {
		return nil, err
	}
	title := "Board, " + m.Period.Name
	note := "In each project's own currency: amounts in several currencies do not add up."
	if !m.InProject {
		note = "In " + string(m.Reporting) + "."
	}
	notes := []string{m.Name + ", " + m.Period.Name + ". " + note}
	if hides := m.Hides(); hides != "" {
		notes = append(notes, hides)
	}
	tables := boardTable("Board", notes, m, l.Codes)
	if m.InProject {
		tables[0].Total = ""
	}
	return brief.Workbook(title, o.Clock(), tables)
}
