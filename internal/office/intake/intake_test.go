package intake_test

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/core/figure"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/intake"
	"turret/internal/office/officetest"
)

// ledger is a print as people send it: semicolons, German words, decimal
// commas.
const ledger = "Beleg;Buchungsdatum;Projekt;Konto;Buchungstext;Betrag\n" +
	"1;05.01.2026;A;10;Löhne;1.000,50\n" +
	"2;06.01.2026;A;7990;Kran;200,00\n" +
	"3;07.01.2026;A;7990;Kran;(50,00)\n" +
	"4;bald;A;10;Rest;7,00\n" +
	"5;08.01.2026;Z9;10;Fremd;1,00\n" +
	"Summe;;;;;1.158,50\n"

func sent(t testing.TB, o *office.Office, files ...entry.File) *intake.Draft {
	t.Helper()
	id, err := intake.In(o).SaveDraft(context.Background(), officetest.Operator, files)
	require.NoError(t, err)
	d, err := intake.In(o).DraftOf(context.Background(), officetest.Operator, id)
	require.NoError(t, err)
	return d
}

func spent(t testing.TB, o *office.Office, project string) string {
	t.Helper()
	p, err := o.ParsePeriod(context.Background(), officetest.Operator, "2026-01")
	require.NoError(t, err)
	rows, err := export.In(o).
		Readings(context.Background(), officetest.Operator, export.Query{Period: p, Scope: project})
	require.NoError(t, err)
	return rows[0].Value(figure.AC).Text(rows[0].Currency)
}

