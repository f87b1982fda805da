package book

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"testing"

	"github.com/klauspost/compress/zstd"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// demonstration opens the demonstration as an earlier version kept it: closed
// periods, statements of four years and postings.
func demonstration(t *testing.T) (*Book, *Snapshot) {
	t.Helper()
	body, err := os.ReadFile("../web/testdata/demo.db.zst")
	require.NoError(t, err)
	dec, err := zstd.NewReader(nil)
	require.NoError(t, err)
	defer dec.Close()
	plain, err := dec.DecodeAll(body, nil)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "demo.db")
	require.NoError(t, os.WriteFile(path, plain, 0o600))
	ctx := context.Background()
	st, err := store.Open(ctx, path, false)
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	b, err := Open(ctx, st)
	require.NoError(t, err)
	s, err := b.Snapshot(ctx)
	require.NoError(t, err)
	_, err = s.Filled(ctx)
	require.NoError(t, err)
	return b, s
}

func codesOf(s *Snapshot) (out []string) {
	for _, p := range s.Projects() {
		out = append(out, p.Code)
	}
	return out
}

// said are values as they are written: of one that is known, without the reason
// that it would have had.
func said(list []figure.Value) (out []string) {
	for _, v := range list {
		switch {
		case !v.Known:
			out = append(out, v.Why)
		case v.R.Is():
			out = append(out, v.Rat().RatString())
		default:
			out = append(out, strconv.FormatInt(v.N, 10))
		}
	}
	return out
}

// touchedByCurrency tells what a rule changed after the demonstration was kept: estimates
// of projects in another currency than their own, and with them those of groups.
func touchedByCurrency(s *Snapshot, r *Reading, reporting bool) bool {
	return r.Group || reporting && s.Project(r.Code).Currency != s.Office.Reporting
}

// withoutLaterChecks gives values without what checks find that came after the
// demonstration was kept, or look at more since: that is not counted.
func withoutLaterChecks(values []figure.Value, found []finding.Finding) []figure.Value {
	out := slices.Clone(values)
	for _, f := range found {
		switch f.Check {
		case "orders-not-running", "link-broken", "link-overtaken", "constraint-broken":
			if f.Counts() && f.Severity == finding.Warning {
				out[figure.Warnings].N--
			}
		}
	}
	return out
}

// TestClosedPeriodsAreWhatTheirInputsGive: every cut's readings are those that its
// inputs compute today, and its marks are those of its readings.
func TestClosedPeriodsAreWhatTheirInputsGive(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	require.NotEmpty(t, s.Cuts)
	for p, cut := range s.Cuts {
		in, err := b.CutInputs(ctx, cut.ID)
		require.NoError(t, err)
		again, err := b.InputsAt(ctx, s, p)
		require.NoError(t, err)
		require.Same(t, in, again)
		for _, reporting := range []bool{false, true} {
			kept, err := b.Readings(ctx, s, p, portfolio.Latest, reporting)
			require.NoError(t, err)
			now, err := in.Live(ctx, p, portfolio.Latest, reporting)
			require.NoError(t, err)
			require.Len(t, kept.Rows, len(now.Rows))
			for i, r := range kept.Rows {
				if cut.Catalogue >= 3 || !touchedByCurrency(s, r, reporting) {
					known := figure.Len()
					if cut.Catalogue < 4 { // what follows was no figure yet
						known = int(figure.FloatLeast)
					}
					require.Equal(t, said(withoutLaterChecks(now.Rows[i].Values, now.Rows[i].Findings)[:known]), said(withoutLaterChecks(r.Values, r.Findings)[:known]), "%s in %d", r.Code, p)
				}
				is, was := now.Rows[i].Standing, r.Standing
				if cut.Catalogue < 4 { // what the data stand at counts their warnings
					is[standing.Data], was[standing.Data] = 0, 0
				}
				require.Equal(t, is, was, "%s in %d", r.Code, p)
			}
		}
		kept, err := b.CutReadings(ctx, cut.ID, true)
		require.NoError(t, err)
		marks, err := b.Marks(ctx, s, p)
		require.NoError(t, err)
		require.Equal(t, MarksOf(kept), marks)
		one, err := b.Reading(ctx, s, kept.Rows[0].Code, p, portfolio.Latest, true)
		require.NoError(t, err)
		require.Same(t, kept.Rows[0], one)
	}
	marks, err := b.Marks(ctx, s, s.Current())
	require.NoError(t, err)
	require.Nil(t, marks, "an open period has none")
	in, err := b.InputsAt(ctx, s, s.Current())
	require.NoError(t, err)
	require.Same(t, s, in, "an open period answers from what is there now")
	_, inputs, err := s.Inputs(ctx)
	require.NoError(t, err)
	_, again, err := s.Inputs(ctx)
	require.NoError(t, err)
	require.Equal(t, inputs, again)
}

