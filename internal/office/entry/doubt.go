package entry

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/likely"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// What a sheet of amounts would state is compared with what is known of the same cells
// before any of it is taken. Where it contradicts them it is asked, with both readings.

// doubtRows is the number of rows of a sheet that are compared.
const doubtRows = 5_000

// doubtCells is about the number of cells of them that are compared.
const doubtCells = 200

// cellOf is a cell of a project: amounts of all lines of a code and kind.
type cellOf struct {
	project, code int64
	kind          portfolio.PartKind
	version       int32 // of forecasts and commitments, the period they are stated in
}

// doubts compares what sheets of amounts would state with what is known.
type doubts struct {
	p     *plan
	known map[int64]map[int64]map[calendar.Period]int64 // by body, code and period
}

// doubt asks about the sheets that contradict what is known of their cells. Turret's own
// tables are taken at their word, and so is what someone said is right.
func (in *intake) doubt(ctx context.Context, p *plan) error {
	sums := in.summed()
	if in.opts.Trust && len(sums) == 0 {
		return nil // nothing is compared
	}
	if !in.opts.Trust {
		in.neighbours(p)
	}
	d := &doubts{p: p, known: make(map[int64]map[int64]map[calendar.Period]int64)}
	var read []read
	for i := range in.sheets {
		s := &in.sheets[i]
		if s.sheet == nil || !s.Read.Ready() || s.Read.Table != record.Costs.Name && s.Read.Table != record.Postings.Name {
			continue
		}
		is := d.read(in, s)
		read = append(read, struct {
			*Sheet
			is amounts
		}{s, is})
		if in.opts.Trust || s.Read.Canonical || s.Read.Trusted || d.unrated(s.Read, is) {
			continue
		}
		if err := d.compare(ctx, s.Read, is); err != nil {
			return err
		}
	}
	d.summaries(in, sums, read)
	if in.opts.Trust {
		return nil
	}
	return d.moved(ctx, read)
}

// read is a sheet of amounts, and what it states.
type read = struct {
	*Sheet
	is amounts
}

// amounts are what a sheet states, by cell and period, in minor units.
type amounts struct {
	cells       map[cellOf]map[calendar.Period]int64
	plain       bool // no row states a currency
	rows        int
	far         int // rows of periods far from the present
	apart       int // bookings whose day is far from their period, and both of the first
	day, period calendar.Period
	first       calendar.Period // of them, the first
	part        map[int64]bool  // projects of which not all could be compared
}

// nearPeriods is how many periods the day of a booking may lie from its period.
const nearPeriods = 2

// farPast and farAhead are how many periods a booking may lie from the present.
const farPast, farAhead = 60, 24

// read adds up what the first rows of a sheet state.
func (d *doubts) read(in *intake, s *Sheet) amounts {
	t, n, refused := s.table(), 0, false
	o := *in.reading
	o.Tick, o.Stop = nil, func() bool { return n > doubtRows }
	out := amounts{
		cells: make(map[cellOf]map[calendar.Period]int64), plain: s.Read.Fixed["currency"] == "", part: make(map[int64]bool),
	}
	now := cmp.Or(d.p.opts.Period, d.p.snap.Current())
	at := func(name string) int { return t.Index(name) }
	s.Read.Layout.Read(s.sheet, &o, func(r *portfolio.Row, _ func() map[string]string) {
		n++
		f := func(name string) portfolio.Field {
			if i := at(name); i >= 0 {
				return r.Fields[i]
			}
			return portfolio.Field{}
		}
		key := cellOf{
			project: d.p.id(record.Projects.Name, f("project").Text),
			code:    d.p.id(record.CostCodes.Name, f("cost_code").Text),
			kind:    portfolio.ActualPart,
		}
		period := calendar.Period(f("period").Int)
		if t.Name == record.Costs.Name {
			var why string
			key.kind, _ = portfolio.PartKindNamed(f("kind").Text)
			version := f("version")
			if key.version, why = d.p.costVersion(key.kind, &version, period); why != "" {
				return
			}
		} else if day := f("date"); period == 0 && day.Said == portfolio.Value {
			period = d.p.snap.Office.Periods.Of(calendar.Date(day.Int))
		}
		if day := f("date"); t.Name == record.Postings.Name && f("period").Said == portfolio.Value && day.Said == portfolio.Value {
			of := d.p.snap.Office.Periods.Of(calendar.Date(day.Int))
			if n := of - period; of != 0 && (n > nearPeriods || n < -nearPeriods) {
				out.apart++
				out.day, out.period = cmp.Or(out.day, of), cmp.Or(out.period, period)
			}
		}
		out.rows++
		if now != 0 && period != 0 && t.Name == record.Postings.Name && (period < now-farPast || period > now+farAhead) {
			out.far++
			out.first = cmp.Or(out.first, period)
		}
		own := d.p.projectCurrency(f("project").Text)
		if c := f("currency"); c.Said == portfolio.Value {
			out.plain = false
			if money.Currency(c.Text) != own {
				out.part[key.project] = true
				return
			}
		}
		amount := f("amount")
		if key.project == 0 || key.code == 0 || period == 0 || amount.Said != portfolio.Value {
			return
		}
		v, err := money.Parse(money.RoundText(amount.Text, own.Exponent()), own)
		if err != nil {
			return
		}
		if out.cells[key] == nil {
			out.cells[key] = make(map[calendar.Period]int64)
		}
		out.cells[key][period] += v
	}, func(gather.Refusal) { refused = true })
	if refused || n > doubtRows {
		out.part = nil
	}
	return out
}

