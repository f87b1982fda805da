package brief

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/brief"
	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/sheet"
	"turret/internal/right"
	"turret/internal/tell"
)

// briefWriter puts the pages of a brief together.
type briefWriter struct {
	o     Room
	a     right.Actor
	m     *office.Moment
	b     *Brief
	scope string
	list  *board.List
	own   *office.Moment // of the pages of projects, once one is made
}

// What a brief lists at most of a kind.
const (
	mostDecisions = 12
	mostExtremes  = 8
	mostAhead     = 40
	daysAhead     = 90
	mostRisks     = 6
)

func (w *briefWriter) add(p brief.Page) { w.b.Pack.Pages = append(w.b.Pack.Pages, p) }

// groupBrief is the brief of the portfolio or of a programme.
func (w *briefWriter) groupBrief(ctx context.Context, kind string, parts []Part) error {
	var err error
	if w.list, err = board.In(w.o.Office).List(ctx, w.a, w.m, board.Order{}); err != nil {
		return err
	}
	sheets, err := w.sheets(ctx)
	if err != nil {
		return err
	}
	for _, p := range parts {
		switch p.Name {
		case "first":
			if err := w.first(ctx, kind, p); err != nil {
				return err
			}
		case "board":
			if err := w.board(ctx, p); err != nil {
				return err
			}
		case "moved":
			w.moved(p)
		case "exceptions":
			w.exceptions(p)
		case "milestones":
			w.milestones(p, sheets)
		case "trust":
			if err := w.trust(ctx, p); err != nil {
				return err
			}
		case "projects":
			for _, s := range sheets {
				if st := s.Now.Standing[standing.Overall]; st == standing.Act || st == standing.Watch {
					w.project(s, p.Wide, 1, nil)
				}
			}
		default:
			if err := w.asked(ctx, p); err != nil {
				return err
			}
		}
	}
	w.tables(sheets)
	return nil
}

// sheets reads every project of the list, in its order.
func (w *briefWriter) sheets(ctx context.Context) ([]*sheet.Sheet, error) {
	var out []*sheet.Sheet
	for _, code := range w.list.Codes {
		s, err := w.sheet(ctx, code)
		if err != nil {
			return nil, err
		}
		if s != nil {
			out = append(out, s)
		}
	}
	return out, nil
}

func (w *briefWriter) sheet(ctx context.Context, code string) (*sheet.Sheet, error) {
	var err error
	if w.own == nil { // of all pages of projects
		if w.own, err = w.o.OfOne(ctx, w.m); err != nil {
			return nil, err
		}
	}
	m := w.own
	s := &sheet.Sheet{Last: m.Period.Last}
	s.Now, s.Before = m.Find(code)
	if s.Now == nil {
		return nil, nil
	}
	if x, ok := m.MovedOf(code); ok {
		s.Moved = &x
	}
	if s.Shown, err = w.o.Shown(ctx, m, code); err != nil {
		return nil, err
	}
	_, err = sheet.In(w.o.Office).Examine(ctx, m, code, s)
	return s, err
}

// projects are the readings of the list's projects, in its order.
func (w *briefWriter) projects() []*office.Reading {
	var out []*office.Reading
	for _, code := range w.list.Codes {
		if r, _ := w.m.Find(code); r != nil {
			out = append(out, r)
		}
	}
	return out
}

// boardGlyphs are the dimensions of the board table.
var boardGlyphs = []standing.Dimension{
	standing.Overall,
	standing.Dates,
	standing.Cost,
	standing.Progress,
	standing.Risk,
	standing.Data,
}

