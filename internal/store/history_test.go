package store

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

const day = 24 * 60 * 60 * 1000

// told are batches of an office: what a history is asked about.
func told(t *testing.T) *Store {
	t.Helper()
	s := open(t, temp(t))
	base := int64(0)
	commit := func(b *Batch) {
		b.Base = base
		var err error
		base, err = s.Commit(ctx, b)
		require.NoError(t, err)
	}
	commit(&Batch{At: 1 * day, Actor: "op", Origin: "init", Records: []RecordChange{setting(1, "name", "Office")}})
	commit(
		&Batch{
			At:      2 * day,
			Actor:   "Ada Brannock",
			Account: 4,
			Origin:  "gather",
			Records: []RecordChange{project(1, "A"), project(2, "B")},
			Files:   []File{{ID: 1, Hash: [32]byte{1}, Name: "projects_1.csv", Sender: "Ada", At: 5, Body: []byte{0}}},
			Run:     []byte(`[{"file":"projects_1.csv"}]`),
		},
	)
	commit(
		&Batch{
			At:      3 * day,
			Actor:   "Bea",
			Account: 5,
			Origin:  "gather",
			Parts: []PartChange{
				part(1, "a"),
				{Part: portfolio.Part{Project: 2, Kind: portfolio.RiskPart, Version: 24311}, Body: []byte("\x01r")},
			},
		},
	)
	rename := project(1, "A")
	before := rename.After
	rename.Before = &before
	rename.After.Fields = append([]portfolio.Field{}, before.Fields...)
	rename.After.Fields[1] = portfolio.Field{Said: portfolio.Value, Text: "Alpha"}
	commit(
		&Batch{
			At:      4*day - 1,
			Actor:   "Bea",
			Account: 5,
			Origin:  "rules",
			Note:    "renamed",
			Records: []RecordChange{rename},
		},
	)
	share := portfolio.Row{ID: 1, Fields: make([]portfolio.Field, len(record.Overrides.Columns))}
	*record.Overrides.Project.In(&share) = portfolio.Field{Said: portfolio.Value, Int: 2}
	*record.Overrides.Dimension.In(&share) = portfolio.Field{Said: portfolio.Value, Text: "cost"}
	*record.Overrides.From.In(&share) = portfolio.Field{Said: portfolio.Value, Int: 24311}
	commit(
		&Batch{
			At:      4 * day,
			Actor:   "Bea",
			Account: 5,
			Origin:  "override",
			Records: []RecordChange{{Table: record.Overrides.Kind, After: share}},
		},
	)
	return s
}

// TestHistoryFilters: who, what file, which project and table, and between which
// moments: from the first to before the last.
func TestHistoryFilters(t *testing.T) {
	s := told(t)
	for _, c := range []struct {
		name string
		f    HistoryFilter
		want []int64
	}{
		{"all but the making of the office", HistoryFilter{}, []int64{5, 4, 3, 2}},
		{"a part of a name", HistoryFilter{Actor: "bran"}, []int64{2}},
		{"a sign of a pattern is a sign", HistoryFilter{Actor: "%"}, nil},
		{"a file", HistoryFilter{File: "projects_1"}, []int64{2}},
		{"an underscore is itself", HistoryFilter{File: "projects.1"}, nil},
		{"from a day on", HistoryFilter{From: 4 * day}, []int64{5}},
		{"until a day, which is left out", HistoryFilter{To: 4 * day}, []int64{4, 3, 2}},
		{"one day", HistoryFilter{From: 3 * day, To: 4 * day}, []int64{4, 3}},
		{"before a batch", HistoryFilter{Before: 4}, []int64{3, 2}},
		{"of a project", HistoryFilter{Project: 2}, []int64{5, 3, 2}},
		{"of another", HistoryFilter{Project: 1}, []int64{4, 3, 2}},
		{"of a table", HistoryFilter{Tables: []string{"overrides"}}, []int64{5}},
		{"of a kind", HistoryFilter{Kinds: []portfolio.PartKind{portfolio.RiskPart}}, []int64{3}},
		{"of either", HistoryFilter{Tables: []string{"overrides"}, Kinds: []portfolio.PartKind{portfolio.RiskPart}}, []int64{5, 3}},
		{"of a kind and a project that has none", HistoryFilter{Kinds: []portfolio.PartKind{portfolio.RiskPart}, Project: 1}, nil},
		{"some", HistoryFilter{Only: []int64{2, 4}}, []int64{4, 2}},
		{"none of them", HistoryFilter{Only: []int64{}}, nil},
	} {
		c.f.Most = 10
		list, err := s.Batches(ctx, c.f)
		require.NoError(t, err, c.name)
		var got []int64
		for _, b := range list {
			got = append(got, b.ID)
		}
		require.Equal(t, c.want, got, c.name)
	}
	list, err := s.Batches(ctx, HistoryFilter{Most: 2})
	require.NoError(t, err)
	require.Len(t, list, 2)
	require.Equal(t, "override", list[0].Touched)
	list, err = s.Batches(ctx, HistoryFilter{Only: []int64{2, 3}, Most: 2})
	require.NoError(t, err)
	require.Equal(t, 2, list[0].Projects)
	require.True(t, list[1].Run)
	require.Equal(t, "projects_1.csv", list[1].Files)
}

