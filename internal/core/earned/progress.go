// Package earned computes plan, earned value, actual cost and earned schedule
// of one project at a period, following PMI, Standard for Earned Value
// Management (2019) and EIA-748; earned schedule after W. Lipke, Schedule is
// Different (2003).
package earned

import (
	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// Progress computes how much of a project is earned, free of any currency.
type Progress struct {
	*portfolio.View
	ByBudget bool // weights are budgets; else working days
	Leaves   []Leaf
	Total    int64 // summed weight
	overflow bool
	steps    map[int][]portfolio.Step
	items    map[int][]portfolio.Item
	shares   map[calendar.Period]exact.Ratio
}

// Leaf is a task without children, with its weight in minor units or working
// days.
type Leaf struct {
	Activity int
	Weight   int64
}

// NewProgress weighs the leaves of a view: by budget where any has one above
// zero, else by baseline duration, else by current duration. What a baseline that states
// anything does not have weighs nothing.
func NewProgress(v *portfolio.View) *Progress {
	p := &Progress{View: v, shares: make(map[calendar.Period]exact.Ratio), Leaves: make([]Leaf, 0, len(v.Activities))}
	for i := range v.Activities {
		if r := v.Row(i); v.Activities[i].Leaf && r != nil && r.Budget > 0 {
			p.ByBudget = true
			break
		}
	}
	for i := range v.Activities {
		if !v.Activities[i].Leaf {
			continue
		}
		l := Leaf{Activity: i}
		switch r := v.Row(i); {
		case p.ByBudget && r != nil:
			l.Weight = max(r.Budget, 0)
		case p.ByBudget, r == nil && v.Staged(): // the baseline in force does not have it
		case r != nil && r.Start != 0 && r.Finish != 0:
			l.Weight = int64(v.Cal.Duration(r.Start, r.Finish))
		default: // no baseline says dates of it
			s := v.Status(i, v.Period)
			l.Weight = int64(v.Cal.Duration(s.Start, s.Finish))
		}
		p.Leaves = append(p.Leaves, l)
		if p.Total > p.Total+l.Weight {
			p.overflow = true
		}
		p.Total += l.Weight
	}
	for _, s := range v.Steps {
		if p.steps == nil {
			p.steps = make(map[int][]portfolio.Step)
		}
		p.steps[s.Activity] = append(p.steps[s.Activity], s)
	}
	for _, it := range v.Items {
		if p.items == nil {
			p.items = make(map[int][]portfolio.Item)
		}
		p.items[it.Activity] = append(p.items[it.Activity], it)
	}
	return p
}

// Share gives the earned fraction f of the project at a period, between 0 and
// 1; none with the reason where it cannot be known.
func (p *Progress) Share(q calendar.Period) (exact.Ratio, string) {
	switch {
	case p.EarnedOff:
		return exact.Ratio{}, "earned value is turned off for this project"
	case p.overflow:
		return exact.Ratio{}, "the budgets of its activities add up beyond 64 bits"
	case len(p.Leaves) == 0:
		return exact.Ratio{}, "it has no activities to earn on"
	case p.Total == 0:
		return exact.Ratio{}, "no activity has a budget or dates to weigh it by"
	}
	if f, ok := p.shares[q]; ok {
		return f, ""
	}
	var sum exact.Sum
	day := p.Office.Periods.Last(q)
	for _, l := range p.Leaves {
		if l.Weight != 0 {
			num, den := p.Earned(l.Activity, p.Status(l.Activity, q), day)
			sum.Add(l.Weight, num, den)
		}
	}
	f := sum.Over(p.Total)
	p.shares[q] = f
	return f, ""
}

const whole = 100 * portfolio.Quantity // 100 percent

// Earned gives the earned fraction of one activity on a day by its rule, as
// num ÷ den between 0 and 1.
func (p *Progress) Earned(i int, s *portfolio.Status, day calendar.Date) (num, den int64) {
	a := &p.Activities[i]
	done := s.Done != 0 && s.Done <= day
	switch a.Rule {
	case "0-100":
		return flag(done), 1
	case "50-50":
		if done {
			return 1, 1
		}
		return flag(s.Began != 0 && s.Began <= day), 2
	case "units":
		return capped(s.Units, a.Units)
	case "steps":
		var got, all int64
		for _, st := range p.steps[i] {
			all += st.Weight
			if st.Done != 0 && st.Done <= day {
				got += st.Weight
			}
		}
		return capped(got, all)
	case "items":
		var got, all int64
		for _, list := range [...][]portfolio.Item{p.items[i], p.items[-1]} {
			for _, it := range list {
				if !it.InScope(day) {
					continue
				}
				all += it.Size
				if it.Done(day) {
					got += it.Size
				}
			}
		}
		return capped(got, all)
	case "elapsed":
		r := p.Row(i)
		if r == nil || r.Start == 0 || r.Finish == 0 {
			return 0, 1
		}
		if all := p.Cal.Duration(r.Start, r.Finish); all > 0 {
			return capped(int64(p.Cal.Duration(r.Start, day)), int64(all))
		}
		return flag(day >= r.Finish), 1
	default:
		if done {
			return 1, 1
		}
		return capped(s.Percent, whole)
	}
}

func flag(b bool) int64 {
	if b {
		return 1
	}
	return 0
}

// capped keeps got ÷ all between 0 and 1; nothing of nothing is 0.
func capped(got, all int64) (num, den int64) {
	if all <= 0 || got <= 0 {
		return 0, 1
	}
	return min(got, all), all
}

// ElapsedShare gives the working days of the baseline through the period's end
// over its duration, between 0 and 1; den is 0 where it has no baseline.
func (p *Progress) ElapsedShare() (num, den int64) {
	start, finish := p.BaselineSpan()
	all := int64(p.Cal.Duration(start, finish))
	if start == 0 || finish == 0 || all == 0 {
		return 0, 0
	}
	return min(int64(p.Cal.Duration(start, p.Day)), all), all
}

// Late tells whether a leaf is late: its baseline finish has come and it is not
// finished.
func (p *Progress) Late(i int) bool {
	r := p.Row(i)
	s := p.Status(i, p.Period)
	return r != nil && r.Finish != 0 && r.Finish <= p.Day && (s.Done == 0 || s.Done > p.Day)
}

// LateWeight sums the weight of late leaves.
func (p *Progress) LateWeight() (n int64, late []int) {
	for _, l := range p.Leaves {
		if p.Late(l.Activity) {
			n += l.Weight
			late = append(late, l.Activity)
		}
	}
	return n, late
}

// Backlog counts the backlog items that an activity earns by: its own, and
// those of no activity.
func (p *Progress) Backlog(activity int) int { return len(p.items[activity]) + len(p.items[-1]) }
