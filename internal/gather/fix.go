package gather

import (
	"cmp"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/record"
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
	return append(append(out, f.s.title()), append(slices.Clone(f.s.cover), strings.TrimSuffix(path.Base(f.s.File), path.Ext(f.s.File)))...)
}

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
	f.kindsBeside()
	f.nested()
	f.looks()
	f.looksPeriod()
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
	f.kindsBetween()
	f.classesBetween()
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
		}
	}
	f.fixPeriod(around)
	f.currencyOfOther()
	f.fixUnit()
}

// lacks tells whether neither a column nor anything else says a column.
func (f *finder) lacks(name string) bool {
	at := f.t.Index(name)
	if at < 0 || f.u.Fixed[name] != "" || f.u.Section == name || f.u.Accounts && name == "cost_code" {
		return false
	}
	for _, x := range f.u.Uses {
		if x.As == name || name == "cost_code" && (x.Code != "" || x.Then == name) || name == "kind" && x.Kinds || name == "activity" && x.Activity != "" || name == "project" && x.Project != "" {
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

// fixPeriod finds the period in which a statement was made, where rows do not
// tell it.
func (f *finder) fixPeriod(around []string) {
	name := ""
	switch {
	case f.t.Name == "costs" && f.lacks("version"):
		name = "version"
	case f.t.Version == "period" && f.t.Keep == record.Parts && f.lacks("period") && !f.hasMonths():
		name = "period"
	}
	f.onePeriod(around)
	if name == "" {
		return
	}
	if f.o.Period != 0 {
		f.contraryPeriod(name, around)
		return
	}
	if first, other := f.statedPeriods(around); other != 0 && (f.t.Name != "costs" || f.states()) {
		u := f.u
		u.ask(-1, "fixed."+name, fmt.Sprintf(
			"titles and names speak of %s and of %s; say in which it was stated", f.o.Periods.Name(first), f.o.Periods.Name(other),
		), f.o.Periods.Code(first), f.o.Periods.Code(other))
		return
	}
	p, _ := f.statedPeriods(around)
	if p == 0 {
		p = f.monthNamedOnly(around)
	}
	if p == 0 {
		return
	}
	f.u.Fixed[name] = f.o.Periods.Code(p)
	if f.t.Name != "costs" || f.states() {
		f.u.note(
			"It is taken as stated in %s: the name of the file or sheet, or a row above the table, says so.",
			f.o.Periods.Name(p),
		)
	}
}

// monthNamedOnly gives the period of the one month that titles and names name without a
// year, where the months of the sheet tell which: one of them is it, or follows it.
func (f *finder) monthNamedOnly(around []string) calendar.Period {
	named := 0
	for _, text := range around {
		for w := range strings.FieldsSeq(strings.Map(apart, text)) {
			const few = 4 // letters: "may", "mars" and "mar" are words
			m := monthNamed(w)
			if m == 0 || len(w) < few {
				continue
			}
			if named != 0 && named != m {
				return 0
			}
			named = m
		}
	}
	if named == 0 {
		return 0
	}
	found := calendar.Period(0)
	see := func(at calendar.Period) bool { // false where it is another one
		for _, q := range [...]calendar.Period{at, at - 1} {
			if q <= 0 || int(f.o.Periods.Last(q).Time().Month()) != named {
				continue
			}
			if found != 0 && found != q {
				return false
			}
			found = q
		}
		return true
	}
	for _, x := range f.u.Uses {
		if x.As != AsMonth {
			continue
		}
		if p, err := f.o.Periods.Parse(x.Period); err == nil && !see(p) {
			return 0
		}
	}
	return found
}

// contraryPeriod asks where titles and names state one period, and it was said that rows
// which state none are of another.
func (f *finder) contraryPeriod(name string, around []string) {
	first, other := f.statedPeriods(around)
	if first == 0 || other != 0 || first == f.o.Period || f.u.Fixed[name] != "" || f.t.Name == "costs" && !f.states() {
		return
	}
	f.u.ask(-1, "fixed."+name, fmt.Sprintf(
		"titles and names speak of %s, and it was said that rows which state no period are of %s; say in which it was stated",
		f.o.Periods.Name(first), f.o.Periods.Name(f.o.Period),
	), f.o.Periods.Code(first), f.o.Periods.Code(f.o.Period))
}

// onePeriod finds the period of amounts and rates of one period, where no row tells it:
// the one that titles and names speak of.
func (f *finder) onePeriod(around []string) {
	u := f.u
	booked := u.Fixed["kind"] == "actual" || u.Fixed["kind"] == "accrual"
	if p, _ := readMonth(f.s.title(), "", f.o.Periods); p != 0 && !booked && f.t.Name == "costs" && f.lacks("period") && !f.hasMonths() {
		f.sheetMonth = true
		u.Fixed["period"] = f.o.Periods.Code(p)
		u.note("All rows are of %s: the sheet is named by it.", f.o.Periods.Name(p))
		return
	}
	if !f.lacks("period") || f.hasMonths() || f.t.Name != "rates" && (f.t.Name != "costs" || !booked) {
		return
	}
	first, other := f.statedPeriods(around)
	if f.o.Period != 0 {
		first = cmp.Or(first, f.o.Period)
		if first != f.o.Period {
			other = f.o.Period
		}
	}
	switch {
	case first == 0:
	case other != 0:
		u.ask(-1, "fixed.period", fmt.Sprintf(
			"titles and names speak of %s and of %s; say of which period the rows are", f.o.Periods.Name(first), f.o.Periods.Name(other),
		), f.o.Periods.Code(first), f.o.Periods.Code(other))
	default:
		u.Fixed["period"] = f.o.Periods.Code(first)
		u.note("All rows are taken for %s: the name of the file or sheet, or a row above the table, says so.", f.o.Periods.Name(first))
	}
}

// made are words beside a day on which a file was made, which tells no period.
var made = wordsOf("printed print created exported export saved generated run downloaded updated version gedruckt erstellt exportiert utskrift skrevet imprime edite cree")

// statedPeriods gives the period that titles and names speak of, the nearest first, and
// another one where they contradict each other; zero where there is none.
func (f *finder) statedPeriods(around []string) (first, other calendar.Period) {
	for _, text := range around {
		aside := false
		for w := range strings.FieldsSeq(Normal(text)) {
			aside = aside || made[w]
		}
		if f.sheetMonth && text == f.s.title() {
			continue // the month of its amounts
		}
		switch p := stated(text, f.o.Periods); {
		case p == 0 || aside:
		case first == 0:
			first = p
		case p != first:
			return first, p
		}
	}
	return first, 0
}

// states tells whether amounts may be forecasts or commitments, which are
// stated in a period.
func (f *finder) states() bool {
	switch f.u.Fixed["kind"] {
	case "plan", "actual", "accrual":
		return false
	}
	return true
}

func (f *finder) hasMonths() bool {
	for _, x := range f.u.Uses {
		if x.As == AsMonth {
			return true
		}
	}
	return false
}

var inside = regexp.MustCompile(`^(.*?)\s*(?:[\[(]([^\])]+)[\])]|,?\s+in\s+(.+))$`)

// fixUnit finds whether amounts are in thousands or millions, and in which
// currency, where heads or rows above the table say so; heads count first.
func (f *finder) fixUnit() {
	u := f.u
	money := ""
	for i := range f.t.Columns {
		if f.t.Columns[i].Type == record.Money {
			money = f.t.Columns[i].Name
		}
	}
	if money == "" {
		return
	}
	where := ""
	take := func(text string, x unit) {
		if x.places != 0 && u.Places == 0 {
			u.Places, where = x.places, text
		}
		if x.currency != "" && f.lacks("currency") {
			u.Fixed["currency"] = string(x.currency)
			u.note("Amounts are taken as %s: %q says so.", x.currency, text)
		}
	}
	for i, x := range u.Uses {
		if x.As == AsMonth || f.t.Index(x.As) >= 0 && f.t.Columns[f.t.Index(x.As)].Type == record.Money {
			if i < len(f.units) {
				if x, ok := unitIn(f.units[i].Text); ok {
					take(f.units[i].Text, x)
				}
			}
			for _, text := range append([]string{u.Columns[i].Head}, f.high[i]...) {
				if _, said := unitOf(text); said != "" {
					if x, ok := unitIn(said); ok {
						take(text, x)
					}
				} else if x, ok := unitIn(text); ok {
					take(text, x)
				}
			}
		}
	}
	for _, r := range f.rows[:f.at] {
		for i := range r.cells {
			text := f.shownAt(r, i)
			if x, ok := unitIn(text); ok && r.cells[i].Kind == Words {
				take(text, x)
			}
		}
	}
	for _, text := range f.s.cover {
		if x, ok := unitIn(text); ok {
			take(text, x)
		}
	}
	shown := 0
	for i, x := range u.Uses {
		if x.As == AsMonth || f.t.Index(x.As) >= 0 && f.t.Columns[f.t.Index(x.As)].Type == record.Money {
			shown = max(shown, f.s.scaled[i])
		}
	}
	if own := u.Places; f.m.Places != nil {
		u.Places = *f.m.Places
		if f.past.Places == f.m.Places {
			u.note("Amounts are taken in %s, as was said of such a sheet before.", unitName(u.Places))
		}
		if f.past.Places == f.m.Places && own != 0 && own != u.Places {
			u.ask(-1, "places", fmt.Sprintf(
				"%q says that amounts are in %s, and of such a sheet it was said before that they are in %s; say which",
				strings.TrimSpace(where), unitName(own), unitName(u.Places),
			), unitName(own), unitName(u.Places))
		}
	} else if shown != 0 {
		u.Places = 0
		u.note(
			"The cells hold whole amounts, which the spreadsheet shows in %s: they are taken whole.",
			map[int]string{3: "thousands", 6: "millions"}[shown],
		)
	} else if u.Places != 0 {
		u.note("Amounts are taken as %s: %q says so.", map[int]string{3: "thousands", 6: "millions"}[u.Places], strings.TrimSpace(where))
	}
}

// looks gives columns that no head tells a use by what their cells are: codes
// that the office knows, days, amounts.
func (f *finder) looks() {
	for _, name := range [...]string{"project", "cost_code", "currency", "kind", "class", "flow", "section"} {
		if !f.lacks(name) || name == "section" && f.toldBySections() {
			continue
		}
		if name == "project" && f.prefixed() {
			continue
		}
		best, share := f.known(f.at, name, func(i int) bool {
			as := f.u.Uses[i].As
			loose := name == "project" && as == "activity" && !f.t.Columns[f.t.Index(as)].Key // a WBS
			return (as == AsExtra || as == AsNone || loose) && f.m.Columns[f.u.Heads[i]] == ""
		})
		if best >= 0 {
			f.u.Uses[best].As = name
			c := &f.u.Columns[best]
			c.As, c.Certainty, c.Why = name, Likely, fmt.Sprintf(
				"%.0f%% of its cells are known as %s",
				share*100,
				strings.ReplaceAll(name, "_", " "),
			)
		}
	}
}

// looksPeriod gives a column whose cells are all periods that use, where no head is one.
func (f *finder) looksPeriod() {
	if !f.lacks("period") || f.hasMonths() || f.t.Name != "costs" && f.t.Name != "rates" {
		return
	}
	for i, x := range f.u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[f.u.Heads[i]] != "" {
			continue
		}
		why := ""
		if f.holdsPeriods(f.at, i) {
			why = "all its cells are periods"
		} else if as, _ := called(record.Postings.Kind, f.u.Columns[i].Head, f.o.Words); as == "date" && f.holdsDays(f.at, i) {
			why = "its cells are days, of which each tells its period"
		}
		if why == "" {
			continue
		}
		f.u.Uses[i].As = "period"
		c := &f.u.Columns[i]
		c.As, c.Certainty, c.Why = "period", Likely, why
		return
	}
}

// prefixed finds a column, such as of a work breakdown, whose cells each begin with the code
// of a project and say more: it tells the project.
func (f *finder) prefixed() bool {
	if f.o.Names == nil || f.t.Name != "postings" && f.t.Name != "costs" {
		return false
	}
	for i, x := range f.u.Uses {
		if x.As != "activity" && x.As != AsExtra || f.m.Columns[f.u.Heads[i]] != "" {
			continue
		}
		known, coded, all := 0, 0, 0
		for _, r := range f.rows[f.at+1:] {
			if i < len(r.cells) && !isBlank(r.cells[i].Text) && !startsTotal(r.cells) {
				all++
				if code, rest := f.o.Names.begins(r.cells[i].Text); code != "" {
					known++
					if f.o.Names.follows(rest) != "" {
						coded++
					}
				}
			}
		}
		if all < 2 || known*10 < all*8 {
			continue
		}
		f.u.Uses[i] = Use{As: "project", Prefix: true}
		c := &f.u.Columns[i]
		c.As, c.Certainty, c.Why = "project", Likely, "its cells begin with codes of projects"
		if f.lacks("cost_code") && coded*10 >= known*8 {
			f.u.Uses[i].Then = "cost_code"
			c.Why = "its cells are the code of a project and a cost code"
			f.u.note("%s: its cells hold the code of their project and the cost code.", f.called(i))
			return true
		}
		f.u.note("%s: its cells begin with the code of their project; what follows is kept beside.", f.called(i))
		return true
	}
	return false
}