// TestMarksCount: open findings count by severity, accepted ones apart.
func TestMarksCount(t *testing.T) {
	r := sample()
	r.Findings = []finding.Finding{
		{Severity: finding.Error},
		{Severity: finding.Warning},
		{Severity: finding.Warning},
		{Severity: finding.Note},
		{Severity: finding.Error, State: finding.Accepted},
	}
	group := sample()
	group.Group, group.Code, group.Counts = true, "*", [4]int{1, 2, 3, 4}
	m := MarksOf(&Readings{Rows: []*Reading{r, group}})
	require.Equal(t, map[string]Counts{"K1": {1, 2, 1, 1}}, m.ByCode)
	require.Equal(t, 4, m.ByCode["K1"].Open())
	require.Equal(t, map[string][4]int{"*": {1, 2, 3, 4}}, m.Groups)
	require.Equal(t, map[string]standing.Standing{"K1": r.Standing[standing.Overall]}, m.Projects)
	require.True(t, m.Checked)
	r.Version = ""
	require.False(t, MarksOf(&Readings{Rows: []*Reading{r, group}}).Checked, "a group's version is not a project's")
}

// TestEveryWayGivesTheSameReading: a reading of its own, one among all, one that
// is examined, one of a set, and one judged again are the same.
func TestEveryWayGivesTheSameReading(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	p := s.Current()
	for _, reporting := range []bool{false, true} {
		rs, err := s.Live(ctx, p, portfolio.Latest, reporting)
		require.NoError(t, err)
		again := s.Rejudge(rs, s.Rules, nil)
		for _, r := range rs.Rows {
			same := func(e *figure.Eval) {
				for id := range r.Values {
					require.Equal(
						t,
						r.Values[id],
						e.Get(figure.ID(id)),
						"%s of %s",
						figure.Get(figure.ID(id)).Name,
						r.Code,
					)
				}
			}
			if r.Group {
				if reporting {
					require.NoError(t, s.ExamineGroup(ctx, r.Code, nil, p, portfolio.Latest, same))
				}
				require.Same(t, r, rs.Group(r.Code))
				require.NotContains(t, again, r.Code)
				continue
			}
			require.Same(t, r, rs.Project(r.Code))
			ok, err := s.Examine(ctx, r.Code, p, portfolio.Latest, reporting, same)
			require.NoError(t, err)
			require.True(t, ok)
			alone, err := s.Against(ctx, r.Code, p, portfolio.Latest, reporting)
			require.NoError(t, err)
			require.Equal(t, r, alone)
			require.Equal(t, r.Standing[standing.Overall], again[r.Code][standing.Overall], r.Code)
		}
		require.Nil(t, rs.Project("nobody"))
		require.Nil(t, rs.Group("nobody"))
	}
	rs, err := s.Live(ctx, p, portfolio.Latest, true)
	require.NoError(t, err)
	whole, err := b.Set(ctx, s, codesOf(s), p, portfolio.Latest)
	require.NoError(t, err)
	require.Equal(t, rs.Group("*").Values, whole.Values)
	require.Equal(t, rs.Group("*").Counts, whole.Counts)
	some := codesOf(s)[:3]
	part, err := b.Set(ctx, s, append([]string{"nobody"}, some...), p, portfolio.Latest)
	require.NoError(t, err)
	require.NoError(t, s.ExamineGroup(ctx, "", some, p, portfolio.Latest, func(e *figure.Eval) {
		require.Equal(t, part.Value(figure.AC), e.Get(figure.AC))
	}))
	sum := 0
	for _, n := range part.Counts {
		sum += n
	}
	require.Equal(t, len(some), sum)
	ok, err := s.Examine(ctx, "nobody", p, portfolio.Latest, true, nil)
	require.NoError(t, err)
	require.False(t, ok)
	nobody, err := s.Against(ctx, "nobody", p, portfolio.Latest, true)
	require.NoError(t, err)
	require.Nil(t, nobody)
}

