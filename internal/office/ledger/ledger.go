package ledger

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// Line is a source's total, or that of one of its cost codes, in a period and a currency, with
// what became of it.
type Line struct {
	Source, Code string
	CodeName     string
	Currency     money.Currency
	Told         bool  // the source told a total
	Control      int64 // that total
	Taken        int64 // of its postings
	Waits        int64 // for a code
	Refused      int64 // or dropped
	Rows         int   // that were taken
	Files        []File
	Left         []Left // rows that were not taken
	Why          string // why nothing can be held against it, or ""
}

// Difference is what the source told beyond what was taken.
func (l *Line) Difference() int64 { return l.Control - l.Taken }

// Unexplained is what of the difference neither waits nor was refused.
func (l *Line) Unexplained() int64 { return l.Control - l.Taken - l.Waits - l.Refused }

// Off tells that the totals differ.
func (l *Line) Off() bool { return l.Told && l.Control != l.Taken }

// File is what was taken from one file.
type File struct {
	ID     int32
	Name   string
	Rows   int
	Amount int64
	Batch  int64 // the last that took some of it
}

// Left is a row that was not taken.
type Left struct {
	File    string
	ID      int32
	Line    int
	Run     int64
	Value   string
	Reason  string
	Why     string // it was dropped
	Amount  int64
	Waiting bool
	Code    bool // it waits for a code
}

// Total is what a lead says was booked on a code, beside what the ledger says: both count, so
// one of them is too much.
type Total struct {
	Project, Name, Code, CodeName string
	Currency                      money.Currency
	Lead, Ledger                  int64 // through the period
	Both                          []calendar.Period
}

// Reconciled is the ledger of a period.
type Reconciled struct {
	Period   office.PeriodInfo
	Lines    []Line // the worst first
	Totals   []Total
	Off      int // lines that differ
	Untold   int // sources without a total
	Currency money.Currency
	Sources  []string
	Hidden   bool // who reads sees some projects alone, so totals would not be whole
}

// sourceKey tells what is held against each other.
type sourceKey struct {
	source   string
	currency money.Currency
}

// Reconcile holds the control totals of a moment's period against what was taken.
func (o Room) Reconcile(ctx context.Context, a right.Actor, m *office.Moment) (*Reconciled, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out, err := o.reconcile(ctx, m)
	if err != nil || out.Hidden {
		return out, err
	}
	return out, o.totals(ctx, m, out)
}

func (o Room) reconcile(ctx context.Context, m *office.Moment) (*Reconciled, error) {
	out := &Reconciled{Period: m.Asked, Currency: m.Reporting}
	s := m.Snapshot()
	if whole, partly := m.Hidden(); whole+partly > 0 {
		out.Hidden = true
		return out, nil
	}
	at := m.Asked.Number
	sums, err := s.PostedSums(ctx, at)
	if err != nil {
		return nil, err
	}
	files, err := o.Store().Files(ctx)
	if err != nil {
		return nil, err
	}
	whose := &sources{files: files, said: make(map[string]bool), known: make(map[int32]string)}
	for _, r := range s.Records.Of(record.Controls.Kind) {
		if record.Controls.Period.Of(&r) == at {
			whose.said[normal(record.Controls.From.Of(&r))] = true
		}
	}
	b := builder{office: s.Office, files: files, codes: make(map[string]int64)}
	for _, x := range sums {
		source, err := whose.of(x.File)
		if err != nil {
			return nil, err
		}
		b.sums = append(b.sums, takenSum{x, source})
	}
	if b.left, err = o.left(ctx, m, whose); err != nil {
		return nil, err
	}
	for id, c := range s.Office.Codes {
		b.codes[c.Code] = id
	}
	told := make(map[sourceKey]bool)
	once := make(map[[3]string]bool)
	k := record.Controls
	for _, r := range s.Records.Of(k.Kind) {
		if k.Period.Of(&r) != at {
			continue
		}
		l := Line{Source: normal(k.From.Of(&r)), Code: k.CostCode.Of(&r), Told: true}
		l.Currency = cmp.Or(money.Currency(k.Currency.Of(&r)), m.Reporting)
		if l.Control, err = record.AmountOf(&r, k.Amount, l.Currency); err != nil {
			l.Why = err.Error()
		}
		b.fill(&l)
		if key := [3]string{l.Source, l.Code, string(l.Currency)}; once[key] {
			l.Why = "it is told twice: with its currency, and without one, which means the reporting one"
		} else {
			once[key] = true
		}
		told[sourceKey{l.Source, l.Currency}] = true
		out.Lines = append(out.Lines, l)
	}
	for _, key := range b.sources() {
		if !told[key] {
			l := Line{Source: key.source, Currency: key.currency}
			b.fill(&l)
			out.Lines = append(out.Lines, l)
			out.Untold++
		}
		if !slices.Contains(out.Sources, key.source) {
			out.Sources = append(out.Sources, key.source)
		}
	}
	for i := range out.Lines {
		if out.Lines[i].Off() {
			out.Off++
		}
	}
	slices.SortStableFunc(out.Lines, func(a, b Line) int {
		return cmp.Or(
			cmp.Compare(size(&b), size(&a)), cmp.Compare(flag(b.Told), flag(a.Told)),
			cmp.Compare(a.Source, b.Source), cmp.Compare(a.Code, b.Code), cmp.Compare(a.Currency, b.Currency),
		)
	})
	return out, nil
}

// size orders lines: by how far their totals are apart, either way.
func size(l *Line) uint64 {
	switch d := l.Difference(); {
	case !l.Told:
		return 0
	case d < 0:
		return -uint64(d)
	default:
		return uint64(d)
	}
}

func flag(b bool) int {
	if b {
		return 1
	}
	return 0
}

