package brief

import (
	"context"
	"net/url"
	"strings"

	"turret/internal/brief"
	"turret/internal/core/costs"
	"turret/internal/core/outlook"
	"turret/internal/office"
	"turret/internal/office/money"
	"turret/internal/tell"
)

// outlookAmounts asks for the bridge of the computed outlook.
const outlookAmounts = "outlook"

func bridgeTitle(v url.Values) string {
	title := "Why it changed"
	if of := v.Get("of"); of != "" {
		title = "Why " + of + " changed"
	}
	return title + map[string]string{"": ": spent, then forecast", outlookAmounts: ": the outlook", string(costs.Planned): ": the plan"}[v.Get("amounts")]
}

// bridge is the page that explains a change.
func (w *briefWriter) bridge(ctx context.Context, p Part, v url.Values) error {
	m, err := w.o.Moment(
		ctx,
		w.a,
		office.Ask{At: w.b.Spec.At, Vs: v.Get("vs"), Against: v.Get("against"), Scope: v.Get("scope")},
	)
	if err != nil {
		return err
	}
	if len(m.Notes) > 0 {
		return office.Refusef("%s of this brief: %s", p.Title, m.Notes[0])
	}
	b, err := w.bridgeOf(ctx, m, v)
	if err != nil {
		return err
	}
	unit := tell.Thousands.Name(b.Currency)
	none := func(string) string { return "" }
	steps := brief.Grid{
		Columns: []brief.Col{{Head: "Step", Share: 4}, {Head: string(b.Currency), Share: 2, Number: true}},
	}
	add := func(title string, n int64, end bool) {
		steps.Rows = append(
			steps.Rows,
			brief.Line{
				Total: end,
				Cells: []brief.Piece{
					brief.Txt(title),
					{
						Text: tell.Units.Write(n, b.Currency),
						Tone: map[bool]string{true: "act", false: ""}[!end && b.Bad(n, tell.Thousands)],
					},
				},
			},
		)
	}
	add(b.Ends[1], b.From, true)
	for _, x := range b.Steps {
		if x.Amount != 0 {
			add(tell.Capital(x.Title), x.Amount, false)
		}
	}
	add(b.Ends[0], b.To, true)
	head := map[bool]string{true: "Cost code", false: "Project"}[b.By == "code"]
	parts := brief.Grid{
		Columns: []brief.Col{{Head: head, Share: 4}, {Head: string(b.Currency), Share: 2, Number: true}},
		Empty:   "Nothing changed.",
	}
	const most = 12
	rest := b.Rest
	for i, x := range b.Parts {
		if i >= most {
			rest += x.Amount
			continue
		}
		parts.Rows = append(
			parts.Rows,
			brief.Line{
				Cells: []brief.Piece{
					brief.Txt(
						strings.TrimSpace(
							map[bool]string{true: x.Code, false: x.Project}[b.By == "code"] + " " + x.Name,
						),
					),
					brief.Txt(tell.Units.Write(x.Amount, b.Currency)),
				},
			},
		)
	}
	if n := len(b.Parts) + b.More - most; n > 0 {
		parts.Rows = append(
			parts.Rows,
			brief.Line{
				Cells: []brief.Piece{
					{Text: tell.Plural(n, "other", "others"), Tone: "quiet"},
					brief.Txt(tell.Units.Write(rest, b.Currency)),
				},
			},
		)
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: "Why it changed", Small: b.Ends[1] + " to " + b.Ends[0] + ", " + unit, Level: 1},
		brief.Sentence{Phrases: b.Say()},
		brief.Picture{Draw: b.Draw(tell.Thousands, none).Draw},
		brief.Beside{
			Left: []brief.Block{brief.Head{Text: "The steps", Level: 2}, steps},
			Right: []brief.Block{
				brief.Head{
					Text:  map[bool]string{true: "By " + strings.ToLower(head), false: b.CauseTitle() + ", by " + strings.ToLower(head)}[b.Cause == ""],
					Level: 2,
				},
				parts,
			},
		},
	}})
	return nil
}

// bridgeOf reads the bridge that a page asks for.
func (w *briefWriter) bridgeOf(ctx context.Context, m *office.Moment, v url.Values) (*money.Bridge, error) {
	if v.Get("amounts") == outlookAmounts {
		cause := "" // of one project, what was spent on
		if v.Get("of") != "" {
			cause = outlook.Actuals.Code()
		}
		b, err := money.In(w.o.Office).OutlookBridge(ctx, w.a, m, v.Get("of"), cause)
		if err != nil {
			return nil, err
		}
		return b.Bridge, nil
	}
	measure := costs.Running
	if v.Get("amounts") == string(costs.Planned) {
		measure = costs.Planned
	}
	row := v.Get("row")
	if row == "all" {
		row = ""
	}
	b, err := money.In(w.o.Office).Bridge(ctx, w.a, m, money.Ask{
		Project: v.Get(
			"of",
		), Rows: v.Get("rows"), Per: v.Get("per"), Span: v.Get("span"), Plan: v.Get("plan"), Beside: v.Get("beside"), Rates: v.Get("rates"), Currency: v.Get("currency"), Flow: v.Get("flow"), Class: v.Get("class"), Code: v.Get("code"), Centre: v.Get("centre"), Activity: v.Get("activity"),
	}, row, measure, "", "project")
	if err != nil {
		return nil, err
	}
	if len(b.Table.Asked) > 0 {
		return nil, office.Refusef("A bridge of this brief asks for what is gone. %s", b.Table.Asked[0])
	}
	return b.Bridge, nil
}
