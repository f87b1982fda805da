package office

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/expression"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// dimension tells whether a text names a dimension, as this run leaves them.
func (p *plan) dimension(code string) bool {
	if _, ok := standing.ParseDimension(code); ok {
		return true
	}
	e := p.records["dimensions"].find(code + "\x00")
	return e != nil && (e.before != nil || e.touched())
}

func (p *plan) dimensionWhy(code string) string {
	names := []string{"dates", "cost", "progress", "risk", "crew", "data"}
	for _, e := range p.records["dimensions"].list {
		if c := e.after.Fields[0].Text; !slices.Contains(names, c) {
			names = append(names, c)
		}
	}
	return fmt.Sprintf("%q is not a dimension; there are %s", code, strings.Join(names, ", "))
}

// effective refuses what would take effect in a closed period.
func (p *plan) effective(e *entry, from *portfolio.Field, what string) (column, why string) {
	if e.changed() && p.snap.Closed[calendar.Period(from.Int)] {
		return "from", fmt.Sprintf("%s is closed; let the %s take effect from an open period", p.snap.Office.Periods.Code(calendar.Period(from.Int)), what)
	}
	return "", ""
}

func (p *plan) checkRule(t *portfolio.Table, e *entry) (column, why string) {
	f := func(name string) *portfolio.Field { return &e.after.Fields[t.Index(name)] }
	if d := f("dimension").Text; !p.dimension(d) || d == standing.Overall.String() {
		return "dimension", p.dimensionWhy(d)
	}
	unit := figure.Ratio
	if id, ok := figure.Lookup(f("reading").Text); ok {
		unit = figure.Get(id).Unit
	} else {
		x, err := expression.Parse(f("reading").Text, standing.Names())
		if err != nil {
			return "reading", fmt.Sprintf("%q is not a figure of the catalogue, and as an expression %s", f("reading").Text, err)
		}
		if x.Unit == expression.Text {
			return "reading", "it gives a text, and limits are numbers"
		}
		unit = x.Unit.Figure()
		if strings.TrimSpace(f("title").Text) == "" {
			return "title", "an expression needs a title that screens can show"
		}
	}
	if unit == figure.Money || unit == figure.Day {
		return "reading", fmt.Sprintf("%s is %s, and limits are for shares, quotients, working days and counts", f("reading").Text, unit)
	}
	if c, why := p.effective(e, f("from"), "rule"); why != "" {
		return c, why
	}
	if scope := f("scope").Text; scope != "" && p.id("programmes", scope) == 0 && p.id("projects", scope) == 0 {
		return "scope", fmt.Sprintf("%q is neither a programme nor a project", scope)
	}
	watch, err := standing.ParseLimit(f("watch").Text)
	if err != nil {
		return "watch", err.Error()
	}
	act, err := standing.ParseLimit(f("act").Text)
	if err != nil {
		return "act", err.Error()
	}
	if standing.Crossed(standing.Direction(textOr(f("direction"), "above")), watch, act) {
		return "act", "the limit for Act is reached before that for Watch; swap them"
	}
	return "", ""
}

func textOr(f *portfolio.Field, other string) string {
	if f.Said != portfolio.Value || f.Text == "" {
		return other
	}
	return f.Text
}

func (p *plan) checkDimension(e *entry) (column, why string) {
	code := e.after.Fields[0].Text
	if code == standing.Overall.String() || code == standing.Data.String() {
		return "dimension", code + " does not count toward overall, so it has no weight"
	}
	if strings.ContainsAny(code, " ,/") || code == "" {
		return "dimension", "a dimension's code has no spaces, commas or slashes"
	}
	if _, usual := standing.ParseDimension(code); usual || e.before != nil {
		return "", ""
	}
	n := 0
	for _, x := range p.records["dimensions"].list {
		if _, usual := standing.ParseDimension(x.after.Fields[0].Text); !usual && (x.before != nil || x.touched()) {
			n++
		}
	}
	if most := standing.Most - len(standing.Dimensions); n > most {
		return "dimension", fmt.Sprintf("there are at most %d dimensions of the office's own", most)
	}
	return "", ""
}

func (p *plan) checkPolicy(t *portfolio.Table, e *entry) (column, why string) {
	f := func(name string) *portfolio.Field { return &e.after.Fields[t.Index(name)] }
	if f("policy").Text == "groups" && textOr(f("how"), "share") == "usual" {
		return "how", "groups combine by share, worst or larger; usual is how dimensions do"
	}
	return p.effective(e, f("from"), "policy")
}