// TestChanges: field by field, in the names that people send.
func TestChanges(t *testing.T) {
	s := told(t)
	list, err := s.ChangesIn(ctx, 4, "", 10)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "projects", list[0].Table)
	require.Equal(t, "name", list[0].Field)
	require.Nil(t, list[0].Before)
	require.Equal(t, "Alpha", *list[0].After)
	list, err = s.ChangesIn(ctx, 4, "overrides", 10)
	require.NoError(t, err)
	require.Empty(t, list)
	for _, c := range []struct {
		table   string
		project int64
		want    int
	}{{"projects", 0, 3}, {"projects", 1, 2}, {"projects", 2, 1}, {"overrides", 2, 1}, {"overrides", 1, 0}, {"settings", 1, 0}, {"nothing", 0, 0}} {
		list, err := s.ChangesThrough(ctx, c.table, c.project, 10)
		require.NoError(t, err)
		require.Len(t, list, c.want, "%s of %d", c.table, c.project)
	}
	list, err = s.ChangesAfter(ctx, "projects", 1, 2)
	require.NoError(t, err)
	require.Len(t, list, 1)
	later, err := s.ChangesSince(ctx, "projects", 2)
	require.NoError(t, err)
	require.Len(t, later, 1)
	require.Equal(t, int64(5), later[0].Account)
	require.Equal(t, "Bea", later[0].Actor)
	later, err = s.ChangesSince(ctx, "projects", 1)
	require.NoError(t, err)
	require.Equal(
		t,
		[]string{"name", Added, Added},
		[]string{later[0].Field, later[1].Field, later[2].Field},
		"the last first",
	)

	parts, err := s.PartsIn(ctx, 3, 0)
	require.NoError(t, err)
	require.Len(t, parts, 2)
	parts, err = s.PartsIn(ctx, 3, 2)
	require.NoError(t, err)
	require.Equal(t, portfolio.RiskPart, parts[0].Kind)
	through, err := s.PartsThrough(ctx, 1, []portfolio.PartKind{portfolio.ProgressPart})
	require.NoError(t, err)
	require.Len(t, through, 1)
	through, err = s.PartsThrough(ctx, 1, nil)
	require.NoError(t, err)
	require.Empty(t, through)
	touched, err := s.Touched(ctx, 5)
	require.NoError(t, err)
	require.Equal(t, []int64{2}, touched)
	of, err := s.BatchesOf(ctx, 1, 10, 10)
	require.NoError(t, err)
	require.Equal(t, []int64{4, 3, 2}, []int64{of[0].ID, of[1].ID, of[2].ID})
	require.Equal(t, "name", of[0].Fields)
	name, err := s.RecordName(ctx, "project", 2)
	require.NoError(t, err)
	require.Equal(t, "B", name)
	name, err = s.RecordName(ctx, "project", 99)
	require.NoError(t, err)
	require.Empty(t, name)
	tables, undone, err := s.RecordsChangedSince(ctx, 3)
	require.NoError(t, err)
	require.False(t, undone)
	require.ElementsMatch(t, []string{"projects", "overrides"}, tables)
	tables, _, err = s.RecordsChangedSince(ctx, 5)
	require.NoError(t, err)
	require.Empty(t, tables)
	named, err := s.BatchesNamed(ctx, []int64{2, 99})
	require.NoError(t, err)
	require.Equal(t, "Ada Brannock", named[2].Actor)
	require.Len(t, named, 1)
	runs, err := s.Runs(ctx, 10)
	require.NoError(t, err)
	require.Len(t, runs, 1)
	run, err := s.RunOf(ctx, 3)
	require.NoError(t, err)
	require.Nil(t, run)
	files, err := s.Files(ctx)
	require.NoError(t, err)
	require.Equal(t, "Ada", files[1].Sender)
}

