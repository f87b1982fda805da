package standing

import (
	"turret/internal/core/backlog"
	"turret/internal/core/figure"
)

// AtPace rates by itself the finish that a project's backlog comes to at its pace, by the
// limits that the office set for the slip of the stated finish; a backlog that is never done
// at its pace stands at Act. It counts toward no dimension: an office that wants it to sets a
// rule on the same reading. Ok is false where none of the project's reasons has such limits.
func AtPace(reasons []Reason, get func(figure.ID) figure.Value) (reason Reason, ok bool) {
	for i := range reasons {
		if x := reasons[i]; x.Own == "" && x.Reading == figure.FinishSlip {
			reason, ok = x, true
			break
		}
	}
	if !ok {
		return reason, false
	}
	v := get(figure.SlipPace)
	reason.Reading, reason.Value, reason.Standing, reason.Silent = figure.SlipPace, v, Unrated, ""
	switch {
	case v.Why == backlog.Never:
		reason.Standing = Act
	case !v.Known:
		reason.Silent = v.Why
	default:
		reason.rate(limit(reason.Watch), limit(reason.Act))
	}
	return reason, true
}
