package board

import (
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/tell"
)

// Tell is what is told of the projects of a list.
func Tell(m *office.Moment, l *List) *tell.Group {
	r := l.Total.Now
	fresh, recovered := m.News()
	stated, owes := 0, 0
	for _, code := range l.Codes {
		if p, _ := m.Find(code); p != nil && m.Owes() {
			if o, s := office.Owing(p); o {
				owes++
				if s {
					stated++
				}
			}
		}
	}
	return &tell.Group{
		Value: r.Value, Currency: r.Currency, Counts: r.Counts, All: l.All, Shown: l.Total.Shown, Filtered: !m.Filter.Empty(),
		Period: m.Period.Name, Since: m.Since.Name, Fresh: fresh, Recovered: recovered,
		Owing: owes, Stated: stated,
	}
}

// NotCounted says which projects of a list stand outside its sums, and why; ""
// where all are counted.
func NotCounted(m *office.Moment, l *List) string {
	why := make(map[string]string)
	for _, x := range l.Total.Now.LeftOut {
		why[x.Code] = x.Why
	}
	var out []string
	for _, code := range l.Codes {
		r, _ := m.Find(code)
		if r.State == portfolio.Proposed || r.State == portfolio.Cancelled {
			out = append(out, code+" is "+string(r.State))
		} else if w := why[code]; w != "" {
			out = append(out, code+": "+w)
		}
	}
	return strings.Join(tell.Few(out), "; ")
}
