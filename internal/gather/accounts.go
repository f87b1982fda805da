package gather

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// accountOf gives the cost code that a row heads: "Account 110 Civil works", or the code and
// its name alone. ok tells a heading, also of a code that is not known.
func (l *Layout) accountOf(n *Names, line *Line) (code string, ok bool) {
	const few = 3 // cells
	var said []string
	for i := range line.Cells {
		if text := strings.TrimFunc(line.Cells[i].Text, isSpace); text != "" {
			said = append(said, text)
		}
	}
	if len(said) == 0 || len(said) > few {
		return "", false
	}
	text := strings.Join(said, " ")
	if isTotal(text) {
		return "", false
	}
	words := strings.FieldsFunc(text, func(r rune) bool { return isSpace(r) || r == ':' })
	labelled := false
	for k := min(2, len(words)-1); k > 0 && !labelled; k-- { // Account, Cost code
		if column, weight := called(record.Costs.Kind, strings.Join(words[:k], " "), nil); column == "cost_code" && weight > 1 {
			text, labelled = strings.Join(words[k:], " "), true
		}
	}
	found := n.Find("cost_code", text)
	if len(found) != 1 && labelled {
		found = n.Find("cost_code", strings.Fields(text)[0])
	}
	switch {
	case len(found) == 1 && (labelled || len(said) == 1 || len(found) == 1 && !l.statesMore(line)):
		return found[0], true
	case labelled && !l.statesMore(line):
		return "", true
	}
	return "", false
}

// statesMore tells a row that holds an amount or a day.
func (l *Layout) statesMore(line *Line) bool {
	for i, x := range l.Uses {
		switch x.As {
		case AsMonth, AsTotal, "amount", AsCredit, "percent", "date", "start", "finish":
			text := line.At(i).Text
			_, point := plainNumber(text, Point)
			_, comma := plainNumber(text, Comma)
			if point || comma || isDash(text) || readDay(text).any() {
				return true
			}
		}
	}
	return false
}

// accounts finds whether the rows of a sheet without a column of cost codes stand under
// headings that name them.
func (f *finder) accounts() {
	if f.o.Names == nil || f.t.Name != "postings" && f.t.Name != "costs" || !f.lacks("cost_code") || f.m.Fixed["cost_code"] != "" {
		return
	}
	for i, r := range f.rows {
		if i == f.at {
			continue
		}
		if code, ok := f.u.accountOf(f.o.Names, &Line{N: r.n, Cells: r.cells}); ok && code != "" {
			f.u.Accounts = true
			f.u.note("Rows are taken for the cost code that the heading above them names, as %s.", code)
			return
		}
	}
}

// account takes a heading of a cost code: the rows after it are of that code.
func (r *reader) account(line *Line) bool {
	if !r.Accounts {
		return false
	}
	code, ok := r.accountOf(r.o.Names, line)
	if ok {
		r.code, r.noCode = code, textOf(line)
	}
	return ok
}

// underAccount gives a row the cost code of the heading above it.
func (r *reader) underAccount() (column, value, why string) {
	at := r.t.Index("cost_code")
	if !r.Accounts || r.out.Fields[at].Said == portfolio.Value {
		return "", "", ""
	}
	if r.code == "" && r.noCode != "" {
		return "cost_code", r.noCode, fmt.Sprintf("the heading %q above it names no cost code that is known; correct it", r.noCode)
	}
	if r.code != "" {
		r.out.Fields[at] = portfolio.Field{Said: portfolio.Value, Text: r.o.keep(r.code)}
	}
	return "", "", ""
}

// isAccountPair tells a row that is the label of a cost code, and one.
func (f *finder) isAccountPair(r sample) bool {
	const pair = 2
	if filled(&Line{Cells: r.cells}) != pair || len(r.cells) == 0 {
		return false
	}
	column, weight := called(record.Costs.Kind, strings.TrimSuffix(strings.TrimSpace(r.cells[0].Text), ":"), nil)
	return column == "cost_code" && weight > 1
}

// speaksOfAccounts tells whether a row that says little else names a cost code.
func (f *finder) speaksOfAccounts() bool {
	if f.heads == nil {
		found := false
		none := &Layout{}
		for _, r := range f.rows {
			line := &Line{N: r.n, Cells: r.cells}
			if code, ok := none.accountOf(f.o.Names, line); ok && code != "" && (filled(line) == 1 || f.isAccountPair(r)) {
				found = true
				break
			}
		}
		f.heads = &found
	}
	return *f.heads
}

// sheetOfCode is the cost code that the sheet is named by, or "".
func (f *finder) sheetOfCode() string {
	if found := f.o.Names.Find("cost_code", f.s.title()); len(found) == 1 && f.s.title() != "" {
		return found[0]
	}
	return ""
}
