package gather

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"turret/internal/core/calendar"
)

func periodOf(p int32) calendar.Period { return calendar.Period(p) }

// around is what stands around the table, the nearest first: the rows above it, from the
// last, then the names of sheet and file.
func (f *finder) around() []string { return f.aroundRow(f.at) }

func (f *finder) aroundRow(at int) (out []string) {
	for k, r := range slices.Backward(f.rows[:at]) {
		if f.isBand(at, k) {
			continue
		}
		var line []string
		for i := range r.cells {
			if text := f.shownAt(r, i); text != "" {
				line = append(line, text)
			}
		}
		if text := strings.Join(line, " "); !isRemark(text) {
			out = append(out, text)
		}
	}
	return append(append(out, f.s.title()), append(slices.Clone(f.s.cover), fileTitle(f.s.File))...)
}

// fileTitle is the name of a file without its folder and ending.
func fileTitle(name string) string { return strings.TrimSuffix(path.Base(name), path.Ext(name)) }

// isBand tells a row of heads above a row: several periods, or kinds of amounts.
func (f *finder) isBand(at, k int) bool {
	const most = 2 // rows
	if at-k > most || f.rows[at].n-f.rows[k].n > most {
		return false
	}
	several := 0
	for i := range f.rows[k].cells {
		text := f.head(k, i)
		if text == "" {
			continue
		}
		if p, _ := readMonth(bareHead(text), "", f.o.Periods); p != 0 || kindOf(text) != "" {
			several++
		} else if y, _ := readYear(text); y != 0 {
			several++
		}
	}
	return several > 1
}

// remarks are the words that begin one.
var remarks = wordsOf("note notes nb remark remarks comment hinweis bemerkung anmerkung merk merknad anm nota remarque observation opmerking")

// isRemark tells a line that says of itself that it is a remark.
func isRemark(text string) bool {
	first, rest, _ := strings.Cut(Normal(text), " ")
	return remarks[first] && rest != "" && strings.ContainsAny(text[:min(len(text), 14)], ":.-–")
}

func (f *finder) shownAt(r sample, i int) string {
	if shown := f.s.shown[r.n]; i < len(shown) && r.cells[i].Kind == Number && showsDay(shown[i]) {
		if d := serialDay(r.cells[i].Text, f.s.from1904); d != 0 {
			return d.String()
		}
	}
	return strings.TrimFunc(r.cells[i].Text, isSpace)
}

// fix finds what all rows say of columns that the sheet lacks: by what was
// said, by the name of the sheet or file, and by the rows above the header.
func (f *finder) fix() {
	u := f.u
	u.Fixed = make(map[string]string)
	for k, v := range f.m.Fixed {
		at := f.t.Index(k)
		if at < 0 || v == "" {
			continue
		}
		if refers(&f.t.Columns[at]) {
			if found := f.o.Names.Find(k, v); len(found) == 1 {
				v = found[0]
			}
		}
		u.Fixed[k] = v
		if u.Said == nil {
			u.Said = make(map[string]bool)
		}
		u.Said[k] = true
	}
	if f.summary && f.lacks("section") {
		u.Fixed["section"] = "summary"
	}
	f.scores()
	f.grid()
	f.onlyScore()
	f.moneyImpact()
	f.onlyWords()
	f.noMoneyAbove()
	f.whenBoth()
	f.closedDays()
	f.kindsBeside()
	f.nested()
	f.looks()
	f.looksPeriod()
	f.looksDone()
	f.looksKind()
	f.classColumns()
	f.sumAlone()
	f.doneOfMany()
	f.plannedAlone()
	around := f.around()
	if f.lacks("project") {
		f.fixProject(around)
	}
	f.sections()
	f.accounts()
	if code := f.sheetOfCode(); code != "" && f.lacks("cost_code") {
		u.Fixed["cost_code"] = code
		u.note("All rows are taken for the cost code %s: the sheet is named by it.", code)
	}
	f.sheetOfState()
	f.sheetOfIssues()
	f.kindsBetween()
	f.classesBetween()
	f.statesBetween()
	f.inYear()
	f.weighted()
	f.scaleOfMoney()
	f.halfScored()
	f.sameMonthTwice()
	f.monthAlone()
	if f.t.Name == "costs" && f.lacks("kind") && !f.kindsAbove() && !f.u.Kinds {
		if head, k := f.amountKind(); k != "" {
			u.Fixed["kind"] = k
			u.note("All amounts are taken as %s: the head %q says so.", k, head)
			if other, _ := f.fixKind(around); other != "" && other != k {
				u.ask(-1, "fixed.kind", fmt.Sprintf(
					"the head %q says that amounts are %s, and the title or the name of the file %s; say which they are", head, k, other,
				), k, other)
			}
		} else if k, other := f.fixKind(around); k != "" {
			u.Fixed["kind"] = k
			if other != "" {
				u.ask(-1, "fixed.kind", fmt.Sprintf(
					"titles and names speak of %s and of %s; say which the amounts are", k, other,
				), k, other)
			}
			u.note("All amounts are taken as %s: the name of the file or sheet, or a row above the table, says so.", k)
		} else if head := f.soFar(); head != "" {
			u.Fixed["kind"] = "actual"
			u.note("All amounts are taken as actual: %q stands beside them, which is of what was spent.", head)
		}
	}
	f.fixPeriod(around)
	f.unitColumn()
	f.currencyOfOther()
	f.fixUnit()
}

