package trail

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Trail is how a figure came about.
type Trail struct {
	Entry    *figure.Entry
	Scope    *office.Reading
	Currency money.Currency
	Value    figure.Value
	Shown    figure.Value // an amount in the reporting currency, where it is not in that
	Divided  figure.Value // what amounts in the reporting currency would give, divided; of what is divided
	Formula  []Piece      // in words
	With     []Piece      // with the values in it; empty for a base entry
	Inputs   []Input
	Facts    []Fact
	Omitted  int    // facts beyond those listed
	Behind   []Made // what the inputs are made of, where the figure has no rows of its own
	Files    []SourceFile
	Against  int // number of the baseline, of a project
	Drift    string
	Some     bool   // of the projects that the filter wants, not of all
	Parts    int    // how many
	Code     string // cost code that it is of, or ""
}

// Piece is a stretch of a formula: text, or an entry with its value.
type Piece struct {
	Text  string
	Entry *figure.Entry // nil: plain text
	Value figure.Value
	Back  int // periods before
}

// Input is an entry that the formula asked for.
type Input struct {
	Entry    *figure.Entry
	Period   string
	Own      bool // at the trail's own period
	Currency money.Currency
	Value    figure.Value
	Depth    int
}

// Amount tells an amount of money.
func (i Input) Amount() bool { return i.Entry.Unit == figure.Money }

// Fact is one row behind a base entry.
type Fact struct {
	figure.Fact
	Period   string
	Place    string // file and row, or ""
	Postings []Posting
}

// Made is what an input is made of: its first rows.
type Made struct {
	Entry   *figure.Entry
	Facts   []Fact
	Omitted int // beyond those
}

// behind are the facts of an input.
type behind struct {
	id    figure.ID
	own   bool // at the trail's own period: listed, and not only their files
	facts []figure.Fact
}

// Posting is a ledger line behind a cell.
type Posting struct {
	Code, Day, Amount, Supplier, Text, Place string
	Source                                   portfolio.Source
}

// SourceRow is a row of a received file, as it came.
type SourceRow struct {
	File, Sheet, Sender string
	At                  time.Time
	Row                 int32
	Head, Cells         []string // Cells is empty where the row cannot be read any more
}

// SourceRow reads a row of a received file; nil where there is no such file.
func (o Room) SourceRow(ctx context.Context, a right.Actor, file, row int32) (*SourceRow, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	files, err := o.Store().Files(ctx)
	if err != nil {
		return nil, err
	}
	f, ok := files[file]
	if !ok {
		return nil, nil
	}
	body, err := o.Store().Content(ctx, file)
	if err != nil {
		return nil, err
	}
	out := &SourceRow{File: f.Name, Sheet: f.Sheet, Sender: f.Sender, At: time.UnixMilli(f.At).UTC(), Row: row}
	layout, err := entry.LayoutOf(f.Layout)
	if err != nil {
		return nil, err
	}
	out.Head, out.Cells, _ = gather.RowAt(
		&gather.File{Name: f.Name, Body: body},
		f.Sheet,
		layout,
		int(row),
		gather.DefaultLimits,
	)
	return out, nil
}

// SourceFile is a received file that stands behind a figure.
type SourceFile struct {
	Name, Rows, Sender string
	At                 time.Time
}

// mostFacts is the number of rows that a trail lists of its figure, mostBehind of each
// input.
const (
	mostFacts  = 400
	mostBehind = 8
)

// Trail computes how a figure of a project or group came about at a period;
// nil where there is no such scope. The period is the moment's, or the
// compared one. A project's amounts are in the moment's currency.
func (o Room) Trail(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	compared bool,
	scope string,
	id figure.ID,
) (*Trail, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	rs, period := m.Readings(), m.Period.Number
	if compared {
		rs, period = m.Compared(), m.Vs.Number
	}
	r := office.FindIn(rs, scope)
	if r == nil {
		return nil, nil
	}
	inputs, err := o.Book().InputsAt(ctx, m.Snapshot(), period)
	if err != nil {
		return nil, err
	}
	var codes []string // of a filtered group
	if r.Group {
		codes = m.Wanted(scope)
	}
	if codes != nil {
		set, err := o.Book().Set(ctx, m.Snapshot(), codes, period, m.Against)
		if err != nil {
			return nil, err
		}
		set.Code, set.Name = r.Code, r.Name
		r = set
	}
	t := &Trail{Entry: figure.Get(id), Scope: r, Value: r.Value(id), Some: codes != nil, Parts: len(codes)}
	var facts []figure.Fact
	var inner []behind
	own := m.OwnCurrency(scope)
	foreign := !r.Group && own != "" && own != m.Reporting
	examine := func(e *figure.Eval) {
		facts, inner = t.examine(e, id, inputs.Office.Periods)
		if foreign && t.Entry.Unit != figure.Money {
			t.Divided = e.Divided(m.Reporting).Get(id)
		}
	}
	if r.Group {
		err = inputs.ExamineGroup(ctx, scope, codes, period, m.Against, examine)
	} else if found, e := inputs.Examine(ctx, scope, period, m.Against, !m.InProject, examine); e == nil && !found {
		return nil, nil
	} else {
		err = e
	}
	if err != nil {
		return nil, err
	}
	if foreign && t.Entry.Unit == figure.Money && m.InProject {
		shown, err := o.Book().Reading(ctx, m.Snapshot(), scope, period, m.Against, true)
		if err != nil {
			return nil, err
		}
		if shown != nil {
			t.Shown = shown.Value(id)
		}
	}
	return t, o.Sources(ctx, t, facts, inner, inputs.Office, r, scope, m)
}

