package record

// Activities are summaries, tasks and milestones with their baseline.
var Activities = func() *activitiesKind {
	k := &activitiesKind{
		Kind: parts("activities", "", "activity", "summaries, tasks and milestones with their baseline"),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Activity = k.code("activity", "code within the project", Key)
	k.Parent = k.ref("parent", ActivityRef, "the activity above")
	k.NameCol = k.text("name", "name")
	k.KindCol = k.choice("kind", []string{"summary", "task", "milestone"}, "kind", Default("task"))
	k.Level = k.choice(
		"level",
		[]string{"activity", "project", "programme", "portfolio"},
		"how far up a milestone shows",
		Default("activity"),
	)
	k.Rule = k.choice(
		"rule",
		[]string{"stated", "0-100", "50-50", "units", "items", "steps", "elapsed"},
		"how progress is earned",
		Default("stated"),
	)
	k.Budget = k.money("budget", "in the project's currency, of the baseline named")
	k.BaselineStart = k.date("baseline_start", "of the baseline named")
	k.BaselineFinish = k.date("baseline_finish", "of the baseline named")
	k.Baseline = k.whole(
		"baseline",
		"number that budget and baseline dates belong to",
		Key,
		Within(1, 9999),
		Default("1"),
	)
	k.Start = k.date("start", "current start until progress says another")
	k.Finish = k.date("finish", "current finish until progress says another")
	k.Units = k.decimal("units", "units in all, for the rule units", Within(0, many))
	k.Owner = k.text("owner", "who does it")
	k.Receiver = k.text("receiver", "who is handed what it makes: it is a deliverable")
	k.HandedOver = k.date("handed_over", "the day it was handed over")
	k.Accepted = k.date("accepted", "the day the receiver accepted it")
	k.SentBack = k.date("sent_back", "the day the receiver sent it back")
	k.SentBackReason = k.text("sent_back_reason", "what the receiver found wrong")
	k.Constraint = k.choice("constraint", []string{"not before", "not after", "on"}, "what binds its date by itself")
	k.ConstraintDate = k.date("constraint_date", "the day of the constraint")
	k.ConstraintReason = k.text("constraint_reason", "why it is bound")
	return k
}()

type activitiesKind struct {
	*Kind
	Project, Parent                                        RefCol
	Activity, NameCol, KindCol, Level, Rule, Owner         TextCol
	Receiver, SentBackReason, Constraint, ConstraintReason TextCol
	BaselineStart, BaselineFinish, Start, Finish           DateCol
	HandedOver, Accepted, SentBack, ConstraintDate         DateCol
	Budget, Baseline, Units                                NumberCol
}
