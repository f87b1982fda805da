package calendar

import (
	"math/bits"
	"sort"
	"time"
)

// Calendar tells working days: those of a work week that are not holidays, on all days
// that Turret accepts. A bit stands for a day, so that a thousand calendars are small.
type Calendar struct {
	Code string
	week int      // working days of a week
	days []uint64 // bit i of word w: day Earliest + 64·w + i is worked
	upTo []int32  // working days before the first day of each word, and in all
}

// Week marks the working days of a week, Sunday first as in time.Weekday.
type Week [7]bool

// MondayToFriday is the work week unless the office sets another.
var MondayToFriday = Week{false, true, true, true, true, true, false}

const word = 64 // days

// New makes a calendar from a work week and its holidays.
func New(code string, week Week, holidays []Date) *Calendar {
	words := int(Latest-Earliest)/word + 1
	c := &Calendar{Code: code, days: make([]uint64, words), upTo: make([]int32, words+1)}
	for _, worked := range week {
		if worked {
			c.week++
		}
	}
	day := int(Earliest.Time().Weekday())
	for i := range int(Latest-Earliest) + 1 {
		if week[day] {
			c.days[i/word] |= 1 << (i % word)
		}
		day = (day + 1) % len(week)
	}
	for _, h := range holidays {
		if h >= Earliest && h <= Latest {
			i := int(h - Earliest)
			c.days[i/word] &^= 1 << (i % word)
		}
	}
	for i, w := range c.days {
		c.upTo[i+1] = c.upTo[i] + int32(bits.OnesCount64(w))
	}
	return c
}

// through counts the working days from Earliest through d.
func (c *Calendar) through(d Date) int {
	i := int(min(max(d, Earliest-1), Latest)-Earliest) + 1 // days
	n := int(c.upTo[i/word])
	if rest := i % word; rest > 0 {
		n += bits.OnesCount64(c.days[i/word] << (word - rest))
	}
	return n
}

// all counts the working days of the calendar.
func (c *Calendar) all() int { return int(c.upTo[len(c.upTo)-1]) }

// nth gives the k-th working day from Earliest, the first being 1; k lies within the
// calendar.
func (c *Calendar) nth(k int) Date {
	w := sort.Search(len(c.days), func(w int) bool { return int(c.upTo[w+1]) >= k })
	rest := c.days[w]
	for range k - int(c.upTo[w]) - 1 {
		rest &= rest - 1
	}
	return Earliest + Date(w*word+bits.TrailingZeros64(rest))
}

// Instant counts the working days through a day, from the first that Turret accepts: the
// end of a working day as a number. Before the first day and after the last every day
// counts, so that Instant and Day go on.
func (c *Calendar) Instant(d Date) int {
	switch {
	case d < Earliest:
		return int(d-Earliest) + 1
	case d > Latest:
		return c.all() + int(d-Latest)
	}
	return c.through(d)
}

// Day gives the working day that an instant is the end of: the first day whose Instant is k.
func (c *Calendar) Day(k int) Date {
	switch {
	case k < 1:
		return Earliest + Date(k) - 1
	case k > c.all():
		return Latest + Date(k-c.all())
	}
	return c.nth(k)
}

// Worked tells whether the calendar has a working day at all.
func (c *Calendar) Worked() bool { return c.all() > 0 }

// DaysOfWeek is the number of working days of a week without holidays.
func (c *Calendar) DaysOfWeek() int { return c.week }

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
	if k < 1 || k > c.all() {
		return 0
	}
	return c.nth(k)
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
