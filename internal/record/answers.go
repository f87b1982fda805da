package record

import (
	"strings"
)

// Answers: what was said about findings.
var Answers = func() *answersKind {
	k := &answersKind{Kind: records("answers", "answer", "answer", "what was said about findings")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.CheckCol = k.text("check", "check", Key, As("code"))
	k.Record = k.text("record", "the record of the project; empty: the project itself", Key, Blank)
	k.From = k.period("from", "said in this period", Key, As("from_period"))
	k.Answer = k.choice("answer", []string{"accepted", "sent back", "withdrawn"}, "what was said")
	k.Until = k.period("until", "last period; empty: no end", As("until_period"))
	k.Reason = k.text("reason", "the reason, or the question")
	k.RestingOn = k.text("resting_on", "the values that the finding rested on; with others it comes back", Stamp)
	k.By = k.text("by", "who said it", Stamp, As("said_by"))
	k.Refuse = k.refuse
	k.Touches = Sayings
	k.Own = true
	return k
}()

type answersKind struct {
	*Kind
	Project                                         RefCol
	CheckCol, Record, Answer, Reason, RestingOn, By TextCol
	From, Until                                     PeriodCol
}

func (k *answersKind) refuse(r Run, x *Change) (column, why string) {
	answer := k.Answer.Of(x.After)
	switch code := k.CheckCol.Of(x.After); {
	case !Checks.known(r, code):
		return "check", unknownCheck(code)
	case answer == "":
		return "answer", "say whether the finding is accepted, sent back or withdrawn"
	case answer == "accepted" && !k.Until.Said(x.After):
		return "until", "what is accepted has an end: the last period for which it holds"
	case strings.TrimSpace(k.Reason.Of(x.After)) == "" && answer != "withdrawn":
		return "reason", "it needs a reason, which is kept"
	}
	if column, why := spanned(x, k.From, k.Until); why != "" {
		return column, why
	}
	return effective(r, x, k.From, "change")
}
