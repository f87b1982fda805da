package entry

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// ledgerPlan works out new and changed postings and the sums that they move.
type ledgerPlan struct {
	known   map[int64]store.Known
	nextID  int64
	taken   []store.Posting
	pending map[int64]int // by key: place in taken, or -1 − n for one that is unchanged
	void    map[int64]bool
	same    map[int64]said // unchanged postings of this run
}

// said is what a row of this run said of a posting that did not change.
type said struct {
	digest int64
	row    int32
	file   string
}

func (p *plan) openLedger(ctx context.Context) (*ledgerPlan, error) {
	if p.ledger != nil {
		return p.ledger, nil
	}
	was := new(*store.Ledger)
	if p.opts.ledger != nil {
		was = p.opts.ledger
	}
	read, err := p.store.Ledger(ctx, *was)
	if err != nil {
		return nil, err
	}
	*was = read
	known := read.Known
	l := &ledgerPlan{known: known, pending: make(map[int64]int), void: make(map[int64]bool), same: make(map[int64]said)}
	for _, k := range known {
		l.nextID = max(l.nextID, k.ID)
	}
	l.nextID++
	if len(known) < p.expect { // grown step by step, it would take twice the memory
		l.taken = make([]store.Posting, 0, p.expect-len(known))
		l.pending = make(map[int64]int, p.expect-len(known))
	}
	p.ledger = l
	return l, nil
}

// posting takes a row of postings. A posting that is there already is replaced
// field by field, as any other key.
func (p *plan) posting(ctx context.Context, t *record.Kind, r *portfolio.Row, cells func() map[string]string) {
	l, err := p.openLedger(ctx)
	if err != nil {
		p.fail(err)
		return
	}
	column, value, why := p.resolve(t, r)
	if why != "" {
		p.bad(r, cells(), column, value, "%s", why)
		return
	}
	f := func(i int) *portfolio.Field { return &r.Fields[i] }
	code := f(postingCol.code).Text
	key := store.PostingKey(code)
	known, exists := l.known[key]
	next, column, why := p.readPosting(ctx, r, store.Posting{ID: known.ID, Period: known.Period}, exists)
	var was store.Posting
	if exists && (why != "" || known.Digest != next.Digest()) { // it says less than all, or something else
		if was, err = p.store.Posting(ctx, known.ID); err != nil {
			p.fail(err)
			return
		}
		next, column, why = p.readPosting(ctx, r, was, true)
	}
	if why != "" {
		p.bad(r, cells(), column, cells()[column], "%s", why)
		return
	}
	if l.void[key] {
		p.bad(
			r,
			cells(),
			"",
			"",
			"another row of this run states the same posting differently; neither was taken, keep one",
		)
		return
	}
	if p.twice(l, key, &next, r, cells) {
		return
	}
	moved := f(postingCol.period).Said == portfolio.Value && exists && next.Period != known.Period
	if exists && !moved && known.Digest == next.Digest() {
		l.same[key] = said{known.Digest, r.Source.Row, p.file}
		return
	}
	if !exists {
		next.ID = l.nextID
		l.nextID++
	} else {
		if was.ID == 0 {
			was, err = p.store.Posting(ctx, known.ID)
		}
		if err != nil {
			p.fail(err)
			return
		}
		next.Was = &was
		if p.closed(was.Period) {
			p.bad(r, cells(), "", "", "%s", p.closedWhy(was.Period))
			return
		}
	}
	if p.closed(next.Period) {
		p.bad(r, cells(), "period", cells()["period"], "%s", p.closedWhy(next.Period))
		return
	}
	l.pending[key] = len(l.taken)
	l.taken = append(l.taken, next)
}

// twice deals with a posting that this run has stated already: the same again
// is nothing, something else refuses both.
func (p *plan) twice(
	l *ledgerPlan,
	key int64,
	next *store.Posting,
	r *portfolio.Row,
	cells func() map[string]string,
) bool {
	i, taken := l.pending[key]
	same, unchanged := l.same[key]
	var digest int64
	var row int32
	var file string
	switch {
	case taken:
		digest, row, file = l.taken[i].Digest(), l.taken[i].Source.Row, p.fileName(l.taken[i].Source.File)
	case unchanged:
		digest, row, file = same.digest, same.row, same.file
	default:
		return false
	}
	if digest == next.Digest() {
		if file == p.file {
			p.again[p.file]++
		}
		return true
	}
	l.void[key] = true
	first := map[string]string{"posting": next.Code}
	if taken {
		first["amount"] = money.Format(l.taken[i].Amount, l.taken[i].Currency)
		l.taken[i].Code = "" // taken out in change
	}
	p.refuse(
		gather.Refusal{
			File:   file,
			Row:    int(row),
			Column: "posting",
			Value:  next.Code,
			Reason: "another row of this run states the same posting differently; neither was taken, keep one",
			Cells:  first,
		},
	)
	p.bad(
		r,
		cells(),
		"posting",
		next.Code,
		"row %d of %s states the same posting differently; neither was taken, keep one",
		row,
		file,
	)
	return true
}

