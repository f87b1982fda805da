package brief

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/brief"
	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/office/board"
	"turret/internal/office/sheet"
	"turret/internal/tell"
)

// first is the page that executives read first.
func (w *briefWriter) first(ctx context.Context, kind string, p Part) error {
	m, r := w.m, w.list.Total.Now
	waiting, err := baseline.In(w.o.Office).Waiting(ctx, w.a, m)
	if err != nil {
		return err
	}
	page := brief.Page{Title: p.Title, Wide: p.Wide, Alone: true}
	page.Blocks = append(
		page.Blocks,
		brief.Head{Text: cmp.Or(m.Scope.Name, m.Name), Small: kind + ", " + m.Period.Name, Level: 1},
		brief.Sentence{Phrases: board.Tell(m, w.list).Say()},
	)
	if says := tell.Passed(r.Value(figure.ACFromPlan), r.Currency); says != "" {
		page.Blocks = append(page.Blocks, brief.Words{Text: says, Quiet: true})
	}
	if why := board.NotCounted(m, w.list); why != "" {
		page.Blocks = append(page.Blocks, brief.Words{Text: "Outside the sums: " + why + ".", Quiet: true})
	}
	if hides := m.Hides(); hides != "" {
		page.Blocks = append(page.Blocks, brief.Words{Text: hides, Quiet: true})
	}
	words, err := w.remarks(ctx)
	if err != nil {
		return err
	}
	page.Blocks = append(page.Blocks, words...)
	if band, ok := tell.Band("Money", r.Value, r.Currency, func(figure.ID) string { return "" }); ok {
		page.Blocks = append(page.Blocks, brief.Picture{Draw: band.Draw})
	}
	page.Blocks = append(
		page.Blocks,
		brief.Beside{
			Left:  []brief.Block{brief.Head{Text: "Where they stand", Level: 2}, w.counts()},
			Right: []brief.Block{brief.Head{Text: "Money in figures", Level: 2}, w.money()},
		},
	)
	page.Blocks = append(page.Blocks, brief.Head{Text: "What needs a decision", Level: 2})
	for i := range waiting {
		b := &waiting[i]
		page.Blocks = append(page.Blocks, brief.Words{Text: b.Project + " " + b.Name + ": " + b.Decision()})
	}
	page.Blocks = append(page.Blocks, w.decisions())
	if g := w.programmes(); len(g.Rows) > 1 {
		page.Blocks = append(
			page.Blocks,
			brief.Head{Text: "By programme", Small: "money in thousands of " + string(r.Currency), Level: 2},
			g,
		)
	}
	w.add(page)
	return nil
}

// remarks are the office's words on the scope for the period.
func (w *briefWriter) remarks(ctx context.Context) (out []brief.Block, err error) {
	said, err := w.o.Remarks(ctx, w.m, cmp.Or(w.m.Scope.Code, portfolio.Everywhere))
	if err != nil {
		return nil, err
	}
	for _, s := range w.m.Snapshot().Office.Sections {
		if list := said[s.Code]; len(list) > 0 && list[0].Period == w.m.Period.Number {
			out = append(out, brief.Words{Text: s.Title, Bold: true}, brief.Words{Text: list[0].Text})
		}
	}
	return out, nil
}

// programmes are the groups of the list, the whole at the foot.
func (w *briefWriter) programmes() brief.Grid {
	ids := [...]figure.ID{
		figure.BAC,
		figure.AC,
		figure.EACComputed,
		figure.ComputedOver,
		figure.AtStake,
		figure.FinishStated,
		figure.FinishSlip,
	}
	g := brief.Grid{Columns: []brief.Col{{Head: "Programme", Share: 4}, {Head: "Overall", Share: 1.3, Middle: true}}}
	for _, id := range ids {
		g.Columns = append(g.Columns, brief.Col{Head: figure.Get(id).Symbol, Share: 1.7, Number: true})
	}
	row := func(name string, n *office.Reading) brief.Line {
		line := brief.Line{
			Cells: []brief.Piece{
				brief.Txt(name),
				{Glyph: []chart.Glyph{{Standing: n.Standing[standing.Overall], Overall: true}}},
			},
		}
		for _, id := range ids {
			line.Cells = append(line.Cells, brief.Txt(boardText(n, id)))
		}
		return line
	}
	for _, r := range w.list.Rows {
		if r.Group && r.Depth == 0 {
			g.Rows = append(g.Rows, row(r.Now.Name, r.Now))
		}
	}
	total := row(cmp.Or(w.m.Scope.Name, w.m.Everything()), w.list.Total.Now)
	total.Total = true
	g.Rows = append(g.Rows, total)
	return g
}

