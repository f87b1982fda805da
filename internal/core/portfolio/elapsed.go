package portfolio

import "turret/internal/core/calendar"

// Elapsed gives what a project that takes its plan as its actual cost has spent through a
// period only because time passed: of each period in which it was active and of which nothing
// is booked, the cost cells of the plan that was in force then, without management reserve. A
// period of which something is booked is the ledger's. Nil for all other projects.
func Elapsed(o *Office, p *Project, through calendar.Period) []Line {
	if !p.FromTime {
		return nil
	}
	booked := p.bookedIn()
	plans := make(map[calendar.Period]*Version)
	from := func(q calendar.Period) *Version {
		v, ok := plans[q]
		if !ok && q <= through && !booked[q] && p.StateAt(o.Periods.First(q)) == Active {
			v = p.planOn(o.Periods.Last(q))
		}
		plans[q] = v
		return v
	}
	var out []Line
	for i := range p.Plan {
		v := &p.Plan[i]
		for j := range v.Lines {
			l := v.Lines[j]
			if l.Flow != Cost || o.ManagementReserve(l.CodeID) {
				continue
			}
			l.Cells, l.Remarks = nil, nil
			for _, c := range v.Lines[j].Cells {
				if from(c.Period) == v {
					l.Cells = append(l.Cells, c)
				}
			}
			if l.Cells != nil {
				out = append(out, l)
			}
		}
	}
	return out
}

// bookedIn are the periods of which cost is booked.
func (p *Project) bookedIn() map[calendar.Period]bool {
	out := make(map[calendar.Period]bool)
	for _, lines := range [...][]Line{p.Actual, p.Ledger} {
		for i := range lines {
			if lines[i].Flow == Cost {
				for _, c := range lines[i].Cells {
					out[c.Period] = true
				}
			}
		}
	}
	return out
}

// planOn is the plan in force on a day; nil where none has cells.
func (p *Project) planOn(day calendar.Date) *Version { return p.planOf(inForce(p, day)) }

// planOf is that of a baseline, else the last before it that counts and has cells.
func (p *Project) planOf(number int) *Version {
	for i := len(p.Plan) - 1; i >= 0; i-- {
		if n := p.Plan[i].Number; n <= number && p.counts(n, number) && len(p.Plan[i].Lines) > 0 {
			return &p.Plan[i]
		}
	}
	return nil
}

// counts tells whether a baseline is part of one: what was proposed in between is no part of a
// later one.
func (p *Project) counts(n, of int) bool {
	b := p.Baseline(n)
	return n == of || b == nil || b.Counts()
}