// examine records the formula and its inputs. It gives the rows to be listed,
// and those that stand behind the inputs, whose files are named.
func (t *Trail) examine(e *figure.Eval, id figure.ID, periods *calendar.Periods) (facts []figure.Fact, inner []behind) {
	node := e.Trail(id)
	e = e.Of(id)
	t.Currency = e.Currency
	if !t.Value.Equal(node.Value) {
		t.Drift = fmt.Sprintf("Computed anew from the cut's inputs it would be %s.", node.Value.Text(e.Currency))
	}
	if p, ok := e.Subject.(*figure.Project); ok {
		t.Against = p.Number
	}
	if !e.Subject.IsGroup() {
		node = plain(node)
	}
	derived := len(node.Inputs) > 0
	formula := figure.Applied(e, id)
	t.Formula, t.With = pieces(e, formula, derived && strings.Contains(formula, "{"))
	t.inputs(node, e, periods, 0)
	if e.Subject.IsGroup() || !derived {
		return e.Subject.Facts(e, id, e.Period), nil
	}
	var walk func(n *figure.Node)
	seen := make(map[[2]int]bool)
	walk = func(n *figure.Node) {
		if key := [2]int{int(n.ID), int(n.Period)}; !seen[key] && len(n.Inputs) == 0 {
			seen[key] = true
			if list := e.Subject.Facts(e, n.ID, n.Period); len(list) > 0 {
				inner = append(inner, behind{n.ID, n.Period == e.Period, list})
			}
		}
		for _, x := range n.Inputs {
			walk(x)
		}
	}
	walk(node)
	return e.Subject.Facts(e, id, e.Period), inner // its own rows, where it has some beside its inputs
}

// plain leaves out the entries that only groups tell from others: of a project,
// the plan of what has earned value is the plan.
func plain(n *figure.Node) *figure.Node {
	if ofProject(n.ID) != n.ID && len(n.Inputs) == 1 {
		return plain(n.Inputs[0])
	}
	c := *n
	c.Inputs = nil
	for _, x := range n.Inputs {
		c.Inputs = append(c.Inputs, plain(x))
	}
	return &c
}

// pieces cuts a formula at the entries in braces.
func pieces(e *figure.Eval, formula string, derived bool) (words, with []Piece) {
	for formula != "" {
		text, rest, found := strings.Cut(formula, "{")
		if text != "" {
			words, with = append(words, Piece{Text: text}), append(with, Piece{Text: text})
		}
		if !found {
			break
		}
		var name string
		name, formula, _ = strings.Cut(rest, "}")
		back := 0
		if base, n, ok := strings.Cut(name, "-"); ok {
			name = base
			fmt.Sscan(n, &back)
		}
		id, ok := figure.Lookup(name)
		if !ok {
			continue
		}
		if !e.Subject.IsGroup() {
			id = ofProject(id)
		}
		p := Piece{Entry: figure.Get(id), Value: e.At(id, e.Period-calendar.Period(back)), Back: back}
		words, with = append(words, Piece{Text: p.Entry.Symbol, Back: back}), append(with, p)
	}
	if !derived {
		with = nil
	}
	return words, with
}

// ofProject gives the entry that is the same for a project.
func ofProject(id figure.ID) figure.ID {
	switch id {
	case figure.BACEarned:
		return figure.BAC
	case figure.PVEarned:
		return figure.PV
	case figure.ACEarned:
		return figure.AC
	case figure.EACStatedEarned:
		return figure.EACStated
	}
	return id
}

// inputs lists what a formula asked for, and what those asked for.
func (t *Trail) inputs(n *figure.Node, e *figure.Eval, periods *calendar.Periods, depth int) {
	seen := make(map[string]bool)
	for _, x := range n.Inputs {
		in := Input{
			Entry:    figure.Get(x.ID),
			Period:   periods.Name(x.Period),
			Own:      x.Period == e.Period,
			Currency: x.Currency,
			Value:    x.Value,
			Depth:    depth,
		}
		if key := in.Entry.Name + in.Period; seen[key] {
			continue
		} else {
			seen[key] = true
		}
		t.Inputs = append(t.Inputs, in)
		if depth < 2 && len(t.Inputs) < 60 {
			t.inputs(x, e, periods, depth+1)
		}
	}
}

