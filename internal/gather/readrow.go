package gather

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// credited sets a column of credits against that of amounts.
func (r *reader) credited(line *Line) (column, value, why string) {
	if r.credit < 0 || r.credit >= len(line.Cells) {
		return "", "", ""
	}
	var f portfolio.Field
	at := r.t.Index("amount")
	c := line.Cells[r.credit]
	if why := r.cell(&r.t.Columns[at], &c, &r.Uses[r.credit], &f); why != "" {
		return r.head(r.credit), c.Text, why
	}
	if f.Said != portfolio.Value || isZero(f.Text) {
		return "", "", ""
	}
	to := &r.out.Fields[at]
	if to.Said == portfolio.Value && !isZero(to.Text) {
		return r.head(r.credit), c.Text, "the row has both a debit and a credit; leave one of them empty"
	}
	f.Text = r.o.keep(negated(f.Text))
	*to = f
	return "", "", ""
}

// unfold gives a row for each month that says something.
func (r *reader) unfold(line *Line, cells func() map[string]string) {
	period, kind := r.t.Index("period"), r.t.Index("kind")
	version := r.t.Index("version")
	base := slices.Clone(r.out.Fields)
	for _, i := range r.months {
		c := line.At(i)
		if c.Kind != Uncalculated && isBlank(c.Text) {
			continue
		}
		copy(r.out.Fields, base)
		use, value := &r.Uses[i], r.valueAt(i)
		if why := r.cell(&r.t.Columns[value], &c, use, &r.out.Fields[value]); why != "" {
			r.bad(line, r.head(i), strings.Clone(c.Text), "%s", why)
			continue
		}
		if why := r.signed(); why != "" {
			r.bad(line, r.head(i), strings.Clone(c.Text), "%s", why)
			continue
		}
		if r.out.Fields[value].Said == portfolio.Nothing {
			continue
		}
		if why := r.rated(line, use, &r.out.Fields[value]); why != "" {
			r.bad(line, r.head(i), strings.Clone(c.Text), "%s", why)
			continue
		}
		if use.As == AsMonth {
			p, err := r.o.Periods.Parse(use.Period)
			if err != nil {
				r.bad(line, r.head(i), "", "%s", err)
				continue
			}
			r.out.Fields[period] = portfolio.Field{Said: portfolio.Value, Int: int64(p)}
		}
		if use.Activity != "" {
			r.out.Fields[r.t.Index("activity")] = portfolio.Field{Said: portfolio.Value, Text: r.o.keep(use.Activity)}
		}
		if use.Project != "" {
			r.out.Fields[r.t.Index("project")] = portfolio.Field{Said: portfolio.Value, Text: use.Project}
		}
		if use.Class != "" {
			r.out.Fields[r.t.Index("class")] = portfolio.Field{Said: portfolio.Value, Text: use.Class}
		}
		if use.Code != "" {
			r.out.Fields[r.t.Index("cost_code")] = portfolio.Field{Said: portfolio.Value, Text: use.Code}
		}
		if section := r.t.Index("section"); section >= 0 && use.Kind != "" {
			r.out.Fields[section] = portfolio.Field{Said: portfolio.Value, Text: use.Kind}
		}
		if kind >= 0 && use.Kind != "" {
			r.out.Fields[kind] = portfolio.Field{Said: portfolio.Value, Text: use.Kind}
		}
		if version >= 0 && !r.versioned(r.out.Fields[kind].Text) {
			r.out.Fields[version] = portfolio.Field{}
		}
		if column, why := r.complete(); why != "" {
			r.bad(line, column, "", "%s", why)
			return
		}
		if why := r.lessen(); why != "" {
			r.bad(line, r.head(i), "", "%s", why)
			return
		}
		r.row(&r.out, cells)
	}
}

// valueAt is the place of what stands in a column of which each gives a row.
func (r *reader) valueAt(i int) int {
	switch use := &r.Uses[i]; {
	case use.Of != "":
		return r.t.Index(use.Of)
	case use.Activity != "":
		return r.places[i]
	}
	return r.value
}

// versioned tells whether a version that all rows share says something of a
// kind: statements have their period, a plan its baseline.
func (r *reader) versioned(kind string) bool {
	if kind == "forecast" || kind == "commitment" {
		return true
	}
	return kind == "plan" && allDigits(r.Fixed["version"])
}

