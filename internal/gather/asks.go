package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/money"
	"turret/internal/record"
)

// required asks for what a row must state and nothing tells.
func (f *finder) required() {
	u := f.u
	for i := range f.t.Columns {
		c := &f.t.Columns[i]
		switch {
		case !required(f.t, c) || !f.lacks(c.Name) || c.Name == "posting" && u.Number != "":
		case c.Name == "period" && (f.hasMonths() || f.o.Period != 0 && f.t.Name != "costs"):
		case c.Name == "kind" && (f.kindsAbove() || f.u.Kinds):
		case c.Name == "section" && f.toldBySections():
		case c.Name == "period" && f.t == record.Costs.Kind:
			u.ask(-1, "fixed.period", "no column tells the month of the amounts; say which column does, or which month all are of")
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
		(f.u.Fixed["kind"] != "" || f.u.Kinds || f.anyMonthStated()) {
		u.ask(-1, "fixed.version", "nothing tells in which period it was stated; say so")
	}
	if f.t.Version == "period" && f.t.Keep == record.Parts && f.lacks("period") && !f.hasMonths() && f.o.Period == 0 {
		u.ask(-1, "fixed.period", "nothing tells in which period it was stated; say so")
	}
	if value := unfolded(f.t); value != "" && f.lacks(value) && !f.uses(AsInverse) && !f.hasMonths() && !f.hasCredit() && !f.dated() {
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
	for i := range u.Columns {
		if as := f.slipOf[tight(u.Columns[i].Head)]; as != "" && as == u.Uses[i].As {
			u.note("%q is taken for %s, which it nearly says.", u.Columns[i].Head, strings.ReplaceAll(as, "_", " "))
		}
	}
	f.between()
	f.leftOut()
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

// leftOut adds up what stands in each column of numbers that is left out of a sheet of
// amounts, so that what is not taken is told with its sum.
func (f *finder) leftOut() {
	u := f.u
	const most = 20_000 // rows
	var columns []int
	for i := range u.Uses {
		if (u.Uses[i].As == AsNone || u.Uses[i].As == AsTotal) && u.Columns[i].Head != "" {
			columns = append(columns, i)
		}
	}
	t := newTotaller(&u.Layout, true)
	if len(columns) == 0 || t == nil || u.Rows > most {
		return
	}
	form := Point
	for _, x := range u.Uses {
		if x.Form == Comma {
			form = Comma
		}
	}
	sums, said := make(map[int]int64), make(map[int]bool)
	u.data(f.s, func(l *Line) bool {
		for _, i := range columns {
			c := l.At(i)
			if c.Kind == Words {
				c.Text, _ = plainNumber(c.Text, form)
			}
			if n, err := money.ParseScaled(c.Text, sumScale); err == nil && c.Text != "" {
				sums[i], said[i] = sums[i]+n, true
			}
		}
		return true
	})
	for _, i := range columns {
		if said[i] {
			u.Columns[i].Why += "; " + money.Grouped(written(sums[i])) + " in all"
		}
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
		case c.Why == ofNoMonth && f.mostlyNumbers(i), isLater(c.Head) && (c.As == AsNone || c.As == AsExtra || c.As == AsTotal) && f.mostlyNumbers(i) && f.holdsMoney(i):
			u.ask(i, "columns", fmt.Sprintf(
				"%q holds amounts of no month that is told; say whether they are left out, or send their months", c.Head,
			), AsNone, AsExtra)
		case c.As == AsNone && c.Certainty != Likely && i > first && i < last && f.mostlyNumbers(i) && !differs(c.Head):
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

// sameMonthTwice asks which of two columns of one month counts.
func (f *finder) sameMonthTwice() {
	u := f.u
	seen := make(map[[6]string]int)
	for i, x := range u.Uses {
		if x.As != AsMonth || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		key := [...]string{x.Period, x.Kind, x.Code, x.Project, x.Activity, x.Of}
		at, twice := seen[key]
		if !twice {
			seen[key] = i
			continue
		}
		u.ask(i, "columns", fmt.Sprintf(
			"%s and %s are both of %s; say which counts, and that the other does not", f.called(at), f.called(i), u.Columns[i].Head,
		), AsMonth, AsNone)
	}
}

// ofNoMonth says why amounts of a kind are left out that no month is told for.
const ofNoMonth = "no month is told for it, beside amounts of months"

// changeSigns are heads of what changed.
var changeSigns = map[string]bool{"+/-": true, "±": true, "Δ": true, "+-": true, "∆": true}

// differs tells heads of columns that compare others, or are no amounts.
func differs(head string) bool {
	n := " " + Normal(head) + " "
	if strings.Contains(head, "%") || changeSigns[strings.Join(strings.Fields(head), "")] {
		return true
	}
	for _, w := range [...]string{
		"variance", "var", "delta", "difference", "diff", "change", "abweichung", "avvik", "ecart", "last", "previous", "prior", "vs",
		"hours", "hrs", "fte", "days", "stunden", "std", "tage", "timer", "dager", "timmar", "heures", "jours", "horas", "ore", "h", "qty", "quantity", "units", "menge", "percent",
	} {
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
