package record

import (
	"fmt"
	"strings"
)

// Stating: who states for a project beside its lead.
var Stating = func() *statingKind {
	k := &statingKind{Kind: records("stating", "stating", "right to state", "who states for a project beside its lead")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Account = k.text("account", "the sign-in name of an account that is a lead", Key)
	k.Kinds = k.text("kinds", "kinds of statement with commas between them: "+strings.Join(Owable, ", ")+"; empty: all")
	k.From = k.period("from", "the first period for which it holds", Key, As("from_period"))
	k.Until = k.period("until", "the last one; empty: no end", As("until_period"))
	k.Refuse = k.refuse
	k.Touches = Workings
	k.Form = &Form{
		Title: "Who states", Needs: founding, Scope: "project",
		Says: "The lead of a project states all of it. A deputy, or someone who owes a part of it alone, is let do so here.",
	}
	k.Own = true
	return k
}()

type statingKind struct {
	*Kind
	Project        RefCol
	Account, Kinds TextCol
	From, Until    PeriodCol
}

func (k *statingKind) refuse(_ Run, x *Change) (column, why string) {
	if _, unknown := KindsOf(k.Kinds.Of(x.After)); unknown != "" {
		return "kinds", fmt.Sprintf("%q is no kind of statement; there are %s", unknown, strings.Join(Owable, ", "))
	}
	return spanned(x, k.From, k.Until)
}
