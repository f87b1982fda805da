package amounts

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Line is a cost line.
type Line struct {
	Key                                  string
	Code, Name                           string
	Above                                string // the code above its own, with its name; "" at the top
	Flow, Class, Centre, Activity, Money string
	Added                                bool // in the draft, and not there before
	Cells                                []Cell

	currency money.Currency
}

// lineKey tells a line from others of its table, in the canonical form of its cells.
func lineKey(code, flow, class, centre, activity, currency string) string {
	parts := []string{code, flow, class, centre, activity, currency}
	for i := range parts {
		parts[i] = escaped.Replace(parts[i])
	}
	return strings.Join(parts, "~")
}

// Signs that part a key and a field are written otherwise within them.
var (
	escaped   = strings.NewReplacer("%", "%25", "~", "%7E", "/", "%2F")
	unescaped = strings.NewReplacer("%2F", "/", "%7E", "~", "%25", "%")
)

// partsOf gives the cells of a line's key.
func partsOf(key string) [6]string {
	var out [6]string
	for i, text := range strings.SplitN(key, "~", len(out)) {
		out[i] = unescaped.Replace(text)
	}
	return out
}

// keyColumns are the columns of a line's key.
var keyColumns = [...]string{"cost_code", "flow", "class", "cost_centre", "activity", "currency"}

// fieldOf is the name of a cell's field.
func fieldOf(line, period string) string { return line + "/" + period }

// lay makes the lines: those that hold, those that are added, and for what is stated one for
// each cost code that is planned or booked.
func (t *Table) lay(is []portfolio.Line) {
	at := make(map[string]int)
	add := func(key string) *Line {
		if i, ok := at[key]; ok {
			return &t.Lines[i]
		}
		at[key] = len(t.Lines)
		t.Lines = append(t.Lines, t.line(key))
		return &t.Lines[len(t.Lines)-1]
	}
	for i := range is {
		l := &is[i]
		x := add(t.keyOf(l))
		for _, c := range l.Cells {
			k := int(c.Period - t.first())
			if k >= len(x.Cells) {
				t.Beyond = append(t.Beyond, Beyond{x.Key, c.Period, c.Amount})
			}
			if k < 0 || k >= len(x.Cells) {
				continue
			}
			x.Cells[k].Is = short(c.Amount, x.currency)
			if r := l.Remarks[c.Period]; r != nil {
				x.Cells[k].Note = r.Note
			}
		}
	}
	if t.subject.Part == portfolio.ForecastPart || t.subject.Part == portfolio.CommitmentPart {
		t.known(at, add)
	}
	t.estimated(add)
	for field, typed := range t.typed {
		if key, period, ok := cutField(field); ok && period == "" && typed.Text == added && strings.Count(key, "~") == len(keyColumns)-1 {
			if _, there := at[key]; !there {
				add(key).Added = true
			}
		}
	}
	slices.SortStableFunc(t.Lines, func(a, b Line) int {
		return cmp.Or(cmp.Compare(flows[a.Flow], flows[b.Flow]), cmp.Compare(a.Code, b.Code), cmp.Compare(a.Key, b.Key))
	})
	t.compare()
	t.lock()
}

// flows in the order in which they stand.
var flows = map[string]int{"cost": 0, "income": 1, "benefit": 2}

// known adds a line for each cost code of the plan or the ledger that nothing is stated of.
func (t *Table) known(at map[string]int, add func(string) *Line) {
	there := make(map[string]bool)
	for key := range at {
		x := partsOf(key)
		there[x[0]+"~"+x[1]] = true
	}
	var more []portfolio.Line
	if p := t.subject.view.Plan; p != nil {
		more = append(more, p.Lines...)
	}
	more = append(append(more, t.subject.view.Ledger...), t.subject.view.Actual...)
	for i := range more {
		l := &more[i]
		code := t.subject.snap.Office.Codes[l.CodeID].Code
		if name := code + "~" + flowName(l.Flow); !there[name] {
			there[name] = true
			add(lineKey(code, flowName(l.Flow), "", "", "", string(t.Currency)))
		}
	}
}

