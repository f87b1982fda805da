package book

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store/format"
)

// Differs is one value that two snapshots have differently: a field of a
// record, a field of a statement's row, or an amount. "" is none.
type Differs struct {
	Project string // code; "" for what belongs to none
	Table   string
	Key     string // of the row, in words
	Version string // of the statement that it is in, in words; "" where there are none
	Column  string
	Was, Is string
	Source  portfolio.Source // of the later value, or of the earlier where it is gone
}

// Row names the row with the version of the statement that it is in.
func (d *Differs) Row() string {
	if d.Key == "" || d.Version == "" {
		return d.Key + d.Version
	}
	return d.Key + ", " + d.Version
}

// Differ lists what two snapshots have differently, input by input: of the
// projects that want asks for, and of what belongs to none where all is true.
func Differ(ctx context.Context, a, b *Snapshot, want func(code string) bool, all bool) ([]Differs, error) {
	var out []Differs
	for _, t := range record.Kinds() {
		if t.Keep == record.Records && t.Name != "periods" {
			out = append(out, a.records(b, t, want, all)...)
		}
	}
	type pair struct{ a, b int64 }
	changed := make(map[portfolio.Part]pair)
	var ids []int64
	projects := make(map[int64]bool)
	for id := range a.Stated {
		projects[id] = true
	}
	for id := range b.Stated {
		projects[id] = true
	}
	for id := range projects {
		code := codeOf(a, b, id)
		if !want(code) {
			continue
		}
		parts := make(map[portfolio.Part]pair)
		for _, x := range a.Stated[id] {
			parts[x.Part] = pair{a: x.ID}
		}
		for _, x := range b.Stated[id] {
			p := parts[x.Part]
			p.b = x.ID
			parts[x.Part] = p
		}
		for part, p := range parts {
			if p.a != p.b {
				changed[part] = p
				ids = append(ids, p.a, p.b)
			}
		}
	}
	bodies := make(map[int64][]byte)
	slices.Sort(ids)
	ids = slices.DeleteFunc(slices.Compact(ids), func(id int64) bool { return id == 0 })
	if err := b.bodies(ctx, ids, func(id int64, body []byte) error { bodies[id] = body; return nil }); err != nil {
		return nil, err
	}
	order := slices.SortedFunc(maps.Keys(changed), func(x, y portfolio.Part) int {
		return cmp.Or(
			cmp.Compare(codeOf(a, b, x.Project), codeOf(a, b, y.Project)),
			cmp.Compare(x.Kind, y.Kind),
			cmp.Compare(x.Version, y.Version),
		)
	})
	for _, part := range order {
		p := changed[part]
		list, err := partDiffers(b, part, bodies[p.a], bodies[p.b])
		if err != nil {
			return nil, fmt.Errorf("%s of %s: %w", part.Kind, codeOf(a, b, part.Project), err)
		}
		for i := range list {
			list[i].Project = codeOf(a, b, part.Project)
		}
		out = append(out, list...)
	}
	return out, nil
}

func codeOf(a, b *Snapshot, id int64) string {
	for _, s := range [...]*Snapshot{b, a} {
		if p := s.byID()[id]; p != nil {
			return p.Code
		}
	}
	return ""
}

// records compares the records of one table by id.
func (s *Snapshot) records(b *Snapshot, t *record.Kind, want func(string) bool, all bool) []Differs {
	was, is := make(map[int64]*portfolio.Row), make(map[int64]*portfolio.Row)
	for i := range s.Records[t.Name] {
		was[s.Records[t.Name][i].ID] = &s.Records[t.Name][i]
	}
	ids := make(map[int64]bool)
	for i := range b.Records[t.Name] {
		r := &b.Records[t.Name][i]
		is[r.ID] = r
		ids[r.ID] = true
	}
	for id := range was {
		ids[id] = true
	}
	project := t.Index("project")
	var out []Differs
	for _, id := range slices.Sorted(maps.Keys(ids)) {
		x, y := was[id], is[id]
		some := y
		if some == nil {
			some = x
		}
		code := ""
		if project >= 0 {
			code = some.Fields[project].Text
		}
		if code == "" && !all || code != "" && !want(code) {
			continue
		}
		for _, d := range rowDiffers(b, t, x, y, "project", "") {
			d.Project = code
			out = append(out, d)
		}
	}
	return out
}

// rowDiffers compares two rows field by field; either may be nil. Minor units
// are of the currency.
func rowDiffers(s *Snapshot, t *record.Kind, x, y *portfolio.Row, skip string, cur money.Currency) []Differs {
	some := y
	if some == nil {
		some = x
	}
	var key []string
	for i := range t.Columns {
		if c := &t.Columns[i]; c.Key && c.Name != skip {
			if text := s.written(c, &some.Fields[i], ""); text != "" {
				key = append(key, text)
			}
		}
	}
	var out []Differs
	for i := range t.Columns {
		c := &t.Columns[i]
		if c.Key {
			continue
		}
		d := Differs{Table: t.Name, Key: strings.Join(key, ", "), Column: c.Name, Source: some.Source}
		if x != nil {
			d.Was = s.written(c, &x.Fields[i], cur)
		}
		if y != nil {
			d.Is = s.written(c, &y.Fields[i], cur)
		}
		if d.Was != d.Is {
			out = append(out, d)
		}
	}
	if len(out) == 0 && (x == nil) != (y == nil) { // a row of its key alone
		d := Differs{Table: t.Name, Key: strings.Join(key, ", "), Column: "row", Was: "there", Source: some.Source}
		if x == nil {
			d.Was, d.Is = "", "there"
		}
		out = append(out, d)
	}
	return out
}

