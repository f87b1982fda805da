package schedule

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/due"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Constraints are what can bind the date of an activity by itself.
var Constraints = []string{"not before", "not after", "on"}

// Bound is a constraint as someone enters it; one that is empty takes away what there is.
type Bound struct{ Constraint, Day, Reason string }

// Constrain binds an activity, with a reason, or no longer, as one change of its project's
// plan.
func (o Room) Constrain(ctx context.Context, a right.Actor, seen int64, project, activity string, b Bound) error {
	row := entry.Row{"constraint": "-", "constraint_date": "-", "constraint_reason": "-"}
	note := "no longer bound"
	if b.Constraint != "" {
		switch day, err := calendar.ParseDate(strings.TrimSpace(b.Day)); {
		case !slices.Contains(Constraints, b.Constraint):
			return &office.Misfit{Column: "constraint", Why: fmt.Sprintf("%q is none; there are %s", b.Constraint, strings.Join(Constraints, ", "))}
		case err != nil:
			return &office.Misfit{Column: "constraint_date", Why: "a constraint needs its day: " + err.Error()}
		case strings.TrimSpace(b.Reason) == "":
			return &office.Misfit{Column: "constraint_reason", Why: "say why it is bound, so that the next one knows whether it still is"}
		default:
			row["constraint"], row["constraint_date"], row["constraint_reason"] = b.Constraint, day.String(), strings.TrimSpace(b.Reason)
			note = b.Constraint + " " + day.String()
		}
	}
	return o.plan(ctx, a, seen, project, activity, note, nil, func(*portfolio.Activity) (entry.Row, error) { return row, nil })
}

// Deliver says what becomes of what an activity makes: it is for a receiver, or for nobody any
// more; on a day it is handed over, accepted, or sent back with a remark.
type Deliver struct {
	To     string      // a receiver; "" leaves it
	Nobody bool        // it is no deliverable any more
	Now    due.Handing // due.HandedOver, due.Accepted or due.SentBack; "" leaves it
	Day    string      // on which that is; "": the room's
	Remark string
}

// Hands tells what an actor may say of an activity's deliverable, at a moment: that it is
// handed over, and that it is accepted or sent back.
func (o Room) Hands(a right.Actor, m *office.Moment, project string, x *Activity) (over, back bool) {
	s := m.Snapshot()
	if p := s.Project(project); p != nil && x.Deliverable != nil {
		return hands(a, s, p, x.Code, x.Deliverable.Receiver)
	}
	return false, false
}

// hands is the same of an activity of a giver: who states the giver's progress hands over;
// the receiver, who states for a project that is called so, and who states for one whose
// activities wait for it, accept and send back. Who sets up projects does both.
func hands(a right.Actor, s *book.Snapshot, giver *portfolio.Project, activity, receiver string) (over, back bool) {
	if right.May(a, right.Found) {
		return true, true
	}
	states := func(p *portfolio.Project) bool { return right.CheckState(a, p.ID, "progress", int(s.Current())) == nil }
	receiver = strings.TrimSpace(receiver)
	back = receiver != "" && strings.EqualFold(receiver, a.Name)
	for _, p := range s.Everyone() {
		if back {
			break
		}
		if p != giver && states(p) {
			named := strings.EqualFold(receiver, p.Code) || strings.EqualFold(receiver, p.Name)
			back = named || waits(giver, activity, p)
		}
	}
	return states(giver), back
}

// waits tells whether a project has an activity that comes after one of the giver's, as one
// of the two states it.
func waits(giver *portfolio.Project, activity string, p *portfolio.Project) bool {
	return slices.ContainsFunc(p.Across, func(x portfolio.Across) bool {
		return x.Into && x.Other == giver.Code && x.Code == activity
	}) || slices.ContainsFunc(giver.Across, func(x portfolio.Across) bool {
		return !x.Into && x.Other == p.Code && giver.Activities[x.Here].Code == activity
	})
}