func flowName(f portfolio.Flow) string { return string(f) }

// keyOf gives the key of a line that holds.
func (t *Table) keyOf(l *portfolio.Line) string { return keyIn(t.subject.snap.Office.Codes, l) }

// keyIn gives it by the codes of an office.
func keyIn(codes map[int64]portfolio.CostCode, l *portfolio.Line) string {
	return lineKey(codes[l.CodeID].Code, flowName(l.Flow), l.Class, l.Centre, l.Activity, string(l.Currency))
}

// line makes an empty line of a key.
func (t *Table) line(key string) Line {
	x := partsOf(key)
	l := Line{Key: key, Code: x[0], Flow: x[1], Class: x[2], Centre: x[3], Activity: x[4], Money: x[5], currency: money.Currency(x[5])}
	for _, c := range t.subject.snap.Office.Codes {
		if c.Code == l.Code {
			l.Name = c.Name
			if up, ok := t.subject.snap.Office.Codes[c.Parent]; ok {
				l.Above = up.Code + " " + up.Name
			}
		}
	}
	for i := range t.Columns {
		l.Cells = append(l.Cells, Cell{Name: fieldOf(key, t.Columns[i].Code), Locked: t.Columns[i].Locked})
	}
	return l
}

// lock shuts booked months that the ledger tells, and shows of what is still to come what came
// in the periods before.
func (t *Table) lock() {
	v := t.subject.view
	switch t.subject.Part {
	case portfolio.ActualPart:
		t.onCode(v.Ledger, func(c *Cell, _ int64, _ *Line) { c.Locked = true })
	case portfolio.ForecastPart:
		came := make(map[string]int64)
		t.onCode(append(slices.Clone(v.Ledger), v.Actual...), func(c *Cell, n int64, l *Line) {
			if c.Locked && t.alone(l) {
				came[c.Name] += n
				c.Is = short(came[c.Name], l.currency)
			}
		})
	}
}

// onCode goes through the amounts of lines, and the cells of the table's lines on the same cost
// code, flow and currency, in the same period.
func (t *Table) onCode(lines []portfolio.Line, do func(*Cell, int64, *Line)) {
	for i := range lines {
		x := &lines[i]
		code := t.subject.snap.Office.Codes[x.CodeID].Code
		for j := range t.Lines {
			l := &t.Lines[j]
			if l.Code != code || l.Flow != string(x.Flow) || l.currency != x.Currency {
				continue
			}
			for _, c := range x.Cells {
				if k := int(c.Period - t.first()); k >= 0 && k < len(l.Cells) {
					do(&l.Cells[k], c.Amount, l)
				}
			}
		}
	}
}

// alone tells that a line is the only one of its cost code, flow and currency.
func (t *Table) alone(l *Line) bool {
	n := 0
	for i := range t.Lines {
		if x := &t.Lines[i]; x.Code == l.Code && x.Flow == l.Flow && x.currency == l.currency {
			n++
		}
	}
	return n == 1
}

// cutField parts the name of a field into its line and its period.
func cutField(name string) (line, period string, ok bool) {
	i := strings.LastIndex(name, "/")
	if i < 0 {
		return "", "", false
	}
	return name[:i], name[i+1:], true
}

// short writes an amount without decimals that say nothing.
func short(n int64, c money.Currency) string {
	text := money.Format(n, c)
	if whole, decimals, ok := strings.Cut(text, "."); ok && strings.Trim(decimals, "0") == "" {
		return whole
	}
	return text
}

// amountsOf gives the amounts that a line shows, in minor units; what cannot be read counts
// as nothing.
func (l *Line) amountsOf() []int64 {
	out := make([]int64, len(l.Cells))
	for i := range l.Cells {
		if n, err := money.Parse(cmp.Or(l.Cells[i].Value(), "0"), l.currency); err == nil {
			out[i] = n
		}
	}
	return out
}