// compare asks where what is stated contradicts what is known.
func (d *doubts) compare(ctx context.Context, u *gather.Understanding, is amounts) error {
	var pairs []likely.Pair
	var rows [][]likely.Step
	var before []float64
	projects := make(map[int64]bool)
	keys := slices.SortedFunc(maps.Keys(is.cells), byCell)
	step := max(1, len(keys)/doubtCells)
	for i, key := range keys {
		projects[key.project] = true
		if i%step != 0 || key.kind == portfolio.AccrualPart {
			continue // what is accrued is turned back in the month after
		}
		known, past, err := d.of(ctx, key)
		if err != nil {
			return err
		}
		periods := slices.Sorted(maps.Keys(is.cells[key]))
		unit := math.Pow10(d.p.projectCurrency(d.p.projectCode(key.project)).Exponent())
		var row []likely.Step
		for _, at := range periods {
			p := likely.Pair{Is: float64(is.cells[key][at]) / unit, Was: known(at) / unit}
			pairs, row = append(pairs, p), append(row, p)
		}
		rows = append(rows, row)
		before = append(before, past(periods[0])/unit)
	}
	switch {
	case is.far*2 > is.rows:
		u.Ask("trust", fmt.Sprintf(
			"most rows are of periods far from the present, as %s: say that they are right, or how their days are written",
			d.p.snap.Office.Periods.Name(is.first),
		), "yes")
		return nil
	case is.apart*2 > is.rows:
		u.Ask("trust", fmt.Sprintf(
			"most bookings are of %s by their period and of %s by their day: say that both are right, or what the column of periods is",
			d.p.snap.Office.Periods.Name(is.period), d.p.snap.Office.Periods.Name(is.day),
		), "yes")
		return nil
	case d.turned(u, pairs), d.scaled(u, pairs), d.converted(u, is, projects, pairs):
		return nil
	case u.Running == "" && u.Table == record.Costs.Name && likely.Running(rows, before):
		u.Ask("running",
			"the amounts follow what is known of their cells up to each period, added up; taken as their period's own they would count several times: say which they are",
			gather.ToDate, gather.YearToDate, gather.Single)
		return nil
	}
	if asked, err := d.replanned(ctx, u, is, keys); asked || err != nil {
		return err
	}
	return d.others(ctx, u, is, keys)
}