// TestAMonthOfUntidyFiles walks the way of a ledger print: previewed, taken,
// its refused rows mended, mapped and dropped, and the run undone.
func TestAMonthOfUntidyFiles(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	before := spent(t, o, "A")
	d := sent(t, o, officetest.File("Hauptbuch.csv", ledger))
	r, err := intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
	require.NoError(t, err)
	require.False(t, r.Written)
	require.Len(t, r.Sheets, 1)
	s := r.Sheets[0]
	require.Equal(t, "postings", s.Table)
	require.Equal(t, entry.Tally{New: 1}, s.Sum())
	require.Equal(t, 4, s.Refused)
	require.Equal(t, []entry.KeyChange{{Row: 2, New: true, Key: "1 · A", Is: "1000.50 EUR in 2026-01"}}, s.Changes)
	require.True(t, s.Sums[0].Agrees)
	require.Len(t, r.Effects, 1)
	require.Equal(t, "A", r.Effects[0].Code)
	require.Equal(t, before, spent(t, o, "A"), "a preview writes nothing")

	r, err = intake.In(o).Accept(ctx, officetest.Operator, d, nil)
	require.NoError(t, err)
	require.True(t, r.Written)
	first := r.Revision
	require.Equal(t, "1000.50", minus(t, spent(t, o, "A"), before))
	gone, err := intake.In(o).DraftOf(ctx, officetest.Operator, d.ID)
	require.NoError(t, err)
	require.Nil(t, gone)

	refused, err := intake.In(o).Refused(ctx, officetest.Operator, first, 100)
	require.NoError(t, err)
	require.Len(t, refused, 1)
	require.Len(t, refused[0].Rows, 4)
	require.Equal(t, []string{"beleg", "buchungsdatum", "projekt", "konto", "buchungstext", "betrag"}, refused[0].Heads)

	// Two rows wait for account 7990, with 200.00 − 50.00 on them.
	codes, _, err := entry.In(o).WaitingCodes(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, codes, 2)
	require.Equal(t, "7990", codes[0].Code)
	require.Equal(t, 2, codes[0].Rows)
	require.Equal(t, []string{"150.00 EUR"}, codes[0].Sums)
	_, err = intake.In(o).MapCode(ctx, officetest.Operator, "cost_code", "7990", "nothing")
	require.ErrorIs(t, err, office.ErrRefused)
	mapped, err := intake.In(o).MapCode(ctx, officetest.Operator, "cost_code", "7990", "10")
	require.NoError(t, err)
	require.Equal(t, 2, mapped.Changes(), "%v", mapped.Refusals)
	require.Equal(t, "1150.50", minus(t, spent(t, o, "A"), before))

	// One row is mended; mended wrongly at first, it waits again.
	var soon intake.RefusedRow
	for _, row := range refused[0].Rows {
		if row.Line == 5 {
			soon = row
		}
	}
	r, err = intake.In(o).
		Mend(ctx, officetest.Operator, map[int64]map[string]string{soon.IDs[0]: {"buchungsdatum": "31.02.2026"}})
	require.NoError(t, err)
	require.Len(t, r.Refusals, 1)
	again, err := intake.In(o).Refused(ctx, officetest.Operator, 0, 100)
	require.NoError(t, err)
	require.Len(t, again, 2, "the row of the project, and the one that was mended wrongly")
	last := again[len(again)-1].Rows[0]
	require.Equal(t, "31.02.2026", last.Cells["buchungsdatum"])
	r, err = intake.In(o).
		Mend(ctx, officetest.Operator, map[int64]map[string]string{last.IDs[0]: {"buchungsdatum": "09.01.2026"}})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	require.Equal(t, "1157.50", minus(t, spent(t, o, "A"), before))
	_, err = intake.In(o).Mend(ctx, officetest.Operator, map[int64]map[string]string{last.IDs[0]: {}})
	require.ErrorIs(t, err, office.ErrRefused, "it waits no more")

	// The last one is dropped, with a reason.
	again, err = intake.In(o).Refused(ctx, officetest.Operator, 0, 100)
	require.NoError(t, err)
	require.Len(t, again, 1)
	require.ErrorIs(t, intake.In(o).Drop(ctx, officetest.Operator, again[0].Rows[0].IDs, " "), office.ErrRefused)
	require.NoError(t, intake.In(o).Drop(ctx, officetest.Operator, again[0].Rows[0].IDs, "another office's project"))
	again, err = intake.In(o).Refused(ctx, officetest.Operator, 0, 100)
	require.NoError(t, err)
	require.Empty(t, again)

	// The same file again brings nothing, and does not wake what was dropped.
	r = officetest.Take(t, o, entry.Options{}, officetest.File("Hauptbuch.csv", ledger))
	require.Zero(t, r.Changes())
	require.False(t, r.Written)

	// The first run cannot be undone while later ones stand on it; from the last
	// one back, all can.
	_, err = history.In(o).Undo(ctx, officetest.Operator, first, false)
	require.ErrorIs(t, err, office.ErrRefused)
	require.Contains(t, err.Error(), "postings of A: batch")
	runs, err := entry.In(o).Runs(ctx, officetest.Operator, 10)
	require.NoError(t, err)
	for _, run := range runs {
		if run.Batch >= first {
			_, err := history.In(o).Undo(ctx, officetest.Operator, run.Batch, false)
			require.NoError(t, err, run.Batch)
		}
	}
	require.Equal(t, before, spent(t, o, "A"))
	_, err = history.In(o).Undo(ctx, officetest.Operator, first, false)
	require.ErrorContains(t, err, "undone already")
	again, err = intake.In(o).Refused(ctx, officetest.Operator, 0, 100)
	require.NoError(t, err)
	require.Empty(t, again, "what an undone run refused waits for no one")

	// And then it can be taken as if for the first time.
	r = officetest.Take(t, o, entry.Options{}, officetest.File("Hauptbuch.csv", ledger))
	require.Equal(t, 3, r.Changes(), "the mapping of the code stays")
}

func minus(t testing.TB, a, b string) string {
	t.Helper()
	var x, y float64
	_, err := fmt.Sscan(a, &x)
	require.NoError(t, err)
	if b != "" {
		_, err = fmt.Sscan(b, &y)
		require.NoError(t, err)
	}
	return fmt.Sprintf("%.2f", x-y)
}

// TestUndoPutsEverythingBack: records changed and made, parts, postings; the
// readings are those of before, to the digit.
func TestUndoPutsEverythingBack(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("postings.csv", "posting,date,project,cost_code,amount\nP1,2026-01-05,A,10,5.00\n"),
	)
	all := func() string {
		p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-01")
		require.NoError(t, err)
		rows, err := export.In(o).Readings(ctx, officetest.Operator, export.Query{Period: p})
		require.NoError(t, err)
		var b strings.Builder
		require.NoError(t, export.In(o).WriteJSON(ctx, &b, "2026-01", rows))
		return b.String()
	}
	before := all()
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name,lead\nA,Alpha renamed,Someone\nNEW,Fresh,Someone\n"),
		officetest.File("cost_codes.csv", "cost_code,name\n77,New code\n"),
		officetest.File(
			"postings.csv",
			"posting,date,project,cost_code,amount\nP1,2026-01-06,A,10,9.00\nP2,2026-01-07,A,77,1.00\n",
		),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,version,amount\nA,77,forecast,2026-03,2026-01,100\nNEW,77,plan,2026-03,1,100\n",
		),
		officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-01,77\n"),
	)
	require.Empty(t, r.Refusals)
	require.NotEqual(t, before, all())
	_, err := history.In(o).Undo(ctx, officetest.Operator, r.Revision, false)
	require.NoError(t, err)
	require.Equal(t, before, all())
	r = officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("postings.csv", "posting,date,project,cost_code,amount\nP1,2026-01-05,A,10,5.00\n"),
	)
	require.Zero(t, r.Changes(), "the posting is as it was")
}

