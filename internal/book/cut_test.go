package book

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/rollup"
	"turret/internal/core/standing"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// sample is a reading with something in every field.
func sample() *Reading {
	r := &Reading{
		Code: "K1", Name: "Quay", Parent: "Q", Lead: "L", Sponsor: "S", Stage: "build", State: portfolio.Active, Currency: "EUR", Why: "w", HasSaid: true, Stated: standing.Watch,
		Values: make(
			[]figure.Value,
			figure.Len(),
		), Override: []portfolio.Override{{Dimension: "cost", From: 1, Until: 2, Standing: "act", Reason: "r"}},
		LeftOut: []rollup.LeftOut{{Code: "X", Why: "y"}}, Counts: [4]int{1, 2, 3, 4}, Next: Next{"Gate", 700000, -3},
	}
	for i := range r.Values {
		r.Values[i].Unit = figure.Get(figure.ID(i)).Unit
		r.Values[i].Why = "unknown"
	}
	r.Values[figure.BAC] = figure.Whole(figure.Money, -12345)
	r.Values[figure.CPI] = figure.Exact(figure.Ratio, exact.Of(-2, 3))
	r.Standing[standing.Cost], r.Computed[standing.Cost] = standing.Act, standing.Watch
	r.Terms = []figure.Term{{ID: figure.EV, Back: 3, Value: figure.Whole(figure.Money, 9)}}
	r.Reasons = []standing.Reason{
		{
			Dimension: standing.Cost,
			Reading:   figure.CPI,
			Value:     r.Values[figure.CPI],
			Direction: standing.Below,
			Watch:     "0.95",
			Act:       "0.9",
			Standing:  standing.Act,
		},
		{
			Dimension: standing.Risk,
			Reading:   figure.RiskExposure,
			Value:     figure.Unknown(figure.Count, "none"),
			Silent:    "none",
		},
	}
	own := standing.Reason{
		Dimension: standing.Data + 1,
		Rates:     "supply",
		Own:       "Ours",
		Value:     figure.Exact(figure.Ratio, exact.Of(1, 3)),
		Direction: standing.AtLeast,
		Act:       "1",
		Standing:  standing.Steady,
	}
	r.Reasons = append(r.Reasons, own)
	for i := range r.Reasons[:2] {
		r.Reasons[i].Rates = r.Reasons[i].Dimension.String()
	}
	r.Standing[standing.Most-1] = standing.Watch
	r.Version = "0123abcd"
	r.Findings = []finding.Finding{
		{
			Check: "c", Severity: finding.Error, Record: "r", Text: "t", Values: "v", Money: -5, Worth: 7, Source: portfolio.Source{File: 3, Row: 9}, Against: portfolio.Source{File: 4, Row: 1}, Since: 24300, State: finding.Accepted,
			Place: finding.Place{
				Table:   "progress",
				Key:     []finding.Cell{{Column: "activity", Text: "A"}},
				Columns: []string{"percent"},
			}, Answer: &portfolio.Answer{Check: "c", Record: "r", Accepted: true, From: 24300, Until: 24320, Reason: "why", Values: "v", By: "me"},
		},
		{Check: "d", Severity: finding.Note, State: finding.Open},
	}
	return r
}

func TestReadingsComeBack(t *testing.T) {
	own := &Readings{Period: 24311, Rows: []*Reading{sample()}}
	group := sample()
	group.Group, group.Code = true, "*"
	reporting := &Readings{Period: 24311, Reporting: true, Rows: []*Reading{sample(), group}}
	body := EncodeReadings(own, reporting)
	for _, want := range []*Readings{own, reporting} {
		got, err := DecodeReadings(body, want.Reporting)
		require.NoError(t, err)
		require.Equal(t, want, got)
	}
	for n := range len(body) {
		_, err := DecodeReadings(body[:n], true)
		require.Error(t, err, "cut off at %d", n)
	}
}

// TestFiguresThatJoinedLater: a cut that was made before a figure joined the
// catalogue says so of it, and of no other.
func TestFiguresThatJoinedLater(t *testing.T) {
	old := sample()
	old.Values = old.Values[:figure.IncomePlan]
	got, err := DecodeReadings(
		EncodeReadings(&Readings{Period: 1, Rows: []*Reading{old}}, &Readings{Period: 1, Reporting: true}),
		false,
	)
	require.NoError(t, err)
	values := got.Rows[0].Values
	require.Len(t, values, figure.Len())
	require.Equal(t, old.Values, values[:figure.IncomePlan])
	for i, v := range values[figure.IncomePlan:] {
		id := figure.IncomePlan + figure.ID(i)
		require.Equal(
			t,
			figure.Unknown(figure.Get(id).Unit, "it was no figure yet when the period was closed"),
			v,
			figure.Get(id).Name,
		)
	}
}

// TestFiguresAreKeptByName: a cut whose catalogue had other places, and figures
// that are none any more, reads the same.
func TestFiguresAreKeptByName(t *testing.T) {
	r := sample()
	body := EncodeReadings(&Readings{Period: 1, Rows: []*Reading{r}}, &Readings{Period: 1, Reporting: true})
	w := frostReader{Reader: format.Read(body)}
	require.Equal(t, uint64(readingsFormat), w.U())
	n := int(w.U())
	var names []string
	for range n {
		names = append(names, w.t())
	}
	require.Subset(t, names, early, "the catalogue of the first formats")
	halves := body[len(body)-w.Left():]
	names[figure.BAC], names[figure.AC] = "ac", "bac" // as if their places had been others
	names[figure.CPI] = "luck"
	var again frost
	again.u(readingsFormat)
	again.u(uint64(n))
	for _, name := range names {
		again.t(name)
	}
	got, err := DecodeReadings(append(again.b, halves...), false)
	require.NoError(t, err)
	require.Equal(t, r.Values[figure.BAC].N, got.Rows[0].Values[figure.AC].N)
	require.Equal(t, r.Values[figure.AC].N, got.Rows[0].Values[figure.BAC].N)
	require.Equal(t, r.Values[figure.PV], got.Rows[0].Values[figure.PV])
	require.Contains(t, got.Rows[0].Values[figure.CPI].Why, "no figure yet")
	for _, x := range got.Rows[0].Terms {
		require.NotEqual(t, figure.CPI, x.ID, "the term of a figure that is gone")
	}
}