func (p *plan) checkCheck(t *portfolio.Table, e *entry) (column, why string) {
	f := func(name string) *portfolio.Field { return &e.after.Fields[t.Index(name)] }
	code := f("check").Text
	builtIn := finding.Get(code)
	if c, why := p.effective(e, f("from"), "check"); why != "" {
		return c, why
	}
	if source := f("expression").Text; source != "" {
		over := textOr(f("over"), "project")
		switch {
		case builtIn != nil:
			return "check", fmt.Sprintf("%s is one of the checks that every office has; give your own another code", code)
		case strings.TrimSpace(f("title").Text) == "":
			return "title", "a check needs a title: the cause, as screens call it"
		case strings.ContainsAny(code, " /|?#"):
			return "check", "the code of a check has no spaces and none of / | ? #"
		}
		if _, err := finding.ParseOwn(over, source); err != nil {
			return "expression", err.Error()
		}
		if err := finding.CheckSays(over, f("says").Text); err != nil {
			return "says", err.Error()
		}
	} else if builtIn == nil {
		return "check", fmt.Sprintf("%q is not a check; there are %s", code, strings.Join(checkCodes(), ", "))
	}
	limit, err := standing.ParseLimit(f("limit").Text)
	switch {
	case err != nil:
		return "limit", err.Error()
	case limit != nil && builtIn != nil && builtIn.Limit == "":
		return "limit", fmt.Sprintf("the check %s has no limit", code)
	case limit != nil && limit.Sign() < 0:
		return "limit", "a limit of a check is not below zero"
	}
	return "", ""
}

func checkCodes() (out []string) {
	for i := range finding.Checks {
		out = append(out, finding.Checks[i].Code)
	}
	return out
}

// knownCheck tells whether a code is that of a check, as this run leaves them.
func (p *plan) knownCheck(code string) bool {
	return finding.Get(code) != nil || slices.ContainsFunc(p.records["checks"].list, func(e *entry) bool { return e.after.Fields[0].Text == code && (e.before != nil || e.touched()) })
}

// checkSaid looks at what is said about findings, and at checks that are off.
func (p *plan) checkSaid(t *portfolio.Table, e *entry) (column, why string) {
	f := func(name string) *portfolio.Field { return &e.after.Fields[t.Index(name)] }
	if !p.knownCheck(f("check").Text) {
		return "check", fmt.Sprintf("%q is not a check; there are %s", f("check").Text, strings.Join(checkCodes(), ", "))
	}
	withdrawn := false
	if t.Name == "answers" {
		withdrawn = f("answer").Text == "withdrawn"
		if f("answer").Said != portfolio.Value {
			return "answer", "say whether the finding is accepted, sent back or withdrawn"
		}
		if f("answer").Text == "accepted" && f("until").Said != portfolio.Value {
			return "until", "what is accepted has an end: the last period for which it holds"
		}
	}
	if strings.TrimSpace(f("reason").Text) == "" && !withdrawn {
		return "reason", "it needs a reason, which is kept"
	}
	if f("until").Said == portfolio.Value && f("until").Int < f("from").Int {
		return "until", "the last period comes before the first"
	}
	return p.effective(e, f("from"), "change")
}

func (p *plan) checkOverride(t *portfolio.Table, e *entry) (column, why string) {
	f := func(name string) *portfolio.Field { return &e.after.Fields[t.Index(name)] }
	if !p.dimension(f("dimension").Text) {
		return "dimension", p.dimensionWhy(f("dimension").Text) + ", and overall"
	}
	for _, name := range []string{"until", "standing", "reason"} {
		if f(name).Said != portfolio.Value {
			return name, "an override needs a last period, a standing and a reason"
		}
	}
	if f("until").Int < f("from").Int {
		return "until", "the last period comes before the first"
	}
	if !e.changed() {
		return "", ""
	}
	if e.before != nil && p.endsOnly(t, e) { // one that began earlier may end sooner or later
		if until := calendar.Period(f("until").Int); p.snap.Closed[until+1] {
			return "until", "the periods after that are closed; let the override end in an open one"
		}
		return "", ""
	}
	return p.effective(e, f("from"), "override")
}

// endsOnly tells whether an override changes in its end and reason alone.
func (p *plan) endsOnly(t *portfolio.Table, e *entry) bool {
	for i := range t.Columns {
		if n := t.Columns[i].Name; n != "until" && n != "reason" && e.before.Fields[i] != e.after.Fields[i] {
			return false
		}
	}
	return true
}