// TestJudgedByOtherRules: a rule that would have been stricter shows without any
// figure computed again, and a record of the same key takes the other's place.
func TestJudgedByOtherRules(t *testing.T) {
	ctx := context.Background()
	_, s := demonstration(t)
	p := s.Current()
	rs, err := s.Live(ctx, p, portfolio.Latest, true)
	require.NoError(t, err)
	row := func(watch, act string) store.RecordChange {
		r := portfolio.Row{Fields: make([]portfolio.Field, len(record.Rules.Columns))}
		for c, text := range map[record.Col]string{record.Rules.Dimension.Col: "cost", record.Rules.Reading.Col: "spent_share", record.Rules.Direction.Col: "above", record.Rules.Watch.Col: watch, record.Rules.Act.Col: act} {
			*c.In(&r) = portfolio.Field{Said: portfolio.Value, Text: text}
		}
		*record.Rules.From.In(&r) = portfolio.Field{Said: portfolio.Value, Int: int64(p + 1)}
		return store.RecordChange{Table: record.Rules.Kind, After: r}
	}
	strict := s.Apart([]store.RecordChange{row("0", "0.000001")})
	require.Positive(t, strict[0].After.ID)
	later, err := s.RulesWith(strict)
	require.NoError(t, err)
	require.Equal(
		t,
		s.Rejudge(rs, s.Rules, nil),
		s.Rejudge(rs, later, nil),
		"a rule of the next period says nothing of this one",
	)
	shifted := Shifted(strict, p)
	require.Equal(t, int64(p+1), record.Rules.From.In(&strict[0].After).Int, "the change itself stays")
	rules, err := s.RulesWith(shifted)
	require.NoError(t, err)
	acts := 0
	for code, table := range s.Rejudge(rs, rules, nil) {
		v := rs.Project(code).Value(figure.SpentShare)
		if v.Known && table[standing.Cost] == standing.Act {
			acts++
		}
	}
	require.Greater(t, acts, 3)
	early := make(map[int64]int64)
	for _, pr := range s.Projects() {
		early[pr.ID] = 2 * portfolio.Quantity * 100 // more than everything
	}
	told := 0
	for code, table := range s.Rejudge(rs, s.Rules, early) {
		if was := rs.Project(code); len(was.Override) == 0 && was.Standing[standing.Cost] != table[standing.Cost] {
			require.NotEqual(t, standing.Act, table[standing.Cost], "%s: it is too early to be told by an index", code)
			told++
		}
	}
	require.Positive(t, told)
	off, err := s.RulesWith(append(shifted, Shifted([]store.RecordChange{row("", "")}, p)...))
	require.NoError(t, err)
	require.NotEqual(t, s.Rejudge(rs, rules, nil), s.Rejudge(rs, off, nil), "the second of the same key counts")
}

// TestMoneyIsKeptAsAsked: lines that were read stay for the projects that did not
// change, in the ways asked for last, and say what each cell says.
func TestMoneyIsKeptAsAsked(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	p, codes := s.Current(), codesOf(s)
	ask := func(s *Snapshot, p calendar.Period) []*costs.Project {
		list, err := s.Costs(ctx, append([]string{"nobody"}, codes...), p, portfolio.Latest, "", costs.Usual, false)
		require.NoError(t, err)
		require.Len(t, list, len(codes))
		return list
	}
	first := ask(s, p)
	again := ask(s, p)
	for i, pr := range first {
		require.Same(t, pr, again[i])
		cells := make(map[calendar.Period]int)
		why, err := s.EachCost(
			ctx,
			pr.Code,
			p,
			portfolio.Latest,
			"",
			costs.Usual,
			func(of *portfolio.Project, c *costs.Cell) {
				require.Equal(t, pr.Code, of.Code)
				cells[c.Period]++
			},
		)
		require.NoError(t, err)
		require.Equal(t, pr.Why, why)
		require.Equal(t, why == "" && len(pr.Lines) > 0, len(cells) > 0, pr.Code)
		at, span, err := s.PlanAt(ctx, pr.Code, p, pr.Number, "")
		require.NoError(t, err)
		require.Equal(t, pr.Lines, at.Lines, pr.Code)
		if pr.Why == "" {
			require.LessOrEqual(t, span[0], span[1])
		}
	}
	none, _, err := s.PlanAt(ctx, "nobody", p, 1, "")
	require.NoError(t, err)
	require.Nil(t, none)
	why, err := s.EachCost(
		ctx,
		"nobody",
		p,
		portfolio.Latest,
		"",
		costs.Usual,
		func(*portfolio.Project, *costs.Cell) { t.Error("a cell of nobody") },
	)
	require.NoError(t, err)
	require.Empty(t, why)
	outlook, err := s.Costs(ctx, codes, p, portfolio.Latest, s.Office.Reporting, costs.Constant, true)
	require.NoError(t, err)
	more := 0
	for i, pr := range outlook {
		require.Equal(t, s.Office.Reporting, pr.Currency)
		if len(pr.Lines) > len(first[i].Lines) {
			more++
		}
	}
	require.Positive(t, more, "the outlook has lines of its own")

	touched := s.Projects()[0]
	change(t, b, s, &store.Batch{Parts: []store.PartChange{{
		Part: portfolio.Part{Project: touched.ID, Kind: portfolio.AccrualPart, Version: int32(p)},
		Body: format.EncodeLines(
			[]portfolio.Line{
				{
					CodeID:   1,
					Flow:     portfolio.Cost,
					Class:    "opex",
					Currency: touched.Currency,
					Cells:    []portfolio.Cell{{Period: p, Amount: 12345}},
				},
			},
		),
	}}})
	now, err := b.Snapshot(ctx)
	require.NoError(t, err)
	after := ask(now, p)
	for i, pr := range after {
		if pr.Code == touched.Code {
			require.NotSame(t, first[i], pr)
			require.NotEqual(t, first[i].Lines, pr.Lines)
		} else {
			require.Same(t, first[i], pr, pr.Code)
		}
	}
	for i := range calendar.Period(room/costsKey{}.Weight() + 1) { // others take its place
		ask(now, p-1-i)
	}
	require.NotSame(t, after[1], ask(now, p)[1])
	require.Equal(t, after[1].Lines, ask(now, p)[1].Lines)
}