// TestRefreshIsReload: what a snapshot becomes by steps is what a fresh load
// gives.
func TestRefreshIsReload(t *testing.T) {
	ctx := context.Background()
	st, err := store.Open(ctx, filepath.Join(t.TempDir(), "a.db"), true)
	require.NoError(t, err)
	defer st.Close()
	project := record.Named("projects")
	row := portfolio.Row{ID: 1, Fields: make([]portfolio.Field, len(project.Columns))}
	row.Fields[0] = portfolio.Field{Said: portfolio.Value, Text: "K"}
	lines := func(n int64) []byte {
		return format.EncodeLines(
			[]portfolio.Line{
				{
					Flow:     portfolio.Cost,
					Class:    "opex",
					Currency: "EUR",
					Cells:    []portfolio.Cell{{Period: 24311, Amount: n}},
				},
			},
		)
	}
	commit := func(b *store.Batch) {
		b.Base, err = st.Revision(ctx)
		require.NoError(t, err)
		_, err = st.Commit(ctx, b)
		require.NoError(t, err)
	}
	commit(
		&store.Batch{
			Records: []store.RecordChange{{Table: project, After: row}},
			Parts: []store.PartChange{
				{Part: portfolio.Part{Project: 1, Kind: portfolio.PlanPart, Version: 1}, Body: lines(100)},
			},
		},
	)
	b, err := Open(ctx, st)
	require.NoError(t, err)
	read := func(b *Book) []*Reading { return rowsOf(t, b) }
	require.Equal(t, int64(100), read(b)[0].Value(figure.BAC).N)
	for i := range int64(4) { // forecasts older than two are loaded when asked for
		commit(&store.Batch{Parts: []store.PartChange{
			{
				Part: portfolio.Part{Project: 1, Kind: portfolio.ActualPart, Version: int32(24311 + i)},
				Body: lines(7 + i),
			},
			{
				Part: portfolio.Part{Project: 1, Kind: portfolio.ForecastPart, Version: int32(24308 + i)},
				Body: lines(50 * i),
			},
		}})
		fresh, err := Open(ctx, st)
		require.NoError(t, err)
		require.Equal(t, read(fresh), read(b))
	}
	record := func(table string, cells ...any) store.RecordChange {
		rt := record.Named(table)
		r := portfolio.Row{ID: 1, Fields: make([]portfolio.Field, len(rt.Columns))}
		for i := 0; i < len(cells); i += 2 {
			f := portfolio.Field{Said: portfolio.Value}
			switch v := cells[i+1].(type) {
			case string:
				f.Text = v
			case int:
				f.Int = int64(v)
			}
			r.Fields[rt.Index(cells[i].(string))] = f
		}
		return store.RecordChange{Table: rt, After: r}
	}
	for _, c := range []store.RecordChange{ // what is said and how it is judged, without loading anew
		record("overrides", "project", 1, "dimension", "cost", "from", 24300, "until", 24330, "standing", "act", "reason", "r"),
		record("answers", "project", 1, "check", "baseline-missing", "record", "plan", "from", 24300, "answer", "accepted", "until", 24330, "reason", "r", "resting_on", "none"),
		record("rules", "dimension", "cost", "reading", "spent_share", "from", 24300, "direction", "above", "watch", "0.01", "act", "0.02"),
		record("checks", "check", "statement-stale", "from", 24300, "severity", "error"),
		record("checks_off", "project", 1, "check", "statement-stale", "from", 24300, "reason", "r"),
	} {
		before, err := b.Snapshot(ctx)
		require.NoError(t, err)
		_, err = before.Live(ctx, 24312, portfolio.Latest, true)
		require.NoError(t, err)
		with, err := before.With(ctx, &store.Batch{Records: []store.RecordChange{c}})
		require.NoError(t, err)
		would, err := with.Live(ctx, 24312, portfolio.Latest, true)
		require.NoError(t, err)
		commit(&store.Batch{Records: []store.RecordChange{c}})
		fresh, err := Open(ctx, st)
		require.NoError(t, err)
		require.Equal(t, read(fresh), read(b), c.Table.Name)
		require.Equal(t, read(b), would.Rows, "%s, as it was told before", c.Table.Name)
	}
	s, err := b.Snapshot(ctx)
	require.NoError(t, err)
	rs, err := s.Live(ctx, 24309, portfolio.Latest, false)
	require.NoError(t, err)
	require.Equal(t, int64(50), rs.Rows[0].Value(figure.EACStated).N, "the second forecast, loaded for its period")
}

// rowsOf are the rows that a book reads for the month after the statements.
func rowsOf(t *testing.T, b *Book) []*Reading {
	t.Helper()
	ctx := context.Background()
	s, err := b.Snapshot(ctx)
	require.NoError(t, err)
	rs, err := b.Readings(ctx, s, 24312, portfolio.Latest, true)
	require.NoError(t, err)
	return rs.Rows
}
