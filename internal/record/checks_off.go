package record

import (
	"strings"
)

// ChecksOff are checks that are off for a project.
var ChecksOff = func() *checksOffKind {
	k := &checksOffKind{
		Kind: records("checks_off", "check_off", "check that is off", "checks that are off for a project"),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.CheckCol = k.text("check", "check", Key, As("code"))
	k.From = k.period("from", "first period", Key, As("from_period"))
	k.Until = k.period("until", "last period; empty: no end", As("until_period"))
	k.Reason = k.text("reason", "why")
	k.Refuse = k.refuse
	k.Touches = Sayings
	k.Own = true
	return k
}()

type checksOffKind struct {
	*Kind
	Project          RefCol
	CheckCol, Reason TextCol
	From, Until      PeriodCol
}

func (k *checksOffKind) refuse(r Run, x *Change) (column, why string) {
	if code := k.CheckCol.Of(x.After); !Checks.known(r, code) {
		return "check", unknownCheck(code)
	}
	if strings.TrimSpace(k.Reason.Of(x.After)) == "" {
		return "reason", "it needs a reason, which is kept"
	}
	if column, why := spanned(x, k.From, k.Until); why != "" {
		return column, why
	}
	return effective(r, x, k.From, "change")
}