// posting is a ledger line of a project in January 2026.
func posting(id, project, amount int64) Posting {
	return Posting{
		ID:       id,
		Code:     "L" + string(rune('0'+id)),
		Day:      739620,
		Period:   24312,
		Project:  project,
		CostCode: 1,
		Class:    "opex",
		Amount:   amount,
		Currency: "EUR",
		Supplier: "Yard",
		Text:     "steel",
	}
}

// TestUndo puts records, parts and postings back as they were, whole or but for
// the projects to be kept, and lists what stands in the way.
func TestUndo(t *testing.T) {
	s := told(t)
	commit := func(b *Batch) int64 {
		var err error
		b.Base, err = s.Revision(ctx)
		require.NoError(t, err)
		id, err := s.Commit(ctx, b)
		require.NoError(t, err)
		return id
	}
	first := commit(
		&Batch{Origin: "gather", Postings: []Posting{posting(1, 1, 100), posting(2, 1, 50), posting(3, 2, 7)}},
	)
	was1, was3 := posting(1, 1, 100), posting(3, 2, 7)
	was1.Batch, was3.Batch = int32(first), int32(first)
	moved, changed := posting(1, 2, 100), posting(3, 2, 9)
	moved.Was, changed.Was = &was1, &was3
	second := commit(
		&Batch{
			Origin:   "gather",
			Postings: []Posting{moved, changed, posting(4, 1, 1)},
			Parts: []PartChange{
				{
					Part:   portfolio.Part{Project: 1, Kind: portfolio.ProgressPart, Version: 24311},
					Body:   []byte("\x01new"),
					Before: 1,
				},
			},
		},
	)

	corrected := func(through int64) int {
		n, err := s.CorrectedThrough(ctx, through)
		require.NoError(t, err)
		return n
	}
	require.Equal(t, 2, corrected(24400), "one moved and one changed; the new one is not corrected")
	require.Zero(t, corrected(1), "none is of a period so early")
	pairs, err := s.Moved(ctx, second)
	require.NoError(t, err)
	require.Equal(t, [][2]int64{{1, 2}}, pairs, "one moved, the other only changed")
	way, err := s.Obstacles(ctx, first)
	require.NoError(t, err)
	require.NotEmpty(t, way)
	for _, x := range way {
		require.Equal(t, second, x.Later)
	}
	way, err = s.Obstacles(ctx, second)
	require.NoError(t, err)
	require.Empty(t, way)
	way, err = s.Obstacles(ctx, 2)
	require.NoError(t, err)
	require.NotEmpty(t, way, "later batches state about the projects that it made")

	undo := commit(&Batch{Origin: "undo", Undoes: second})
	require.Zero(t, corrected(24400), "what was undone corrects nothing")
	get := func(code string) *Posting {
		p, err := s.PostingOf(ctx, code)
		require.NoError(t, err)
		return p
	}
	require.Equal(t, int64(1), get("L1").Project, "back where it was")
	require.Equal(t, int64(7), get("L3").Amount)
	require.Nil(t, get("L4"), "what it brought is gone")
	require.Equal(t, int64(50), get("L2").Amount, "what it left alone stays")
	stated, err := s.StatedParts(ctx)
	require.NoError(t, err)
	require.Equal(t, int64(1), stated[0].ID, "the part of before is in force")
	require.Equal(t, undo, stated[0].Batch)
	list, err := s.Batches(ctx, HistoryFilter{Only: []int64{second}, Most: 1})
	require.NoError(t, err)
	require.Equal(t, undo, list[0].Undone)
	require.Zero(t, list[0].Kept)
	_, undone, err := s.RecordsChangedSince(ctx, second)
	require.NoError(t, err)
	require.True(t, undone)

	// but for a project
	again3 := *get("L3")
	next := posting(3, 2, 70)
	next.Was = &again3
	third := commit(
		&Batch{Origin: "gather", Postings: []Posting{next, posting(5, 1, 2), posting(6, 2, 3)}, Parts: []PartChange{
			{
				Part: portfolio.Part{Project: 1, Kind: portfolio.RiskPart, Version: 24312},
				Body: []byte("\x01k"),
			}, {Part: portfolio.Part{Project: 2, Kind: portfolio.RiskPart, Version: 24312}, Body: []byte("\x01l")},
		}},
	)
	commit(&Batch{Origin: "undo", Undoes: third, Keep: []int64{2}})
	require.Equal(t, int64(70), get("L3").Amount, "that of the project that is kept")
	require.NotNil(t, get("L6"))
	require.Nil(t, get("L5"))
	stated, err = s.StatedParts(ctx)
	require.NoError(t, err)
	kinds := map[int64]int{}
	for _, x := range stated {
		if x.Kind == portfolio.RiskPart && x.Version == 24312 {
			kinds[x.Project]++
		}
	}
	require.Equal(t, map[int64]int{2: 1}, kinds)
	list, err = s.Batches(ctx, HistoryFilter{Only: []int64{third}, Most: 1})
	require.NoError(t, err)
	require.Equal(t, 1, list[0].Kept)

	// records
	commit(&Batch{Origin: "undo", Undoes: 4})
	rows, err := s.Records(ctx, record.Projects.Kind)
	require.NoError(t, err)
	require.False(t, record.Projects.NameCol.Said(&rows[0]), "it has no name again")
	commit(&Batch{Origin: "undo", Undoes: 5})
	rows, err = s.Records(ctx, record.Overrides.Kind)
	require.NoError(t, err)
	require.Empty(t, rows)
	before, err := s.RecordsBefore(ctx, 2, record.Projects.Kind)
	require.NoError(t, err)
	require.Equal(t, map[int64]*portfolio.Row{1: nil, 2: nil}, before, "it made them")
}

