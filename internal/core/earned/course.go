package earned

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Course is the cumulative cost as it was booked through each period up to the view's, with that
// period's accruals, which the next takes back, and as it is to go on: by the forecast in force, or, where none is stated, by the
// plan's cells of later periods. What is done goes on with nothing. Why tells why it is not
// known, or is "".
func (m *Money) Course(done bool) (course Series, why string) {
	if m.ActualWhy != "" {
		return Series{}, m.ActualWhy
	}
	ahead := m.toGo
	switch {
	case m.Forecast != nil:
		why = m.ToGoWhy
	case done:
	case m.PlanWhy == "":
		ahead = m.Plan.after(m.Period)
	default:
		why = "neither a forecast nor a plan tells how it goes on"
	}
	if why != "" {
		return Series{}, why
	}
	course, ok := m.actual.Plus(ahead)
	if ok {
		course, ok = course.Plus(m.accrued())
	}
	if !ok {
		return Series{}, tooLarge
	}
	return course, ""
}

// accrued is what each period through the view's has accrued; what the last has stays.
func (m *Money) accrued() (out Series) {
	if len(m.accrual) == 0 {
		return Series{}
	}
	out.First = m.Period
	for q := range m.accrual {
		out.First = min(out.First, q)
	}
	for q := out.First; q <= m.Period; q++ {
		out.Cum = append(out.Cum, m.accrual[q])
	}
	return out
}

// after is what comes after a period, cumulative from there on.
func (s Series) after(p calendar.Period) (out Series) {
	end := s.First + calendar.Period(len(s.Cum)) - 1
	if len(s.Cum) == 0 || end <= p {
		return Series{}
	}
	out.First = max(s.First, p+1)
	for q := out.First; q <= end; q++ {
		out.Cum = append(out.Cum, s.At(q)-s.At(p))
	}
	return out
}

// Plus adds another course to this one.
func (s Series) Plus(t Series) (out Series, ok bool) {
	switch {
	case len(s.Cum) == 0:
		return t, true
	case len(t.Cum) == 0:
		return s, true
	}
	out.First = min(s.First, t.First)
	last := max(s.First+calendar.Period(len(s.Cum)), t.First+calendar.Period(len(t.Cum)))
	out.Cum = make([]int64, last-out.First)
	for i := range out.Cum {
		p := out.First + calendar.Period(i)
		if out.Cum[i], ok = money.Add(s.At(p), t.At(p)); !ok {
			return Series{}, false
		}
	}
	return out, true
}
