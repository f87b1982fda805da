package brief

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"turret/internal/brief"
	"turret/internal/chart"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/schedule"
	"turret/internal/office/sheet"
	"turret/internal/tell"
)

// projectBrief is the brief of one project: its page, its money by cost code
// and its activities.
func (w *briefWriter) projectBrief(ctx context.Context, code string, parts []Part) error {
	s, err := w.sheet(ctx, code)
	if err != nil || s == nil {
		return err
	}
	for _, p := range parts {
		switch p.Name {
		case "project":
			w.project(s, p.Wide, 0, nil)
		case "codes":
			w.add(
				brief.Page{
					Title: p.Title,
					Wide:  p.Wide,
					Blocks: []brief.Block{
						brief.Head{
							Text:  "Money by cost code",
							Small: s.Now.Code + " " + s.Now.Name + ", thousands of " + string(s.Now.Currency),
							Level: 1,
						},
						w.codes(s),
					},
				},
			)
		case "activities":
			w.add(
				brief.Page{
					Title: p.Title,
					Wide:  p.Wide,
					Blocks: []brief.Block{
						brief.Head{Text: "Activities", Small: s.Now.Code + " " + s.Now.Name, Level: 1},
						w.activities(s),
					},
				},
			)
		default:
			if err := w.asked(ctx, p); err != nil {
				return err
			}
		}
	}
	w.projectTables(s)
	return nil
}

// mostPlanned bounds the rows of a plan on a page.
const mostPlanned = 18

// planned is a project's plan on a page, or a word that it has none.
func (w *briefWriter) planned(ctx context.Context, code string) ([]brief.Block, error) {
	line, err := schedule.In(w.o.Office).Own(ctx, w.a, w.m, code)
	if err != nil {
		return nil, err
	}
	x, left := line.Plan(code, w.m.Vs.Name, mostPlanned)
	if len(x.Rows) == 0 {
		return []brief.Block{brief.Words{Text: "None of its phases and raised milestones has a date.", Quiet: true}}, nil
	}
	out := []brief.Block{brief.Picture{Draw: x.Draw, Width: 940}}
	if left > 0 {
		out = append(out, brief.Words{Text: tell.Plural(left, "phase or milestone more is", "phases and milestones more are") + " on its timeline.", Quiet: true})
	}
	return out, nil
}

// project is the page of one project; where its plan is given, that stands in place of the list
// of its raised milestones.
func (w *briefWriter) project(s *sheet.Sheet, wide bool, depth int, plan []brief.Block) {
	n := s.Now
	told := sheet.Telling(n, w.m.OwnCurrency(n.Code))
	glyph := &chart.Glyph{Standing: n.Standing[standing.Overall], Overall: true}
	blocks := []brief.Block{
		brief.Head{Text: n.Name, Small: w.m.Facts(n), Glyph: glyph, Level: 1},
		brief.Sentence{Phrases: told.Say()},
	}
	if s.Shown != nil {
		blocks = append(blocks, brief.Words{Text: tell.InOwn(n.Currency, w.m.Reporting, s.Shown.Value), Quiet: true})
	}
	if says := tell.Passed(n.Value(figure.ACFromPlan), n.Currency); says != "" {
		blocks = append(blocks, brief.Words{Text: says, Quiet: true})
	}
	blocks = append(blocks, brief.Head{Text: "In the lead's words", Level: 2})
	blocks = append(blocks, w.story(s)...)
	blocks = append(
		blocks,
		brief.Head{Text: "Why it stands at " + n.Standing[standing.Overall].String(), Small: told.Decides(), Level: 2},
		w.reasons(n),
	)
	for _, o := range n.Override {
		blocks = append(
			blocks,
			brief.Words{
				Text: fmt.Sprintf(
					"%s set to %s until %s: %s",
					tell.Capital(o.Dimension),
					tell.Capital(o.Standing),
					w.m.PeriodName(o.Until),
					o.Reason,
				),
			},
		)
	}
	if text := w.foundOn(n); text != "" {
		blocks = append(blocks, brief.Words{Text: text, Quiet: true})
	}
	pair := brief.Beside{
		Left: []brief.Block{
			brief.Head{Text: "Money over time", Small: tell.MillionUnit(n.Currency) + ", cumulative", Level: 2},
		},
		Right: []brief.Block{brief.Head{Text: "Where the dates have gone", Small: "stated each period", Level: 2}},
	}
	const drawn = 400 // pixels of the screen
	if len(s.Curve.Periods) > 0 {
		c := s.Curve.Draw(n.Currency, w.m.Period.Name, false, func(figure.ID) string { return "" })
		pair.Left = append(pair.Left, brief.Picture{Draw: c.Draw, Width: drawn})
	} else {
		pair.Left = append(pair.Left, brief.Words{Text: "Neither a plan nor any cost is stated.", Quiet: true})
	}
	if c := tell.DateLines(s.Dated, s.DatedMilestones(), ""); len(c.Lines) > 0 {
		pair.Right = append(pair.Right, brief.Picture{Draw: c.Draw, Width: drawn})
	} else {
		pair.Right = append(pair.Right, brief.Words{Text: "No milestone of programme or portfolio level has a date.", Quiet: true})
	}
	blocks = append(blocks, pair)
	if plan != nil {
		above := "the baseline is the thin line above"
		if w.m.Vs.Code != "" {
			above = "as stated in " + w.m.Vs.Name + " is the thin line above"
		}
		blocks = append(append(blocks, brief.Head{Text: "Plan on a page", Small: above, Level: 2}), plan...)
	} else {
		blocks = append(blocks, brief.Head{Text: "Raised milestones", Level: 2}, w.milestonesOf(s))
	}
	blocks = append(blocks, brief.Head{Text: "Top risks and issues", Level: 2}, w.risks(s))
	w.add(brief.Page{Title: n.Code + " " + n.Name, Wide: wide, Alone: true, Depth: depth, Blocks: blocks})
}