// Deliver keeps it as one change of the project's plan.
func (o Room) Deliver(ctx context.Context, a right.Actor, seen int64, project, activity string, d Deliver) error {
	on := calendar.DateIn(o.Clock())
	if d.Now != "" && strings.TrimSpace(d.Day) != "" {
		day, err := calendar.ParseDate(strings.TrimSpace(d.Day))
		if err == nil && day > on {
			err = fmt.Errorf("%s is still to come; what is to be is no fact yet", day)
		}
		if err != nil {
			return &office.Misfit{Column: "day", Why: err.Error()}
		}
		on = day
	}
	note := string(d.Now)
	switch {
	case d.Nobody:
		note = "no deliverable any more"
	case d.To != "":
		note = "a deliverable for " + d.To
	}
	may := func(s *book.Snapshot, p *portfolio.Project, x *portfolio.Activity) error {
		if x.Deliverable != nil && d.Now != "" {
			over, back := hands(a, s, p, x.Code, x.Deliverable.Receiver)
			if d.Now == due.HandedOver && over || d.Now != due.HandedOver && back {
				return nil
			}
		}
		return right.Check(a, right.Found)
	}
	return o.plan(ctx, a, seen, project, activity, note, may, func(x *portfolio.Activity) (entry.Row, error) {
		switch {
		case d.Nobody:
			return entry.Row{"receiver": "-", "handed_over": "-", "accepted": "-", "sent_back": "-", "sent_back_reason": "-"}, nil
		case strings.TrimSpace(d.To) != "":
			return entry.Row{"receiver": strings.TrimSpace(d.To)}, nil
		case x.Deliverable == nil:
			return nil, &office.Misfit{Column: "receiver", Why: fmt.Sprintf("%s/%s is no deliverable; say who receives it", project, activity)}
		}
		is := due.Of(x.Deliverable, 0, on)
		switch d.Now {
		case due.HandedOver:
			if is == due.HandedOver || is == due.Accepted {
				return nil, &office.Misfit{Column: "handed_over", Why: fmt.Sprintf("it is %s already", is)}
			}
			return entry.Row{"handed_over": on.String(), "sent_back": "-", "sent_back_reason": "-"}, nil
		case due.Accepted:
			if is != due.HandedOver {
				return nil, &office.Misfit{Column: "accepted", Why: fmt.Sprintf("what is %s is not accepted; it is handed over first", is)}
			}
			return entry.Row{"accepted": on.String()}, nil
		case due.SentBack:
			if is != due.HandedOver && is != due.Accepted {
				return nil, &office.Misfit{Column: "sent_back", Why: fmt.Sprintf("what is %s is not sent back; it is handed over first", is)}
			}
			if strings.TrimSpace(d.Remark) == "" {
				return nil, &office.Misfit{Column: "sent_back_reason", Why: "say what is wrong with it, so that the giver knows"}
			}
			return entry.Row{"sent_back": on.String(), "sent_back_reason": strings.TrimSpace(d.Remark), "accepted": "-"}, nil
		}
		return nil, &office.Misfit{Column: "receiver", Why: "say who receives it"}
	})
}

// plan changes what the plan of a project says of one activity; may tells whether the actor
// may, on what it is changed on; nil: who sets up projects.
func (o Room) plan(
	ctx context.Context, a right.Actor, seen int64, project, activity, note string,
	may func(*book.Snapshot, *portfolio.Project, *portfolio.Activity) error, row func(*portfolio.Activity) (entry.Row, error),
) error {
	if may == nil {
		may = func(*book.Snapshot, *portfolio.Project, *portfolio.Activity) error {
			return right.Check(a, right.Found)
		}
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Planned, Note: fmt.Sprintf("%s/%s %s", project, activity, note), Seen: seen, Takes: right.Found, Checked: true,
		Rows: func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			if _, err := s.Filled(ctx); err != nil {
				return nil, err
			}
			p := s.Project(project)
			i := -1
			if p != nil {
				i = slices.IndexFunc(p.Activities, func(x portfolio.Activity) bool { return x.Code == activity })
			}
			if i < 0 || !a.Reads(p.ID) {
				return nil, &office.Misfit{Column: "activity", Why: fmt.Sprintf("there is no activity %s/%s", project, activity)}
			}
			if err := may(s, p, &p.Activities[i]); err != nil {
				return nil, err
			}
			r, err := row(&p.Activities[i])
			if err != nil {
				return nil, err
			}
			r["project"], r["activity"] = project, activity
			return []entry.Rows{entry.Of("activities", r)}, nil
		},
	})
	return err
}
