package record

// Steps are weighted steps of activities with the rule steps.
var Steps = func() *stepsKind {
	k := &stepsKind{Kind: parts("steps", "", "step", "weighted steps of activities with the rule steps")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Activity = k.ref("activity", ActivityRef, "activity", Key)
	k.Step = k.text("step", "code within the activity", Key)
	k.Weight = k.decimal("weight", "weight", Within(0, many))
	k.Done = k.date("done", "the day it was done")
	return k
}()

type stepsKind struct {
	*Kind
	Project, Activity RefCol
	Step              TextCol
	Done              DateCol
	Weight            NumberCol
}