// change writes a batch beside the book, on what a snapshot says.
func change(t *testing.T, b *Book, s *Snapshot, x *store.Batch) {
	t.Helper()
	x.Base = s.Revision
	_, err := b.store.Commit(context.Background(), x)
	require.NoError(t, err)
}

// TestWhatOthersAskOftenIsKept: what forecasts said and who supplies most are the
// same from a kept snapshot as from one loaded anew, for codes asked for once,
// twice or in vain.
func TestWhatOthersAskOftenIsKept(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	fresh, err := Open(ctx, b.store)
	require.NoError(t, err)
	anew, err := fresh.Snapshot(ctx)
	require.NoError(t, err)
	codes := append([]string{"nobody"}, codesOf(s)...)
	stated, supplied := 0, 0
	for _, p := range []calendar.Period{s.Current(), s.Current() - 6, s.Current()} {
		some, err := s.Forecasts(ctx, codes[:4], p)
		require.NoError(t, err)
		list, err := s.Forecasts(ctx, codes, p)
		require.NoError(t, err)
		other, err := anew.Forecasts(ctx, codes, p)
		require.NoError(t, err)
		require.Nil(t, list[0])
		for i := 1; i < len(list); i++ {
			if i < len(some) {
				require.Same(t, some[i], list[i])
			}
			require.Equal(t, other[i], list[i], codes[i])
			require.Equal(t, p, list[i].At)
			stated += len(list[i].Statements)
			for _, x := range list[i].Statements {
				require.LessOrEqual(t, x.Period, p, codes[i])
			}
		}
		names, err := s.Suppliers(ctx, codes, p)
		require.NoError(t, err)
		require.NotContains(t, names, "nobody")
		require.Len(t, names, len(codes)-1)
		again, err := anew.Suppliers(ctx, codes, p)
		require.NoError(t, err)
		require.Equal(t, again, names)
		for _, n := range names {
			if n != "" {
				supplied++
			}
		}
	}
	require.Positive(t, stated)
	require.Positive(t, supplied)
}

// TestStatementsThatSayTheSame: a statement that repeats the one before is told,
// and one that says something else in a single amount or field is not.
func TestStatementsThatSayTheSame(t *testing.T) {
	ctx := context.Background()
	_, s := demonstration(t)
	p := s.Current()
	pr := s.Projects()[0]
	line := func(amounts ...int64) []byte {
		l := portfolio.Line{CodeID: 1, Flow: portfolio.Cost, Class: "opex", Currency: pr.Currency}
		for i, n := range amounts {
			l.Cells = append(l.Cells, portfolio.Cell{Period: p + calendar.Period(i), Amount: n})
		}
		return format.EncodeLines([]portfolio.Line{l})
	}
	progress := func(n int64) []byte {
		r := portfolio.Row{Fields: make([]portfolio.Field, len(record.Named("progress").Columns))}
		for i := range r.Fields {
			r.Fields[i] = portfolio.Field{Said: portfolio.Value, Int: n}
		}
		return format.EncodeRows([]portfolio.Row{r})
	}
	for _, c := range []struct {
		kind        portfolio.PartKind
		before, now []byte
		same        bool
	}{
		{portfolio.ForecastPart, line(1, 20, 30), line(1, 20, 30), true},
		{portfolio.ForecastPart, line(1, 20, 30), line(9, 20, 30), true}, // the period itself is past by then
		{portfolio.ForecastPart, line(1, 20, 30), line(1, 20, 31), false},
		{portfolio.ForecastPart, line(1, 20, 30), line(1, 20), false},
		{portfolio.ForecastPart, line(1, 20, 0), line(1, 20), true}, // nothing is no amount
		{portfolio.ProgressPart, progress(5), progress(5), true},
		{portfolio.ProgressPart, progress(5), progress(6), false},
	} {
		with, err := s.With(ctx, &store.Batch{Parts: []store.PartChange{
			{Part: portfolio.Part{Project: pr.ID, Kind: c.kind, Version: int32(p - 1)}, Body: c.before},
			{Part: portfolio.Part{Project: pr.ID, Kind: c.kind, Version: int32(p)}, Body: c.now},
		}})
		require.NoError(t, err)
		same, err := with.SameAsBefore(ctx, p, c.kind)
		require.NoError(t, err)
		require.Equal(t, c.same, same[portfolio.Part{Project: pr.ID, Kind: c.kind, Version: int32(p)}])
		other, err := with.SameAsBefore(ctx, p, portfolio.RiskPart)
		require.NoError(t, err)
		require.NotContains(
			t,
			other,
			portfolio.Part{Project: pr.ID, Kind: c.kind, Version: int32(p)},
			"only kinds that were asked for",
		)
	}
}

