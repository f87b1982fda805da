package entry

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// NamedMapping is how files of one source are read.
type NamedMapping struct {
	ID      int64
	Version int
	Name    string
	Look    string // the heads that tell the source; "" for every source
	At      time.Time
	Actor   string
	gather.Mapping
}

// EverySource is the name of the rules for codes of any source.
const EverySource = "Every source"

// KnownMappings reads the mappings in force, for rooms that asked for a right already.
func (o Room) KnownMappings(ctx context.Context) ([]NamedMapping, error) {
	list, err := o.Store().Mappings(ctx)
	if err != nil {
		return nil, err
	}
	return named(list)
}

func named(list []store.Mapping) ([]NamedMapping, error) {
	var out []NamedMapping
	for _, m := range list {
		n := NamedMapping{
			ID:      m.ID,
			Version: m.Version,
			Name:    m.Name,
			Look:    m.Look,
			At:      time.UnixMilli(m.At).UTC(),
			Actor:   m.Actor,
		}
		if m.Body != "" {
			if err := json.Unmarshal([]byte(m.Body), &n.Mapping); err != nil {
				return nil, fmt.Errorf("mapping %q: %w", m.Name, err)
			}
		}
		out = append(out, n)
	}
	return out, nil
}

// Mappings lists how files of known sources are read, by name.
func (o Room) Mappings(ctx context.Context, a right.Actor) ([]NamedMapping, error) {
	if err := right.Check(a, right.Map); err != nil {
		return nil, err
	}
	return o.KnownMappings(ctx)
}

// MappingVersions lists what a mapping has said over time, the latest first.
func (o Room) MappingVersions(ctx context.Context, a right.Actor, id int64) ([]NamedMapping, error) {
	if err := right.Check(a, right.Map); err != nil {
		return nil, err
	}
	list, err := o.Store().MappingVersions(ctx, id)
	if err != nil {
		return nil, err
	}
	return named(list)
}

// SaveMapping keeps a mapping, or a new version of the one of its name.
func (o Room) SaveMapping(ctx context.Context, a right.Actor, m NamedMapping) error {
	if err := right.Check(a, right.Map); err != nil {
		return err
	}
	m.Name = strings.TrimSpace(m.Name)
	if m.Name == "" || len(m.Name) > 60 {
		return office.Refusef("A mapping needs a name of at most 60 characters.")
	}
	list, err := o.KnownMappings(ctx)
	if err != nil {
		return err
	}
	for _, x := range list {
		if strings.EqualFold(x.Name, m.Name) {
			if m.ID != 0 && m.ID != x.ID {
				return office.Refusef("There is a mapping called %q already; choose another name.", m.Name)
			}
			m.ID = x.ID
			m.Look = cmp.Or(m.Look, x.Look)
		}
	}
	if err := o.CheckMapping(ctx, &m.Mapping); err != nil {
		return err
	}
	body, err := json.Marshal(m.Lasting())
	if err != nil {
		return err
	}
	_, err = o.Store().
		SaveMapping(ctx, store.Mapping{ID: m.ID, Name: m.Name, Look: m.Look, Body: string(body), At: o.Now(), Actor: a.Name})
	return err
}

// CheckMapping refuses what could not be used.
func (o Room) CheckMapping(ctx context.Context, m *gather.Mapping) error {
	var t *record.Kind
	if m.Table != "" {
		if t = record.Named(m.Table); t == nil {
			return office.Refusef("%q is not a table.", m.Table)
		}
	}
	uses := []string{gather.AsMonth, gather.AsTotal, gather.AsExtra, gather.AsNone, gather.AsCredit, gather.AsMark, gather.AsUnit, gather.AsInverse, gather.AsUnits}
	for head, as := range m.Columns {
		if !slices.Contains(uses, as) && (t == nil || t.Index(as) < 0) && !anyColumn(as) {
			return office.Refusef("The column headed %q cannot be %q: no table has such a column.", head, as)
		}
	}
	snap, err := o.Book().Snapshot(ctx)
	if err != nil {
		return err
	}
	names := gather.NewNames(namesOf(snap))
	for i := range m.Codes {
		r := &m.Codes[i]
		if found := names.Find(r.Column, r.To); len(found) == 1 {
			r.To = found[0] // a name, or a code written otherwise
		}
		table := map[string]string{"project": "projects", "cost_code": "cost_codes"}[r.Column]
		if table == "" || r.From == "" || r.To == "" ||
			!slices.Contains([]string{gather.Exact, gather.Prefix, gather.Pattern}, r.Match) {
			return office.Refusef(
				"A rule for codes needs project or cost_code, exact, prefix or pattern, the code that comes and the office's own.",
			)
		}
		if !slices.ContainsFunc(snap.Records[table], func(x portfolio.Row) bool { return x.Fields[0].Text == r.To }) {
			return office.Refusef(
				"%s %q is not known, so nothing can become it; choose a code of the office.",
				strings.ReplaceAll(r.Column, "_", " "),
				r.To,
			)
		}
	}
	return nil
}

