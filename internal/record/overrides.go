package record

import (
	"turret/internal/core/standing"
)

// Overrides are standings set by an analyst, with reason and end.
var Overrides = func() *overridesKind {
	k := &overridesKind{
		Kind: records("overrides", "override", "standing", "standings set by an analyst, with reason and end"),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Dimension = k.text("dimension", "a dimension, or overall", Key)
	k.From = k.period("from", "first period", Key, As("from_period"))
	k.Until = k.period("until", "last period", As("until_period"))
	k.Standing = k.choice("standing", []string{"steady", "watch", "act", "unrated"}, "standing")
	k.Reason = k.text("reason", "why")
	k.Refuse = k.refuse
	k.Touches = Sayings
	k.Own = true
	return k
}()

type overridesKind struct {
	*Kind
	Project                     RefCol
	Dimension, Standing, Reason TextCol
	From, Until                 PeriodCol
}

func (k *overridesKind) refuse(r Run, x *Change) (column, why string) {
	row := x.After
	if d := k.Dimension.Of(row); d != standing.Overall.String() && !Dimensions.known(r, d) {
		return "dimension", Dimensions.unknown(r, d) + ", and overall"
	}
	for _, c := range []Col{k.Until.Col, k.Standing.Col, k.Reason.Col} {
		if !c.Said(row) {
			return c.Column().Name, "an override needs a last period, a standing and a reason"
		}
	}
	if column, why := spanned(x, k.From, k.Until); why != "" {
		return column, why
	}
	if x.Same {
		return "", ""
	}
	if x.Before != nil && k.endsOnly(x) { // one that began earlier may end sooner or later
		if r.Closed(k.Until.Of(row) + 1) {
			return "until", "the periods after that are closed; let the override end in an open one"
		}
		return "", ""
	}
	return effective(r, x, k.From, "override")
}

// endsOnly tells whether an override changes in its end and reason alone.
func (k *overridesKind) endsOnly(x *Change) bool {
	for i := range k.Columns {
		if i != k.Until.at && i != k.Reason.at && x.Before.Fields[i] != x.After.Fields[i] {
			return false
		}
	}
	return true
}
