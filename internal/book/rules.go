package book

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/expression"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/standing"
)

// Rules are everything that an office has said about standings and checks.
type Rules struct {
	standing.Book
	Checks    []finding.Setting
	OwnChecks []finding.Own // as each was said
}

// rules builds the rules from records.
func (rec Records) rules() (*Rules, error) {
	out := &Rules{}
	out.Weights = make(map[standing.Dimension]int64)
	var bad error
	rec.each("dimensions", func(r row) {
		code := r.text("dimension")
		if d, ok := standing.ParseDimension(code); ok {
			if r.said("weight").Said != 0 {
				out.Weights[d] = r.int("weight")
			}
			return
		}
		if len(out.Book.Own) < standing.Most-len(standing.Dimensions) {
			out.Book.Own = append(out.Book.Own, standing.Own{Code: code, Title: r.text("title"), Apart: r.text("apart") == "yes", Weight: max(r.int("weight"), 1)})
		}
	})
	rec.each("rules", func(r row) {
		rule, err := out.rule(r)
		if err != nil {
			bad = fmt.Errorf("rule %d of %s cannot be read: %w", r.ID, r.text("reading"), err)
			return
		}
		out.Rules = append(out.Rules, rule)
	})
	rec.each("policies", func(r row) {
		p := standing.Policy{How: standing.How(r.or("how")), Act: r.int("act_share"), Watch: r.int("watch_share"), From: calendar.Period(r.int("from"))}
		p.Act, p.Watch = cmp.Or(p.Act, standing.Needed), cmp.Or(p.Watch, standing.Needed)
		if r.text("policy") == "groups" {
			out.Groups = append(out.Groups, p)
		} else {
			out.Overall = append(out.Overall, p)
		}
	})
	rec.each("checks", func(r row) {
		x := finding.Setting{Check: r.text("check"), From: calendar.Period(r.int("from")), Severity: finding.Severity(r.text("severity"))}
		var err error
		if x.Limit, err = standing.ParseLimit(r.text("limit")); err != nil {
			bad = fmt.Errorf("check %s: %w", x.Check, err)
			return
		}
		out.Checks = append(out.Checks, x)
		if r.text("expression") == "" {
			return
		}
		over := cmp.Or(r.text("over"), "project")
		e, err := finding.ParseOwn(over, r.text("expression"))
		if err != nil {
			bad = fmt.Errorf("check %s: %w", x.Check, err)
			return
		}
		out.OwnChecks = append(out.OwnChecks, finding.Own{Code: x.Check, Title: cmp.Or(r.text("title"), x.Check), Over: over, Expr: e, Says: r.text("says"), Severity: x.Severity, From: x.From})
	})
	return out, bad
}

func (b *Rules) rule(r row) (standing.Rule, error) {
	rule := standing.Rule{Direction: standing.Direction(r.or("direction")), From: calendar.Period(r.int("from")), Scope: r.text("scope"), Title: r.text("title")}
	var ok bool
	if rule.Dimension, ok = b.Dimension(r.text("dimension")); !ok {
		return rule, fmt.Errorf("%q is not a dimension", r.text("dimension"))
	}
	var err error
	if rule.Reading, ok = figure.Lookup(r.text("reading")); !ok {
		if rule.Expr, err = expression.Parse(r.text("reading"), standing.Names()); err != nil {
			return rule, err
		}
	}
	if rule.Watch, err = standing.ParseLimit(r.text("watch")); err != nil {
		return rule, err
	}
	rule.Act, err = standing.ParseLimit(r.text("act"))
	return rule, err
}

// OwnAt gives the own checks in force in a period: of each the one said last.
func (b *Rules) OwnAt(p calendar.Period) []finding.Own {
	var out []finding.Own
	for _, x := range b.OwnChecks {
		if x.From > p {
			continue
		}
		i := slices.IndexFunc(out, func(y finding.Own) bool { return y.Code == x.Code })
		switch {
		case i < 0:
			out = append(out, x)
		case x.From >= out[i].From:
			out[i] = x
		}
	}
	return out
}

// Check gives the title of a check, built in or own; "" where there is none.
func (b *Rules) Check(code string) (title, about string) {
	if c := finding.Get(code); c != nil {
		return c.Title, c.About
	}
	for i := len(b.OwnChecks) - 1; i >= 0; i-- {
		if b.OwnChecks[i].Code == code {
			return b.OwnChecks[i].Title, "The office's own: it holds where " + b.OwnChecks[i].Expr.Source
		}
	}
	return "", ""
}
