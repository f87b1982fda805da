package gather

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"turret/internal/record"
)

// scan reads all rows for how their cells are written, and checks totals.
func (f *finder) scan() {
	u := f.u
	numbers, days := make([]*numberForms, len(u.Uses)), make([]*dayForms, len(u.Uses))
	for i, x := range u.Uses {
		switch typ := f.typeOf(x.As); {
		case x.As == AsMonth || x.As == AsTotal || isNumeric(typ):
			numbers[i] = &numberForms{}
		case isDay(typ) || typ == record.Period:
			days[i] = &dayForms{}
		}
	}
	u.Rows = 0
	docs := f.documents()
	f.s.Each(func(l *Line) bool {
		if l.N <= u.Head || l.Wrong != "" || l.Blank() || u.leaves(l) || u.repeatsHead(l) {
			return true
		}
		if l.Hidden {
			u.Hidden++
		}
		total := u.totalRow(l)
		if !total {
			u.Rows++
			docs.see(u, l)
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
	f.numbers(numbers)
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
	if as == AsCredit {
		as = "amount"
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
	months := &numberForms{}
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
		u.Uses[i].Share = f.s.shares[i] && f.typeOf(u.Uses[i].As) == record.Decimal
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
	beside := slices.IndexFunc(f.u.Uses, func(x Use) bool { return x.As == "period" })
	if beside < 0 || f.u.Uses[column].As != "date" {
		return ""
	}
	fits, told := map[string]bool{DayFirst: true, MonthFirst: true}, false
	f.s.Each(func(l *Line) bool {
		if l.N <= f.u.Head || l.Wrong != "" || l.Blank() || f.u.leaves(l) || f.u.repeatsHead(l) || f.u.totalRow(l) {
			return true
		}
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

// required asks for what a row must state and nothing tells.
func (f *finder) required() {
	u := f.u
	for i := range f.t.Columns {
		c := &f.t.Columns[i]
		switch {
		case !required(f.t, c) || !f.lacks(c.Name) || c.Name == "posting" && u.Number != "":
		case c.Name == "period" && (f.hasMonths() || f.o.Period != 0 && f.t.Name != "costs"):
		case c.Name == "kind" && f.kindsAbove():
		case c.Name == "section" && f.toldBySections():
		case c.Type == record.Choice:
			u.ask(
				-1,
				"fixed."+c.Name,
				fmt.Sprintf("no column tells %s; say which it is for all rows", c.Name),
				c.Domain...)
		case c.Type == record.ProjectRef:
			u.ask(
				-1,
				"fixed.project",
				"no column tells the project; say which column does, or which project all rows are of",
			)
		default:
			u.ask(
				-1,
				"columns."+c.Name,
				fmt.Sprintf(
					"no column is %s, and each row needs one; say which column it is",
					strings.ReplaceAll(c.Name, "_", " "),
				),
			)
		}
	}
	if f.t.Name == "postings" && f.lacks("project") {
		u.ask(
			-1,
			"fixed.project",
			"no column tells the project; say which column does, or which project all rows are of",
		)
	}
	if f.t.Name == "costs" && f.lacks("version") && f.o.Period == 0 && f.states() &&
		(f.u.Fixed["kind"] != "" || f.anyMonthStated()) {
		u.ask(-1, "fixed.version", "nothing tells in which period it was stated; say so")
	}
	if f.t.Version == "period" && f.t.Keep == record.Parts && f.lacks("period") && !f.hasMonths() && f.o.Period == 0 {
		u.ask(-1, "fixed.period", "nothing tells in which period it was stated; say so")
	}
	if value := unfolded(f.t); value != "" && f.lacks(value) && !f.hasMonths() && !f.hasCredit() && !f.dated() {
		u.ask(
			-1,
			"columns."+value,
			fmt.Sprintf("no column holds %s, and no head is a period; say which column it is", value),
		)
	}
}

// dated tells whether a sheet of progress states dates or units, which need no
// percent beside them.
func (f *finder) dated() bool {
	return f.t.Name == "progress" && slices.ContainsFunc(f.u.Uses, func(x Use) bool {
		return slices.Contains([]string{"start", "finish", "actual_start", "actual_finish", "units_done"}, x.As)
	})
}

func (f *finder) hasCredit() bool {
	return slices.ContainsFunc(f.u.Uses, func(x Use) bool { return x.As == AsCredit })
}

func (f *finder) anyMonthStated() bool {
	return slices.ContainsFunc(f.u.Uses, func(x Use) bool {
		return (x.As == AsMonth || x.As == "amount") && (x.Kind == "forecast" || x.Kind == "commitment")
	})
}

// describe lowers the certainty of the whole to that of its parts, and leaves
// out numbers that no column of a table of months takes.
func (f *finder) describe() {
	u := f.u
	var left, bare, extra []string
	for i := range u.Uses {
		if u.Uses[i].As == AsNone && u.Columns[i].Head == "" && f.m.Columns[u.Heads[i]] == "" &&
			len(u.Columns[i].Sample) > 0 {
			bare = append(bare, f.called(i))
		}
		if u.Uses[i].As == AsExtra && f.hasMonths() && f.m.Columns[u.Heads[i]] == "" && f.mostlyNumbers(i) {
			u.Uses[i].As, u.Columns[i].As, u.Columns[i].Why = AsNone, AsNone, "it holds numbers that are no period's"
			left = append(left, f.called(i))
		}
		u.Columns[i].As = u.Uses[i].As
		if u.Uses[i].As == AsExtra && f.m.Columns[u.Heads[i]] == "" && len(u.Columns[i].Sample) > 0 {
			extra = append(extra, f.called(i))
		}
	}
	f.between()
	if len(extra) > 0 {
		u.note("Kept beside, since %s has no place for them: %s.", f.t.Name, strings.Join(extra, ", "))
	}
	if len(left) > 0 {
		u.note("Left out, since their heads are no periods: %s.", strings.Join(left, ", "))
	}
	if len(bare) > 0 {
		u.note("Left out, since they have no head: %s.", strings.Join(bare, ", "))
	}
	if len(u.Questions) > 0 {
		u.Certainty = Guess
	}
}

// between asks about columns of numbers that stand among months and are neither a
// period nor a sum, and about years beside months that none of them is in: leaving them
// out without a word would lose what they say.
func (f *finder) between() {
	u := f.u
	first, last := -1, -1
	years := make(map[int]bool)
	for i, x := range u.Uses {
		if x.As != AsMonth {
			continue
		}
		if first < 0 {
			first = i
		}
		last = i
		if p, err := f.o.Periods.Parse(x.Period); err == nil {
			years[f.o.Periods.FiscalYear(p)], years[f.o.Periods.Last(p).Time().Year()] = true, true
		}
	}
	for i := range u.Uses {
		c := &u.Columns[i]
		if first < 0 || f.m.Columns[u.Heads[i]] != "" || c.Head == "" {
			continue
		}
		year, _ := readYear(c.Head)
		switch {
		case year != 0 && c.As == AsTotal && !years[year] && f.mostlyNumbers(i):
			u.ask(i, "columns", fmt.Sprintf(
				"%q holds amounts of a year of which no month stands beside it: they are no sum, and no period is told for them; say whether they are left out, or send their months",
				c.Head,
			), AsNone, AsExtra)
		case c.As == AsNone && i > first && i < last && f.mostlyNumbers(i) && !differs(c.Head):
			u.ask(
				i,
				"columns",
				fmt.Sprintf("%q stands among periods and is none that is known; say what it is", c.Head),
				AsMonth,
				AsNone,
			)
		}
	}
}

// differs tells heads of columns that compare others.
func differs(head string) bool {
	n := " " + Normal(head) + " "
	for _, w := range [...]string{"variance", "var", "delta", "difference", "diff", "change", "abweichung", "avvik", "ecart", "last", "previous", "prior", "vs"} {
		if strings.Contains(n, " "+w+" ") {
			return true
		}
	}
	return false
}

func (f *finder) mostlyNumbers(i int) bool {
	n, all := 0, 0
	for _, r := range f.rows[f.at+1:] {
		if i < len(r.cells) && strings.TrimFunc(r.cells[i].Text, isSpace) != "" {
			all++
			_, point := plainNumber(r.cells[i].Text, Point)
			_, comma := plainNumber(r.cells[i].Text, Comma)
			if r.cells[i].Kind == Number || point || comma {
				n++
			}
		}
	}
	return n*2 > all
}

// totalRow tells a row that sums others: the first word in it says so, and it
// names no project and no code of its own.
func (l *Layout) totalRow(line *Line) bool {
	if l.Canonical {
		return false
	}
	label := ""
	for i := range line.Cells {
		if i >= len(l.Uses) {
			break
		}
		text := strings.TrimFunc(line.Cells[i].Text, isSpace)
		if text == "" || line.Cells[i].Kind == Number {
			continue
		}
		switch as := l.Uses[i].As; as {
		case AsMonth, AsTotal, "amount", AsCredit, "percent", "rate", "budget":
		default:
			if label == "" {
				label = text
			} else if as == "posting" || as == "date" || as == "activity" {
				return false
			}
		}
	}
	if label == "" || !isTotal(label) {
		return false
	}
	return l.sums() || bareTotal(line, label)
}

// sums tells a table whose rows can be sums of others.
func (l *Layout) sums() bool {
	switch l.Table {
	case "costs", "postings", "progress", "rates":
		return true
	}
	return false
}

// bareTotal tells a row that says nothing but that it is a sum, with no other words: the
// title of a risk may begin so.
func bareTotal(line *Line, label string) bool {
	if !slices.Contains(totals, Normal(label)) {
		return false
	}
	others := 0
	for i := range line.Cells {
		if line.Cells[i].Kind == Words && strings.ContainsFunc(line.Cells[i].Text, unicode.IsLetter) {
			others++
		}
	}
	return others == 1
}

// repeatsHead tells a row that names the columns again, as prints do on every
// page.
func (l *Layout) repeatsHead(line *Line) bool {
	if l.Canonical {
		return false
	}
	if pageLine(line) {
		return true
	}
	same, others := 0, 0
	for i := range line.Cells {
		if i >= len(l.Heads) || others*4 > len(l.Heads) {
			break
		}
		text := strings.TrimFunc(line.Cells[i].Text, isSpace)
		switch {
		case text == "":
		case line.Cells[i].Kind == Words && mayBe(text, l.Heads[i]) && (Normal(text) == l.Heads[i] || canonical(text) == l.Heads[i]):
			same++
		default:
			others++
		}
	}
	return same >= 2 && others*4 <= same
}

// pages are lines that prints have on every page.
var pages = regexp.MustCompile(`^(page|seite|side|blatt|sida|pagina) \d+( (of|von|av|de|di|van) \d+)?$`)

// pageLine tells a row that says nothing but which page it is on.
func pageLine(line *Line) bool {
	text := ""
	for i := range line.Cells {
		if t := strings.TrimFunc(line.Cells[i].Text, isSpace); t != "" {
			if text != "" || len(t) > 20 {
				return false
			}
			text = t
		}
	}
	return text != "" && pages.MatchString(Normal(text))
}

// mayBe rules out most texts that are not a head, by their first letter.
func mayBe(text, head string) bool {
	if head == "" || len(text) < len(head) {
		return false
	}
	c := text[0]
	if c >= 'A' && c <= 'Z' {
		c += 'a' - 'A'
	}
	letter := c >= 'a' && c <= 'z' || c >= '0' && c <= '9'
	return c == head[0] || !letter
}

// leaves tells a row that someone left out.
func (l *Layout) leaves(line *Line) bool {
	if slices.Contains(l.Leave, line.N) {
		return true
	}
	return slices.ContainsFunc(l.Skip, func(r SkipRule) bool { return r.fits(l.Heads, line) })
}