// unrated asks about amounts in a currency that a title or a head tells, which is no
// project's there, and of which the office has no rate: none of them would count.
func (d *doubts) unrated(u *gather.Understanding, is amounts) bool {
	o := d.p.snap.Office
	c := money.Currency(u.Fixed["currency"])
	if c == "" || u.Said["currency"] || c == o.Reporting || o.Rates != nil && o.Rates.Known(c) || len(is.part) == 0 {
		return false
	}
	choices := []string{string(c)}
	for id := range is.part {
		own := d.p.projectCurrency(d.p.projectCode(id))
		if own == c {
			return false
		}
		if !slices.Contains(choices, string(own)) {
			choices = append(choices, string(own))
		}
	}
	slices.Sort(choices[1:])
	u.Ask("fixed.currency", fmt.Sprintf(
		"the amounts are said to be in %s, of which the office has no rate, so that none would count; say which currency they are in", c,
	), choices...)
	return true
}

func (d *doubts) turned(u *gather.Understanding, pairs []likely.Pair) bool {
	const few = 3
	if u.Negate || u.Table == record.Postings.Name && len(pairs) < few || !likely.Turned(pairs) {
		return false // two bookings may well be credits
	}
	u.Ask("negate",
		"the amounts have the other sign than what is known of the same cells; say whether costs are written negative here",
		gather.TurnSign, gather.KeepSign)
	return true
}

// scaled asks about amounts that are off by a power of ten.
func (d *doubts) scaled(u *gather.Understanding, pairs []likely.Pair) bool {
	power := likely.Power(pairs)
	const thousand, few = 3, 3
	if u.Table == record.Postings.Name && (power < thousand && power > -thousand || len(pairs) < few) {
		return false // the bookings of a file may be few of those of a month
	}
	if power == 0 || u.Scaled {
		return false
	}
	p := example(pairs, func(p likely.Pair) bool {
		return p.Is != 0 && math.Abs(math.Log10(math.Abs(p.Is/p.Was))-float64(power)) < 1
	})
	times := fmt.Sprintf("%.0f times", math.Pow(10, math.Abs(float64(power))))
	less := "less"
	if power > 0 {
		less = "more"
	}
	text := fmt.Sprintf(
		"the amounts are about %s %s than what is known of the same cells (%s where %s is known); say in which unit they are",
		times, less, written(p.Is), written(p.Was),
	)
	const thousands, millions = 3, 6
	switch {
	case -power == thousands:
		u.Ask("places", text, gather.InThousands, gather.InWhole)
	case -power == millions:
		u.Ask("places", text, gather.InMillions, gather.InWhole)
	case power == u.Places && u.Places == thousands:
		u.Ask("places", text, gather.InWhole, gather.InThousands)
	case power == u.Places && u.Places == millions:
		u.Ask("places", text, gather.InWhole, gather.InMillions)
	default:
		u.Ask("trust", text+", or that they are right as they stand", "yes")
	}
	return true
}

// converted asks about amounts of projects of another currency that look like the
// reporting currency's, and state none.
func (d *doubts) converted(u *gather.Understanding, is amounts, projects map[int64]bool, pairs []likely.Pair) bool {
	o := d.p.snap.Office
	if !is.plain || o.Rates == nil {
		return false
	}
	var own money.Currency
	for id := range projects {
		c := d.p.projectCurrency(d.p.projectCode(id))
		if own != "" && c != own {
			return false
		}
		own = c
	}
	if own == "" || own == o.Reporting || !o.Rates.Known(own) {
		return false
	}
	at := int(d.p.snap.Current())
	if at == 0 {
		at = int(d.p.opts.Period)
	}
	rate, err := o.Rates.At(own, money.PlanRates, at, at)
	if err != nil {
		return false
	}
	value, ok := floatOf(rate.String())
	if !ok || !likely.Converted(pairs, value) {
		return false
	}
	p := example(pairs, func(p likely.Pair) bool { return p.Is != 0 })
	u.Ask("fixed.currency", fmt.Sprintf(
		"the projects are kept in %s, and the amounts look like %s (%s where %s %s are known, at a rate of %s); say which currency they are in",
		own, o.Reporting, written(p.Is), written(p.Was), own, rate,
	), string(own), string(o.Reporting))
	return true
}