func (w *briefWriter) reasons(n *office.Reading) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Dimension", Share: 1.5},
			{Head: "Reading", Share: 3.2},
			{Head: "Value", Share: 1.3, Number: true},
			{Head: "", Share: 2},
			{Head: "Limits", Share: 3, Wrap: true},
		},
		Empty: "No rule was evaluated: " + n.Why + ".",
	}
	for _, r := range n.Reasons {
		c := []brief.Piece{
			{Text: tell.Capital(r.Rates), Glyph: []chart.Glyph{{Standing: r.Standing}}},
			brief.Txt(r.Title()),
			brief.Txt(tell.Reading(&r, n.Currency, true).Text),
			{},
			{Text: tell.Limits(r), Tone: "quiet"},
		}
		if r.Silent != "" {
			c[0].Glyph, c[4].Text = nil, "silent: "+r.Silent
		} else {
			d := chart.Scale(tell.Float(r.Value), limitOf(r.Watch), limitOf(r.Act), r.Direction == standing.Below)
			c[3].Draw = &d
		}
		g.Rows = append(g.Rows, brief.Line{Cells: c})
	}
	return g
}

func limitOf(s string) float64 {
	f := math.NaN()
	if s != "" {
		if _, err := fmt.Sscan(s, &f); err != nil {
			return math.NaN()
		}
	}
	return f
}

func (w *briefWriter) milestonesOf(s *sheet.Sheet) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Milestone", Share: 4},
			{Head: "Level", Share: 1.4},
			{Head: "Planned", Share: 1.5, Number: true},
			{Head: "Current", Share: 1.5, Number: true},
			{Head: "Slip", Share: 1.1, Number: true},
			{Head: "State", Share: 1.6},
		},
		Empty: "No raised milestone is planned.",
	}
	for i := range s.Milestones {
		m := &s.Milestones[i]
		if !m.Raised {
			continue
		}
		state := string(m.State)
		if state == "" {
			state = "no baseline or no date"
		}
		g.Rows = append(
			g.Rows,
			brief.Line{
				Cells: []brief.Piece{
					brief.Txt(m.Name),
					brief.Txt(m.Level),
					brief.Txt(tell.Date(m.Baseline)),
					brief.Txt(tell.Date(m.Current)),
					brief.Txt(tell.Signed(m.Slip) + " d"),
					brief.Txt(state),
				},
			},
		)
	}
	return g
}

func (w *briefWriter) risks(s *sheet.Sheet) brief.Grid {
	list := slices.Clone(s.Risks)
	list = slices.DeleteFunc(list, func(r figure.Risk) bool { return r.State == "closed" })
	slices.SortStableFunc(list, func(a, b figure.Risk) int {
		return cmp.Compare(b.Likelihood*b.Impact, a.Likelihood*a.Impact)
	})
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Risk or issue", Share: 3.6, Wrap: true},
			{Head: "Kind", Share: 0.9},
			{Head: "Likelihood × impact", Share: 1.4, Number: true},
			{Head: "Owner", Share: 1.7, Wrap: true},
			{Head: "Response", Share: 3.4, Wrap: true},
		},
		Empty: "No risk or issue is open.",
	}
	for _, r := range list[:min(len(list), mostRisks)] {
		score := tell.Dash
		if r.Likelihood > 0 && r.Impact > 0 {
			score = fmt.Sprintf("%d × %d = %d", r.Likelihood, r.Impact, r.Likelihood*r.Impact)
		}
		g.Rows = append(
			g.Rows,
			brief.Line{
				Cells: []brief.Piece{
					brief.Txt(r.Code + " " + r.Title),
					brief.Txt(r.Kind),
					brief.Txt(score),
					brief.Txt(r.Owner),
					brief.Txt(r.Response),
				},
			},
		)
	}
	return g
}