func TestUndoStopsAtClosedPeriods(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-01,77\n"),
	)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-01")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	_, err = history.In(o).Undo(ctx, officetest.Operator, r.Revision, false)
	require.ErrorContains(t, err, "Jan 2026 is closed and rests on it")
}

// TestMappingsAreOfferedByLook: what was said about one file is kept by name,
// and counts for the next of the same look.
func TestMappingsAreOfferedByLook(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	const head = "Nr;Gebucht;Wo;Konto;Wert\n"
	d := sent(t, o, officetest.File("a.csv", head+"1;03/04/2026;A;10;1.234\n"))
	r, err := intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
	require.NoError(t, err)
	require.NotEmpty(t, r.Refusals)
	say := entry.Answer{
		Mapping: gather.Mapping{
			Table:   "postings",
			Columns: map[string]string{"nr": "posting", "gebucht": "date", "wert": "amount"},
			Forms:   map[string]string{"gebucht": gather.DayFirst, "wert": gather.Comma},
		},
	}
	require.NoError(t, intake.In(o).SayOf(ctx, officetest.Operator, d, "a.csv", say))
	r, err = intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	require.Equal(t, "1234.00 EUR in 2026-04", r.Sheets[0].Changes[0].Is)
	require.NoError(t, entry.In(o).KeepMapping(ctx, officetest.Operator, "Yard ledger", r.Sheets[0].Understanding, entry.Mapping{}))

	next := sent(t, o, officetest.File("b.csv", head+"2;05/06/2026;A;10;2.000\n"))
	r, err = intake.In(o).Preview(ctx, officetest.Operator, next, entry.Watch{})
	require.NoError(t, err)
	require.Equal(t, "Yard ledger", r.Sheets[0].From)
	require.Equal(t, "2000.00 EUR in 2026-06", r.Sheets[0].Changes[0].Is)
	require.NoError(t, intake.In(o).SayOf(ctx, officetest.Operator, next, "b.csv", entry.Answer{Named: "-"}))
	r, err = intake.In(o).Preview(ctx, officetest.Operator, next, entry.Watch{})
	require.NoError(t, err)
	require.Empty(t, r.Sheets[0].From)
	require.NotEmpty(t, r.Refusals, "without it, it is asked again")

	// On the command line it is used when asked for.
	r = officetest.Take(t, o, entry.Options{DryRun: true}, officetest.File("b.csv", head+"2;05/06/2026;A;10;2.000\n"))
	require.NotEmpty(t, r.Refusals)
	require.Contains(t, strings.Join(r.Notes, " "), `--map "Yard ledger" uses it`)
	r = officetest.Take(
		t,
		o,
		entry.Options{DryRun: true, Map: "yard ledger"},
		officetest.File("b.csv", head+"2;05/06/2026;A;10;2.000\n"),
	)
	require.Empty(t, r.Refusals)
	_, err = entry.In(o).
		Gather(ctx, officetest.Operator, []entry.File{officetest.File("b.csv", head)}, nil, entry.Options{Map: "none"})
	require.ErrorIs(t, err, office.ErrRefused)

	list, err := entry.In(o).Mappings(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, list, 1)
	list[0].Negate = true
	require.NoError(t, entry.In(o).SaveMapping(ctx, officetest.Operator, list[0]))
	versions, err := entry.In(o).MappingVersions(ctx, officetest.Operator, list[0].ID)
	require.NoError(t, err)
	require.Len(t, versions, 2)
	require.NoError(t, entry.In(o).DropMapping(ctx, officetest.Operator, list[0].ID))
	list, err = entry.In(o).Mappings(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Empty(t, list)
	require.ErrorIs(
		t,
		entry.In(o).
			SaveMapping(ctx, officetest.Operator, entry.NamedMapping{Name: "x", Mapping: gather.Mapping{Columns: map[string]string{"a": "nonsense"}}}),
		office.ErrRefused,
	)
}

func TestWordsOfTheOffice(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	body := "Posting,Date,Vorhaben,Account,Amount\n1,2026-01-05,A,10,5\n2,2026-01-05,Q,10,5\n"
	require.NoError(t, entry.In(o).SaveWord(ctx, officetest.Operator, "Vorhaben", "project"))
	r := officetest.Take(t, o, entry.Options{DryRun: true}, officetest.File("x.csv", body))
	require.Equal(t, 1, r.Changes())
	require.Equal(t, "project", r.Refusals[0].Waits)
	require.NoError(t, entry.In(o).SaveWord(ctx, officetest.Operator, "vorhaben", ""))
	words, err := entry.In(o).Words(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Empty(t, words)
	require.ErrorIs(t, entry.In(o).SaveWord(ctx, officetest.Operator, "x", "nonsense"), office.ErrRefused)
}

// TestIntakeMatrix: what came in, what says the same as before, what is owed.
func TestIntakeMatrix(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-01,40\nA,1,2026-02,40\n"),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,version,amount\nA,10,forecast,2026-03,2026-01,100\nA,10,forecast,2026-03,2026-02,110\n",
		),
	)
	m, err := o.Moment(ctx, officetest.Operator, office.Ask{At: "2026-02"})
	require.NoError(t, err)
	in, err := intake.In(o).Matrix(ctx, officetest.Operator, m)
	require.NoError(t, err)
	var a intake.Row
	for _, g := range in.Groups {
		for _, r := range g.Rows {
			if r.Code == "A" {
				a = r
			}
		}
	}
	require.Equal(t, intake.Same, a.Cells[0].State)
	require.Equal(t, "Jan 2026", a.Cells[0].Before)
	require.Equal(t, "progress.csv", a.Cells[0].Source)
	require.Equal(t, intake.Came, a.Cells[1].State)
	require.Equal(t, intake.NotOwed, a.Cells[3].State)
	require.Empty(t, a.Owes)
	require.Less(t, in.Stated, in.Owing, "the other project owes")

	// Of one programme only its own projects are told and counted.
	officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name,programme,currency\nFAR,Far,H,EUR\n"),
		officetest.File("programmes.csv", "programme,name\nH,Heights\n"))
	of := func(scope string) (codes []string, owing int) {
		m, err := o.Moment(ctx, officetest.Operator, office.Ask{At: "2026-02", Scope: scope})
		require.NoError(t, err)
		in, err := intake.In(o).Matrix(ctx, officetest.Operator, m)
		require.NoError(t, err)
		for _, g := range in.Groups {
			for _, r := range g.Rows {
				codes = append(codes, r.Code)
			}
		}
		return codes, in.Owing
	}
	all, owing := of("")
	far, owes := of("H")
	near, owe := of("G")
	require.Equal(t, []string{"FAR"}, far)
	require.NotContains(t, near, "FAR")
	require.Len(t, all, len(far)+len(near))
	require.Equal(t, owing, owes+owe)
}