// TestWhatTwoSnapshotsHaveDifferently: nothing between a snapshot and itself; what
// a batch changes, and no more, between it and what the batch leaves; and the
// other way round the same with sides changed.
func TestWhatTwoSnapshotsHaveDifferently(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	all := func(string) bool { return true }
	none, err := Differ(ctx, s, s, all, true)
	require.NoError(t, err)
	require.Empty(t, none)
	pr, p := s.Projects()[0], s.Current()
	row := portfolio.Row{}
	for _, r := range s.Records.Of(record.Projects.Kind) {
		if r.ID == pr.ID {
			row = r
			row.Fields = slices.Clone(r.Fields)
		}
	}
	name := record.Projects.Index("name")
	row.Fields[name] = portfolio.Field{Said: portfolio.Value, Text: "Another name"}
	x := &store.Batch{
		Records: []store.RecordChange{{Table: record.Projects.Kind, After: row}},
		Parts: []store.PartChange{{
			Part: portfolio.Part{Project: pr.ID, Kind: portfolio.AccrualPart, Version: int32(p + 40)},
			Body: format.EncodeLines(
				[]portfolio.Line{
					{
						CodeID:   1,
						Code:     "C",
						Flow:     portfolio.Cost,
						Class:    "opex",
						Currency: pr.Currency,
						Cells:    []portfolio.Cell{{Period: p, Amount: 12345}, {Period: p + 1, Amount: -100}},
					},
				},
			),
		}},
	}
	with, err := s.With(ctx, x)
	require.NoError(t, err)
	there, err := Differ(ctx, s, with, all, true)
	require.NoError(t, err)
	cur := " " + string(pr.Currency)
	code := s.Office.Periods.Code
	want := []Differs{
		{Project: pr.Code, Table: "projects", Column: "name", Was: pr.Name, Is: "Another name", Source: row.Source},
		{
			Project: pr.Code,
			Table:   "costs",
			Version: "accrual",
			Key:     "C, opex, " + code(p),
			Column:  "amount",
			Is:      "123.45" + cur,
		},
		{
			Project: pr.Code,
			Table:   "costs",
			Version: "accrual",
			Key:     "C, opex, " + code(p+1),
			Column:  "amount",
			Is:      "-1.00" + cur,
		},
	}
	for i := range there { // a project's own row is named by the project alone
		if there[i].Table == "projects" {
			there[i].Key = ""
		}
	}
	require.Equal(t, want, there)
	change(t, b, s, x)
	now, err := b.Snapshot(ctx)
	require.NoError(t, err)
	back, err := Differ(ctx, now, s, all, true)
	require.NoError(t, err)
	require.Len(t, back, len(want))
	for i, d := range back {
		require.Equal(t, [2]string{want[i].Was, want[i].Is}, [2]string{d.Is, d.Was})
	}
	others, err := Differ(ctx, s, with, func(c string) bool { return c != pr.Code }, true)
	require.NoError(t, err)
	require.Empty(t, others)
	require.Equal(t, "C, opex, "+code(p)+", accrual", there[1].Row())
	require.Equal(t, "accrual", (&Differs{Version: "accrual"}).Row())
}

// TestHistoryIsAChain: every change of a project's statements and of its records
// begins with what the one before left, and the last leaves what is there.
func TestHistoryIsAChain(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	type place struct{ table, key, version, column string }
	follow := func(at map[place]string, list []Differs) {
		for _, d := range list {
			k := place{d.Table, d.Key, d.Version, d.Column}
			require.Equal(t, at[k], d.Was, "%+v", d)
			if at[k] = d.Is; d.Is == "" {
				delete(at, k)
			}
		}
	}
	var kinds []portfolio.PartKind
	for k := portfolio.ActivityPart; k <= portfolio.NarrativePart; k++ {
		kinds = append(kinds, k)
	}
	nothing := *s
	nothing.Stated, nothing.Records = nil, make(Records)
	for _, pr := range s.Projects() {
		list, err := b.store.PartsThrough(ctx, pr.ID, kinds)
		require.NoError(t, err)
		slices.SortStableFunc(list, func(x, y store.PartHistory) int { return int(x.Batch - y.Batch) })
		at := make(map[place]string)
		require.NoError(t, s.PartDiffers(ctx, list, func(_ store.PartHistory, d []Differs) bool {
			for i := range d {
				require.Equal(t, pr.Code, d[i].Project)
			}
			follow(at, d)
			return true
		}))
		there, err := Differ(ctx, &nothing, s, func(code string) bool { return code == pr.Code }, false)
		require.NoError(t, err)
		want := make(map[place]string)
		for _, d := range there {
			if k := record.Named(d.Table); k == nil || k.Keep != record.Records {
				want[place{d.Table, d.Key, d.Version, d.Column}] = d.Is
			}
		}
		require.Len(t, at, len(want), pr.Code)
		for k, is := range want {
			require.Equal(t, is, at[k], "%s: %+v", pr.Code, k)
		}
		if len(list) > 1 {
			seen := 0
			require.NoError(
				t,
				s.PartDiffers(ctx, list, func(store.PartHistory, []Differs) bool { seen++; return false }),
			)
			require.Equal(t, 1, seen, "until it is enough")
		}
	}
	for _, k := range record.Kinds() {
		if k.Keep != record.Records {
			continue
		}
		at := make(map[place]string)
		list, err := b.store.ChangesThrough(ctx, k.Name, 0, 1_000_000)
		require.NoError(t, err)
		slices.SortStableFunc(list, func(x, y store.Change) int { return int(x.Batch - y.Batch) })
		for _, c := range list {
			d, err := s.ChangeDiffers(
				c,
				func() ([]store.Change, error) { return b.store.ChangesAfter(ctx, c.Table, c.Record, c.Batch-1) },
			)
			require.NoError(t, err)
			for i := range d {
				d[i].Key += " of " + d[i].Project + strconv.FormatInt(c.Record, 10)
			}
			if c.Field == store.Removed {
				for i := range at {
					if i.key == d[0].Key {
						delete(at, i)
					}
				}
				continue
			}
			follow(at, d)
		}
		for _, row := range s.Records.Of(k) {
			key, project := s.key(k, &row)
			for _, d := range rowDiffers(s, k, nil, &row, "project", "") {
				require.Equal(
					t,
					d.Is,
					at[place{k.Name, key + " of " + project + strconv.FormatInt(row.ID, 10), "", d.Column}],
					"%s %s, %s",
					k.Name,
					key,
					d.Column,
				)
			}
		}
	}
}

