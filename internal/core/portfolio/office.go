package portfolio

import (
	"slices"
	"sort"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Office is what all projects share.
type Office struct {
	Name         string
	Reporting    money.Currency
	Periods      *calendar.Periods
	Calendars    map[string]*calendar.Calendar
	Rates        *money.Rates
	Codes        map[int64]CostCode
	Centres      map[string]Centre // of cost, by code
	Groups       []Programme       // sorted by code
	Calendar     string            // code of the office's own calendar, if set
	NearCritical int               // an activity is near-critical within so many working days of float
	MovedLimit   float64           // so many times more or less a forecast may come to without being asked about
	CodeLevels   map[string]int    // level of cost codes that a role reads, by role; zero: all
	Due          map[string]int    // working days after a period's end, by kind of statement
	Owing        []Owing           // what projects owe, where it is not the usual
	Stating      []Stating         // who states for projects beside their leads
	ReadOwn      map[string]bool   // roles that read no more than what they state for, and are let read
	Grants       []Grant           // who reads and approves what, where it is not everything
	Second       []string          // roles that are asked for a second factor
	AccessDays   int               // for how many days the log of access is kept; zero: for ever
	Remind       Reminding         // of statements that are owed
	Funding      []Funding         // of programmes and the whole portfolio, by period
	Clients      map[string]string // names of clients, by code
	Depths       map[string]int    // levels of cost codes on which plans are estimated, by stage
	Sections     []Section         // of words, in their order
	Discount     int64             // yearly rate of present values, in millionths of a percent; below zero: none is set
	standard     *calendar.Calendar
}

// StandardNearCritical is the limit of near-critical of an office which sets none, in
// working days.
const StandardNearCritical = 5

// StandardMovedLimit is that of an office which sets none.
const StandardMovedLimit = 5

// DueOn gives the day by which a kind of statement is due for a period, on the
// office's calendar; zero where none is set.
func (o *Office) DueOn(statement string, p calendar.Period) calendar.Date {
	days, set := o.Due[statement]
	if !set || !o.Periods.Exists(p) {
		return 0
	}
	return o.CalendarOf("").WorkingDay(o.Periods.Last(p), days)
}

// Reminding tells on which days writers are reminded of a statement: so many days before
// it is due, and after.
type Reminding struct{ Before, After []int }

// StandardReminding is that of an office which sets none.
var StandardReminding = Reminding{Before: []int{2}, After: []int{1, 4}}

// On tells whether writers are reminded on a day of what is due on another.
func (r Reminding) On(today, due calendar.Date) bool {
	return slices.Contains(r.Before, int(due-today)) || slices.Contains(r.After, int(today-due))
}

// CostCode is a node of the office's tree of cost codes.
type CostCode struct {
	Code    string
	Name    string
	Parent  int64
	Reserve string
}

// Centre is a node of the office's tree of cost centres.
type Centre struct{ Name, Parent string }

// Programme is a node of the tree of programmes.
type Programme struct {
	ID     int64
	Code   string
	Name   string
	Parent string
	Owner  string
}

// CalendarOf gives the calendar of a code. Without one, or with one that is
// not known, it is the office's: the
// one set, else the only one, else the one coded "office", else Monday to Friday without holidays.
func (o *Office) CalendarOf(code string) *calendar.Calendar {
	if c := o.Calendars[code]; c != nil {
		return c
	}
	return o.standard
}

// Settle picks the office's own calendar once Calendars is complete.
func (o *Office) Settle() {
	o.standard = o.Calendars["office"]
	if c := o.Calendars[o.Calendar]; c != nil {
		o.standard = c
	} else if len(o.Calendars) == 1 {
		for _, c := range o.Calendars {
			o.standard = c
		}
	}
	if o.standard == nil {
		o.standard = calendar.New("", calendar.MondayToFriday, nil)
	}
	sort.Slice(o.Groups, func(i, j int) bool { return o.Groups[i].Code < o.Groups[j].Code })
}

// ManagementReserve tells whether a cost code, or one above it, is management
// reserve, which stays out of BAC and PV.
func (o *Office) ManagementReserve(id int64) bool {
	for range len(o.Codes) + 1 {
		c, ok := o.Codes[id]
		if !ok {
			return false
		}
		if c.Reserve == "management" {
			return true
		}
		id = c.Parent
	}
	return false
}

// CodeLevel is how deep a cost code lies in the tree: 1 at the top; 0 where there is none.
func (o *Office) CodeLevel(id int64) int {
	level := 0
	for range len(o.Codes) {
		c, ok := o.Codes[id]
		if !ok {
			break
		}
		level, id = level+1, c.Parent
	}
	return level
}

// CodeUnder tells whether a cost code is the one of a code text or lies below
// it.
func (o *Office) CodeUnder(id int64, above string) bool {
	for range len(o.Codes) + 1 {
		c, ok := o.Codes[id]
		if !ok {
			return false
		}
		if c.Code == above {
			return true
		}
		id = c.Parent
	}
	return false
}

// Chain lists a programme and those above it, the nearest first.
func (o *Office) Chain(code string) []string {
	var out []string
	for code != "" && len(out) <= len(o.Groups) {
		out = append(out, code)
		i := sort.Search(len(o.Groups), func(i int) bool { return o.Groups[i].Code >= code })
		if i == len(o.Groups) || o.Groups[i].Code != code {
			break
		}
		code = o.Groups[i].Parent
	}
	return out
}

// Under tells whether a programme is another or lies below it.
func (o *Office) Under(code, above string) bool {
	for range len(o.Groups) + 1 {
		if code == above {
			return true
		}
		i := sort.Search(len(o.Groups), func(i int) bool { return o.Groups[i].Code >= code })
		if i == len(o.Groups) || o.Groups[i].Code != code || code == "" {
			return false
		}
		code = o.Groups[i].Parent
	}
	return false
}
