package gather

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// seen is a cell that speaks for a form, and where it stands.
type seen struct {
	text string
	row  int
}

func (s *seen) note(text string, row int) {
	if s.row == 0 {
		*s = seen{text, row}
	}
}

func (s seen) String() string { return fmt.Sprintf("%q in row %d", s.text, s.row) }

// numberForms gathers how the numbers of a column are written: all in one
// form, or it is asked.
type numberForms struct {
	n                    int
	point, comma, either seen // cells that only a point fits, only a comma, or both with different values
	dash, zero           seen
	unread               seen
	odd                  int
	ranged               bool                    // it matters where its numbers lie
	money                map[money.Currency]seen // the currencies beside its amounts; nil: they are none
	above, between       bool                    // a number is above one; between nought and one
	parts                bool                    // one above one has decimals
	percent              bool                    // one is written with its sign
	ones                 int
}

// What numbers that are all nought or one can be said to be.
const (
	Shares   = "shares"
	Percents = "percent"
)

// size notes where a number lies.
func (f *numberForms) size(text string) {
	if !f.ranged {
		return
	}
	switch n, err := strconv.ParseFloat(text, 64); {
	case err != nil:
	case n > 1:
		f.above, f.parts = true, f.parts || n != math.Trunc(n)
	case n == 1:
		f.ones++
	case n > 0:
		f.between = true
	}
}

func (f *numberForms) see(c Cell, row int) {
	if c.Kind != Words {
		if c.Kind == Number {
			f.n++
			f.size(c.Text)
		}
		return
	}
	text := c.Text
	f.percent = f.percent || strings.Contains(text, "%")
	if text == "" || isBlank(text) || saysNothing(text) {
		return
	}
	if f.ranged && doneSaid(text) != "" {
		return
	}
	if f.money != nil {
		if c := currencyOf(text); c != "" && f.money[c].row == 0 {
			f.money[c] = seen{text, row}
		}
	}
	if isDash(text) {
		f.dash.note(text, row)
		return
	}
	p, okP := plainNumber(text, Point)
	k, okC := plainNumber(text, Comma)
	if okP && isZero(p) || okC && isZero(k) {
		f.zero.note(text, row)
	}
	if okP {
		f.size(p)
	} else if okC {
		f.size(k)
	}
	switch {
	case okP && okC && p != k:
		f.either.note(text, row)
	case okP && !okC:
		f.point.note(text, row)
	case okC && !okP:
		f.comma.note(text, row)
	case !okP && !okC:
		f.unread.note(text, row)
		f.odd++
		return
	}
	f.n++
}

func isBlank(s string) bool {
	for _, r := range s {
		if !isSpace(r) {
			return false
		}
	}
	return true
}

func isZero(plain string) bool {
	for i := 0; i < len(plain); i++ {
		if plain[i] >= '1' && plain[i] <= '9' {
			return false
		}
	}
	return true
}

// join adds what another column of the same kind of amounts says.
func (f *numberForms) join(g *numberForms) {
	f.n, f.ones = f.n+g.n, f.ones+g.ones
	f.above, f.between, f.percent = f.above || g.above, f.between || g.between, f.percent || g.percent
	f.parts = f.parts || g.parts
	for _, x := range [...][2]*seen{{&f.point, &g.point}, {&f.comma, &g.comma}, {&f.either, &g.either}, {&f.dash, &g.dash}, {&f.zero, &g.zero}} {
		if x[1].row != 0 {
			x[0].note(x[1].text, x[1].row)
		}
	}
}

// settle gives the one form that fits, or why none does, or a question.
func (f *numberForms) settle(told string) (form, conflict, question string) {
	switch {
	case told == Point || told == Comma:
		return told, "", ""
	case f.point.row != 0 && f.comma.row != 0:
		return "", fmt.Sprintf(
			"%s can only be read with a decimal point, and %s only with a decimal comma; write them alike, or split the file",
			f.point,
			f.comma,
		), ""
	case f.point.row != 0:
		return Point, "", ""
	case f.comma.row != 0:
		return Comma, "", ""
	case f.either.row != 0:
		return "", "", fmt.Sprintf(
			"%s can be read with a decimal point or a decimal comma, and no other cell tells which",
			f.either,
		)
	}
	return Point, "", ""
}

// dayForms gathers how the days of a column are written.
type dayForms struct {
	n       int
	fails   [3]seen // by order: a cell that another order reads and this one does not
	differ  seen    // a day that two orders read differently
	differs [2]calendar.Date
	unread  seen
	serial  bool
}

var dayOrders = [...]string{YearFirst, DayFirst, MonthFirst}

func (f *dayForms) see(c Cell, row int, from1904 bool) {
	if c.Kind == Number {
		if serialDay(c.Text, from1904) != 0 {
			f.n, f.serial = f.n+1, true
		} else {
			f.unread.note(c.Text, row)
		}
		return
	}
	if c.Kind != Words || c.Text == "" || isBlank(c.Text) || isDash(c.Text) || saysNothing(c.Text) {
		return
	}
	d := readDay(c.Text)
	if !d.any() {
		f.unread.note(c.Text, row)
		return
	}
	f.n++
	for i, o := range dayOrders {
		if d.in(o) == 0 {
			f.fails[i].note(c.Text, row)
		}
	}
	if d.day != 0 && d.month != 0 && d.day != d.month && f.differ.row == 0 {
		f.differ, f.differs = seen{c.Text, row}, [2]calendar.Date{d.day, d.month}
	}
}

// settle gives the one order that fits all cells, or why none does, or a
// question.
func (f *dayForms) settle(told string) (form, conflict, question string) {
	if told != "" {
		return told, "", ""
	}
	year, day, month := f.fails[0].row == 0, f.fails[1].row == 0, f.fails[2].row == 0
	switch {
	case year:
		return YearFirst, "", ""
	case day && month && f.differ.row != 0:
		return "", "", fmt.Sprintf(
			"%s can be %s or %s, and no other cell tells whether days or months come first",
			f.differ,
			f.differs[0].Time().Format("2 Jan 2006"),
			f.differs[1].Time().Format("2 Jan 2006"),
		)
	case day:
		return DayFirst, "", ""
	case month:
		return MonthFirst, "", ""
	}
	return "", fmt.Sprintf(
		"no order of day, month and year fits all its cells: %s, and %s; write them alike, or split the file",
		f.fails[1],
		f.fails[2],
	), ""
}

// formName says a form to people.
func formName(form string) string {
	switch form {
	case Point:
		return "decimal point"
	case Comma:
		return "decimal comma"
	}
	return form
}

// isNumeric and isDay tell which columns have forms to be found.
func isNumeric(t record.Type) bool {
	switch t {
	case record.Money, record.Decimal, record.Whole, record.RateText:
		return true
	}
	return false
}

func isDay(t record.Type) bool { return t == record.Date || t == record.Day }
