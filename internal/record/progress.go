package record

// Progress: what is said of activities in a period; current dates are part of it.
var Progress = func() *progressKind {
	k := &progressKind{
		Kind: parts(
			"progress",
			"period",
			"progress",
			"what is said of activities in a period; current dates are part of it",
		),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Activity = k.ref("activity", ActivityRef, "activity", Key)
	k.Period = k.period("period", "stated in", Key)
	k.Percent = k.decimal("percent", "0 to 100", Within(0, hundred))
	k.Start = k.date("start", "current start")
	k.Finish = k.date("finish", "current finish")
	k.ActualStart = k.date("actual_start", "actual start")
	k.ActualFinish = k.date("actual_finish", "actual finish")
	k.UnitsDone = k.decimal("units_done", "units done so far", Within(0, many))
	k.Note = k.text("note", "note")
	return k
}()

type progressKind struct {
	*Kind
	Project, Activity                        RefCol
	Note                                     TextCol
	Period                                   PeriodCol
	Start, Finish, ActualStart, ActualFinish DateCol
	Percent, UnitsDone                       NumberCol
}
