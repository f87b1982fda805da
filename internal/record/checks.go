package record

import (
	"cmp"
	"fmt"
	"strings"

	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Checks are severity and limits of checks, and checks of the office's own.
var Checks = func() *checksKind {
	k := &checksKind{
		Kind: records("checks", "checking", "check", "severity and limits of checks, and checks of the office's own"),
	}
	k.CheckCol = k.text("check", "code", Key, As("code"))
	k.From = k.period("from", "in force from this period", Key, As("from_period"))
	k.Severity = k.choice("severity", []string{"error", "warning", "note", "off"}, "empty: the check's own")
	k.Limit = k.text("limit", "a decimal number; empty: the check's own", As("bound"))
	k.Over = k.choice(
		"over",
		[]string{"project", "activity", "risk", "cost code"},
		"of an own check: the records that it looks at",
		As("over_records"),
	)
	k.Expression = k.text("expression", "of an own check: it holds where there is something to find")
	k.Title = k.text("title", "of an own check: the cause")
	k.Says = k.text("says", "of an own check: the sentence; {cpi} stands for a value")
	k.Refuse = k.refuse
	k.Touches = Judgement
	k.Own = true
	return k
}()

type checksKind struct {
	*Kind
	CheckCol, Severity, Limit, Over, Expression, Title, Says TextCol
	From                                                     PeriodCol
}

func (k *checksKind) refuse(r Run, x *Change) (column, why string) {
	code, builtIn := k.CheckCol.Of(x.After), finding.Get(k.CheckCol.Of(x.After))
	if c, why := effective(r, x, k.From, "check"); why != "" {
		return c, why
	}
	if k.Expression.Of(x.After) != "" {
		if column, why := k.refuseOwn(x.After, builtIn != nil); why != "" {
			return column, why
		}
	} else if builtIn == nil {
		return "check", unknownCheck(code)
	}
	limit, err := standing.ParseLimit(k.Limit.Of(x.After))
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

// refuseOwn refuses what is no check of the office's own.
func (k *checksKind) refuseOwn(row *portfolio.Row, builtIn bool) (column, why string) {
	code, over := k.CheckCol.Of(row), cmp.Or(k.Over.Of(row), "project")
	switch {
	case builtIn:
		return "check", fmt.Sprintf("%s is one of the checks that every office has; give your own another code", code)
	case strings.TrimSpace(k.Title.Of(row)) == "":
		return "title", "a check needs a title: the cause, as screens call it"
	case strings.ContainsAny(code, " /|?#"):
		return "check", "the code of a check has no spaces and none of / | ? #"
	}
	if _, err := finding.ParseOwn(over, k.Expression.Of(row)); err != nil {
		return "expression", err.Error()
	}
	if err := finding.CheckSays(over, k.Says.Of(row)); err != nil {
		return "says", err.Error()
	}
	return "", ""
}

// known tells whether a code is that of a check, of every office or its own.
func (k *checksKind) known(r Run, code string) bool {
	known := finding.Get(code) != nil
	r.Each(k.Kind, func(row *portfolio.Row) { known = known || k.CheckCol.Of(row) == code })
	return known
}

// unknownCheck says which checks there are.
func unknownCheck(code string) string {
	var codes []string
	for i := range finding.Checks {
		codes = append(codes, finding.Checks[i].Code)
	}
	return fmt.Sprintf("%q is not a check; there are %s", code, strings.Join(codes, ", "))
}