// Sources finds the files and rows of facts.
func (o Room) Sources(
	ctx context.Context,
	t *Trail,
	facts []figure.Fact,
	inner []behind,
	of *portfolio.Office,
	r *office.Reading,
	scope string,
	m *office.Moment,
) error {
	files, err := o.Store().Files(ctx)
	if err != nil {
		return err
	}
	rows := make(map[int32][]int32)
	place := func(s portfolio.Source) string {
		f, ok := files[s.File]
		if !ok {
			return ""
		}
		rows[s.File] = append(rows[s.File], s.Row)
		return fmt.Sprintf("%s, row %d", entry.PlaceName(f), s.Row)
	}
	ledger, err := o.ledgerOf(ctx, append(inner, behind{facts: facts}), r, scope, m)
	if err != nil {
		return err
	}
	told := func(f *figure.Fact) Fact {
		x := Fact{Fact: *f, Period: of.Periods.Name(f.Period)}
		if f.Posted == nil {
			x.Place = place(f.Source)
			return x
		}
		for _, p := range ledger[*f.Posted] {
			q := Posting{Code: p.Code, Day: calendar.Date(p.Day).String(), Amount: tell.Amount(money.Format(p.Amount, p.Currency), p.Currency.Exponent()) + " " + string(p.Currency), Supplier: p.Supplier, Text: p.Text, Place: place(p.Source), Source: p.Source}
			x.Postings = append(x.Postings, q)
		}
		return x
	}
	list := func(facts []figure.Fact, most int) (out []Fact) {
		if !r.Group {
			facts = ordered(facts, m.Period.Number)
		}
		for i := range facts {
			if x := told(&facts[i]); i < most {
				out = append(out, x)
			}
		}
		return out
	}
	t.Facts = list(facts, mostFacts)
	t.Omitted = max(len(facts)-mostFacts, 0)
	for _, b := range inner {
		made := Made{figure.Get(b.id), list(b.facts, mostBehind), max(len(b.facts)-mostBehind, 0)}
		if b.own && len(facts) == 0 {
			t.Behind = append(t.Behind, made)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(rows)) {
		f := files[id]
		t.Files = append(
			t.Files,
			SourceFile{
				Name:   entry.PlaceName(f),
				Rows:   ranges(rows[id]),
				Sender: f.Sender,
				At:     time.UnixMilli(f.At).UTC(),
			},
		)
	}
	return nil
}

// ordered puts amounts first that a reader asks for first: the newest of what is over, the
// largest of what is planned or to come. What is no amount of a cost code stays in its
// order.
func ordered(facts []figure.Fact, at calendar.Period) []figure.Fact {
	facts = slices.Clone(facts)
	if !slices.ContainsFunc(facts, func(f figure.Fact) bool { return f.CodeID != 0 }) {
		return facts
	}
	past := !slices.ContainsFunc(facts, func(f figure.Fact) bool { return f.Period > at })
	size := func(f figure.Fact) int64 { return max(f.Value.N, -f.Value.N) }
	slices.SortStableFunc(facts, func(a, b figure.Fact) int {
		if past && a.Period != b.Period {
			return int(b.Period - a.Period)
		}
		return cmp.Compare(size(b), size(a))
	})
	return facts
}

// ledgerOf gives the postings of a project by the cell that they are summed to, the
// newest first; nothing where no fact rests on postings.
func (o Room) ledgerOf(
	ctx context.Context,
	facts []behind,
	r *office.Reading,
	scope string,
	m *office.Moment,
) (map[figure.Posted][]store.Posting, error) {
	p := m.Snapshot().Project(scope)
	posted := func(b behind) bool {
		return slices.ContainsFunc(b.facts, func(f figure.Fact) bool { return f.Posted != nil })
	}
	if r.Group || p == nil || !slices.ContainsFunc(facts, posted) {
		return nil, nil
	}
	list, err := o.Store().PostingsOf(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	out := make(map[figure.Posted][]store.Posting)
	for _, x := range list {
		k := figure.Posted{
			CodeID:     x.CostCode,
			Class:      x.Class,
			Centre:     x.Centre,
			ActivityID: x.Activity,
			Currency:   x.Currency,
			Period:     calendar.Period(x.Period),
		}
		out[k] = append(out[k], x)
	}
	for _, l := range out {
		slices.SortStableFunc(l, func(a, b store.Posting) int {
			return cmp.Or(cmp.Compare(b.Day, a.Day), cmp.Compare(b.Amount, a.Amount))
		})
	}
	return out, nil
}

// ranges writes row numbers as 3–7, 9.
func ranges(rows []int32) string {
	slices.Sort(rows)
	rows = slices.Compact(rows)
	var b strings.Builder
	for i := 0; i < len(rows); {
		j := i
		for j+1 < len(rows) && rows[j+1] == rows[j]+1 {
			j++
		}
		if b.Len() > 0 {
			b.WriteString(", ")
		}
		if i == j {
			fmt.Fprintf(&b, "%d", rows[i])
		} else {
			fmt.Fprintf(&b, "%d–%d", rows[i], rows[j])
		}
		i = j + 1
	}
	return cmp.Or(b.String(), "—")
}
