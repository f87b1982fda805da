package record

import (
	"fmt"

	"turret/internal/core/portfolio"
)

// Commentaries are the office's words on programmes and the whole portfolio.
var Commentaries = func() *commentariesKind {
	k := &commentariesKind{Kind: records("commentaries", "commentary", "words on a programme or the portfolio", "the office's words on programmes and the whole portfolio")}
	k.Scope = k.text("scope", "the code of a programme, or * for the whole portfolio", Key)
	k.Period = k.period("period", "of which it is said", Key)
	k.Section = k.choice("section", UsualSections, "section, or one of the office's own", Key)
	k.Section.Column().Open = true
	k.Text = k.text("text", "text")
	k.Refuse = k.refuse
	k.Touches = Names
	k.Own = true
	return k
}()

type commentariesKind struct {
	*Kind
	Scope, Section, Text TextCol
	Period               PeriodCol
}

func (k *commentariesKind) refuse(r Run, x *Change) (column, why string) {
	if s := k.Scope.Of(x.After); s != portfolio.Everywhere && !r.Known(Programmes.Kind, s) {
		return "scope", fmt.Sprintf("there is no programme %q; * is the whole portfolio", s)
	}
	return wordsStay(r, x, k.Period)
}

// Agreements tell which words were agreed to, and by whom.
var Agreements = func() *agreementsKind {
	k := &agreementsKind{Kind: records("agreements", "agreement", "agreement to words", "words that were agreed to, and by whom")}
	k.Scope = k.text("scope", "the code of a project or a programme, or * for the whole portfolio", Key)
	k.Period = k.period("period", "of which the words are", Key)
	k.Words = k.text("words", "a digest of the words; empty: they are agreed to no more")
	k.By = k.text("by", "the name of who agreed", Stamp, As("agreed_by"))
	k.On = k.date("on", "the day on which it was agreed", Stamp, As("agreed_on"))
	k.Refuse = k.refuse
	k.Touches = Names
	k.Own = true
	return k
}()

type agreementsKind struct {
	*Kind
	Scope, Words, By TextCol
	Period           PeriodCol
	On               DateCol
}

func (k *agreementsKind) refuse(r Run, x *Change) (column, why string) {
	if why := unscoped(r, k.Scope.Of(x.After)); why != "" {
		return "scope", why
	}
	return wordsStay(r, x, k.Period)
}

// wordsStay refuses to change what was said of a closed period.
func wordsStay(r Run, x *Change, of PeriodCol) (column, why string) {
	if p := of.Of(x.After); !x.Same && r.Closed(p) {
		return "period", fmt.Sprintf("%s is closed: its words stay as they are", r.PeriodCode(p))
	}
	return "", ""
}
