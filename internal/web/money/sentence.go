package money

import (
	"fmt"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say tells what is spent and still to come in the span, against what stands
// beside it, else against the plan.
func (p *Page) say() []shell.Phrase {
	t := p.Table
	last := len(t.Columns) - 1
	var out []shell.Phrase
	text := func(format string, args ...any) { out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	running, _ := t.Value(t.Root, 0, costs.Running, last)
	planned, _ := t.Value(t.Root, 0, costs.Planned, last)
	other, than := planned, "than planned"
	if t.Compared() {
		was, _ := t.Value(t.Root, 1, costs.Running, last)
		if p.State.Get("beside") == "" {
			other, than = was, "than it said in "+t.Version
		}
	}
	amounts := tell.AmountsOf(t.Currency, figure.Whole(figure.Money, running), figure.Whole(figure.Money, abs(running-other)))
	amount := func(m costs.Measure, n int64, tone string, version string) {
		link := p.State.With("row", "").
			With("column", fmt.Sprint(last)).
			With("cause", string(m)).
			With("version", version).
			MoneyCell()
		out = append(
			out,
			shell.Phrase{Text: amounts.Of(n), Link: link, Tone: tone},
		)
	}
	who := "The portfolio"
	switch {
	case t.Project != nil:
		who = t.Project.Name
	case p.Moment.Scope.Code != "":
		who = p.Moment.Scope.Name
	}
	span := " in " + t.Span
	if t.Per == costs.ToDate || t.Summed {
		span = " in all"
	}
	flow := p.State.Get("flow")
	switch {
	case flow == "income" || flow == "benefit":
		text("%s brings in ", who)
	case flow == string(costs.Margin):
		text("%s makes ", who)
	case t.Per != costs.ToDate && t.Past == len(t.Columns)-1:
		text("%s spent ", who)
	default:
		text("%s will have spent ", who)
	}
	amount(costs.Running, running, "", "")
	text("%s", span)
	switch d := running - other; {
	case d == 0:
		text(", as %s.", map[bool]string{true: "planned", false: "it said before"}[than == "than planned"])
	default:
		text(", ")
		tone := ""
		if d > 0 {
			tone = "act"
		}
		version := ""
		if than != "than planned" {
			version = "1"
		}
		amount(map[bool]costs.Measure{true: costs.Planned, false: costs.Running}[version == ""], abs(d), tone, version)
		text(" %s %s.", map[bool]string{true: "more", false: "less"}[d > 0], than)
	}
	if t.Compared() && p.State.Get("beside") != "" {
		was, _ := t.Value(t.Root, 1, costs.Planned, last)
		switch d := planned - was; {
		case d == 0:
			text(" The plan is that of %s.", t.Version)
		default:
			text(" The plan is ")
			amount(costs.Planned, abs(d), "", "1")
			text(" %s than %s.", map[bool]string{true: "larger", false: "smaller"}[d > 0], t.Version)
		}
	}
	return out
}

func abs(n int64) int64 { return max(n, -n) }
