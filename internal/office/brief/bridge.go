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
	none := func(string) string { return "" }
	by := strings.ToLower(bridgeBy(b))
	if b.Cause == "" {
		by = "By " + by
	} else {
		by = b.CauseTitle() + ", by " + by
	}
	small := b.Ends[1] + " to " + b.Ends[0] + ", " + tell.Thousands.Name(b.Currency)
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: "Why it changed", Small: small, Level: 1},
		brief.Sentence{Phrases: b.Say()},
		brief.Picture{Draw: b.Draw(tell.Thousands, none).Draw},
		brief.Beside{
			Left:  []brief.Block{brief.Head{Text: "The steps", Level: 2}, bridgeSteps(b)},
			Right: []brief.Block{brief.Head{Text: by, Level: 2}, bridgeParts(b)},
		},
	}})
	return nil
}

// bridgeBy is what the parts of a bridge are.
func bridgeBy(b *money.Bridge) string {
	if b.By == "code" {
		return "Cost code"
	}
	return "Project"
}

// bridgeSteps lists the steps from one end to the other.
func bridgeSteps(b *money.Bridge) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{{Head: "Step", Share: 4}, {Head: string(b.Currency), Share: 2, Number: true}},
	}
	add := func(title string, n int64, end bool) {
		tone := ""
		if !end && b.Bad(n, tell.Thousands) {
			tone = "act"
		}
		g.Rows = append(g.Rows, brief.Line{
			Total: end,
			Cells: []brief.Piece{brief.Txt(title), {Text: tell.Units.Write(n, b.Currency), Tone: tone}},
		})
	}
	add(b.Ends[1], b.From, true)
	for _, x := range b.Steps {
		if x.Amount != 0 {
			add(tell.Capital(x.Title), x.Amount, false)
		}
	}
	add(b.Ends[0], b.To, true)
	return g
}

// bridgeParts lists the largest parts, and what all others make together.
func bridgeParts(b *money.Bridge) brief.Grid {
	const most = 12
	g := brief.Grid{
		Columns: []brief.Col{{Head: bridgeBy(b), Share: 4}, {Head: string(b.Currency), Share: 2, Number: true}},
		Empty:   "Nothing changed.",
	}
	rest := b.Rest
	for i, x := range b.Parts {
		if i >= most {
			rest += x.Amount
			continue
		}
		code := x.Project
		if b.By == "code" {
			code = x.Code
		}
		g.Rows = append(g.Rows, brief.Line{Cells: []brief.Piece{
			brief.Txt(strings.TrimSpace(code + " " + x.Name)),
			brief.Txt(tell.Units.Write(x.Amount, b.Currency)),
		}})
	}
	if n := len(b.Parts) + b.More - most; n > 0 {
		g.Rows = append(g.Rows, brief.Line{Cells: []brief.Piece{
			{Text: tell.Plural(n, "other", "others"), Tone: "quiet"},
			brief.Txt(tell.Units.Write(rest, b.Currency)),
		}})
	}
	return g
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
