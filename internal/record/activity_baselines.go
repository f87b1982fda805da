package record

// ActivityBaselines: what one baseline says of activities; read from activities.
var ActivityBaselines = func() *activityBaselinesKind {
	k := &activityBaselinesKind{
		Kind: parts(
			"activity_baselines",
			"baseline",
			"baseline of an activity",
			"what one baseline says of activities; read from activities",
		),
	}
	k.Activity = k.ref("activity", ActivityRef, "activity", Key)
	k.Budget = k.money("budget", "minor units of the project's currency")
	k.BaselineStart = k.date("baseline_start", "baseline start")
	k.BaselineFinish = k.date("baseline_finish", "baseline finish")
	return k
}()

type activityBaselinesKind struct {
	*Kind
	Activity                      RefCol
	BaselineStart, BaselineFinish DateCol
	Budget                        NumberCol
}
