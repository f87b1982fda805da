package record

// Periods are periods that are closed or in checking, as export writes them.
var Periods = func() *periodsKind {
	k := &periodsKind{
		Kind: records("periods", "period", "period", "periods that are closed or in checking, as export writes them"),
	}
	k.Period = k.period("period", "period", Key)
	k.State = k.choice(
		"state",
		[]string{"open", "in checking", "closed"},
		"in checking: leads state no more for it",
		Default("open"),
	)
	k.Refuse = k.refuse
	k.Touches = Workings
	k.Own = true
	return k
}()

type periodsKind struct {
	*Kind
	State  TextCol
	Period PeriodCol
}

func (k *periodsKind) refuse(r Run, x *Change) (column, why string) {
	p, closed := k.Period.Of(x.After), k.State.Of(x.After) == "closed"
	switch {
	case r.Closed(p) && !closed:
		return "state", r.PeriodName(p) + " is closed; reopen it with a reason"
	case !r.Closed(p) && closed:
		r.Close(p)
	}
	return "", ""
}