// builder has what lines are made of.
type builder struct {
	office *portfolio.Office
	files  map[int32]store.File
	sums   []takenSum
	left   []leftRow
	codes  map[string]int64
}

// takenSum is what was taken of a file on a code, with its source.
type takenSum struct {
	store.PostingSum
	source string
}

// leftRow is a row that was not taken, with what it is of.
type leftRow struct {
	Left
	source, code string
	currency     money.Currency
}

// sources are all that something was taken or refused of.
func (b *builder) sources() (out []sourceKey) {
	seen := make(map[sourceKey]bool)
	add := func(k sourceKey) {
		if !seen[k] {
			seen[k] = true
			out = append(out, k)
		}
	}
	for i := range b.sums {
		add(sourceKey{b.sums[i].source, b.sums[i].Currency})
	}
	for i := range b.left {
		add(sourceKey{b.left[i].source, b.left[i].currency})
	}
	slices.SortFunc(out, func(a, b sourceKey) int {
		return cmp.Or(cmp.Compare(a.source, b.source), cmp.Compare(a.currency, b.currency))
	})
	return out
}

// fill works out what became of a line's total.
func (b *builder) fill(l *Line) {
	id, known := b.codes[l.Code]
	if known {
		l.CodeName = b.office.Codes[id].Name
	}
	at := make(map[int32]int)
	for i := range b.sums {
		x := &b.sums[i]
		name := b.files[x.File].Name
		if x.source != l.Source || x.Currency != l.Currency || l.Code != "" && !(known && b.within(x.CostCode, id)) {
			continue
		}
		l.Taken += x.Amount
		l.Rows += x.Rows
		k, ok := at[x.File]
		if !ok {
			k = len(l.Files)
			at[x.File] = k
			l.Files = append(l.Files, File{ID: x.File, Name: name})
		}
		l.Files[k].Rows += x.Rows
		l.Files[k].Amount += x.Amount
		l.Files[k].Batch = max(l.Files[k].Batch, x.Batch)
	}
	for i := range b.left {
		x := &b.left[i]
		if x.source != l.Source || x.currency != l.Currency || l.Code != "" && x.code != l.Code {
			continue
		}
		if x.Code {
			l.Waits += x.Amount
		} else {
			l.Refused += x.Amount
		}
		l.Left = append(l.Left, x.Left)
	}
	if l.Code != "" && !known {
		l.Why = "no cost code of the office is called so; what a source calls otherwise is held against its total of the period"
	}
}

// within tells whether a code is another, or lies below it.
func (b *builder) within(code, above int64) bool {
	for range len(b.office.Codes) {
		if code == above {
			return true
		}
		c, ok := b.office.Codes[code]
		if !ok || c.Parent == 0 {
			return false
		}
		code = c.Parent
	}
	return false
}

// left lists the rows with amounts that were not taken, of a moment's period.
func (o Room) left(ctx context.Context, m *office.Moment, whose *sources) (out []leftRow, err error) {
	list, err := o.Store().RefusedAmounts(ctx)
	if err != nil {
		return nil, err
	}
	ps := m.Snapshot().Office.Periods
	seen := make(map[[2]int]bool) // a row may be refused for more than one cell
	for _, r := range list {
		if key := [2]int{int(r.File), int(r.Line)}; seen[key] {
			continue
		} else {
			seen[key] = true
		}
		if periodOf(&r, ps) != m.Asked.Number {
			continue
		}
		source, err := whose.of(r.File)
		if err != nil {
			return nil, err
		}
		x := leftRow{source: source, currency: cmp.Or(money.Currency(r.Currency), m.Reporting)}
		if x.Amount, err = money.Parse(money.RoundText(r.Amount, x.currency.Exponent()), x.currency); err != nil {
			continue // no amount that could be told
		}
		if r.Waits == "cost_code" {
			x.code = r.Value
		}
		x.Left = Left{
			File: whose.files[r.File].Name, ID: r.File, Line: int(r.Line), Run: r.Batch, Value: r.Value, Reason: r.Reason, Why: r.Why, Amount: x.Amount,
			Waiting: r.State == store.Waiting, Code: r.Waits != "" && r.State == store.Waiting,
		}
		out = append(out, x)
	}
	return out, nil
}

// periodOf tells the period of a refused row, by the cell that names one or a day; by the day
// on which it came where none does.
func periodOf(r *store.Refusal, ps *calendar.Periods) calendar.Period {
	for _, name := range [...]string{"period", "date"} {
		text := r.Cells[name]
		if p, err := ps.Parse(text); err == nil {
			return p
		}
		if d, err := calendar.ParseDate(text); err == nil {
			return ps.Near(d)
		}
	}
	var heads []string
	for h := range r.Cells {
		heads = append(heads, h)
	}
	slices.Sort(heads)
	for _, h := range heads {
		if d, ok := dayIn(r.Cells[h]); ok {
			return ps.Near(d)
		}
	}
	return ps.Near(calendar.DateIn(timeOf(r.At)))
}

// Off lists the sources whose totals differ from what was taken, in a moment's period, for
// rooms that asked for a right already; it costs nothing where no source told a total.
func (o Room) Off(ctx context.Context, m *office.Moment) (out []string, err error) {
	told := false
	for _, r := range m.Snapshot().Records.Of(record.Controls.Kind) {
		told = told || record.Controls.Period.Of(&r) == m.Asked.Number
	}
	if !told || m.Empty {
		return nil, nil
	}
	found, err := o.reconcile(ctx, m)
	if err != nil {
		return nil, err
	}
	for i := range found.Lines {
		if l := &found.Lines[i]; l.Off() {
			out = append(out, strings.TrimSpace(l.Source+" "+l.Code))
		}
	}
	return out, nil
}