// story is what the lead last said, each section with its period.
func (w *briefWriter) story(s *sheet.Sheet) []brief.Block {
	var out []brief.Block
	for _, x := range s.Story {
		if len(x.Words) == 0 {
			continue
		}
		out = append(
			out,
			brief.Words{Text: fmt.Sprintf("%s, %s", x.Title, x.Words[0].Period), Bold: true},
			brief.Words{Text: x.Words[0].Text},
		)
	}
	if len(out) == 0 {
		out = append(out, brief.Words{Text: "The lead has written nothing yet.", Quiet: true})
	}
	return out
}

// codes is money by cost code, as the sheet has it.
func (w *briefWriter) codes(s *sheet.Sheet) brief.Grid {
	n := s.Now
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Cost code", Share: 4},
			{Head: "Plan", Share: 1.5, Number: true},
			{Head: "Spent", Share: 1.5, Number: true},
			{Head: "On order", Share: 1.5, Number: true},
			{Head: "Beyond orders", Share: 1.5, Number: true},
			{Head: "Stated outlook", Share: 1.6, Number: true},
		},
		Empty: "Nothing is planned, spent or forecast yet.",
	}
	if s.CodesWhy != "" {
		g.Empty = "Not known: " + s.CodesWhy + "."
	}
	write := func(v int64, known bool) brief.Piece {
		if !known {
			return brief.Txt(tell.Dash)
		}
		return brief.Txt(tell.Format(figure.Whole(figure.Money, v), n.Currency, false).Text)
	}
	stated := s.Forecast || n.Value(figure.EACStated).Known
	line := func(c earned.CodeSum, name string) brief.Line {
		return brief.Line{
			Indent: c.Depth,
			Cells: []brief.Piece{
				brief.Txt(name),
				write(c.Plan, true),
				write(c.Spent, true),
				write(c.OnOrder, s.Ordered),
				write(c.ToGo-c.OnOrder, stated),
				write(c.Spent+c.ToGo, stated),
			},
		}
	}
	var all earned.CodeSum
	for _, c := range s.Codes {
		name := strings.TrimSpace(c.Code + " " + cmp.Or(c.Name, "On no cost code"))
		if c.Reserve {
			name += " (reserve, outside the plan)"
		}
		g.Rows = append(g.Rows, line(c, name))
		if c.Depth == 0 {
			all.Spent, all.OnOrder, all.ToGo = all.Spent+c.Spent, all.OnOrder+c.OnOrder, all.ToGo+c.ToGo
			if !c.Reserve {
				all.Plan += c.Plan
			}
		}
	}
	if len(s.Codes) > 0 {
		total := line(all, "All")
		total.Total = true
		g.Rows = append(g.Rows, total)
	}
	return g
}

func (w *briefWriter) activities(s *sheet.Sheet) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Activity", Share: 4},
			{Head: "Planned", Share: 1.3, Number: true},
			{Head: "Current", Share: 1.3, Number: true},
			{Head: "Slip", Share: 1, Number: true},
			{Head: "Earned", Share: 0.9, Number: true},
			{Head: "Planned above, current below", Share: 2.6},
		},
		Empty: "No activity is planned.",
	}
	span := float64(s.End - s.Begin)
	at := func(d float64) float64 {
		if span <= 0 {
			return 0
		}
		return (d - float64(s.Begin)) / span
	}
	for _, a := range s.Activities {
		slip, percent := tell.Dash, tell.Dash
		if a.HasSlip {
			slip = tell.Signed(a.Slip) + " d"
		}
		done := 0.0
		if !math.IsNaN(a.Percent) {
			percent, done = fmt.Sprintf("%.0f%%", a.Percent), a.Percent/100
		}
		pair := func(from, to float64) [2]float64 {
			if from == 0 && a.Kind == portfolio.Milestone {
				from = to
			}
			if from == 0 || to == 0 {
				return [2]float64{1, 0}
			}
			return [2]float64{at(from), at(to)}
		}
		if a.Kind == portfolio.Milestone && a.Done != 0 {
			done = 1
		}
		class := ""
		if a.Kind == portfolio.Summary {
			class = "summary"
		}
		d := chart.Span(
			pair(float64(a.Planned[0]), float64(a.Planned[1])),
			pair(float64(a.Current[0]), float64(a.Current[1])),
			done,
			at(float64(s.Last)),
			class,
		)
		tone := ""
		if a.Late {
			tone = "act"
		}
		g.Rows = append(
			g.Rows,
			brief.Line{
				Indent: a.Depth,
				Cells: []brief.Piece{
					{Text: a.Code + " " + a.Name, Bold: a.Kind == portfolio.Summary},
					brief.Txt(tell.Date(a.Planned[1])),
					brief.Txt(tell.Date(a.Current[1])),
					{Text: slip, Tone: tone},
					brief.Txt(percent),
					{Draw: &d},
				},
			},
		)
	}
	return g
}