// TestAMissingPartIsNamed: where the disk has lost a statement, the error tells
// whose it was and which.
func TestAMissingPartIsNamed(t *testing.T) {
	_, s := demonstration(t)
	for id, list := range s.Stated {
		for _, x := range list {
			name := s.nameOf(x.ID)
			require.Contains(t, name, s.ByID(id).Code)
			require.Contains(t, name, x.Kind.String())
		}
		break
	}
	require.Equal(t, "a statement of before", s.nameOf(1<<40))
}

// TestLastNamed: the last period that anything names, with the table that does,
// whether it is a record, a statement or one of its amounts.
func TestLastNamed(t *testing.T) {
	ctx := context.Background()
	_, s := demonstration(t)
	last, by, err := s.LastNamed(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, by)
	require.GreaterOrEqual(t, last, s.Current())
	pr := s.Projects()[0]
	part := func(kind portfolio.PartKind, version, cell calendar.Period) store.PartChange {
		return store.PartChange{
			Part: portfolio.Part{Project: pr.ID, Kind: kind, Version: int32(version)},
			Body: format.EncodeLines(
				[]portfolio.Line{
					{
						CodeID:   1,
						Flow:     portfolio.Cost,
						Currency: pr.Currency,
						Cells:    []portfolio.Cell{{Period: cell, Amount: 1}},
					},
				},
			),
		}
	}
	due := portfolio.Row{ID: 999, Fields: make([]portfolio.Field, len(record.Periods.Columns))}
	*record.Periods.Period.In(&due) = portfolio.Field{Said: portfolio.Value, Int: int64(last + 7)}
	for _, c := range []struct {
		b    *store.Batch
		want calendar.Period
		by   string
	}{
		{&store.Batch{Parts: []store.PartChange{part(portfolio.ActualPart, last+3, last+5)}}, last + 5, "costs"},
		{&store.Batch{Parts: []store.PartChange{part(portfolio.ForecastPart, last+6, last+5)}}, last + 6, portfolio.ForecastPart.Sent()},
		{&store.Batch{Records: []store.RecordChange{{Table: record.Periods.Kind, After: due}}}, last + 7, "periods"},
	} {
		with, err := s.With(ctx, c.b)
		require.NoError(t, err)
		got, by, err := with.WithPeriods(s.Office.Periods).LastNamed(ctx)
		if with.named == nil {
			t.Fatal("nothing is kept of what is named")
		}
		require.NoError(t, err)
		require.Equal(t, c.want, got)
		require.Equal(t, c.by, by)
	}
}

// TestFirstAndCurrent: before anything is closed the last period with something
// in it is the current one; after that the one that follows the last closed.
func TestFirstAndCurrent(t *testing.T) {
	require.Equal(t, calendar.Period(0), (&Snapshot{}).Current())
	s := &Snapshot{Last: 20, first: 5}
	require.Equal(t, calendar.Period(20), s.Current())
	require.Equal(t, calendar.Period(5), s.First())
	s.Closed = map[calendar.Period]bool{7: true, 9: true, 8: true}
	require.Equal(t, calendar.Period(10), s.Current())
	s.first = 12
	require.Equal(t, calendar.Period(10), s.First(), "never after the current one")
	s.first = 0
	require.Equal(t, calendar.Period(10), s.First())
}

