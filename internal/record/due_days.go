package record

// DueDays: when statements are due, by kind.
var DueDays = func() *dueDaysKind {
	k := &dueDaysKind{Kind: records("due_days", "due_day", "due day", "when statements are due, by kind")}
	k.Statement = k.choice("statement", Statements, "what is due", Key)
	k.Days = k.whole(
		"days",
		"working days of the office's calendar after the period's last day; 0 and below: that many before its last working day; empty: no day is set",
		Within(-60, 60),
	)
	k.Touches = Workings
	k.Own = true
	return k
}()

type dueDaysKind struct {
	*Kind
	Statement TextCol
	Days      NumberCol
}