// TestUndoGivesTheSourceBack: a record that is put back as it was points again to
// the file and the row that said it so; and it alone.
func TestUndoGivesTheSourceBack(t *testing.T) {
	s := open(t, temp(t))
	write := func(before *portfolio.Row, name string, file, row int32) portfolio.Row {
		c := project(1, "K1")
		*record.Projects.NameCol.In(&c.After) = portfolio.Field{Said: portfolio.Value, Text: name}
		c.Before, c.After.Source = before, portfolio.Source{File: file, Row: row}
		b := &Batch{
			Origin:  "gather",
			Records: []RecordChange{c},
			Files:   []File{{ID: file, Hash: [32]byte{byte(file)}, Name: "f.csv", Body: []byte{0}}},
		}
		var err error
		b.Base, err = s.Revision(ctx)
		require.NoError(t, err)
		_, err = s.Commit(ctx, b)
		require.NoError(t, err)
		rows, err := s.Records(ctx, record.Projects.Kind)
		require.NoError(t, err)
		require.Equal(t, c.After.Source, rows[0].Source)
		return rows[0]
	}
	first := write(nil, "One", 1, 7)
	second := write(&first, "Two", 2, 9)
	third := write(&second, "Three", 3, 9)
	require.Equal(t, portfolio.Source{File: 3, Row: 9}, third.Source)
	last, err := s.Revision(ctx)
	require.NoError(t, err)
	for batch, want := range map[int64]string{last: "Two", last - 1: "One"} {
		rows, err := s.RecordsBefore(ctx, batch, record.Projects.Kind)
		require.NoError(t, err)
		require.Equal(t, want, record.Projects.NameCol.Of(rows[1]))
	}
	for _, want := range []portfolio.Row{second, first} {
		rev, err := s.Revision(ctx)
		require.NoError(t, err)
		list, err := s.Batches(ctx, HistoryFilter{Most: 10})
		require.NoError(t, err)
		var undoes int64
		for _, b := range list {
			if b.Origin == "gather" && b.Undone == 0 {
				undoes = max(undoes, b.ID)
			}
		}
		_, err = s.Commit(ctx, &Batch{Base: rev, Origin: "undo", Undoes: undoes})
		require.NoError(t, err)
		rows, err := s.Records(ctx, record.Projects.Kind)
		require.NoError(t, err)
		require.Equal(t, want, rows[0])
	}
}

