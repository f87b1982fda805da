package record

// Boundaries are the office's own reporting periods, without any, they are calendar months.
var Boundaries = func() *boundariesKind {
	k := &boundariesKind{
		Kind: records(
			"boundaries",
			"boundary",
			"period",
			"the office's own reporting periods; without any, they are calendar months",
		),
	}
	k.Period = k.text("period", "code: FY27-P01 is the first of the fiscal year 2027", Key)
	k.First = k.date("first", "first day")
	k.Last = k.date("last", "last day; without both days the period is none")
	k.NameCol = k.text("name", "what screens call it; empty: its code")
	k.Refuse = k.refuse
	k.Own = true
	return k
}()

type boundariesKind struct {
	*Kind
	Period, NameCol TextCol
	First, Last     DateCol
}

func (k *boundariesKind) refuse(_ Run, x *Change) (column, why string) {
	if k.First.Said(x.After) != k.Last.Said(x.After) {
		return "last", "a period needs both a first and a last day, or a - in both where it is none"
	}
	return "", ""
}
