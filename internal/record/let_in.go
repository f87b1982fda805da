package record

// LetIn: projects whose leads state once more for a period that is in checking.
var LetIn = func() *letInKind {
	k := &letInKind{Kind: records("let_in", "let_in", "leave to state", "projects whose leads state once more for a period that is in checking")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Period = k.period("period", "the period that is in checking", Key)
	k.State = k.choice("state", []string{"open", "shut"}, "shut ends it", Default("open"))
	k.Reason = k.text("reason", "what is still to be stated")
	k.Refuse = func(r Run, x *Change) (column, why string) {
		if p := k.Period.Of(x.After); !x.Same && r.Closed(p) {
			return "period", r.PeriodCode(p) + " is closed, so nothing is stated for it any more"
		}
		if k.State.Or(x.After) == "open" && !k.Reason.Said(x.After) {
			return "reason", "say what is still to be stated"
		}
		return "", ""
	}
	k.Touches = Names
	k.Form = &Form{
		Title: "Let in again", Needs: "close and reopen periods",
		Says: "In checking, leads state no more for a period. One project is let in again here; the others stay out.",
	}
	k.Own = true
	return k
}()

type letInKind struct {
	*Kind
	Project       RefCol
	Period        PeriodCol
	State, Reason TextCol
}