// TestPostings: what a gather and a trail need to know of them.
func TestPostings(t *testing.T) {
	s := told(t)
	list := []Posting{
		posting(1, 1, 100),
		posting(2, 1, 100),
		posting(3, 1, 100),
		posting(4, 2, 100),
		posting(5, 1, 100),
	}
	list[2].Text = "timber"
	list[4].Day++
	list[0].Extra = map[string]string{"lot": "4"}
	other := posting(6, 2, -30)
	other.Period, other.Currency, other.Supplier = 24313, "NOK", ""
	_, err := s.Commit(ctx, &Batch{Base: 5, Postings: append(list, other)})
	require.NoError(t, err)
	ledger, err := s.Ledger(ctx, nil)
	require.NoError(t, err)
	require.Len(t, ledger.Known, 6)
	require.Equal(t, Known{ID: 1, Digest: list[0].Digest(), Period: 24312}, ledger.Known[PostingKey("L1")])
	p, err := s.Posting(ctx, 1)
	require.NoError(t, err)
	require.Equal(t, map[string]string{"lot": "4"}, p.Extra)
	require.Equal(t, int32(6), p.Batch)
	of, err := s.PostingsOf(ctx, 2)
	require.NoError(t, err)
	require.Len(t, of, 2)
	n := 0
	require.NoError(t, s.EachPosting(ctx, func(*Posting) error { n++; return nil }))
	require.Equal(t, 6, n)
	for period, want := range map[int64]map[string]int64{24311: {}, 24312: {"EUR": 500}, 24313: {"EUR": 500, "NOK": -30}} {
		sums, n, err := s.PostedThrough(ctx, period)
		require.NoError(t, err)
		require.Equal(t, want, sums, period)
		require.Equal(t, map[int64]int{24311: 0, 24312: 5, 24313: 6}[period], n)
	}
	// L2 repeats L1; another text, day or project does not
	for _, project := range []int64{0, 1} {
		twice, err := s.PostedTwice(ctx, project, 24312)
		require.NoError(t, err)
		require.Len(t, twice, 1)
		require.Len(t, twice[1], 1)
		require.Equal(t, "L1", twice[1][0].First)
		require.Equal(t, "L2", twice[1][0].Posting)
	}
	none, err := s.PostedTwice(ctx, 2, 24312)
	require.NoError(t, err)
	require.Empty(t, none)
	sums, err := s.SupplierSums(ctx, []int64{1, 2}, 24313)
	require.NoError(t, err)
	require.Len(t, sums, 2, "postings without a supplier are left out")
}

