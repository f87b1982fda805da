package brief

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/brief"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/office"
	"turret/internal/office/check"
	"turret/internal/tell"
)

// mostErrors and mostAccepted bound what a brief lists of findings.
const (
	mostErrors   = 20
	mostAccepted = 10
)

// trust is the page that says how far the figures can be trusted: who has
// stated, what is open, the errors left, and what was accepted.
func (w *briefWriter) trust(ctx context.Context, p Part) error {
	t, err := check.In(w.o.Office).Trust(ctx, w.a, w.m)
	if err != nil {
		return err
	}
	shown := make(map[string]bool)
	for _, r := range w.projects() {
		shown[r.Code] = true
	}
	var all []office.Finding
	for _, f := range w.m.Findings() {
		if shown[f.Project] {
			all = append(all, f)
		}
	}
	blocks := []brief.Block{
		brief.Head{Text: "How far the figures can be trusted", Small: w.m.Period.Name, Level: 1},
		brief.Sentence{Phrases: []tell.Phrase{{Text: w.trustSaid(t, all)}}},
	}
	blocks = append(
		blocks,
		brief.Head{Text: "Errors left", Small: "they make figures wrong", Level: 2},
		w.found(
			all,
			mostErrors,
			"No error is open.",
			func(f *office.Finding) bool { return f.Severity == finding.Error && f.Counts() },
		),
	)
	causes := brief.Grid{
		Columns: []brief.Col{
			{Head: "Warning", Share: 3},
			{Head: "Open", Share: 0.8, Number: true},
			{Head: "Money touched, " + tell.Unit(figure.Money, w.m.Reporting), Share: 1.6, Number: true},
			{Head: "Projects", Share: 4, Wrap: true},
		},
		Empty: "No warning is open.",
	}
	c := &check.Checking{}
	for _, f := range all {
		if f.Severity == finding.Warning && f.Counts() {
			c.Found = append(c.Found, f)
		}
	}
	c.FindCauses(w.m, nil, false)
	for _, x := range c.Causes {
		causes.Rows = append(
			causes.Rows,
			brief.Line{
				Cells: []brief.Piece{
					{Text: x.Title, Bold: true},
					brief.Txt(fmt.Sprint(x.Counts.Open())),
					brief.Txt(w.thousands(x.Worth)),
					brief.Txt(strings.Join(x.Projects, ", ")),
				},
			},
		)
	}
	blocks = append(
		blocks,
		brief.Head{Text: "Warnings by cause", Small: "they make figures doubtful", Level: 2},
		causes,
	)
	blocks = append(blocks, brief.Head{Text: "Accepted", Small: "with a reason and an end", Level: 2}, w.excused(all))
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: blocks})
	return nil
}

func (w *briefWriter) thousands(n int64) string {
	if n == 0 {
		return ""
	}
	return tell.Format(figure.Whole(figure.Money, n), w.m.Reporting, false).Text
}

// found lists findings.
func (w *briefWriter) found(all []office.Finding, most int, empty string, want func(*office.Finding) bool) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Project", Share: 2.2},
			{Head: "What was found", Share: 5.4, Wrap: true},
			{Head: "Since", Share: 1.1},
			{Head: "Lead", Share: 1.6},
		},
		Empty: empty,
	}
	left := 0
	for i := range all {
		f := &all[i]
		if !want(f) {
			continue
		}
		if len(g.Rows) == most {
			left++
			continue
		}
		g.Rows = append(
			g.Rows,
			brief.Line{
				Cells: []brief.Piece{
					{Text: f.Project + " " + f.Name, Bold: true},
					brief.Txt(f.Text),
					brief.Txt(w.m.PeriodName(f.Since)),
					brief.Txt(f.Lead),
				},
			},
		)
	}
	if left > 0 {
		g.Rows = append(
			g.Rows,
			brief.Line{Cells: []brief.Piece{brief.Txt(fmt.Sprintf("and %d more", left)), {}, {}, {}}},
		)
	}
	return g
}

// excused lists what was accepted, with the reasons.
func (w *briefWriter) excused(all []office.Finding) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "Project", Share: 2.2},
			{Head: "What was found", Share: 2.6, Wrap: true},
			{Head: "Reason", Share: 3.6, Wrap: true},
			{Head: "Until", Share: 1.1},
		},
		Empty: "Nothing was accepted.",
	}
	for i := range all {
		f := &all[i]
		if f.State != finding.Accepted || f.Answer == nil || len(g.Rows) == mostAccepted {
			continue
		}
		g.Rows = append(
			g.Rows,
			brief.Line{
				Cells: []brief.Piece{
					{Text: f.Project + " " + f.Name, Bold: true},
					brief.Txt(f.Title),
					brief.Txt(f.Answer.Reason),
					brief.Txt(w.m.PeriodName(f.Answer.Until)),
				},
			},
		)
	}
	return g
}

// trustSaid says in words what the figures rest on.
func (w *briefWriter) trustSaid(t *check.Trust, all []office.Finding) string {
	var out []string
	if t.Owing > 0 {
		out = append(out, fmt.Sprintf("%d of %d projects have stated all they owe.", t.Stated, t.Owing))
	}
	var open check.Counts
	sound := make(map[string]bool)
	for i := range all {
		open.Add(&all[i].Finding)
		if all[i].Severity == finding.Error && all[i].Counts() {
			sound[all[i].Project] = true
		}
	}
	switch {
	case open[0] > 0:
		out = append(
			out,
			fmt.Sprintf(
				"%s on %s and %s are open%s.",
				tell.Plural(open[0], "error", "errors"),
				tell.Plural(len(sound), "project", "projects"),
				tell.Plural(open[1], "warning", "warnings"),
				w.shareOf(sound),
			),
		)
	case open[1] > 0:
		out = append(out, fmt.Sprintf("No error is open, and %s.", tell.Plural(open[1], "warning is", "warnings are")))
	default:
		out = append(out, "Neither an error nor a warning is open.")
	}
	if t.Refused > 0 {
		out = append(
			out,
			fmt.Sprintf("%s and not counted.", tell.Plural(t.Refused, "row was refused", "rows were refused")),
		)
	}
	out = append(out, t.Said())
	return strings.Join(out, " ")
}

// shareOf tells what share of the plan projects hold.
func (w *briefWriter) shareOf(codes map[string]bool) string {
	bac := w.list.Total.Now.Value(figure.BAC)
	if w.m.InProject || !bac.Known || bac.N <= 0 {
		return ""
	}
	var n int64
	for _, r := range w.projects() {
		if v := r.Value(figure.BAC); codes[r.Code] && v.Known {
			n += v.N
		}
	}
	share := figure.Exact(figure.Ratio, exact.Of(n, bac.N))
	return ", the errors on " + tell.Percent(share).Text + " of the plan"
}

// foundOn says what is open on a project, for its own page; "" where nothing is.
func (w *briefWriter) foundOn(n *office.Reading) string {
	var open check.Counts
	for i := range n.Findings {
		open.Add(&n.Findings[i])
	}
	if open[0]+open[1] == 0 {
		return ""
	}
	var errors []string
	for i := range n.Findings {
		if f := &n.Findings[i]; f.Severity == finding.Error && f.Counts() {
			errors = append(errors, f.Text)
		}
	}
	out := fmt.Sprintf(
		"Its data have %s and %s open.",
		tell.Plural(open[0], "error", "errors"),
		tell.Plural(open[1], "warning", "warnings"),
	)
	return strings.Join(append([]string{out}, errors...), " ")
}