func anyColumn(name string) bool {
	return slices.ContainsFunc(record.Kinds(), func(t *record.Kind) bool { return t.Index(name) >= 0 })
}

// DropMapping takes a mapping away; its versions stay on record.
func (o Room) DropMapping(ctx context.Context, a right.Actor, id int64) error {
	if err := right.Check(a, right.Map); err != nil {
		return err
	}
	list, err := o.KnownMappings(ctx)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(list, func(m NamedMapping) bool { return m.ID == id })
	if i < 0 {
		return office.Refusef("That mapping is gone already.")
	}
	_, err = o.Store().
		SaveMapping(ctx, store.Mapping{ID: id, Name: list[i].Name, Look: list[i].Look, At: o.Now(), Actor: a.Name})
	return err
}

// Word is a word of the office's own for a column.
type Word = store.Word

// Words lists the office's own words for columns.
func (o Room) Words(ctx context.Context, a right.Actor) ([]Word, error) {
	if err := right.Check(a, right.Map); err != nil {
		return nil, err
	}
	return o.Store().Words(ctx)
}

// KeepWords makes heads of a sheet, which someone said are columns, words for them in every
// file. What is a word for it already, and what is no column, as a month or what is left
// out, is passed over.
func (o Room) KeepWords(ctx context.Context, a right.Actor, columns map[string]string) error {
	for _, head := range slices.Sorted(maps.Keys(columns)) {
		column := columns[head]
		if column == "" || !anyColumn(column) && column != gather.AsCredit && column != gather.AsMark || gather.Means(head, column) {
			continue
		}
		if err := o.SaveWord(ctx, a, head, column); err != nil {
			return err
		}
	}
	return nil
}

// SaveWord makes a word another name of a column; with an empty column it takes
// the word away.
func (o Room) SaveWord(ctx context.Context, a right.Actor, word, column string) error {
	if err := right.Check(a, right.Map); err != nil {
		return err
	}
	word = gather.Normal(word)
	if word == "" || len(word) > 60 {
		return office.Refusef("A word for a column needs letters or digits, at most 60.")
	}
	if column != "" && !anyColumn(column) && column != gather.AsCredit && column != gather.AsMark {
		return office.Refusef("No table has a column %q.", column)
	}
	return o.Store().SaveWord(ctx, Word{Word: word, Col: column, Actor: a.Name, At: o.Now()})
}

// ColumnNames lists the columns that heads can be words for.
func ColumnNames() []string {
	var out []string
	for _, t := range record.Kinds() {
		for i := range t.Columns {
			if name := t.Columns[i].Name; !slices.Contains(out, name) {
				out = append(out, name)
			}
		}
	}
	slices.Sort(out)
	return out
}

// KeepMapping keeps how a sheet was understood as a mapping for all sheets of its look:
// every column, the forms that were found or said, and what was said that all rows say, but
// for the period. What stood in the file itself stays with it.
func (o Room) KeepMapping(ctx context.Context, a right.Actor, name string, u *gather.Understanding, said gather.Mapping) error {
	m := u.Recallable(said)
	m.Table, m.Running, m.Dash, m.Negate, m.Codes, m.Skip, m.Lines = u.Table, u.Running, u.Dash, u.Negate, u.Codes, u.Skip, u.Lines
	m.Columns, m.Forms, m.Place = make(map[string]string), make(map[string]string), ""
	if u.Places != 0 {
		m.Places = &u.Places
	}
	for i, use := range u.Uses {
		if use.As == gather.AsMonth {
			if use.Form != "" && u.Columns[i].Form != "" {
				m.Forms[gather.Every] = use.Form
			}
			continue
		}
		if use.Code != "" || use.Project != "" {
			continue // its head says so
		}
		m.Columns[u.Heads[i]] = use.As
		if u.Columns[i].Form != "" && use.Form != "" {
			m.Forms[u.Heads[i]] = use.Form
		}
	}
	return o.SaveMapping(ctx, a, NamedMapping{Name: name, Look: u.Look(), Mapping: m})
}

