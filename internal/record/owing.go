package record

import (
	"slices"
	"strings"

	"turret/internal/core/portfolio"
)

// Owing: which statements projects owe, where it is not the usual.
var Owing = func() *owingKind {
	k := &owingKind{Kind: records("owing", "owing", "rule of what is owed", "which statements projects owe, where it is not the usual")}
	k.Scope = k.text("scope", "the code of a project or a programme, or * for the whole portfolio", Key)
	k.Statement = k.choice("kind", Owable, "progress (with dates), forecast, commitment, risks, or narratives (the words)", Key)
	k.Stage = k.text("stage", "projects of this stage alone; empty: of any", Key, Blank)
	k.State = k.choice("state", []string{"proposed", "active", "on hold", "finished", "cancelled"}, "projects in this state; empty: active", Key, Blank)
	k.From = k.period("from", "the first period for which it holds", Key, As("from_period"))
	k.Owed = k.choice("owed", []string{"yes", "no"}, "whether it is owed; without any rule progress and forecast are, by active projects, for each period", Default("yes"))
	k.Every = k.whole("every", "owed for the first period and every so many after it; empty: for each", Within(1, mostEvery))
	k.Refuse = k.refuse
	k.Form = &Form{
		Title: "What is owed", Needs: "draw periods and calendars",
		Says: "Active projects owe progress and a forecast for each period. A rule changes that: for the whole portfolio, a programme, a project, a stage or a state; the nearest to the project holds.",
	}
	k.Own = true
	return k
}()

// mostEvery is the rarest that a statement can be owed, in periods.
const mostEvery = 60

// Owable are the kinds of statement that can be owed, as tables call them.
var Owable = func() (out []string) {
	for _, kind := range portfolio.OwedKinds {
		out = append(out, kind.String())
	}
	return out
}()

type owingKind struct {
	*Kind
	Scope, Statement, Stage, State, Owed TextCol
	From                                 PeriodCol
	Every                                NumberCol
}

func (k *owingKind) refuse(r Run, x *Change) (column, why string) {
	if s := k.Scope.Of(x.After); s != portfolio.Everywhere && !r.Known(Projects.Kind, s) && !r.Known(Programmes.Kind, s) {
		return "scope", "there is no project or programme \"" + s + "\"; * is the whole portfolio"
	}
	return effective(r, x, k.From, "rule")
}

// KindsOf reads a list of kinds of statement, with commas or blanks between them; none
// for all, and the first word that is no such kind.
func KindsOf(text string) (kinds []portfolio.PartKind, unknown string) {
	for _, word := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return r == ',' || r == ';' || r == ' ' }) {
		i := slices.Index(Owable, word)
		if i < 0 {
			return nil, word
		}
		kinds = append(kinds, portfolio.OwedKinds[i])
	}
	return kinds, ""
}
