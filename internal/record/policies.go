package record

// Policies: how dimensions combine to overall, and parts to groups.
var Policies = func() *policiesKind {
	k := &policiesKind{
		Kind: records("policies", "policy", "policy", "how dimensions combine to overall, and parts to groups"),
	}
	k.Policy = k.choice("policy", []string{"overall", "groups"}, "what is combined", Key)
	k.From = k.period("from", "in force from this period", Key, As("from_period"))
	k.How = k.choice(
		"how",
		[]string{"usual", "share", "worst", "larger"},
		"usual: as the rules of the house say; share: by weight or money; worst of; larger: where the larger part stands",
		Default("share"),
	)
	k.ActShare = k.whole("act_share", "percent at Act that make Act", Within(1, 100))
	k.WatchShare = k.whole("watch_share", "percent at Watch or Act that make Watch", Within(1, 100))
	k.Refuse = k.refuse
	k.Touches = Judgement
	k.Own = true
	return k
}()

type policiesKind struct {
	*Kind
	Policy, How          TextCol
	From                 PeriodCol
	ActShare, WatchShare NumberCol
}

func (k *policiesKind) refuse(r Run, x *Change) (column, why string) {
	if k.Policy.Of(x.After) == "groups" && k.How.Or(x.After) == "usual" {
		return "how", "groups combine by share, worst or larger; usual is how dimensions do"
	}
	return effective(r, x, k.From, "policy")
}