// Remember keeps what someone said about sheets that were taken, for the next of the same
// look from the same place; also that no mapping reads them.
func (o Room) Remember(ctx context.Context, a right.Actor, sheets []SheetReport, said map[string]Answer) error {
	known, err := o.KnownMappings(ctx)
	if err != nil {
		return err
	}
	for i := range sheets {
		u := sheets[i].Understanding
		answer, ok := said[u.Label()]
		look := u.Look()
		m := u.Recallable(answer.Mapping)
		if !ok || look == "" || u.Canonical || answer.Without || m.Empty() && answer.Named != "-" {
			continue
		}
		n := NamedMapping{Name: placeName(u), Look: look, Mapping: m}
		for _, x := range known {
			if x.Look == look && x.Place == m.Place {
				n.ID, n.Name = x.ID, x.Name
				n.Mapping = m.Over(x.Mapping)
				n.Place = m.Place
			}
		}
		if slices.ContainsFunc(known, func(x NamedMapping) bool { return x.Look == look && x.Covers(m) }) {
			continue
		}
		if n.ID == 0 {
			n.Name = free(n.Name, known)
		}
		body, err := json.Marshal(n.Lasting())
		if err != nil {
			return err
		}
		if _, err = o.Store().SaveMapping(ctx, store.Mapping{ID: n.ID, Name: n.Name, Look: look, Body: string(body), At: o.Now(), Actor: a.Name}); err != nil {
			return err
		}
		known = append(known, n)
	}
	return nil
}

// placeName calls what was said of a sheet after where it comes from.
func placeName(u *gather.Understanding) string {
	const most = 50
	name := "As said: " + cmp.Or(strings.ReplaceAll(gather.PlaceOf(u.File, u.Sheet), " / ", ", "), u.Table)
	if r := []rune(name); len(r) > most {
		name = string(r[:most])
	}
	return name
}

// free is a name that no mapping has.
func free(name string, known []NamedMapping) string {
	out := name
	for n := 2; slices.ContainsFunc(known, func(m NamedMapping) bool { return strings.EqualFold(m.Name, out) }); n++ {
		out = fmt.Sprintf("%s %d", name, n)
	}
	return out
}

// WaitingCode is a code that nothing matches, with what waits for it.
type WaitingCode struct {
	Column, Code string
	Rows         int
	Sums         []string // by currency, such as 1,200.00 EUR in plain decimals
	Since        time.Time
	Files        []string
	Known        bool // the office has it meanwhile
}

// WaitingCodes lists the codes that rows wait for, and the codes of the office
// that they could become, by column.
func (o Room) WaitingCodes(
	ctx context.Context,
	a right.Actor,
) (list []WaitingCode, codes map[string][][2]string, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, nil, err
	}
	waiting, err := o.Store().WaitingCodes(ctx)
	if err != nil {
		return nil, nil, err
	}
	snap, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, nil, err
	}
	codes = make(map[string][][2]string)
	for column, table := range map[string]string{"project": "projects", "cost_code": "cost_codes"} {
		t := record.Named(table)
		for _, r := range snap.Records[table] {
			codes[column] = append(codes[column], [2]string{r.Fields[0].Text, r.Fields[t.Index("name")].Text})
		}
		slices.SortFunc(codes[column], func(x, y [2]string) int { return strings.Compare(x[0], y[0]) })
	}
	for _, w := range waiting {
		x := WaitingCode{
			Column: w.Column,
			Code:   w.Code,
			Rows:   w.Rows,
			Since:  time.UnixMilli(w.Since).UTC(),
			Files:  strings.Split(w.Files, ","),
		}
		x.Known = slices.ContainsFunc(
			codes[w.Column],
			func(c [2]string) bool { return strings.EqualFold(c[0], w.Code) },
		)
		sums := make(map[string]int64)
		for part := range strings.SplitSeq(w.Amounts, "|") {
			amount, cur, _ := strings.Cut(part, " ")
			if n, err := money.Parse(money.RoundText(amount, money.Currency(cur).Exponent()), money.Currency(cur)); err == nil &&
				amount != "" {
				sums[cur] += n
			}
		}
		for _, cur := range slices.Sorted(maps.Keys(sums)) {
			x.Sums = append(x.Sums, money.Format(sums[cur], money.Currency(cur))+" "+cur)
		}
		list = append(list, x)
	}
	return list, codes, nil
}