// TestLinksToOthersAreFollowed: links to other projects are found as they are stated, and
// what knots of linked projects tell is what the network of all tells.
func TestLinksToOthersAreFollowed(t *testing.T) {
	ctx := context.Background()
	_, s := demonstration(t)
	p := s.Current()
	here, there := s.Projects()[0], s.Projects()[1]
	row := func(from, to portfolio.Field) portfolio.Row {
		r := portfolio.Row{Fields: make([]portfolio.Field, len(record.Links.Columns))}
		*record.Links.From.In(&r), *record.Links.To.In(&r) = from, to
		return r
	}
	end := func(pr *portfolio.Project, i int, with string) portfolio.Field {
		return portfolio.Field{Said: portfolio.Value, Int: pr.Activities[i].ID, Text: with + pr.Activities[i].Code}
	}
	mine, theirs := end(here, 0, ""), end(there, len(there.Activities)-1, there.Code+"/")
	s, err := s.With(ctx, &store.Batch{Parts: []store.PartChange{{
		Part: portfolio.Part{Project: here.ID, Kind: portfolio.LinkPart, Version: 0},
		Body: format.EncodeRows([]portfolio.Row{row(mine, theirs), row(theirs, mine), row(mine, end(here, 1, ""))}),
	}}})
	require.NoError(t, err)
	_, err = s.Filled(ctx)
	require.NoError(t, err)
	linked := s.Project(here.Code)
	require.Equal(t, []portfolio.Across{
		{Other: there.Code, Code: there.Activities[len(there.Activities)-1].Code, Activity: theirs.Int, Type: "FS"},
		{
			Other:    there.Code,
			Code:     there.Activities[len(there.Activities)-1].Code,
			Activity: theirs.Int,
			Type:     "FS",
			Into:     true,
		},
	}, linked.Across)
	require.Equal(t, []portfolio.Link{{From: 0, To: 1, Type: "FS"}}, linked.Links)
	require.Equal(t, 2, theWholeNetwork(t, s, p), "links across")
}

// TestAGiverMovesItsTaker: a project is read again when one that it waits for states other
// dates, and reads as if it were read for the first time.
func TestAGiverMovesItsTaker(t *testing.T) {
	ctx := context.Background()
	_, s := demonstration(t)
	p := s.Current()
	codes := []string{"FR-01", "QS-02"}
	giver, taker := s.Project(codes[0]), s.Project(codes[1])
	last := func(pr *portfolio.Project) int {
		return slices.IndexFunc(pr.Activities, func(a portfolio.Activity) bool { return a.Code == "F4" })
	}
	i, k := last(giver), last(taker)
	require.Positive(t, i)
	link := portfolio.Row{Fields: make([]portfolio.Field, len(record.Links.Columns))}
	*record.Links.From.In(&link) = portfolio.Field{Said: portfolio.Value, Int: giver.Activities[i].ID, Text: giver.Code + "/F4"}
	*record.Links.To.In(&link) = portfolio.Field{Said: portfolio.Value, Int: taker.Activities[k].ID, Text: "F4"}
	s, err := s.With(ctx, &store.Batch{Parts: []store.PartChange{{
		Part: portfolio.Part{Project: taker.ID, Kind: portfolio.LinkPart}, Body: format.EncodeRows([]portfolio.Row{link}),
	}}})
	require.NoError(t, err)
	finish := func(s *Snapshot) (out [2]calendar.Date) {
		rs, err := s.Live(ctx, p, portfolio.Latest, false)
		require.NoError(t, err)
		for n, code := range codes {
			v := rs.Project(code).Value(figure.FinishNetwork)
			require.True(t, v.Known, v.Why)
			out[n] = calendar.Date(v.N)
		}
		return out
	}
	before := finish(s)
	row := portfolio.Row{Fields: make([]portfolio.Field, len(record.Progress.Columns))}
	*record.Progress.Activity.In(&row) = portfolio.Field{Said: portfolio.Value, Int: giver.Activities[i].ID, Text: "F4"}
	*record.Progress.Finish.In(&row) = portfolio.Field{Said: portfolio.Value, Int: int64(before[0]) + 400}
	moved, err := s.With(ctx, &store.Batch{Parts: []store.PartChange{{
		Part: portfolio.Part{Project: giver.ID, Kind: portfolio.ProgressPart, Version: int32(p)}, Body: format.EncodeRows([]portfolio.Row{row}),
	}}})
	require.NoError(t, err)
	require.Same(t, s.Project(taker.Code), moved.Project(taker.Code), "nothing was stated of the taker")
	after := finish(moved)
	require.Greater(t, after[0], before[0])
	require.Greater(t, after[1], before[1], "it waits for the other")
	moved.memo = newMemo(moved.memo.cache)
	require.Equal(t, finish(moved), after)
}