// TestRefusals: rows wait, are settled once, and wait again where they are refused
// again; codes that nothing matched are counted.
func TestRefusals(t *testing.T) {
	s := told(t)
	refusal := func(line int32, code string) Refusal {
		return Refusal{
			File:     1,
			Line:     line,
			Field:    "cost_code",
			Value:    code,
			Reason:   "not known",
			Cells:    map[string]string{"a": code},
			Waits:    "cost_code",
			Amount:   "10.00",
			Currency: "EUR",
		}
	}
	_, err := s.Commit(
		ctx,
		&Batch{
			Base: 5,
			At:   7,
			Refusals: []Refusal{
				refusal(2, "7990"),
				refusal(3, "7990"),
				refusal(4, "8000"),
				{File: 1, Line: 4, Field: "amount", Reason: "no number"},
			},
		},
	)
	require.NoError(t, err)
	n, err := s.AllRefusalsWaiting(ctx)
	require.NoError(t, err)
	require.Equal(t, 3, n, "a row with two reasons is one")
	codes, err := s.WaitingCodes(ctx)
	require.NoError(t, err)
	require.Equal(
		t,
		WaitingCode{
			Column:  "cost_code",
			Code:    "7990",
			Rows:    2,
			Amounts: "10.00 EUR|10.00 EUR",
			Since:   7,
			Files:   "projects_1.csv",
		},
		codes[0],
	)
	list, err := s.RefusalsFor(ctx, "cost_code", "8000")
	require.NoError(t, err)
	require.Len(t, list, 1)
	some, err := s.RefusalsByID(ctx, []int64{1, 3})
	require.NoError(t, err)
	require.Equal(t, []int32{2, 4}, []int32{some[0].Line, some[1].Line})
	some, err = s.RefusalsByID(ctx, nil)
	require.NoError(t, err)
	require.Empty(t, some)
	_, err = s.Commit(ctx, &Batch{Base: 6, Settled: []Settled{{IDs: []int64{1}, State: Dropped, Why: "twice"}}})
	require.NoError(t, err)
	_, err = s.Commit(ctx, &Batch{Base: 7, Settled: []Settled{{IDs: []int64{1, 2}, State: Mended}}})
	require.NoError(t, err)
	states := func() (out []string) {
		all, err := s.Refusals(ctx, 0, "", 10)
		require.NoError(t, err)
		for _, r := range all {
			out = append(out, r.State+r.Why)
		}
		return out
	}
	require.Equal(
		t,
		[]string{"droppedtwice", "mended", "waiting", "waiting"},
		states(),
		"one that was dropped stays so",
	)
	_, err = s.Commit(ctx, &Batch{Base: 8, Refusals: []Refusal{refusal(2, "7991")}})
	require.NoError(t, err)
	require.Equal(t, "waiting", states()[0], "refused again it waits again")
	_, err = s.Commit(ctx, &Batch{Base: 9, Origin: "undo", Undoes: 8})
	require.NoError(t, err)
	require.Equal(t, "waiting", states()[1], "what the batch had settled waits again")
}

// TestCuts keep what they are given, and are marked once their period is reopened.
func TestCuts(t *testing.T) {
	s := told(t)
	_, err := s.Commit(
		ctx,
		&Batch{
			Base:  5,
			At:    3,
			Actor: "Ines",
			Cut: &Cut{
				Period:    24312,
				Name:      "close",
				Catalogue: 2,
				Hash:      [32]byte{9},
				Over:      "[]",
				Inputs:    []byte("in"),
				Readings:  []byte("out"),
			},
		},
	)
	require.NoError(t, err)
	_, err = s.Commit(ctx, &Batch{Base: 6, Cut: &Cut{Period: 24312, Name: "gate", Kind: HandCut}})
	require.NoError(t, err)
	_, err = s.Commit(ctx, &Batch{Base: 7, At: 8, Actor: "Tor", Note: "late invoice", Reopened: 24312})
	require.NoError(t, err)
	cuts, err := s.Cuts(ctx)
	require.NoError(t, err)
	require.Len(t, cuts, 2)
	require.Equal(t, "late invoice", cuts[0].Reopened.String)
	require.Equal(t, "Tor", cuts[0].By)
	require.Equal(t, int64(8), cuts[0].When)
	require.False(t, cuts[1].Reopened.Valid, "one made by hand stays")
	require.Equal(t, CloseCut, cuts[0].Kind)
	in, err := s.CutInputs(ctx, cuts[0].ID)
	require.NoError(t, err)
	require.Equal(t, "in", string(in))
	out, err := s.CutReadings(ctx, cuts[0].ID)
	require.NoError(t, err)
	require.Equal(t, "out", string(out))
	_, err = s.writer.Exec("UPDATE cut SET readings = x'00'")
	require.NoError(t, err)
	_, err = s.CutReadings(ctx, cuts[0].ID)
	require.ErrorIs(t, err, ErrDamaged)
}