// TestAPreviewTellsWhatComes: the readings that a preview promises are those
// that stand once it is accepted, to the digit; whatever the files change.
func TestAPreviewTellsWhatComes(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	at := func() map[string]*office.Reading {
		m, err := o.Moment(ctx, officetest.Operator, office.Ask{In: "project"})
		require.NoError(t, err)
		if m.Empty {
			return nil
		}
		p, err := o.ParsePeriod(ctx, officetest.Operator, m.Period.Code)
		require.NoError(t, err)
		rows, err := export.In(o).Readings(ctx, officetest.Operator, export.Query{Period: p})
		require.NoError(t, err)
		out := make(map[string]*office.Reading)
		for _, r := range rows {
			if !r.Group {
				out[r.Code] = r
			}
		}
		return out
	}
	for i, files := range [][]entry.File{
		{officetest.File("postings.csv", "posting,date,project,cost_code,amount\nP1,2026-01-05,A,10,5.00\nP2,2026-02-05,A,10,50.00\n")},
		{officetest.File("progress.csv", "project,activity,period,percent,finish\nA,1,2026-02,40,2026-05-01\n"), officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nA,10,forecast,2026-03,2026-02,170\n")},
		{officetest.File("projects.csv", "project,name,programme,currency,outlook_method\nNEW,Fresh,G,EUR,\nA,Alpha,G,EUR,plan\n"), officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nNEW,10,plan,2026-01,1,80\nNEW,10,actual,2026-02,,99\n")},
		{officetest.File("rates.csv", "currency,period,set,rate\nJPY,2026-02,period,0.0071\n"), officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nB,10,plan,2026-02,1,5000\n")},
		{officetest.File("calendars.csv", "calendar,kind,day,name\noffice,holiday,2026-02-03,Day\n"), officetest.File("cost_codes.csv", "cost_code,name,parent,reserve\n90,Reserve,,management\n"), officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nA,90,plan,2026-02,1,5000\n")},
	} {
		before := at()
		d := sent(t, o, files...)
		r, err := intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
		require.NoError(t, err)
		require.Empty(t, r.Refusals, i)
		promised := make(map[string]*office.Reading)
		for _, e := range r.Effects {
			promised[e.Code] = e.After
		}
		_, err = intake.In(o).Accept(ctx, officetest.Operator, d, nil)
		require.NoError(t, err)
		for code, now := range at() {
			then := promised[code]
			if then == nil {
				then = before[code] // it was not said to move
			}
			if before == nil && then == nil {
				continue // nothing was stated at all
			}
			require.NotNil(t, then, "%d: %s came unsaid", i, code)
			for id := range figure.Len() {
				f := figure.ID(id)
				if f == figure.StatementAge || f == figure.ForecastAge {
					continue
				}
				require.True(
					t,
					then.Value(f).Equal(now.Value(f)),
					"%d: %s %s: %v, then %v",
					i,
					code,
					figure.Get(f).Name,
					then.Value(f),
					now.Value(f),
				)
			}
			require.Equal(t, then.Standing, now.Standing, "%d: %s", i, code)
		}
	}
}

// TestDraftsAreTheirOwn: a draft never gets the number of one before it, so
// that nothing remembered of that one is shown of it.
func TestDraftsAreTheirOwn(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	a := sent(t, o, officetest.File("a.csv", "x\n"), officetest.File("a.csv", "y\n"))
	require.Equal(t, []string{"a.csv", "a (2).csv"}, a.Names)
	require.NoError(t, intake.In(o).DropDraft(ctx, officetest.Operator, a.ID))
	b := sent(t, o, officetest.File("b.csv", "x\n"))
	require.NotEqual(t, a.ID, b.ID)
	for _, bad := range [][]entry.File{nil, {officetest.File("empty.csv", "")}} {
		_, err := intake.In(o).SaveDraft(ctx, officetest.Operator, bad)
		require.ErrorIs(t, err, office.ErrRefused)
	}
	require.ErrorIs(t, intake.In(o).SayAll(ctx, officetest.Operator, b, intake.Say{Period: "soon"}), office.ErrRefused)
	require.NoError(t, intake.In(o).SayAll(ctx, officetest.Operator, b, intake.Say{Period: "2026-02", Whole: true, Trust: true}))
	list, err := intake.In(o).Drafts(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "2026-02", list[0].Period)
	require.True(t, list[0].Whole)
}

// TestASpreadsheetsOwnDecimals: what a spreadsheet computed is rounded to its
// currency, and told; what a text file writes is refused.
func TestASpreadsheetsOwnDecimals(t *testing.T) {
	x := excelize.NewFile()
	for i, row := range [][]any{{"Posting", "Booking date", "Project", "Account", "Amount"}, {"X1", "2026-01-05", "A", "10", 10.005}, {"X2", "2026-01-05", "A", "10", 33.333333333}, {"X3", "2026-01-05", "B", "10", 7.5}} {
		require.NoError(t, x.SetSheetRow("Sheet1", fmt.Sprintf("A%d", i+1), &row))
	}
	var b bytes.Buffer
	require.NoError(t, x.Write(&b))
	o := officetest.WithBase(t)
	r := officetest.Take(t, o, entry.Options{}, officetest.File("ledger.xlsx", b.String()))
	require.Empty(t, r.Refusals)
	require.Contains(
		t,
		strings.Join(r.Notes, " "),
		"3 amounts that a spreadsheet computed had more decimals than their currency",
	)
	// Half to even: 10.005 is 10.00, and 33.333… is 33.33.
	require.Equal(t, "43.33", minus(t, spent(t, o, "A"), ""))
}