// theWholeNetwork compares what each knot tells of its projects with the network of all
// projects at once, and counts the links between two projects that hold.
func theWholeNetwork(t *testing.T, s *Snapshot, p calendar.Period) int {
	ctx := context.Background()
	var views []*portfolio.View
	for _, pr := range s.Projects() {
		v, err := s.View(ctx, pr.Code, p, portfolio.Latest)
		require.NoError(t, err)
		views = append(views, v)
	}
	all := network.Of(views)
	told := all.Tell(s.Office.NearCritical, nil)
	webs, err := s.Webs(ctx, s.everyPlace(), p, portfolio.Latest)
	require.NoError(t, err)
	for i, v := range views {
		is, want := webs[i].Told, told[i]
		require.Equal(t, want.Finish, is.Finish, v.Code)
		require.Equal(t, [5]int{want.Unfinished, want.Float, want.Critical, want.Near, want.Broken}, [5]int{is.Unfinished, is.Float, is.Critical, is.Near, is.Broken}, v.Code)
		require.Equal(t, want.Conflicts, is.Conflicts, v.Code)
		require.Len(t, webs[i].Net().Troubles(webs[i].View), len(all.Troubles(i)), v.Code)
	}
	n := 0
	for i := range all.Stated {
		if l := &all.Stated[i]; l.Ends[0].View >= 0 && l.Ends[1].View >= 0 && l.Ends[0].View != l.Ends[1].View {
			n++
		}
	}
	return n
}

// TestRowsThatDiffer: a row of a statement is found again by its key; a field that
// changed, one that came and one that went are told, and nothing else.
func TestRowsThatDiffer(t *testing.T) {
	_, s := demonstration(t)
	k := record.Progress.Kind
	row := func(activity string, percent, units int64) portfolio.Row {
		r := portfolio.Row{Fields: make([]portfolio.Field, len(k.Columns))}
		set := func(c string, f portfolio.Field) { f.Said = portfolio.Value; r.Fields[k.Index(c)] = f }
		set("activity", portfolio.Field{Text: activity})
		if percent >= 0 {
			set("percent", portfolio.Field{Int: percent * portfolio.Quantity})
		}
		if units >= 0 {
			set("units_done", portfolio.Field{Int: units * portfolio.Quantity})
		}
		return r
	}
	part := portfolio.Part{Project: s.Projects()[0].ID, Kind: portfolio.ProgressPart, Version: int32(s.Current())}
	got, err := partDiffers(
		s,
		part,
		format.EncodeRows([]portfolio.Row{row("A", 10, -1), row("B", 20, 5), row("C", 30, -1)}),
		format.EncodeRows([]portfolio.Row{row("B", 25, -1), row("A", 10, -1), row("D", 1, -1)}),
	)
	require.NoError(t, err)
	var told []string
	for _, d := range got {
		told = append(told, d.Key+" "+d.Column+" "+d.Was+">"+d.Is)
	}
	require.Equal(t, []string{"B percent 20>25", "B units_done 5>", "C percent 30>", "D percent >1"}, told)
}

// TestBaselineRowsAreThoseOfTheirActivities: the first activity of a project has
// its baseline like the others.
func TestBaselineRowsAreThoseOfTheirActivities(t *testing.T) {
	_, s := demonstration(t)
	firsts := 0
	for _, pr := range s.Projects() {
		for _, b := range pr.Baselines {
			for _, r := range b.Rows {
				require.Less(t, r.Activity, len(pr.Activities))
				if r.Activity == 0 {
					firsts++
				}
			}
		}
	}
	require.Positive(t, firsts)
}

// TestTheMainSupplier is the one with the most, at the rates of the period; of two
// with as much the first by name, and of credits none.
func TestTheMainSupplier(t *testing.T) {
	ctx := context.Background()
	b, s := demonstration(t)
	p := s.Current()
	pr := slices.IndexFunc(s.Projects(), func(pr *portfolio.Project) bool { return pr.Currency == s.Office.Reporting })
	project := s.Projects()[pr]
	before, err := b.store.SupplierSums(ctx, []int64{project.ID}, int64(p))
	require.NoError(t, err)
	var most int64
	for _, x := range before {
		most = max(most, x.Sum)
	}
	n := 0
	post := func(supplier string, amount int64) {
		n++
		now, err := b.Snapshot(ctx)
		require.NoError(t, err)
		change(t, b, now, &store.Batch{Postings: []store.Posting{{
			ID: int64(
				900_000 + n,
			), Code: "S" + strconv.Itoa(n), Day: int32(s.Office.Periods.First(p)), Period: int32(p), Project: project.ID, CostCode: 1,
			Currency: project.Currency, Amount: amount, Supplier: supplier, Class: "opex",
		}}})
	}
	main := func() string { // as one sees it who opens the database
		fresh, err := Open(ctx, b.store)
		require.NoError(t, err)
		now, err := fresh.Snapshot(ctx)
		require.NoError(t, err)
		names, err := now.Suppliers(ctx, []string{project.Code}, p)
		require.NoError(t, err)
		return names[project.Code]
	}
	for _, c := range []struct {
		supplier string
		amount   int64
		main     string
	}{
		{"M works", most + 1, "M works"},
		{"N works", most + 1, "M works"},
		{"L works", most + 1, "L works"},
		{"L works", -1, "M works"},
		{"A works", -5 * most, "M works"},
	} {
		post(c.supplier, c.amount)
		require.Equal(t, c.main, main(), "%s with %d more", c.supplier, c.amount)
	}
}
