package gather

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
)

// column gives the column that is taken for one of the table, or -1.
func (l *Layout) column(as string) int {
	return slices.IndexFunc(l.Uses, func(x Use) bool { return x.As == as })
}

// data hands over the rows that say something of their own, until told to stop: no
// heads, heads again, sums, page lines, blank or broken rows, or those left out.
func (l *Layout) data(s *Sheet, f func(*Line) bool) {
	s.Each(func(line *Line) bool {
		if line.N <= l.Head || line.Wrong != "" || line.Blank() || l.leaves(line) || l.repeatsHead(line) || l.totalRow(line) {
			return true
		}
		return f(line)
	})
}

// filled hands over the first rows of data as they are read: with what stands for their
// empty cells filled in, and the reader that knows the headings above them.
func (f *finder) filled(row func(*reader, *Line) bool) {
	const most = 20_000 // rows that are looked at
	f.u.filled(f.s, f.o, most, row)
}

// filled does so for as many rows as are told.
func (l *Layout) filled(s *Sheet, o *Options, most int, row func(*reader, *Line) bool) {
	n := 0
	r := &reader{Layout: l, o: o, above: make([]Cell, len(l.Down))}
	s.Each(func(line *Line) bool {
		if line.N <= l.Head || line.Wrong != "" || line.Blank() || l.leaves(line) || l.repeatsHead(line) || r.section(line) {
			return true
		}
		if l.totalRow(line) {
			r.ends(line)
			return true
		}
		r.repeat(line)
		if n++; n > most {
			return false
		}
		return row(r, line)
	})
}

// watcher sees the rows of data, and says what it saw when all were seen. What several
// watch is walked through once.
type watcher struct {
	row  func(*Line)
	done func()
}

// watch lets each of several see all rows of data.
func (f *finder) watch(all ...watcher) {
	all = slices.DeleteFunc(all, func(w watcher) bool { return w.row == nil })
	if len(all) == 0 {
		return
	}
	f.u.data(f.s, func(l *Line) bool {
		for _, w := range all {
			w.row(l)
		}
		return true
	})
	for _, w := range all {
		w.done()
	}
}

// totalRow tells a row that sums others: the first word in it says so, and it
// names no project and no code of its own.
func (l *Layout) totalRow(line *Line) bool {
	if l.Canonical || slices.Contains(l.Keep, line.N) {
		return false
	}
	if l.leads(line) || slices.Contains(l.Unnamed, line.N) {
		return true
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
		case AsMonth, AsTotal, "amount", AsCredit, "percent", "rate", AsInverse, "budget":
		default:
			if label == "" {
				if label = text; as == "note" && l.keyed(line) {
					return false // it is said of the row
				}
			} else if as == "posting" || as == "date" || as == "activity" {
				return false
			}
		}
	}
	if label == "" || !isTotalRow(label) || slices.Contains(l.NoSums, Normal(label)) {
		return false
	}
	return l.sums() || bareTotal(line, label)
}

// keyed tells a row of amounts that states both its project and its cost code.
func (l *Layout) keyed(line *Line) bool {
	project, code := l.column("project"), l.column("cost_code")
	return project >= 0 && code >= 0 && !isBlank(line.At(project).Text) && !isBlank(line.At(code).Text)
}

// leads tells a row that states a project alone above the rows of its cost codes, in a list
// that states each project once: its amounts are their sum.
func (l *Layout) leads(line *Line) bool {
	if len(l.Down) == 0 || l.Table != "costs" {
		return false
	}
	project, code := l.column("project"), l.column("cost_code")
	if project < 0 || code < 0 || !slices.Contains(l.Down, project) || slices.Contains(l.Down, code) {
		return false
	}
	return !isBlank(line.At(project).Text) && isBlank(line.At(code).Text)
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
	if pageLine(line) || ruleLine(line) {
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
	const few, short = 3, 20 // cells, of which the last is short
	text, n := "", 0
	for i := range line.Cells {
		if t := strings.TrimFunc(line.Cells[i].Text, isSpace); t != "" {
			if n++; n > few || line.Cells[i].Kind == Number || isPlain(t) {
				return false
			}
			text = t
		}
	}
	return text != "" && len(text) <= short && pages.MatchString(Normal(text))
}

// ruleLine tells a row that is a line drawn with signs.
func ruleLine(line *Line) bool {
	const few = 3 // signs
	drawn := false
	for i := range line.Cells {
		text := strings.TrimFunc(line.Cells[i].Text, isSpace)
		if text == "" {
			continue
		}
		if len(text) < few || strings.Trim(text, "-=_*─+|") != "" {
			return false
		}
		drawn = true
	}
	return drawn
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

// leaves tells a row that someone left out, or that is the balance of an account.
func (l *Layout) leaves(line *Line) bool {
	if slices.Contains(l.Leave, line.N) || l.balance(line) != "" {
		return true
	}
	return slices.ContainsFunc(l.Skip, func(r SkipRule) bool { return r.fits(l.Heads, line) })
}

// lone tells a row of one cell of words in a table of amounts: a heading of a group, or a
// remark. Where headings tell something it is left to them.
func (l *Layout) lone(line *Line) bool {
	if l.Canonical || l.Section != "" || l.Accounts || l.Kinds || l.Classes || l.Table != "costs" && l.Table != "postings" {
		return false
	}
	n := 0
	for i := range line.Cells {
		c := &line.Cells[i]
		if c.Kind == Uncalculated {
			return false
		}
		if isBlank(c.Text) {
			continue
		}
		if n++; n > 1 || c.Kind == Number || !strings.ContainsFunc(c.Text, unicode.IsLetter) {
			return false
		}
	}
	return n == 1
}