// soFar gives the head of a column of sums so far, which stand beside what was spent, where
// no head speaks of a plan; "" where there is none.
func (f *finder) soFar() (head string) {
	for i := range f.u.Columns {
		h := f.u.Columns[i].Head
		if bandKind(f.high[i]) == "plan" || kindIn(h) != "" && kindIn(h) != "actual" {
			return ""
		}
		if runningIn(h) != "" && f.u.Uses[i].As != "amount" {
			head = h
		}
	}
	return head
}

// lacks tells whether neither a column nor anything else says a column.
func (f *finder) lacks(name string) bool {
	at := f.t.Index(name)
	if at < 0 || f.u.Fixed[name] != "" || f.u.Section == name || f.u.Accounts && name == "cost_code" {
		return false
	}
	for _, x := range f.u.Uses {
		if x.As == name || name == "cost_code" && x.Code != "" || x.Then == name || name == "kind" && x.Kinds || name == "activity" && x.Activity != "" || name == "project" && x.Project != "" {
			return false
		}
	}
	return true
}

func (f *finder) kindsAbove() bool {
	months, kinds := 0, 0
	for _, x := range f.u.Uses {
		if x.As == AsMonth || x.As == "amount" && x.Kind != "" {
			months++
			if x.Kind != "" {
				kinds++
			}
		}
	}
	return months > 0 && kinds == months
}

// amountKind is the kind that the head of the amounts names: "Actual cost".
func (f *finder) amountKind() (head, kind string) {
	for i, x := range f.u.Uses {
		if x.As == "amount" {
			return f.u.Columns[i].Head, kindIn(f.u.Columns[i].Head)
		}
	}
	return "", ""
}

// fixKind gives the kind of amount that titles and names speak of, the nearest first, and
// another where one that is further away speaks of that alone; "" where there is none.
func (f *finder) fixKind(around []string) (kind, other string) {
	for _, text := range around {
		all := kindsIn(text)
		if few := 3; strings.HasSuffix(text, ".") && len(strings.Fields(text)) > few {
			continue // a sentence
		}
		switch {
		case kind == "" && len(all) == 1:
			kind = all[0]
		case kind != "" && other == "" && len(all) > 0 && !slices.Contains(all, kind):
			other = all[0]
		}
	}
	return kind, other
}

func (f *finder) fixProject(around []string) {
	found := ""
	for _, text := range around {
		for _, code := range f.o.Names.Mentioned(text) {
			if found != "" && code != found {
				return // more than one: it is asked
			}
			found = code
		}
	}
	if found != "" {
		f.u.Fixed["project"] = found
		f.u.note(
			"All rows are taken for project %s: the name of the file or sheet, or a row above the table, says so.",
			found,
		)
	}
}

// states tells whether amounts may be forecasts or commitments, which are
// stated in a period.
func (f *finder) states() bool {
	if f.booked() {
		return false
	}
	switch f.u.Fixed["kind"] {
	case "plan", "actual", "accrual":
		return false
	}
	return true
}

// booked tells that all amounts are of what was spent: by the kind of all rows, or by that of
// each column of amounts.
func (f *finder) booked() bool {
	is := func(kind string) bool { return kind == "actual" || kind == "accrual" }
	if is(f.u.Fixed["kind"]) {
		return true
	}
	n := 0
	for _, x := range f.u.Uses {
		if x.As == "amount" || x.As == AsMonth {
			if !is(x.Kind) {
				return false
			}
			n++
		}
	}
	return n > 0
}

func (f *finder) hasMonths() bool {
	for _, x := range f.u.Uses {
		if x.As == AsMonth {
			return true
		}
	}
	return false
}
