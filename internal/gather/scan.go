package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/money"
	"turret/internal/record"
)

// scan reads all rows for how their cells are written, and checks totals.
func (f *finder) scan() {
	u := f.u
	numbers, days := make([]*numberForms, len(u.Uses)), make([]*dayForms, len(u.Uses))
	for i, x := range u.Uses {
		typ := f.typeOf(x.As)
		if x.Of != "" {
			typ = f.typeOf(x.Of)
		}
		switch {
		case x.As == AsMonth && x.Of == "" || x.As == AsTotal || isNumeric(typ):
			numbers[i] = &numberForms{ranged: f.t.Name == "progress"}
			if typ == record.Money {
				numbers[i].money = make(map[money.Currency]seen)
			}
		case isDay(typ) || typ == record.Period:
			days[i] = &dayForms{}
		}
	}
	u.Rows = 0
	docs := f.documents()
	var shut seen
	shuts := 0
	f.s.Each(func(l *Line) bool {
		if words := u.balance(l); words != "" && l.N > u.Head && l.Wrong == "" {
			shut.note(words, l.N)
			shuts++
		}
		if l.N <= u.Head || l.Wrong != "" || l.Blank() || u.leaves(l) || u.repeatsHead(l) {
			return true
		}
		if l.Hidden {
			u.Hidden++
		}
		if u.lone(l) {
			f.alone.note(textOf(l), l.N)
			f.alones++
			return true
		}
		total := u.totalRow(l)
		if !total {
			u.Rows++
			docs.see(u, l)
		} else {
			f.totals++
		}
		for i := range u.Uses {
			c := l.At(i)
			if numbers[i] != nil {
				numbers[i].see(c, l.N)
			}
			if days[i] != nil && !total {
				if f.typeOf(u.Uses[i].As) == record.Period {
					if p, _ := readMonth(c.Text, "", f.o.Periods); p != 0 && c.Kind == Words {
						continue
					}
				}
				days[i].see(c, l.N, u.From1904)
			}
		}
		return true
	})
	docs.settle(u)
	if shuts > 0 {
		u.note("%s the balance of an account and no booking, as %s: left out.", plural(shuts, "row states", "rows state"), shut)
	}
	if f.alones > 0 {
		u.note("%s nothing but a few words, as %s: passed over.", plural(f.alones, "row says", "rows say"), f.alone)
	}
	f.numbers(numbers)
	f.currencyOfCells(numbers)
	f.days(days)
	if u.Hidden > 0 {
		u.note("%s the spreadsheet does not show; they were read all the same.", plural(u.Hidden, "row", "rows"))
	}
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// typeOf is the type of the table's column that one is taken for.
func (f *finder) typeOf(as string) record.Type {
	switch as {
	case AsCredit:
		as = "amount"
	case AsInverse:
		as = "rate"
	}
	if as == AsMonth || as == AsTotal {
		as = unfolded(f.t)
	}
	if i := f.t.Index(as); i >= 0 {
		return f.t.Columns[i].Type
	}
	return record.Text
}

// numbers settles the form of each column of numbers; months are one column.
func (f *finder) numbers(all []*numberForms) {
	u := f.u
	months := &numberForms{ranged: f.t.Name == "progress"}
	first := -1
	for i, n := range all {
		if n != nil && u.Uses[i].As == AsMonth {
			months.join(n)
			if first < 0 {
				first = i
			}
		}
	}
	for i, n := range all {
		if n == nil {
			continue
		}
		month := u.Uses[i].As == AsMonth
		if month || u.Uses[i].As == AsTotal && first >= 0 {
			n = months
		}
		form, conflict, question := n.settle(f.told(i, Point, Comma))
		u.Uses[i].Form = form
		if n.dash.row != 0 && f.typeOf(u.Uses[i].As) == record.Money {
			f.dashes(i, n)
		}
		switch {
		case month && i != first || u.Uses[i].As == AsTotal:
		case conflict != "":
			u.ask(i, "forms", fmt.Sprintf("%s: %s", f.called(i), conflict))
		case question != "":
			u.ask(i, "forms", fmt.Sprintf("%s: %s", f.called(i), question), Point, Comma)
		}
		if form != "" {
			u.Columns[i].Form = formName(form)
		}
		if f.s.shares[i] && f.typeOf(u.Uses[i].As) == record.Money && u.Uses[i].As != AsTotal {
			u.ask(i, "columns", fmt.Sprintf("%s: it holds percents, and no amounts; say what it is", f.called(i)), AsNone, AsExtra)
		}
		u.Uses[i].Share = f.s.shares[i] && f.typeOf(u.Uses[i].As) == record.Decimal
		if !u.Uses[i].Share && f.t.Name == "progress" && (u.Uses[i].As == "percent" || month) {
			f.sharesOfOne(i, n)
		}
	}
}

// sharesOfOne takes percents as shares where none is above one and some are between: 0.45
// is 45 percent. Where all are nought or one it is asked.
func (f *finder) sharesOfOne(i int, n *numberForms) {
	u, told := f.u, f.told(i, Shares, Percents)
	if n.above && n.between && !n.percent && !n.parts && told == "" {
		u.ask(i, "forms", fmt.Sprintf(
			"%s: some are parts of one and others whole percents; say what 0.8 is, or correct those that are meant otherwise", f.called(i),
		), Percents, Shares)
		return
	}
	if n.above && told != Shares || n.percent || !n.between && n.ones == 0 {
		return
	}
	switch {
	case told == Shares || n.between:
		u.Uses[i].OfOne = true
		u.note("%s: none is above one, so that they are taken as shares: 0.45 is 45%%.", f.called(i))
	case told == Percents:
	default:
		u.ask(i, "forms", fmt.Sprintf("%s: all are nought or one, which can be one percent or all of it; say which", f.called(i)), Shares, Percents)
	}
}

// called names a column in a question.
func (f *finder) called(i int) string {
	if h := f.u.Columns[i].Head; h != "" {
		return h
	}
	return "column " + letters(i)
}

// told is the form that someone said a column has.
func (f *finder) told(i int, forms ...string) string {
	for _, key := range [...]string{f.u.Heads[i], Every} {
		if v := f.m.Forms[key]; slices.Contains(forms, v) {
			return v
		}
		for v := range strings.FieldsFuncSeq(f.m.Forms[key], func(r rune) bool { return r == ',' }) {
			if slices.Contains(forms, v) {
				return v
			}
		}
	}
	return ""
}

// dashes decides what "-" means among amounts: zero, where no other cell
// writes zero as a number.
func (f *finder) dashes(i int, n *numberForms) {
	u := f.u
	switch {
	case f.m.Dash != "":
		u.Dash = f.m.Dash
	case n.zero.row == 0:
		if u.Dash == "" {
			u.Dash = DashZero
			u.note(`%s: "-" is taken as zero, as in row %d.`, f.called(i), n.dash.row)
		}
	default:
		if !slices.ContainsFunc(u.Questions, func(q Question) bool { return q.About == "dash" }) {
			u.ask(
				i,
				"dash",
				fmt.Sprintf(
					`%s: "-" in row %d can mean zero or that nothing is said, since %s writes zero in full`,
					f.called(i),
					n.dash.row,
					n.zero,
				),
				DashZero,
				DashNothing,
			)
		}
	}
}

// days settles the order of each column of days.
func (f *finder) days(all []*dayForms) {
	u := f.u
	for i, d := range all {
		if d == nil {
			continue
		}
		form, conflict, question := d.settle(f.told(i, dayOrders[:]...))
		if f.shortYears(i) {
			form, conflict, question = ShortYear, "", ""
		}
		if question != "" {
			if order, why := f.orderOf(i, all); order != "" {
				form, question = order, ""
				u.note(
					"%s: %s, as in %s: %s.",
					f.called(i),
					map[string]string{DayFirst: "days come first", MonthFirst: "months come first"}[order],
					d.differ,
					why,
				)
			}
		}
		u.Uses[i].Form = form
		switch {
		case conflict != "":
			u.ask(i, "forms", fmt.Sprintf("%s: %s", f.called(i), conflict))
		case question != "":
			u.ask(i, "forms", fmt.Sprintf("%s: %s", f.called(i), question), DayFirst, MonthFirst)
		}
		if form != "" && d.n > 0 {
			u.Columns[i].Form = form
			if d.serial {
				u.Columns[i].Form = "days of the spreadsheet"
			}
		}
	}
}

// orderOf finds whether days or months come first in a column whose cells fit both: by
// the period that its rows state, else by the other columns of days, which one person
// writes alike. why tells which.
func (f *finder) orderOf(column int, all []*dayForms) (order, why string) {
	if order = f.orderByPeriod(column); order != "" {
		return order, "so they fall in the period beside them"
	}
	for i, d := range all {
		if i == column || d == nil || d.n == 0 || d.fails[0].row == 0 {
			continue
		}
		form, _, question := d.settle("")
		switch {
		case question != "" || form == "":
		case order != "" && order != form:
			return "", ""
		default:
			order, why = form, fmt.Sprintf("%q is written so", f.called(i))
		}
	}
	return order, why
}

// orderByPeriod tells the one order in which all days of a column fall in the period
// that their row states.
func (f *finder) orderByPeriod(column int) string {
	beside := f.u.column("period")
	if beside < 0 || f.u.Uses[column].As != "date" {
		return ""
	}
	fits, told := map[string]bool{DayFirst: true, MonthFirst: true}, false
	f.u.data(f.s, func(l *Line) bool {
		p, _ := readMonth(l.At(beside).Text, "", f.o.Periods)
		d := readDay(l.At(column).Text)
		if p == 0 || !d.any() {
			return true
		}
		told = true
		for order := range fits {
			day := d.in(order)
			fits[order] = fits[order] && day != 0 && f.o.Periods.Of(day) == p
		}
		return fits[DayFirst] || fits[MonthFirst]
	})
	switch {
	case !told || fits[DayFirst] == fits[MonthFirst]:
		return ""
	case fits[DayFirst]:
		return DayFirst
	}
	return MonthFirst
}
