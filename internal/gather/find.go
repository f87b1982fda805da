package gather

import (
	"fmt"
	"regexp"
	"strings"

	"turret/internal/record"
)

// masters are tables that make codes for others: they are only read where a name or a title
// says so, or someone.
var masters = map[string]bool{"programmes": true, "cost_codes": true, "cost_centres": true}

// find looks for the row that names the columns of a table.
func (f *finder) find() bool {
	hint := f.hint()
	best := 0.0
	var why string
	second := 0.0
	for i, r := range f.rows[:min(len(f.rows), within)] {
		if f.m.Head != 0 && r.n != f.m.Head {
			continue
		}
		for _, t := range record.Kinds() {
			if t.Own || f.m.Table != "" && f.m.Table != t.Name ||
				f.o.Table != nil && f.m.Table == "" && f.o.Table != t {
				continue
			}
			if masters[t.Name] && t != hint && f.m.Table != t.Name && f.o.Table != t && !f.titled(i, t) && !f.ownKey(i, t) {
				continue
			}
			score, said := f.score(i, t, t == hint)
			switch {
			case score > best:
				if f.t != t {
					second = best
				}
				best, f.t, f.at, why = score, t, i, said
			case score > second && t != f.t:
				second = score
			}
		}
	}
	if f.t == nil && f.m.Table != "" && !own(f.m.Table) {
		f.t, f.at, why = record.Named(f.m.Table), f.saidHead(), "none of its heads is known"
		if f.at < 0 {
			f.t = nil
		}
	}
	const enough = 3.5
	if f.t == nil || best < enough && f.m.Head == 0 && f.m.Table == "" {
		return false
	}
	u := f.u
	u.Table, u.Head, u.Why = f.t.Name, f.rows[f.at].n, why
	switch {
	case f.m.Table != "":
		u.Certainty, u.Why = Sure, "it was said so; "+why
	case best > second+3:
		u.Certainty = Sure
	case best > second+1:
		u.Certainty = Likely
	default:
		u.Certainty = Guess
	}
	return true
}

