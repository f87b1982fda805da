// Package due tells what an unfinished activity is to be looked at for on a day: that it is
// overdue, was missed, should have begun, runs long, comes next, or that nothing is said of
// it; and what became of what it hands over.
package due

import (
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// How far is looked.
const (
	Ahead    = 31  // days of any kind that count as next
	Longer   = 125 // percent of its baseline duration after which an activity runs long
	Unspoken = 2   // periods without a word
)

// Activity is an unfinished task or milestone as it stands on a day. Days that are not known
// are zero.
type Activity struct {
	Milestone bool
	Planned   [2]calendar.Date // baseline start and finish
	Current   [2]calendar.Date // as stated
	Begun     bool             // it has an actual start, or something of it is earned
	Running   int              // working days since it began; 0 where it is not running
	Days      int              // working days that its baseline takes; 0 where that is not known
	SaidIn    calendar.Period  // the last in which something was said of it
}

// Reason is why an activity is looked at.
type Reason string

// The reasons.
const (
	Overdue Reason = "overdue" // its stated finish has come
	Missed  Reason = "missed"  // a milestone whose baseline day has come, and no new day was said
	ToBegin Reason = "begin"   // its stated start has come, and nobody says that it began
	Long    Reason = "long"    // begun longer ago than Longer percent of its baseline duration
	Finish  Reason = "due"     // to be finished within Ahead days
	Start   Reason = "next"    // to begin within Ahead days
	Silent  Reason = "silent"  // running, or to have begun, and Unspoken periods without a word
)

// For tells whether an activity is looked at for a reason, on a day of a period.
func (a *Activity) For(r Reason, on calendar.Date, at calendar.Period) bool {
	start, finish := a.Current[0], a.Current[1]
	switch r {
	case Overdue:
		return finish != 0 && finish <= on && !a.missed(on)
	case Missed:
		return a.missed(on)
	case ToBegin:
		return !a.Milestone && !a.Begun && start != 0 && start <= on && finish > on
	case Long:
		return a.Running > 0 && a.Days > 0 && 100*a.Running > Longer*a.Days
	case Finish:
		return finish > on && finish <= on+Ahead
	case Start:
		return !a.Milestone && !a.Begun && start > on && start <= on+Ahead
	case Silent:
		return (a.Running > 0 || a.Planned[0] != 0 && a.Planned[0] <= on) && at-a.SaidIn >= Unspoken
	}
	return false
}

// missed tells that a milestone's baseline day has come, and no new one was said.
func (a *Activity) missed(on calendar.Date) bool {
	return a.Milestone && a.Planned[1] != 0 && a.Planned[1] <= on && a.Current[1] <= on
}

// Handing is what became of a deliverable.
type Handing string

// What can become of one, from what needs nobody to what needs somebody first.
const (
	Accepted   Handing = "accepted"
	ToCome     Handing = "to come"
	HandedOver Handing = "handed over"
	Late       Handing = "overdue" // its stated finish has come, and it was not handed over
	SentBack   Handing = "sent back"
)

// Handings are all of them, in that order.
var Handings = []Handing{Accepted, ToCome, HandedOver, Late, SentBack}

// Of tells what became of a deliverable by a day; finish is its stated one, zero where that is
// not known. What was sent back stays so until it is handed over, or accepted, later.
func Of(d *portfolio.Deliverable, finish, on calendar.Date) Handing {
	by := func(x calendar.Date) bool { return x != 0 && x <= on }
	switch {
	case by(d.SentBack) && !(by(d.Accepted) && d.Accepted >= d.SentBack) && !(by(d.HandedOver) && d.HandedOver > d.SentBack):
		return SentBack
	case by(d.Accepted):
		return Accepted
	case by(d.HandedOver):
		return HandedOver
	case finish != 0 && finish <= on:
		return Late
	}
	return ToCome
}