func (p *plan) fileName(id int32) string { return p.report.names[id] }

// postingCol holds the places of the columns of postings.
var postingCol = func() (c struct{ code, date, period, project, costCode, class, centre, activity, amount, currency, supplier, text int }) {
	t := record.Postings.Kind
	for name, at := range map[string]*int{"posting": &c.code, "date": &c.date, "period": &c.period, "project": &c.project, "cost_code": &c.costCode, "class": &c.class, "cost_centre": &c.centre, "activity": &c.activity, "amount": &c.amount, "currency": &c.currency, "supplier": &c.supplier, "text": &c.text} {
		*at = t.Index(name)
	}
	return c
}()

// readPosting gives the posting that a row leaves.
func (p *plan) readPosting(
	ctx context.Context,
	r *portfolio.Row,
	was store.Posting,
	exists bool,
) (n store.Posting, column, why string) {
	f := func(i int) *portfolio.Field { return &r.Fields[i] }
	n = was
	n.Code = f(postingCol.code).Text
	n.Source = portfolio.Source{File: p.fileID, Row: r.Source.Row}
	if r.Extra != nil {
		n.Extra = r.Extra
	}
	take := func(i int, to *string, def string) {
		if f(i).Said == portfolio.Value {
			*to = f(i).Text
		} else if f(i).Said == portfolio.None || *to == "" {
			*to = def
		}
	}
	take(postingCol.class, &n.Class, "")
	take(postingCol.centre, &n.Centre, "")
	take(postingCol.supplier, &n.Supplier, "")
	take(postingCol.text, &n.Text, "")
	if f(postingCol.date).Said == portfolio.Value {
		n.Day = int32(f(postingCol.date).Int)
	}
	if f(postingCol.project).Said == portfolio.Value {
		n.Project = f(postingCol.project).Int
	}
	if f(postingCol.costCode).Said == portfolio.Value {
		n.CostCode = f(postingCol.costCode).Int
	}
	switch {
	case n.Project == 0:
		return n, "project", "a posting needs a project"
	case n.CostCode == 0:
		return n, "cost_code", "a posting needs a cost code"
	}
	code := f(postingCol.project).Text
	if code == "" {
		code = p.projectCode(n.Project)
	}
	cur := string(n.Currency)
	take(postingCol.currency, &cur, string(p.projectCurrency(code)))
	n.Currency = money.Currency(cur)
	if a := f(postingCol.activity); a.Said == portfolio.Value {
		id, _, err := p.activityID(ctx, n.Project, a.Text)
		if err != nil {
			return n, "activity", err.Error()
		}
		if id == 0 {
			return n, "activity", unknown("activity", a.Text, "activities") + " of project " + code
		}
		n.Activity = id
	} else if a.Said == portfolio.None {
		n.Activity = 0
	}
	switch a := f(postingCol.amount); {
	case a.Said == portfolio.Value:
		var err error
		if n.Amount, err = p.amount(a, n.Currency); err != nil {
			return n, "amount", err.Error()
		}
	case !exists || a.Said == portfolio.None:
		return n, "amount", "a posting needs an amount"
	}
	column, why = p.postingPeriod(&n, f(postingCol.period), exists)
	return n, column, why
}

// postingPeriod finds the accounting period: the one stated, the one the
// posting has, or that of its date; where that is closed, the first open one
// after it.
func (p *plan) postingPeriod(n *store.Posting, f *portfolio.Field, exists bool) (column, why string) {
	switch {
	case f.Said == portfolio.Value:
		n.Period, n.Late = int32(f.Int), false
	case p.opts.Period != 0 && n.Day == 0 && !exists:
		n.Period = int32(p.opts.Period)
	case exists:
	case n.Day == 0:
		return "date", "a posting needs a date or an accounting period"
	default:
		own := p.snap.Office.Periods.Of(calendar.Date(n.Day))
		if own == 0 {
			return "date", "its date lies outside the office's periods"
		}
		n.Period = int32(own)
		for p.closed(n.Period) {
			n.Period++
			n.Late = true
		}
	}
	return "", ""
}

// ledgerCell tells the sums of postings apart.
type ledgerCell struct {
	lineKey
	period   calendar.Period
	currency money.Currency
}