// score tells how well a row names the columns of a table.
func (f *finder) score(at int, t *record.Kind, hinted bool) (score float64, why string) {
	row := f.rows[at]
	named := make(map[string]bool)
	months, words, matched := 0, 0, 0
	crossed, across := f.crossing(at, t)
	for i, c := range row.cells {
		text := strings.TrimFunc(c.Text, isSpace)
		if text == "" {
			continue
		}
		if across > 0 && f.headRef(crossed, at, i) != "" {
			continue
		}
		if f.month(at, i) != 0 {
			months++
			continue
		}
		if c.Kind == Number {
			score -= 0.5
			continue
		}
		if months > 0 && differs(text) {
			continue
		}
		words++
		if strings.HasSuffix(text, ":") {
			score -= 2 // a label
		}
		h := f.headed(text)
		column := f.m.Columns[h.normal]
		weight := 3
		if column == "" {
			column, weight = f.calls(at, i, t, h.label)
		}
		if column == "amount" && named[column] && t.Name == "costs" && kindIn(text) != "" {
			matched++ // another kind of amounts beside
			continue
		}
		if t.Name == "costs" && (weight == 0 || column == "amount" && named[column]) && ofReport(text) {
			words-- // it goes with amounts, and tells nothing of the row
			continue
		}
		if t.Name == "costs" && weight == 0 && named["cost_code"] && besideCodes[h.normal] {
			words--
			continue
		}
		if weight == 0 && t == record.Activities.Kind && ofSchedules(text) {
			matched++
			score++
			continue
		}
		if weight == 0 || column == AsExtra || column == AsNone || named[column] {
			continue
		}
		named[column] = true
		matched++
		score += float64(weight) / 2
		if j := t.Index(column); j >= 0 && t.Columns[j].Key {
			score++
		}
	}
	if across > 0 && named[crossed] {
		across = 0
	}
	matched += across
	score += min(float64(across), 6) / 2
	stories := 0
	if t.Name == "narratives" && !named["section"] {
		if stories = f.sectionsIn(at); stories < 2 && !(hinted && stories == 1 && named["project"]) {
			stories = 0
		}
		score += float64(stories)
		if stories > 1 && !named["project"] && f.holds(at, "project") {
			score++ // two sections of projects are told nowhere else
		}
		matched += stories
	}
	if matched == 0 && months > 1 && t.Name == "costs" && f.holdsBoth(at) {
		matched++ // projects and what is below each, under no head
	}
	if matched == 0 || matched+months < 2 {
		return 0, ""
	}
	const enough = 4 // columns by which a list of projects is told from figures of projects
	if t.Name == "projects" && matched < enough && !hinted && f.m.Table != t.Name && f.o.Table != t {
		return 0, ""
	}
	for i := range t.Columns {
		c := &t.Columns[i]
		if !required(t, c) || named[c.Name] ||
			c.Name == "period" && (months > 0 || f.o.Period != 0) ||
			c.Name == crossed && across > 0 ||
			c.Name == "kind" && t.Name == "costs" || c.Name == "section" && stories > 0 ||
			c.Name == "posting" && hinted && named["date"] { // its number is made of what it says
			continue
		}
		if f.m.Fixed[c.Name] != "" {
			score++
			continue
		}
		if c.Name == "period" && f.anyPeriods(at) {
			score++
			matched++
			continue
		}
		if c.Name == "period" && (t.Name == "costs" || t.Name == "rates") && f.statedAbove(at) != 0 {
			continue // titles tell it
		}
		if f.holds(at, c.Name) || c.Name == "project" && (f.speaksOfProject() || t.Name == "costs" && f.holdsBoth(at)) ||
			c.Name == "cost_code" && (f.speaksOfAccounts() || f.sheetOfCode() != "") {
			score++
			continue
		}
		if c.Name == "project" && months > 1 && t.Name == "costs" {
			score -= 0.5 // someone can say whose they are
			continue
		}
		score -= 1.5
	}
	if t == record.Progress.Kind && months > 0 && f.beyondPercents(at) {
		return 0, ""
	}
	unfolds := unfolded(t) != ""
	if unfolds && months > 0 && !named[unfolded(t)] {
		score += min(float64(months), 6) / 2
	} else if months > 1 {
		score--
	}
	if hinted {
		score += 2
	} else if f.titled(at, t) {
		score++
	}
	score -= 0.3 * float64(words-matched)
	why = fmt.Sprintf("row %d names %s of %s", row.n, plural(matched, "column", "columns"), t.Name)
	if months > 0 && unfolds {
		why += " and " + plural(months, "period", "periods")
	}
	if hinted {
		why += ", and so does the name of the file or sheet"
	}
	return score, why
}

// besideCodes are heads of what a code stands for, beside it.
var besideCodes = wordsOf("description name text title designation bezeichnung benennung beskrivelse navn libelle descripcion descrizione omschrijving beskrivning")

// headRef gives the cost code or the project that a head is, with its name or without; ""
// where it is none, or several.
func (f *finder) headRef(column string, at, i int) string {
	text := f.head(at, i)
	if text == "" || f.o.Names == nil {
		return ""
	}
	if column == "activity" {
		return f.activityHead(at, i)
	}
	if found := f.o.Names.Find(column, text); len(found) == 1 {
		return found[0]
	}
	return ""
}

// crossing gives what stands across a row of heads, cost codes or projects, and how many,
// where there are several: amounts then stand under the code that they are of.
func (f *finder) crossing(at int, t *record.Kind) (column string, n int) {
	if t == record.Progress.Kind {
		return f.activitiesAcross(at)
	}
	if t.Name != "costs" || f.o.Names == nil {
		return "", 0
	}
	for _, name := range [...]string{"cost_code", "project"} {
		seen := make(map[string]int)
		for i := range f.rows[at].cells {
			if code := f.headRef(name, at, i); code != "" {
				seen[code]++
			}
		}
		if (len(seen) > 1 || len(seen) == 1 && f.periodBelow(at)) && len(seen) > n {
			column, n = name, len(seen)
		}
	}
	return column, n
}

// periodBelow tells that a row of heads names the period and no amounts: what stands across
// may be of one code alone.
func (f *finder) periodBelow(at int) bool {
	period := false
	for i := range f.rows[at].cells {
		switch column, _ := called(record.Costs.Kind, f.head(at, i), f.o.Words); column {
		case "period":
			period = true
		case "amount", AsCredit, "cost_code":
			return false
		}
	}
	return period
}