// board is the board table: the columns that the screen opens with.
func (w *briefWriter) board(ctx context.Context, p Part) error {
	strips, err := board.In(w.o.Office).Strips(ctx, w.a, w.m)
	if err != nil {
		return err
	}
	names := board.StripPeriods(w.m)
	g := brief.Grid{Columns: []brief.Col{{Head: "Project", Share: 21}}}
	for _, d := range boardGlyphs {
		g.Columns = append(g.Columns, brief.Col{Head: tell.Capital(d.String()), Share: 5, Middle: true})
	}
	unit := tell.Unit(figure.Money, w.m.Reporting)
	g.Columns = append(
		g.Columns,
		brief.Col{Head: "12 periods", Share: 8},
		brief.Col{Head: "Outlook", Share: 8},
		brief.Col{Head: "Over plan", Share: 6, Number: true},
		brief.Col{
			Head:   "At stake, " + unit,
			Share:  7,
			Number: true,
		},
		brief.Col{Head: "Finish", Share: 8.5, Number: true},
		brief.Col{Head: "Slip", Share: 6, Number: true},
		brief.Col{Head: "Next milestone", Share: 15},
	)
	row := func(r board.Row) brief.Line { return boardLine(r, strips, names, w.m.Period.Last) }
	for _, r := range w.list.Rows {
		g.Rows = append(g.Rows, row(r))
	}
	total := row(w.list.Total)
	total.Group, total.Total = false, true
	total.Cells[0] = brief.Txt(cmp.Or(w.m.Scope.Name, w.m.Everything()))
	g.Rows = append(g.Rows, total)
	w.add(
		brief.Page{
			Title: p.Title,
			Wide:  p.Wide,
			Blocks: []brief.Block{
				brief.Head{
					Text:  "The board",
					Small: w.m.Period.Name + ", money in thousands of " + string(w.m.Reporting),
					Level: 1,
				},
				g,
			},
		},
	)
	return nil
}

// boardLine is a row of the board: the standings, how it stood before, the outlook,
// and the figures that executives compare.
func boardLine(r board.Row, strips func(string) [12]board.Mark, names [12]string, day calendar.Date) brief.Line {
	n := r.Now
	name := n.Name
	if !r.Group {
		name = n.Code + " " + n.Name
	}
	line := brief.Line{Group: r.Group, Indent: r.Depth, Cells: []brief.Piece{brief.Txt(name)}}
	for _, d := range boardGlyphs {
		c := brief.Piece{Glyph: []chart.Glyph{{Standing: n.Standing[d], Overall: d == standing.Overall}}}
		if d == standing.Overall && !r.Group && n.HasSaid && n.Stated != n.Standing[d] &&
			n.Stated != standing.Unrated &&
			n.Standing[d] != standing.Unrated {
			c.Glyph = append(c.Glyph, chart.Glyph{Standing: n.Stated, Small: true})
		}
		line.Cells = append(line.Cells, c)
	}
	strip := brief.Piece{}
	if !r.Group {
		var marks []chart.StripMark
		for i, m := range strips(n.Code) {
			marks = append(marks, chart.StripMark{Standing: m.Standing, Known: m.Known, Period: names[i]})
		}
		d := chart.Strip(marks)
		strip.Draw = &d
	}
	outlook := brief.Txt(tell.Dash)
	if over := n.Value(figure.ComputedOver); over.Known {
		d := chart.Outlook(1+tell.Float(over), 1+tell.Float(n.Value(figure.StatedOver)), n.Standing[standing.Cost])
		outlook = brief.Piece{Draw: &d}
	}
	line.Cells = append(line.Cells, strip, outlook)
	for _, id := range [...]figure.ID{figure.ComputedOver, figure.AtStake, figure.FinishStated, figure.FinishSlip} {
		line.Cells = append(line.Cells, brief.Piece{Text: boardText(n, id), Tone: boardTone(n, id, r.Group)})
	}
	next := tell.Dash
	if n.Next.Name != "" {
		next = n.Next.Said(day)
	}
	line.Cells = append(line.Cells, brief.Txt(next))
	return line
}

// boardText writes a figure as the board does: no stake is a dash.
func boardText(n *office.Reading, id figure.ID) string {
	v := n.Value(id)
	if id == figure.AtStake && v.Known && v.N == 0 {
		return "–"
	}
	return tell.Figure(id, v, n.Currency, false).Text
}

func boardTone(n *office.Reading, id figure.ID, group bool) string {
	v := n.Value(id)
	if group || !v.Known {
		return ""
	}
	if id == figure.ComputedOver && n.Standing[standing.Cost] == standing.Act && v.R.Sign() > 0 ||
		id == figure.FinishSlip && n.Standing[standing.Dates] == standing.Act && v.N > 0 {
		return "act"
	}
	return ""
}

