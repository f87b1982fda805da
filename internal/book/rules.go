package book

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/expression"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/record"
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
	rec.each(record.Dimensions.Kind, func(r *portfolio.Row) {
		code := record.Dimensions.Dimension.Of(r)
		if d, ok := standing.ParseDimension(code); ok {
			if record.Dimensions.Weight.Said(r) {
				out.Weights[d] = record.Dimensions.Weight.Of(r)
			}
			return
		}
		if len(out.Book.Own) < standing.Most-len(standing.Dimensions) {
			out.Book.Own = append(
				out.Book.Own,
				standing.Own{
					Code:   code,
					Title:  record.Dimensions.Title.Of(r),
					Apart:  record.Dimensions.Apart.Of(r) == "yes",
					Weight: max(record.Dimensions.Weight.Of(r), 1),
				},
			)
		}
	})
	rec.each(record.Rules.Kind, func(r *portfolio.Row) {
		rule, err := out.rule(r)
		if err != nil {
			bad = fmt.Errorf("rule %d of %s cannot be read: %w", r.ID, record.Rules.Reading.Of(r), err)
			return
		}
		out.Rules = append(out.Rules, rule)
	})
	rec.each(record.Policies.Kind, func(r *portfolio.Row) {
		p := standing.Policy{
			How:   standing.How(record.Policies.How.Or(r)),
			Act:   record.Policies.ActShare.Of(r),
			Watch: record.Policies.WatchShare.Of(r),
			From:  record.Policies.From.Of(r),
		}
		p.Act, p.Watch = cmp.Or(p.Act, standing.Needed), cmp.Or(p.Watch, standing.Needed)
		if record.Policies.Policy.Of(r) == "groups" {
			out.Groups = append(out.Groups, p)
		} else {
			out.Overall = append(out.Overall, p)
		}
	})
	rec.each(record.Checks.Kind, func(r *portfolio.Row) {
		x := finding.Setting{
			Check:    record.Checks.CheckCol.Of(r),
			From:     record.Checks.From.Of(r),
			Severity: finding.Severity(record.Checks.Severity.Of(r)),
		}
		var err error
		if x.Limit, err = standing.ParseLimit(record.Checks.Limit.Of(r)); err != nil {
			bad = fmt.Errorf("check %s: %w", x.Check, err)
			return
		}
		out.Checks = append(out.Checks, x)
		if record.Checks.Expression.Of(r) == "" {
			return
		}
		over := cmp.Or(record.Checks.Over.Of(r), "project")
		e, err := finding.ParseOwn(over, record.Checks.Expression.Of(r))
		if err != nil {
			bad = fmt.Errorf("check %s: %w", x.Check, err)
			return
		}
		out.OwnChecks = append(
			out.OwnChecks,
			finding.Own{
				Code:     x.Check,
				Title:    cmp.Or(record.Checks.Title.Of(r), x.Check),
				Over:     over,
				Expr:     e,
				Says:     record.Checks.Says.Of(r),
				Severity: x.Severity,
				From:     x.From,
			},
		)
	})
	return out, bad
}

func (b *Rules) rule(r *portfolio.Row) (standing.Rule, error) {
	rule := standing.Rule{
		Direction: standing.Direction(record.Rules.Direction.Or(r)),
		From:      record.Rules.From.Of(r),
		Scope:     record.Rules.Scope.Of(r),
		Title:     record.Rules.Title.Of(r),
	}
	var ok bool
	if rule.Dimension, ok = b.Dimension(record.Rules.Dimension.Of(r)); !ok {
		return rule, fmt.Errorf("%q is not a dimension", record.Rules.Dimension.Of(r))
	}
	var err error
	if rule.Reading, ok = figure.Lookup(record.Rules.Reading.Of(r)); !ok {
		if rule.Expr, err = expression.Parse(record.Rules.Reading.Of(r), standing.Names()); err != nil {
			return rule, err
		}
	}
	if rule.Watch, err = standing.ParseLimit(record.Rules.Watch.Of(r)); err != nil {
		return rule, err
	}
	rule.Act, err = standing.ParseLimit(record.Rules.Act.Of(r))
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