// aHead is a head as it is compared, worked out once.
type aHead struct{ normal, tight, label string }

func (f *finder) headed(text string) aHead {
	h, ok := f.compared[text]
	if !ok {
		if f.compared == nil {
			f.compared = make(map[string]aHead)
		}
		h.normal = Normal(text)
		h.tight = strings.ReplaceAll(h.normal, " ", "")
		h.label, _ = unitOf(text)
		f.compared[text] = h
	}
	return h
}

// calls gives the column of a table that a head names, and how surely. Days
// under a head that no column of days has are finish dates: of "Forecast" the
// forecast finish, of "Baseline" the baseline finish.
func (f *finder) calls(at, i int, t *record.Kind, label string) (column string, weight int) {
	h := f.headed(label)
	if t == record.Progress.Kind && leftHead(label) && f.o.Words[h.normal] == "" {
		return "percent", 2
	}
	if strings.Contains(label, "%") && t.Index("percent") >= 0 && f.o.Words[h.normal] == "" {
		return percentHead(label)
	}
	if name := f.o.Words[h.normal]; name != "" && t.Index(name) >= 0 {
		column, weight = name, 3
	} else {
		column, weight = calledSo(t, h.tight, label)
	}
	if weight == 0 && t == record.Costs.Kind && openAmount(label) {
		column, weight = "amount", 2
	}
	if weight == 0 {
		column, weight = calledNow(t, label)
	}
	if weight == 0 {
		column, weight = calledTwice(t, label)
	}
	if weight == 0 {
		column, weight = calledBoth(t, label)
	}
	if weight == 0 && t == record.Progress.Kind && thisPeriod[h.normal] && f.holdsDays(at, i) {
		column, weight = "finish", 1 // said this month, beside what was said last
	}
	if f.slips && weight == 0 {
		column, weight = f.slipped(t, h.tight)
	}
	if m := sumOf.FindStringSubmatch(label); m != nil && weight == 0 {
		column, weight = calledSo(t, tight(m[1]), m[1])
	}
	if t == record.Rates.Kind && weight < 3 {
		if as, w := f.callsRates(at, i); w > 0 {
			return as, w
		}
	}
	if column == "start" || column == "finish" {
		if of := f.dateBand(at, i); of != "" {
			if column = of + "_" + column; t.Index(column) < 0 {
				return "", 0
			}
		}
	}
	j := t.Index(column)
	if j >= 0 && isDay(t.Columns[j].Type) && f.holdsNoDays(at, i) {
		return "", 0 // Forecast, over amounts
	}
	fits := j >= 0 && !isNumeric(t.Columns[j].Type)
	if fits || weight == 0 && t.Index("finish") < 0 || !f.holdsDays(at, i) {
		return column, weight
	}
	if j >= 0 && t.Index("date") >= 0 {
		return "date", 2 // Booked
	}
	if of, w := called(t, label+" finish", f.o.Words); w > 0 {
		return of, 2
	}
	if j >= 0 {
		return "", 0 // it counts, and these are days
	}
	return column, weight
}

// dateBand tells which dates stand below what is above a head: those of the baseline, or actual
// ones; "" for the current ones, or where nothing tells.
func (f *finder) dateBand(at, i int) string {
	for _, text := range f.aboves(at, i) {
		switch Normal(text) {
		case "baseline", "baseline dates", "planned", "plan", "original", "original plan", "bl", "basisplan", "soll", "planlagt":
			return "baseline"
		case "actual", "actual dates", "actuals", "ist", "faktisk", "act":
			return "actual"
		}
	}
	return ""
}

// sumOf are heads by which pivots name what they add up.
var sumOf = regexp.MustCompile(`(?i)^(?:sum of|summe von|sum av|summa av|somme de|suma de|somma di|som van) (.+)$`)

// unfolded is the column of a table that stands under the heads of months.
func unfolded(t *record.Kind) string {
	switch t.Name {
	case "costs":
		return "amount"
	case "progress":
		return "percent"
	case "rates":
		return "rate"
	}
	return ""
}

// own tells whether a table is one that is read in its own form alone.
func own(table string) bool {
	t := record.Named(table)
	return t != nil && t.Own
}
