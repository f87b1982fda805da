package record

import (
	"turret/internal/core/calendar"
)

// Calendars are work weeks and holidays, any week row makes the listed days the whole work week.
var Calendars = func() *calendarsKind {
	k := &calendarsKind{
		Kind: records(
			"calendars",
			"calendar",
			"day of the calendar",
			"work weeks and holidays; any week row makes the listed days the whole work week",
		),
	}
	k.Calendar = k.text("calendar", "code", Key)
	k.KindCol = k.choice("kind", []string{"week", "holiday"}, "week or holiday", Key)
	k.Day = k.day("day", "mon … sun for a working day, an ISO date for a holiday", Key)
	k.NameCol = k.text("name", "name of the day")
	k.State = k.choice("state", []string{"on", "off"}, "off: the row counts no longer", Default("on"))
	k.Refuse = k.refuse
	return k
}()

type calendarsKind struct {
	*Kind
	Calendar, KindCol, Day, NameCol, State TextCol
}

func (k *calendarsKind) refuse(_ Run, x *Change) (column, why string) {
	if _, weekday := calendar.ParseWeekday(k.Day.Of(x.After)); weekday != (k.KindCol.Of(x.After) == "week") {
		return "day", "a week row names a weekday (mon … sun), a holiday row an ISO date"
	}
	return "", ""
}
