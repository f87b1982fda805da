package demo

import (
	"math"
	"math/rand/v2"
	"time"
)

// task is an activity of a project with its baseline and what becomes of it.
type task struct {
	code, parent, name string
	milestone          bool
	level              string
	start, finish      time.Time // baseline
	real               [2]time.Time
	middle             float64 // place in the project, 0 to 1
	rule               string
}

// life is a project with all that happens to it.
type life struct {
	*spec
	tasks []task
	rand  *rand.Rand
	begin time.Time
	days  float64
}

func newLife(s *spec, n uint64) *life {
	l := &life{spec: s, rand: rand.New(rand.NewPCG(20261204, n)), begin: firstDay(s.start)}
	l.days = lastDay(s.start+s.months-1).Sub(l.begin).Hours() / 24
	at := 0.0
	for i, ph := range phases {
		width := []float64{0.10, 0.18, 0.14, 0.38, 0.12, 0.08}[i]
		parent := string(rune('A' + i))
		for j, name := range ph.tasks {
			step := width / float64(len(ph.tasks))
			from := at + step*float64(j)*0.9
			to := min(from+step*1.5, 1)
			t := task{
				code:   parent + string(rune('1'+j)),
				parent: parent,
				name:   name,
				start:  l.day(from),
				finish: l.day(to),
				middle: (from + to) / 2,
				rule:   s.rule,
			}
			if j == 0 && (s.rule == "units" || s.rule == "items" || s.rule == "steps") {
				t.rule = "stated"
			}
			if s.rule == "items" && i != 3 || s.rule == "steps" && i != 3 || s.rule == "units" && i < 3 {
				t.rule = "stated"
			}
			l.tasks = append(l.tasks, t)
		}
		at += width
		level := "project"
		if i == 2 || i == 4 {
			level = "programme"
		} else if i >= 3 {
			level = "portfolio"
		}
		gate := ph.gate
		if i >= 2 && gates[s.code][i-2] != "" {
			gate = gates[s.code][i-2]
		}
		l.tasks = append(
			l.tasks,
			task{
				code:      parent + "9",
				parent:    parent,
				name:      gate,
				milestone: true,
				level:     level,
				start:     l.day(at),
				finish:    l.day(at),
				middle:    at,
			},
		)
	}
	for i := range l.tasks {
		t := &l.tasks[i]
		wobble := (l.rand.Float64() - 0.5) * 6
		t.real = [2]time.Time{
			l.move(t.start, l.delay(math.Max(t.middle-0.05, 0))+wobble),
			l.move(t.finish, l.delay(t.middle)+wobble),
		}
	}
	return l
}

// day gives the working day at a share of the project.
func (l *life) day(share float64) time.Time { return l.move(l.begin, share*l.days) }

func (l *life) move(t time.Time, days float64) time.Time {
	t = t.AddDate(0, 0, int(math.Round(days)))
	if t.Before(l.begin) {
		t = l.begin
	}
	for t.Weekday() == time.Saturday || t.Weekday() == time.Sunday {
		t = t.AddDate(0, 0, 1)
	}
	return t
}

// delay is the days by which what lies at a share of the project comes late.
func (l *life) delay(share float64) float64 {
	if l.recovers {
		if share > 0.52 {
			return 0
		}
		return l.spec.late * l.days * math.Sin(math.Pi*share/0.52)
	}
	return l.spec.late * l.days * smooth((share-l.lateFrom)/(1-l.lateFrom))
}

// smooth rises from 0 to 1 between 0 and 1.
func smooth(x float64) float64 {
	x = min(max(x, 0), 1)
	return x * x * (3 - 2*x)
}

// frozen is the last period in which anything moves.
func (l *life) frozen(p int) int {
	if l.stopped > 0 {
		return min(p, l.stopped-1)
	}
	return p
}

// done is the share of a task that is done at the end of a period.
func (l *life) done(t *task, p int) float64 {
	d := lastDay(l.frozen(p))
	if d.Before(t.real[0]) {
		return 0
	}
	if !d.Before(t.real[1]) {
		return 1
	}
	return d.Sub(t.real[0]).Hours() / max(t.real[1].Sub(t.real[0]).Hours(), 24)
}

// earned is the share of the project that is done at the end of a period.
func (l *life) earned(p int) float64 {
	if p < l.start {
		return 0
	}
	var all, got float64
	for i := range l.tasks {
		t := &l.tasks[i]
		if t.milestone {
			continue
		}
		w := t.finish.Sub(t.start).Hours() + 24
		all += w
		got += w * l.done(t, p)
	}
	return got / all
}

// planned is the share of the plan through a month of the project: an S.
func (l *life) planned(month int) float64 {
	var all, got float64
	end := lastDay(l.start + month)
	for i := range l.tasks {
		t := &l.tasks[i]
		if t.milestone {
			continue
		}
		w := t.finish.Sub(t.start).Hours() + 24
		all += w
		got += w * min(max(end.Sub(t.start).Hours()/max(t.finish.Sub(t.start).Hours(), 24), 0), 1)
	}
	return got / all
}

// price is what the share of the project earned costs, relative to plan.
func (l *life) price(share float64) float64 {
	return 1 + l.dear*smooth((share-l.dearFrom)/max(0.45-l.dearFrom/2, 0.2))
}

// spent is the cost through a period in units of the whole plan.
func (l *life) spent(p int) float64 {
	var sum, before float64
	for q := l.start; q <= p; q++ {
		e := l.earned(q)
		sum += (e - before) * l.price(e)
		before = e
	}
	return sum
}

// admitted is the delay in days that the lead states at the end of a period.
func (l *life) admitted(p int) float64 {
	if l.recovers {
		return l.delay(l.earned(p)) * 0.9
	}
	return l.delay(min(l.earned(p)*1.1, 1)) * (1 - l.hope)
}

// running tells whether a project states anything in a period.
func (l *life) running(p int) bool {
	if l.state == "proposed" || p < l.start || l.stopped > 0 && p >= l.stopped || l.silentIn > 0 && p == l.silentIn {
		return false
	}
	return l.state != "finished" || p <= l.stateFrom
}