// written writes a field for people: periods and dates by their codes.
func (s *Snapshot) written(c *record.Column, f *portfolio.Field, cur money.Currency) string {
	switch {
	case f.Said == portfolio.None:
		return "-"
	case f.Said == portfolio.Nothing:
		return ""
	}
	switch c.Type {
	case record.Date:
		return calendar.Date(f.Int).String()
	case record.Period:
		return s.Office.Periods.Code(calendar.Period(f.Int))
	case record.Whole:
		return fmt.Sprint(f.Int)
	case record.Decimal:
		return strings.TrimRight(strings.TrimRight(money.FormatScaled(f.Int, portfolio.QuantityScale), "0"), ".")
	case record.Money:
		if f.Text != "" || cur == "" {
			return f.Text
		}
		return money.Format(f.Int, cur) + " " + string(cur)
	}
	return f.Text
}

// partDiffers compares two bodies of one part; either may be nil.
func partDiffers(s *Snapshot, part portfolio.Part, a, b []byte) ([]Differs, error) {
	if part.Kind.Lines() {
		return lineDiffers(s, part, a, b)
	}
	t := record.OfPart(part.Kind)
	var cur money.Currency
	if p := s.byID()[part.Project]; p != nil {
		cur = p.Currency
	}
	decode := func(body []byte) (map[string]*portfolio.Row, []string, error) {
		out := make(map[string]*portfolio.Row)
		var order []string
		if body == nil {
			return out, nil, nil
		}
		rows, err := format.DecodeRows(body, len(t.Columns))
		for i := range rows {
			var k []string
			for j := range t.Columns {
				if t.Columns[j].Key {
					k = append(k, fmt.Sprint(rows[i].Fields[j].Int, rows[i].Fields[j].Text))
				}
			}
			key := strings.Join(k, "|")
			out[key] = &rows[i]
			order = append(order, key)
		}
		return out, order, err
	}
	was, order, err := decode(a)
	if err != nil {
		return nil, err
	}
	is, more, err := decode(b)
	if err != nil {
		return nil, err
	}
	var out []Differs
	seen := make(map[string]bool)
	for _, k := range append(order, more...) {
		if seen[k] {
			continue
		}
		seen[k] = true
		for _, d := range rowDiffers(s, t, was[k], is[k], "project", cur) {
			d.Table, d.Version = part.Kind.Sent(), s.version(part)
			out = append(out, d)
		}
	}
	return out, nil
}

// version says which version of a statement a part is.
func (s *Snapshot) version(p portfolio.Part) string {
	switch p.Kind {
	case portfolio.PlanPart, portfolio.BaselinePart:
		return fmt.Sprintf("baseline %d", p.Version)
	case portfolio.ForecastPart, portfolio.CommitmentPart:
		return fmt.Sprintf("%s stated %s", p.Kind, s.Office.Periods.Code(calendar.Period(p.Version)))
	case portfolio.ProgressPart, portfolio.RiskPart, portfolio.NarrativePart:
		return "stated " + s.Office.Periods.Code(calendar.Period(p.Version))
	case portfolio.LedgerPart:
		return "sum of postings"
	case portfolio.AccrualPart, portfolio.ActualPart:
		return p.Kind.String()
	}
	return ""
}

// lineDiffers compares amounts cell by cell.
func lineDiffers(s *Snapshot, part portfolio.Part, a, b []byte) ([]Differs, error) {
	type cell struct {
		n   int64
		src portfolio.Source
		cur money.Currency
	}
	var order []string
	decode := func(body []byte) (map[string]cell, error) {
		out := make(map[string]cell)
		if body == nil {
			return out, nil
		}
		lines, err := format.DecodeLines(body)
		for i := range lines {
			l := &lines[i]
			head := strings.Join(
				slices.DeleteFunc(
					[]string{l.Code, l.Class, l.Activity, l.Centre},
					func(x string) bool { return x == "" },
				),
				", ",
			)
			if l.Flow != portfolio.Cost {
				head += ", " + string(l.Flow)
			}
			for _, c := range l.Cells {
				k := head + ", " + s.Office.Periods.Code(c.Period)
				was := out[k]
				out[k] = cell{was.n + c.Amount, c.Source, l.Currency}
				order = append(order, k)
			}
		}
		return out, err
	}
	was, err := decode(a)
	if err != nil {
		return nil, err
	}
	is, err := decode(b)
	if err != nil {
		return nil, err
	}
	var out []Differs
	seen := make(map[string]bool)
	for _, k := range order {
		if seen[k] {
			continue
		}
		seen[k] = true
		x, had := was[k]
		y, has := is[k]
		if had == has && x.n == y.n {
			continue
		}
		d := Differs{Table: part.Kind.Sent(), Key: k, Version: s.version(part), Column: "amount", Source: y.src}
		if had {
			d.Was = money.Format(x.n, x.cur) + " " + string(x.cur)
		}
		if has {
			d.Is = money.Format(y.n, y.cur) + " " + string(y.cur)
		} else {
			d.Source = x.src
		}
		out = append(out, d)
	}
	return out, nil
}