// moved is what moved since the compared period, or the one before.
func (w *briefWriter) moved(p Part) {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Project", Share: 3, Wrap: true},
			{Head: "Was, is", Share: 1},
			{Head: "By", Share: 5, Wrap: true},
		},
		Empty: "No standing moved.",
	}
	small := ""
	if w.m.Earlier() == nil {
		g.Empty = "There is no closed period before to compare with."
	} else {
		small = "since " + w.m.Since.Name
	}
	for _, x := range w.m.Moved() {
		first := x.Changes[0]
		by := ""
		for i, line := range x.Lines() {
			if i > 0 {
				by += "; "
			}
			by += line
		}
		overall := first.Dimension == standing.Overall
		g.Rows = append(
			g.Rows,
			brief.Line{
				Cells: []brief.Piece{
					{Text: x.Now.Code + " " + x.Now.Name, Bold: true},
					{
						Glyph: []chart.Glyph{
							{Standing: first.Was, Overall: overall},
							{Standing: first.Is, Overall: overall},
						},
					},
					brief.Txt(by),
				},
			},
		)
	}
	w.add(
		brief.Page{
			Title:  p.Title,
			Wide:   p.Wide,
			Blocks: []brief.Block{brief.Head{Text: "What moved", Small: small, Level: 1}, g},
		},
	)
}

// exceptions are the largest at stake, the largest slips, and what is stated
// better than computed.
func (w *briefWriter) exceptions(p Part) {
	top := func(id figure.ID) []*office.Reading {
		var list []*office.Reading
		for _, r := range w.projects() {
			if v := r.Value(id); v.Known && v.N > 0 && r.State == portfolio.Active {
				list = append(list, r)
			}
		}
		slices.SortStableFunc(list, func(a, b *office.Reading) int { return cmp.Compare(b.Value(id).N, a.Value(id).N) })
		return list[:min(len(list), mostExtremes)]
	}
	name := func(r *office.Reading) brief.Piece { return brief.Piece{Text: r.Code + " " + r.Name, Bold: true} }
	write := func(r *office.Reading, id figure.ID) brief.Piece {
		return brief.Txt(tell.Figure(id, r.Value(id), r.Currency, false).Text)
	}
	// ranked lists the projects with most of a figure, with figures of each.
	ranked := func(empty string, columns []brief.Col, by figure.ID, beside ...figure.ID) brief.Grid {
		g := brief.Grid{Empty: empty, Columns: slices.Concat(
			[]brief.Col{{Head: "Project", Share: 4}}, columns, []brief.Col{{Head: "Lead", Share: 2}},
		)}
		for _, r := range top(by) {
			cells := []brief.Piece{name(r), write(r, by)}
			for _, id := range beside {
				cells = append(cells, write(r, id))
			}
			g.Rows = append(g.Rows, brief.Line{Cells: append(cells, brief.Txt(r.Lead))})
		}
		return g
	}
	stake := ranked("Nothing is at stake.", []brief.Col{
		{Head: "At stake, " + tell.Unit(figure.Money, w.m.Reporting), Share: 1.6, Number: true},
		{Head: "Over plan", Share: 1.2, Number: true},
		{Head: "Stated over plan", Share: 1.4, Number: true},
	}, figure.AtStake, figure.ComputedOver, figure.StatedOver)
	slip := ranked("No finish has slipped.", []brief.Col{
		{Head: "Slip", Share: 1.2, Number: true},
		{Head: "Planned", Share: 1.5, Number: true},
		{Head: "Stated", Share: 1.5, Number: true},
		{Head: "Computed", Share: 1.5, Number: true},
	}, figure.FinishSlip, figure.FinishPlanned, figure.FinishStated, figure.FinishComputed)
	apart := brief.Grid{
		Columns: []brief.Col{
			{Head: "Project", Share: 4},
			{Head: "Stated", Share: 1.4},
			{Head: "Computed", Share: 1.4},
			{Head: "Stated outlook, " + tell.Unit(figure.Money, w.m.Reporting), Share: 1.8, Number: true},
			{Head: "Computed outlook", Share: 1.8, Number: true},
			{Head: "Lead", Share: 2},
		},
		Empty: "No lead states better than the figures say.",
	}
	for _, r := range w.projects() {
		if !r.Disagrees() {
			continue
		}
		overall := r.Standing[standing.Overall]
		apart.Rows = append(
			apart.Rows,
			brief.Line{
				Cells: []brief.Piece{
					name(r),
					{Text: r.Stated.String(), Glyph: []chart.Glyph{{Standing: r.Stated}}},
					{Text: overall.String(), Glyph: []chart.Glyph{{Standing: overall}}},
					write(r, figure.EACStated),
					write(r, figure.EACComputed),
					brief.Txt(r.Lead),
				},
			},
		)
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: "Exceptions", Small: w.m.Period.Name, Level: 1},
		brief.Head{Text: "Largest at stake", Level: 2},
		stake,
		brief.Head{Text: "Largest slips of the finish", Small: "in working days", Level: 2},
		slip,
		brief.Head{Text: "Stated better than computed", Level: 2},
		apart,
	}})
}

