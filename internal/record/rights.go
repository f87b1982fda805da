package record

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
)

// Rights: who reads, approves and administers what, where it is not everything.
var Rights = func() *rightsKind {
	k := &rightsKind{Kind: records("rights", "grant", "right", "who reads, approves and administers what, where it is not everything")}
	k.Account = k.text("account", "the sign-in name of an account; * for everybody", Key)
	k.Right = k.choice("right", []string{Reading, Approving, Administering}, "to read, to approve baselines, or to administer: to say who reads, approves and states there", Key)
	k.Scope = k.text("scope", "the code of a project or a programme, or * for the whole portfolio", Key)
	k.Kinds = k.text("kinds", "kinds of what is read, with commas between them: "+strings.Join(portfolio.KindNames, ", ")+"; empty: all", Blank)
	k.State = k.choice("state", []string{"given", "withdrawn"}, "withdrawn ends it", Default("given"))
	k.Refuse = k.refuse
	k.Touches = Workings
	k.Form = &Form{
		Title: "Who reads", Needs: "administer accounts", Scope: "scope",
		Says: "Everybody reads everything, unless Setup, Office says otherwise of a role. Whoever is named here reads what is given here, what is given to everybody (*), and what they state for, and nothing else; who is let approve here approves that alone. Whoever administers something says here, and under Who states, who reads, approves and states there.",
	}
	k.Own = true
	return k
}()

// What a right lets do.
const (
	Reading       = "read"
	Approving     = "approve"
	Administering = "administer"
)

// Everybody stands for every account.
const Everybody = "*"

type rightsKind struct {
	*Kind
	Account, Right, Scope, Kinds, State TextCol
}

func (k *rightsKind) refuse(r Run, x *Change) (column, why string) {
	if s := k.Scope.Of(x.After); s != portfolio.Everywhere && !r.Known(Projects.Kind, s) && !r.Known(Programmes.Kind, s) {
		return "scope", "there is no project or programme \"" + s + "\"; * is the whole portfolio"
	}
	if _, unknown := portfolio.KindsNamed(k.Kinds.Of(x.After)); unknown != "" {
		return "kinds", fmt.Sprintf("%q is no kind of what is read; there are %s", unknown, strings.Join(portfolio.KindNames, ", "))
	}
	if k.Account.Of(x.After) == Everybody {
		switch k.Right.Of(x.After) {
		case Approving:
			return "account", "baselines are approved by somebody; name the account"
		case Administering:
			return "account", "rights are given by somebody; name the account"
		}
	}
	return "", ""
}