// complete fills in what keys mean when they are left empty.
func (r *reader) complete() (column, why string) {
	if at := r.t.Index("version"); at >= 0 && len(r.months) == 0 && r.Fixed["version"] != "" &&
		!r.versioned(r.out.Fields[r.t.Index("kind")].Text) &&
		!r.uses("version") {
		r.out.Fields[at] = portfolio.Field{}
	}
	for i := range r.t.Columns {
		c, f := &r.t.Columns[i], &r.out.Fields[i]
		if !c.Key || f.Said == portfolio.Value {
			continue
		}
		switch {
		case c.Default != "":
			if why := parseCell(c, c.Default, f, r.o); why != "" {
				return c.Name, why
			}
		case c.Type == record.Period && r.o.Period != 0 && r.t.Keep != record.Records:
			*f = portfolio.Field{Said: portfolio.Value, Int: int64(r.o.Period)}
		case required(r.t, c) || c.Name == r.t.Version:
			return c.Name, c.Name + " is empty, and it is part of the row's key; fill it in"
		}
	}
	return "", ""
}

func (r *reader) uses(name string) bool { return r.column(name) >= 0 }

// cell reads one cell into a field: as it stands where the sheet is canonical,
// else by the column's form.
func (r *reader) cell(c *record.Column, from *Cell, use *Use, f *portfolio.Field) string {
	text := strings.TrimFunc(from.Text, isSpace)
	if from.Kind == Uncalculated {
		return "it is a formula whose value the file did not save; open the file in a spreadsheet and save it again"
	}
	if text == "" {
		return ""
	}
	if c.Type.Guarded() {
		text = record.Unguard(text)
	}
	if !r.Canonical {
		if c.Type == record.Money && from.Kind == Words {
			r.beside = cmp.Or(currencyOf(text), r.beside)
		}
		var why string
		if text, why = r.plain(c, text, from.Kind, use); why != "" || text == "" {
			return why
		}
	}
	if refers(c) || r.t.Name == "projects" && c.Name == "project" {
		text = r.recode(c.Name, text)
	}
	if c.Type == record.Money && from.Kind == Number &&
		isPlain(text) { // a spreadsheet's digits are more than a currency's
		*f = portfolio.Field{Said: portfolio.Value, Int: portfolio.Computed, Text: r.o.keep(text)}
	} else if why := parseCell(c, text, f, r.o); why != "" {
		return why
	}
	if c.Type == record.Money && f.Said == portfolio.Value {
		if r.Negate {
			f.Text = r.o.keep(negated(f.Text))
		}
	}
	return ""
}

// refers tells a column that holds codes of records.
func refers(c *record.Column) bool {
	switch c.Type {
	case record.ProjectRef, record.CostCodeRef, record.ProgrammeRef, record.CentreRef:
		return true
	}
	return false
}

// recode applies the source's own rules, then, to codes that the office does not
// have, those for every source, and then finds what people write for a code. Few codes
// stand in many rows: each is looked for once.
func (r *reader) recode(column, code string) string {
	key := [2]string{column, code}
	if to, ok := r.coded[key]; ok {
		return to
	}
	to := r.codeOf(column, code)
	const most = 10_000
	if len(r.coded) < most {
		if r.coded == nil {
			r.coded = make(map[[2]string]string)
		}
		r.coded[[2]string{column, strings.Clone(code)}] = strings.Clone(to)
	}
	return to
}

func (r *reader) codeOf(column, code string) string {
	to, done := Recode(r.Codes, column, code)
	if !done && !r.o.Names.Known(column, code) {
		to, done = Recode(r.o.Every, column, code)
	}
	if done || r.Canonical {
		return to
	}
	if found := r.o.Names.Find(column, code); len(found) == 1 {
		return found[0]
	}
	return to
}

// otherName refuses a row of projects whose code was found by how it is written,
// where it has another name than that project.
func (r *reader) otherName(line *Line) (column, value, why string) {
	if r.t.Name != "projects" || r.Canonical || r.o.Names == nil {
		return "", "", ""
	}
	code, name := r.out.Fields[r.t.Index("project")], r.out.Fields[r.t.Index("name")]
	at := r.column("project")
	if at < 0 || name.Said != portfolio.Value {
		return "", "", ""
	}
	wrote := strings.TrimFunc(line.At(at).Text, isSpace)
	if _, said := Recode(r.Codes, "project", wrote); said || strings.EqualFold(wrote, code.Text) ||
		r.o.Names.Called("project", code.Text, name.Text) {
		return "", "", ""
	}
	return r.head(
			at,
		), wrote, fmt.Sprintf(
			"%q can be project %s, which has another name than %q; write its whole code",
			wrote,
			code.Text,
			name.Text,
		)
}
