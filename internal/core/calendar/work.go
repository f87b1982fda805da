package calendar

import (
	"sort"
	"time"
)

// Calendar tells working days: those of a work week that are not holidays. It
// answers from prefix sums over all days that Turret accepts.
type Calendar struct {
	Code string
	upTo []int32 // working days from Earliest through day Earliest+i-1
}

// Week marks the working days of a week, Sunday first as in time.Weekday.
type Week [7]bool

// MondayToFriday is the work week unless the office sets another.
var MondayToFriday = Week{false, true, true, true, true, true, false}

// New makes a calendar from a work week and its holidays.
func New(code string, week Week, holidays []Date) *Calendar {
	off := make(map[Date]bool, len(holidays))
	for _, h := range holidays {
		off[h] = true
	}
	c := &Calendar{Code: code, upTo: make([]int32, Latest-Earliest+2)}
	day := int(Earliest.Time().Weekday())
	for d := Earliest; d <= Latest; d++ {
		n := c.upTo[d-Earliest]
		if week[day] && !off[d] {
			n++
		}
		c.upTo[d-Earliest+1] = n
		day = (day + 1) % len(week)
	}
	return c
}

// through counts the working days from Earliest through d.
func (c *Calendar) through(d Date) int {
	return int(c.upTo[min(max(d, Earliest-1), Latest)-Earliest+1])
}

// Duration is the working days from start to finish, both included; zero where
// either is missing or finish comes first.
func (c *Calendar) Duration(start, finish Date) int {
	if start == 0 || finish < start {
		return 0
	}
	return c.through(finish) - c.through(start-1)
}

// Slip is the working days d with a < d ≤ b; where b comes first, minus those
// with b < d ≤ a.
func (c *Calendar) Slip(a, b Date) int { return c.through(b) - c.through(a) }

// WorkingDay gives the n-th working day after a day; with 0 the last one up to
// it, with -1 the one before that. Zero where it lies outside the days that
// Turret accepts.
func (c *Calendar) WorkingDay(d Date, n int) Date {
	k := c.through(d) + n
	i := sort.Search(len(c.upTo), func(i int) bool { return int(c.upTo[i]) >= k })
	if k < 1 || i == len(c.upTo) {
		return 0
	}
	return Earliest + Date(i) - 1
}

// Moved gives the day that lies as many working days after another as d lies after from:
// where a plan that begins on from is to begin on to. Where to is no working day, the plan
// begins on the next one. Zero where d is, or where it lies outside the days that Turret
// accepts.
func (c *Calendar) Moved(d, from, to Date) Date {
	if d == 0 {
		return 0
	}
	return c.WorkingDay(c.WorkingDay(to-1, 1), max(0, c.Slip(c.WorkingDay(from-1, 1), d)))
}

// ParseWeekday reads mon … sun.
func ParseWeekday(s string) (time.Weekday, bool) {
	for d := time.Sunday; d <= time.Saturday; d++ {
		if s == [...]string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}[d] {
			return d, true
		}
	}
	return 0, false
}