// others asks about a sheet of one project that states, cell by cell, what another one last
// stated.
func (d *doubts) others(ctx context.Context, u *gather.Understanding, is amounts, keys []cellOf) error {
	const most = 2_000 // projects that are looked at
	list := d.p.snap.Records[record.Projects.Name]
	for _, k := range keys {
		if k.project != keys[0].project {
			return nil
		}
	}
	if len(keys) == 0 || len(list) > most {
		return nil
	}
	values := func(project int64) (out []int64, err error) {
		for _, k := range keys {
			k.project = project
			last, err := d.last(ctx, k)
			if err != nil {
				return nil, err
			}
			for _, at := range slices.Sorted(maps.Keys(is.cells[cellOf{keys[0].project, k.code, k.kind, k.version}])) {
				out = append(out, last[k.code][at])
			}
		}
		return out, nil
	}
	var stated []int64
	for _, k := range keys {
		for _, at := range slices.Sorted(maps.Keys(is.cells[k])) {
			stated = append(stated, is.cells[k][at])
		}
	}
	own, err := values(keys[0].project)
	if err != nil || likely.Same(stated, own) {
		return err
	}
	for i := range list {
		id := list[i].ID
		if id == keys[0].project {
			continue
		}
		other, err := values(id)
		if err != nil {
			return err
		}
		if likely.Same(stated, other) {
			u.Ask("trust", fmt.Sprintf(
				"all amounts of project %s are those that %s has: say that they are right, or correct the project",
				d.p.projectCode(keys[0].project), d.p.projectCode(id),
			), "yes")
			return nil
		}
	}
	return nil
}

// of gives what is known of a cell in a period, and up to a period: what was last stated,
// else what is planned, else what is usual in other periods.
func (d *doubts) of(ctx context.Context, k cellOf) (known, past func(calendar.Period) float64, err error) {
	last, err := d.last(ctx, k)
	if err != nil {
		return nil, nil, err
	}
	plan, err := d.last(ctx, cellOf{project: k.project, code: k.code, kind: portfolio.PlanPart, version: math.MaxInt32})
	if err != nil {
		return nil, nil, err
	}
	first := make(map[calendar.Period]int64)
	maps.Copy(first, plan[k.code])
	maps.Copy(first, last[k.code])
	usual := 0.0
	if n := len(last[k.code]); n > 0 {
		for _, v := range last[k.code] {
			usual += float64(v) / float64(n)
		}
	}
	known = func(at calendar.Period) float64 {
		if v, ok := first[at]; ok {
			return float64(v)
		}
		return usual
	}
	past = func(at calendar.Period) (sum float64) {
		for p, v := range last[k.code] {
			if p < at {
				sum += float64(v)
			}
		}
		return sum
	}
	return known, past, nil
}

// last gives what a project last stated of a kind, up to a version, by code and period.
func (d *doubts) last(ctx context.Context, k cellOf) (map[int64]map[calendar.Period]int64, error) {
	var found *store.Stated
	list := d.p.snap.Stated[k.project]
	for i := range list {
		s := &list[i]
		if s.Kind == k.kind && (s.Version <= k.version || k.kind == portfolio.ActualPart) &&
			(found == nil || s.Version > found.Version) {
			found = s
		}
	}
	if found == nil {
		return nil, nil
	}
	if have, ok := d.known[found.ID]; ok {
		return have, nil
	}
	out := make(map[int64]map[calendar.Period]int64)
	err := d.p.store.Bodies(ctx, []int64{found.ID}, func(_ int64, body []byte) error {
		lines, err := format.DecodeLines(body)
		for i := range lines {
			l := &lines[i]
			if out[l.CodeID] == nil {
				out[l.CodeID] = make(map[calendar.Period]int64)
			}
			for _, c := range l.Cells {
				out[l.CodeID][c.Period] += c.Amount
			}
		}
		return err
	})
	d.known[found.ID] = out
	return out, err
}

func example(pairs []likely.Pair, fits func(likely.Pair) bool) likely.Pair {
	for _, p := range pairs {
		if p.Was != 0 && fits(p) {
			return p
		}
	}
	return likely.Pair{}
}

// written writes an amount shortly, with commas between its thousands.
func written(amount float64) string {
	const digits = 10
	whole := strconv.FormatFloat(amount, 'g', digits, 64)
	if strings.Contains(whole, "e") {
		return whole
	}
	return money.Grouped(whole)
}

func floatOf(decimal string) (float64, bool) {
	f, err := strconv.ParseFloat(decimal, 64)
	return f, err == nil
}