// change sums the postings taken onto the parts in force.
func (l *ledgerPlan) change(ctx context.Context, p *plan) ([]store.PartChange, error) {
	codes, acts := make(map[int64]string), make(map[[2]int64]string)
	for _, e := range p.records["cost_codes"].list {
		codes[e.after.ID] = e.after.Fields[0].Text
	}
	l.taken = slices.DeleteFunc(l.taken, func(x store.Posting) bool { return x.Code == "" })
	for i := range l.taken {
		x := &l.taken[i]
		p.report.count("postings", p.fileName(x.Source.File), x.Was == nil, true)
		p.toldPosting(x)
	}
	for _, s := range l.same {
		p.report.count("postings", s.file, false, false)
	}
	moves := l.moves()
	var out []store.PartChange
	for from := 0; from < len(moves); {
		to := from
		for to < len(moves) && moves[to].part() == moves[from].part() {
			to++
		}
		deltas, err := p.deltas(moves[from:to])
		if err != nil {
			return nil, err
		}
		c, err := l.sum(ctx, p, moves[from].part(), deltas, codes, acts)
		if err != nil {
			return nil, err
		}
		out = append(out, c)
		from = to
	}
	return out, nil
}

// move is a posting that comes to a part, or leaves it.
type move struct {
	*store.Posting
	sign int64
}

func (m move) part() portfolio.Part {
	return portfolio.Part{Project: m.Project, Kind: portfolio.LedgerPart, Version: m.Period}
}

// moves lists what comes and leaves, part by part.
func (l *ledgerPlan) moves() []move {
	out := make([]move, 0, len(l.taken))
	for i := range l.taken {
		x := &l.taken[i]
		out = append(out, move{x, 1})
		if x.Was != nil {
			out = append(out, move{x.Was, -1})
		}
	}
	slices.SortStableFunc(out, func(a, b move) int {
		return cmp.Or(cmp.Compare(a.Project, b.Project), cmp.Compare(a.Period, b.Period))
	})
	return out
}

// deltas sums the moves of one part.
func (p *plan) deltas(moves []move) (map[ledgerCell]*portfolio.Cell, error) {
	out := make(map[ledgerCell]*portfolio.Cell)
	for _, m := range moves {
		k := ledgerCell{
			lineKey{m.CostCode, string(portfolio.Cost), m.Class, m.Centre, m.Activity},
			calendar.Period(m.Period),
			m.Currency,
		}
		c := out[k]
		if c == nil {
			c = &portfolio.Cell{Period: k.period}
			out[k] = c
		}
		n, ok := money.Add(c.Amount, m.sign*m.Amount)
		if !ok {
			return nil, p.tooLarge(m.Source, m.Code)
		}
		c.Amount, c.Source = n, m.Source
	}
	return out, nil
}

// tooLarge refuses everything: a sum of postings has left 64 bits.
func (p *plan) tooLarge(src portfolio.Source, code string) error {
	p.refuse(
		gather.Refusal{
			File:   p.fileName(src.File),
			Row:    int(src.Row),
			Column: "amount",
			Reason: "with it the sum of its cost code is beyond 64 bits",
			Cells:  map[string]string{"posting": code},
		},
	)
	return office.ErrRefused
}

func (l *ledgerPlan) sum(
	ctx context.Context,
	p *plan,
	part portfolio.Part,
	deltas map[ledgerCell]*portfolio.Cell,
	codes map[int64]string,
	acts map[[2]int64]string,
) (store.PartChange, error) {
	was := p.stated(part)
	all := make(map[ledgerCell]*portfolio.Cell)
	if was != 0 {
		err := p.store.Bodies(ctx, []int64{was}, func(_ int64, body []byte) error {
			lines, err := format.DecodeLines(body)
			for i := range lines {
				x := &lines[i]
				acts[[2]int64{part.Project, x.ActivityID}] = x.Activity
				for j := range x.Cells {
					all[ledgerCell{lineKey{x.CodeID, string(x.Flow), x.Class, x.Centre, x.ActivityID}, x.Cells[j].Period, x.Currency}] = &x.Cells[j]
				}
			}
			return err
		})
		if err != nil {
			return store.PartChange{}, err
		}
	}
	for k, d := range deltas {
		if c := all[k]; c != nil {
			n, ok := money.Add(c.Amount, d.Amount)
			if !ok {
				return store.PartChange{}, p.tooLarge(d.Source, "")
			}
			c.Amount, c.Source = n, d.Source
		} else {
			all[k] = d
		}
	}
	lines := linesFrom(func(yield func(lineOf, remarkedCell) bool) {
		for k, c := range all {
			of := lineOf{k.lineKey, codes[k.code], p.activityCode(part.Project, k.activity, acts), k.currency}
			if !yield(of, remarkedCell{Cell: portfolio.Cell{Period: k.period, Amount: c.Amount, Source: c.Source}}) {
				return
			}
		}
	})
	return store.PartChange{Part: part, Body: format.EncodeLines(lines), Before: was}, nil
}

func (p *plan) activityCode(project, id int64, known map[[2]int64]string) string {
	if id == 0 {
		return ""
	}
	if s, ok := known[[2]int64{project, id}]; ok {
		return s
	}
	pp := p.parts[portfolio.Part{Project: project, Kind: portfolio.ActivityPart}]
	if pp == nil {
		return ""
	}
	t := pp.t
	for _, e := range pp.list {
		if e.after.ID == id {
			return strings.Clone(e.after.Fields[t.Index("activity")].Text)
		}
	}
	return ""
}