// dated is a raised milestone with its project.
type dated struct {
	*sheet.Milestone
	of *office.Reading
}

// raised lists the raised milestones that are missed, and those that come in
// the days ahead, by date.
func (w *briefWriter) raised(sheets []*sheet.Sheet) (missed, ahead []dated) {
	end := w.m.Period.Last + daysAhead
	for _, s := range sheets {
		if s.Now.State != portfolio.Active {
			continue
		}
		for i := range s.Milestones {
			m := &s.Milestones[i]
			switch {
			case !m.Raised:
			case m.State == dates.Missed:
				missed = append(missed, dated{m, s.Now})
			case m.State != dates.Met && m.Current > w.m.Period.Last && m.Current <= end:
				ahead = append(ahead, dated{m, s.Now})
			}
		}
	}
	by := func(a, b dated) int {
		return cmp.Or(cmp.Compare(a.Current, b.Current), cmp.Compare(a.of.Code, b.of.Code))
	}
	slices.SortStableFunc(missed, by)
	slices.SortStableFunc(ahead, by)
	return missed, ahead
}

func (w *briefWriter) milestones(p Part, sheets []*sheet.Sheet) {
	missed, ahead := w.raised(sheets)
	grid := func(list []dated, empty string) brief.Grid {
		g := brief.Grid{
			Columns: []brief.Col{
				{Head: "Milestone", Share: 3.4},
				{Head: "Project", Share: 3.4},
				{Head: "Level", Share: 1.3},
				{Head: "Planned", Share: 1.5, Number: true},
				{Head: "Current", Share: 1.5, Number: true},
				{Head: "Slip", Share: 1, Number: true},
				{Head: "State", Share: 1.4},
			},
			Empty: empty,
		}
		for i, m := range list {
			if i == mostAhead {
				g.Rows = append(
					g.Rows,
					brief.Line{Cells: []brief.Piece{{Text: fmt.Sprintf("and %d more", len(list)-i), Tone: "quiet"}}},
				)
				break
			}
			tone := map[dates.State]string{dates.Missed: "act", dates.Slipping: "watch"}[m.State]
			g.Rows = append(
				g.Rows,
				brief.Line{
					Cells: []brief.Piece{
						{Text: m.Name, Bold: true},
						brief.Txt(m.of.Code + " " + m.of.Name),
						brief.Txt(m.Level),
						brief.Txt(tell.Date(m.Baseline)),
						brief.Txt(tell.Date(m.Current)),
						brief.Txt(tell.Signed(m.Slip) + " d"),
						{Text: string(m.State), Tone: tone},
					},
				},
			)
		}
		return g
	}
	until := tell.Date(calendar.Date(w.m.Period.Last + daysAhead))
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: "Milestones", Small: "of programme and portfolio level, " + w.m.Period.Name, Level: 1},
		brief.Head{Text: "Missed", Level: 2},
		grid(missed, "No raised milestone is missed."),
		brief.Head{Text: "In the next 90 days", Small: "until " + until, Level: 2},
		grid(ahead, "No raised milestone falls into these days."),
	}})
}