// counts are projects by standing, with the change since the compared period.
func (w *briefWriter) counts() brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{{Head: "Standing", Share: 3}, {Head: w.m.Period.Name, Share: 1.4, Number: true}},
	}
	var was [4]int
	if w.m.Earlier() != nil {
		g.Columns = append(
			g.Columns,
			brief.Col{Head: w.m.Since.Name, Share: 1.4, Number: true},
			brief.Col{Head: "Change", Share: 1.4, Number: true},
		)
		if b := w.m.Earlier().Group(cmp.Or(w.m.Scope.Code, "*")); b != nil {
			was = b.Counts
		}
	}
	now := w.list.Total.Now.Counts
	for _, st := range [...]standing.Standing{standing.Act, standing.Watch, standing.Steady, standing.Unrated} {
		row := []brief.Piece{{Text: st.String(), Glyph: []chart.Glyph{{Standing: st}}}, brief.Txt(fmt.Sprint(now[st]))}
		if w.m.Earlier() != nil {
			row = append(row, brief.Txt(fmt.Sprint(was[st])), brief.Txt(tell.Signed(now[st]-was[st])))
		}
		g.Rows = append(g.Rows, brief.Line{Cells: row})
	}
	return g
}

// money are the group's amounts, exactly.
func (w *briefWriter) money() brief.Grid {
	r, b := w.list.Total.Now, w.list.Total.Before
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Figure", Share: 3},
			{Head: w.m.Period.Name + ", " + string(r.Currency), Share: 2.4, Number: true},
		},
	}
	if b != nil {
		g.Columns = append(g.Columns, brief.Col{Head: w.m.Vs.Name, Share: 2.4, Number: true})
	}
	for _, id := range [...]figure.ID{figure.BAC, figure.EV, figure.AC, figure.OnOrder, figure.EACStated, figure.EACComputed, figure.AtStake} {
		row := []brief.Piece{
			brief.Txt(figure.Get(id).Title),
			brief.Txt(tell.Figure(id, r.Value(id), r.Currency, true).Text),
		}
		if b != nil {
			row = append(row, brief.Txt(tell.Figure(id, b.Value(id), b.Currency, true).Text))
		}
		g.Rows = append(g.Rows, brief.Line{Cells: row})
	}
	return g
}

// decisions are the projects that stand at Act, the most at stake first, with
// what decides it and what their leads ask for.
func (w *briefWriter) decisions() brief.Block {
	var list []*office.Reading
	for _, r := range w.projects() {
		if r.Standing[standing.Overall] == standing.Act {
			list = append(list, r)
		}
	}
	slices.SortStableFunc(list, func(a, b *office.Reading) int {
		return cmp.Compare(b.Value(figure.AtStake).N, a.Value(figure.AtStake).N)
	})
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Project", Share: 3, Wrap: true},
			{Head: "At stake", Share: 1.3, Number: true},
			{Head: "Why", Share: 4.4, Wrap: true},
			{Head: "Lead", Share: 1.7, Wrap: true},
		},
		Empty: "No project stands at Act.",
	}
	for i, r := range list {
		if i == mostDecisions {
			g.Rows = append(
				g.Rows,
				brief.Line{Cells: []brief.Piece{{Text: fmt.Sprintf("and %d more", len(list)-i), Tone: "quiet"}}},
			)
			break
		}
		why := tell.Capital(sheet.Telling(r, "").Decides())
		if line := worstReason(r); line != "" {
			why += ": " + line
		}
		g.Rows = append(
			g.Rows,
			brief.Line{
				Cells: []brief.Piece{
					{Text: r.Code + " " + r.Name, Bold: true},
					brief.Txt(tell.Millions(r.Value(figure.AtStake), r.Currency)),
					brief.Txt(why),
					brief.Txt(r.Lead),
				},
			},
		)
	}
	return g
}

// worstReason says the first rule that stands at the project's worst.
func worstReason(r *office.Reading) string {
	for _, x := range r.Reasons {
		if x.Silent == "" && x.Standing == standing.Act && x.Dimension != standing.Data {
			v := tell.Reading(&x, r.Currency, true)
			return fmt.Sprintf("%s %s, %s", x.Title(), v.Text, tell.Limits(x))
		}
	}
	return ""
}
