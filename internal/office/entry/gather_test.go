package entry_test

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/officetest"
)

// TestBadInput: each bad row is refused with a sentence that names file, row,
// cell and what to do; the good rows beside it are taken.
func TestBadInput(t *testing.T) {
	for _, c := range []struct {
		name, file, body string
		row              int
		column, says     string
	}{
		{"empty file", "costs.csv", "", 0, "", "the file is empty"},
		{"binary", "costs.csv", "PK\x03\x04\x00\x00", 0, "", "not a spreadsheet"},
		{"not text", "costs.csv", "project\x00\x01\n", 0, "", "not a text file"},
		{"unknown table", "things.csv", "a,b\n1,2\n", 0, "", "say which table it is"},
		{"missing key column", "progress.csv", "project,period,percent\nA,2026-01,5\n", 0, "", `no column is activity`},
		{"column twice", "projects.csv", "project,name,name\nC,x,y\n", 0, "", "twice"},
		{"unknown project", "progress.csv", "project,activity,period,percent\nZ,1,2026-01,5\n", 2, "project", `project "Z" is not known`},
		{"unknown activity", "progress.csv", "project,activity,period,percent\nA,9,2026-01,5\n", 2, "activity", `activity "9" is not known`},
		{"unknown cost code", "costs.csv", "project,cost_code,kind,period,version,amount\nA,99,plan,2026-01,1,5\n", 2, "cost_code", "cost code \"99\" is not known"},
		{"unknown currency", "projects.csv", "project,currency\nC,XYZ\n", 2, "currency", "ISO 4217"},
		{"percent 140", "progress.csv", "project,activity,period,percent\nA,1,2026-01,140\n", 2, "percent", "not between 0 and 100"},
		{"31 February", "projects.csv", "project,start\nC,2026-02-31\n", 2, "start", "does not exist"},
		{"finish before start", "activities.csv", "project,activity,baseline_start,baseline_finish\nA,3,2026-05-01,2026-04-01\n", 2, "baseline_finish", "lies before"},
		{"its own parent", "activities.csv", "project,activity,parent\nA,3,3\n", 2, "parent", "its own parent"},
		{"loop of parents", "programmes.csv", "programme,parent\nX,Y\nY,X\n", 2, "parent", "loop of parents"},
		{"unknown parent", "programmes.csv", "programme,parent\nX,Q\n", 2, "parent", "is not known"},
		{"amount beyond 64 bits", "costs.csv", "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,99999999999999999999\n", 2, "amount", "too large"},
		{"more decimals than the currency", "costs.csv", "project,cost_code,kind,period,version,amount\nB,10,plan,2026-01,1,5.5\n", 2, "amount", "more decimals"},
		{"forecast without version", "costs.csv", "project,cost_code,kind,period,version,amount\nA,10,forecast,2026-01,,5\n", 2, "version", "stated in"},
		{"wrong number of cells", "projects.csv", "project,name\nC\n", 2, "", "1 cells and the header has 2"},
		{"stray quote", "projects.csv", "project,name\nC,\"Gam\"ma\n", 2, "", "quotes"},
		{"wrong choice", "projects.csv", "project,state\nC,sleeping\n", 2, "state", "not one of"},
		{"empty key", "projects.csv", "project,name\n,Gamma\n", 2, "project", "part of the row's key"},
		{"no period", "progress.csv", "project,activity,percent\nA,1,5\n", 0, "", "in which period it was stated"},
		{"posting without amount", "postings.csv", "posting,date,project,cost_code,amount\nL1,2026-01-05,A,10,\n", 2, "amount", "needs an amount"},
		{"rate of the reporting currency", "rates.csv", "currency,period,rate\nEUR,2026-01,1.5\n", 2, "currency", "reporting currency"},
		{"limits the wrong way", "rules.csv", "dimension,reading,from,direction,watch,act\ncost,cpi,2026-01,below,0.8,0.9\n", 2, "act", "swap them"},
		{"rule on money", "rules.csv", "dimension,reading,from,watch\ncost,bac,2026-01,5\n", 2, "reading", "limits are for"},
		{"override without an end", "overrides.csv", "project,dimension,from,standing,reason\nA,cost,2026-01,watch,x\n", 2, "until", "last period"},
		{"currency changed under amounts", "projects.csv", "project,currency\nA,GBP\n", 2, "currency", "already"},
	} {
		t.Run(c.name, func(t *testing.T) {
			o := officetest.WithBase(t)
			r := officetest.Take(t, o, entry.Options{}, officetest.File(c.file, c.body))
			require.NotEmpty(t, r.Refusals)
			x := r.Refusals[0]
			require.Equal(t, c.file, x.File)
			require.Equal(t, c.row, x.Row, x)
			require.Equal(t, c.column, x.Column, x)
			require.Contains(t, x.Reason, c.says)
			if c.row > 0 {
				require.NotEmpty(t, x.Cells, "the row's cells are kept")
			}
			require.Zero(t, r.Changes(), "%+v", r.Tallies)
		})
	}
}

func TestLongLine(t *testing.T) {
	o := officetest.WithBase(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name\nC,"+strings.Repeat("x", 3<<20)+"\n"),
	)
	require.Contains(t, r.Refusals[0].Reason, "line 2 has more than")
}

func TestGoodRowsBesideBad(t *testing.T) {
	bad := officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-01,140\nA,2,2026-01,10\n")
	o := officetest.WithBase(t)
	r := officetest.Take(t, o, entry.Options{AllOrNothing: true}, bad)
	require.False(t, r.Written)
	r = officetest.Take(t, o, entry.Options{DryRun: true}, bad)
	require.False(t, r.Written)
	require.Equal(t, 1, r.Changes())
	r = officetest.Take(t, o, entry.Options{}, bad)
	require.True(t, r.Written)
	require.Equal(t, 1, r.Changes())
	require.Len(t, r.Refusals, 1)
	before := r.Revision
	r = officetest.Take(t, o, entry.Options{}, bad)
	require.Equal(t, before, r.Revision, "the refused row waits already, and nothing else changed")
}

// TestContradiction: two rows of one run that state the same key differently
// are both refused, whatever lies between them.
func TestContradiction(t *testing.T) {
	for _, c := range []struct{ file, body string }{
		{"projects.csv", "project,name\nC,one\nD,other\nC,two\n"},
		{"progress.csv", "project,activity,period,percent\nA,1,2026-01,10\nA,2,2026-01,5\nA,1,2026-01,20\n"},
		{"costs.csv", "project,cost_code,kind,period,version,amount\nA,10,plan,2026-03,1,1\nA,10,plan,2026-04,1,1\nA,10,plan,2026-03,1,2\n"},
		{"postings.csv", "posting,date,project,cost_code,amount\nL1,2026-01-05,A,10,1\nL2,2026-01-05,A,10,1\nL1,2026-01-05,A,10,2\n"},
	} {
		o := officetest.WithBase(t)
		r := officetest.Take(t, o, entry.Options{}, officetest.File(c.file, c.body))
		require.Len(t, r.Refusals, 2, c.file)
		require.Equal(t, 2, r.Refusals[0].Row)
		require.Equal(t, 4, r.Refusals[1].Row)
		require.Equal(t, 1, r.Changes(), "%s: the row between is taken: %+v", c.file, r.Tallies)
	}
	o := officetest.WithBase(t)
	r := officetest.Take(t, o, entry.Options{}, officetest.File("projects.csv", "project,name,lead\nC,one,\nC,,two\n"))
	require.Empty(t, r.Refusals, "rows that say different things of the same key agree")
}

// TestEmptyLeavesAndDashClears.
func TestEmptyLeavesAndDashClears(t *testing.T) {
	o := officetest.WithBase(t)
	head := "project,activity,period,percent,note\n"
	officetest.Take(t, o, entry.Options{}, officetest.File("progress.csv", head+"A,1,2026-01,50,good\n"))
	r := officetest.Take(t, o, entry.Options{}, officetest.File("progress.csv", head+"A,1,2026-01,,\n"))
	require.Zero(t, r.Changes())
	earned := func() any {
		for _, x := range officetest.Readings(t, o, "2026-01", portfolio.Latest, false) {
			if x["code"] == "A" {
				return x["earned_share"]
			}
		}
		return nil
	}
	require.Equal(t, 0.25, earned()) // half of one of two tasks of 60 working days
	r = officetest.Take(t, o, entry.Options{}, officetest.File("progress.csv", head+"A,1,2026-01,-,\n"))
	require.Equal(t, 1, r.Changes())
	require.Equal(t, 0.0, earned())
}

func TestWholeStatement(t *testing.T) {
	o := officetest.WithBase(t)
	head := "project,cost_code,kind,period,version,amount\n"
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("costs.csv", head+"A,10,forecast,2026-02,2026-01,10\nA,10,forecast,2026-03,2026-01,20\n"),
	)
	part := officetest.File("costs.csv", head+"A,10,forecast,2026-02,2026-01,15\n")
	r := officetest.Take(t, o, entry.Options{Whole: true, DryRun: true}, part)
	require.Equal(t, 1, r.Dropped)
	r = officetest.Take(t, o, entry.Options{Whole: true}, part)
	require.Equal(t, 1, r.Dropped)
	r = officetest.Take(t, o, entry.Options{Whole: true}, part)
	require.Zero(t, r.Changes())
	for _, x := range officetest.Readings(t, o, "2026-01", portfolio.Latest, false) {
		if x["code"] == "A" {
			require.Equal(t, 15.0, x["eac_stated"])
		}
	}
}

// TestClosed: what a closed period holds cannot change, equal values pass, and
// late postings move to the first open period.
func TestClosed(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	first := officetest.File(
		"costs.csv",
		"project,cost_code,kind,period,version,amount\nA,10,actual,2026-01,,70\nA,10,forecast,2026-02,2026-01,50\n",
	)
	officetest.Take(
		t,
		o,
		entry.Options{},
		first,
		officetest.File("postings.csv", "posting,date,project,cost_code,amount\nL1,2026-01-05,A,10,5\n"),
	)
	before := officetest.Readings(t, o, "2026-01", portfolio.Latest, false)
	original := officetest.Readings(t, o, "2026-01", portfolio.Original, true)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-01")
	require.NoError(t, err)
	cut, err := closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	require.Len(t, cut.Hash, 64)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.ErrorIs(t, err, office.ErrRefused)

	require.Empty(t, officetest.Take(t, o, entry.Options{}, first).Refusals, "equal values count as unchanged")
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,version,amount\nA,10,actual,2026-01,,71\nA,10,forecast,2026-02,2026-01,-\nA,10,plan,2026-01,1,999\n",
		),
		officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-01,9\n"),
		officetest.File(
			"postings.csv",
			"posting,date,period,project,cost_code,amount\nL1,2026-01-05,,A,10,6\nL2,2026-01-09,2026-01,A,10,1\nL3,2026-01-31,,A,10,4\n",
		),
	)
	require.Len(t, r.Refusals, 5)
	for _, x := range r.Refusals {
		require.Contains(t, x.Reason, "2026-01 is closed")
	}
	// master data changes freely, and alters nothing in the closed period
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name,programme,state\nA,Renamed,-,on hold\n"),
		officetest.File("rules.csv", "dimension,reading,from,watch,act\ncost,stated_over,2026-02,0,0\n"),
	)
	require.Equal(t, before, officetest.Readings(t, o, "2026-01", portfolio.Latest, false))
	require.Equal(
		t,
		original,
		officetest.Readings(t, o, "2026-01", portfolio.Original, true),
		"what was not stored is computed from the cut",
	)
	for _, x := range officetest.Readings(t, o, "2026-02", portfolio.Latest, false) {
		if x["code"] == "A" {
			require.Equal(t, "Renamed", x["name"])
			require.Equal(t, 79.0, x["ac"], "70 + 5 + the late 4")
		}
	}
	require.ErrorIs(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, p, " "), office.ErrRefused)
	require.NoError(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, p, "late invoice"))
	require.NotEqual(t, before, officetest.Readings(t, o, "2026-01", portfolio.Latest, false))
	require.ErrorIs(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, p, "again"), office.ErrRefused)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p+40)
	require.ErrorIs(t, err, office.ErrRefused)
}

// TestPostingsReplace: a posting sent again with another amount moves its cell.
func TestPostingsReplace(t *testing.T) {
	o := officetest.WithBase(t)
	head := "posting,date,project,cost_code,amount,supplier\n"
	ac := func(period string) any {
		for _, x := range officetest.Readings(t, o, period, portfolio.Latest, false) {
			if x["code"] == "A" {
				return x["ac"]
			}
		}
		return nil
	}
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("postings.csv", head+"L1,2026-01-05,A,10,5,Yard\nL2,2026-01-06,A,10,7,Yard\n"),
	)
	require.Equal(t, 12.0, ac("2026-01"))
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("p.csv", head+"L1,,,,8,\n"),
		officetest.File("postings-2.csv", head+"L2,2026-01-06,A,10,7,\n"),
	)
	require.Empty(t, r.Refusals)
	require.Equal(t, 1, r.Changes(), "an empty supplier leaves what was there")
	require.Equal(t, 15.0, ac("2026-01"))
	officetest.Take(t, o, entry.Options{}, officetest.File("postings-3.csv", "posting,period,amount\nL1,2026-02,8\n"))
	require.Equal(t, 7.0, ac("2026-01"))
	require.Equal(t, 15.0, ac("2026-02"))
}

func zipOf(t *testing.T, files map[string]string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "in.zip")
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, body := range files {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write([]byte(body))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
	return path
}

func TestZips(t *testing.T) {
	o := officetest.NewOffice(t)
	r := officetest.GatherPaths(t, o, entry.Options{}, zipOf(t, officetest.Base))
	require.Empty(t, r.Refusals)
	require.Equal(t, 6, r.Files)

	_, refused, err := gather.Collect(
		[]string{zipOf(t, map[string]string{"../projects.csv": "project\nX\n"})},
		gather.DefaultLimits,
	)
	require.NoError(t, err)
	require.Contains(t, refused[0].Reason, "points outside")

	tight := gather.DefaultLimits
	tight.ZipBytes = 1000
	files, refused, err := gather.Collect(
		[]string{zipOf(t, map[string]string{"projects.csv": strings.Repeat("x", 5000)})},
		tight,
	)
	require.NoError(t, err)
	require.Empty(t, files)
	require.Contains(t, refused[0].Reason, "more than the limit")

	broken := filepath.Join(t.TempDir(), "no.zip")
	require.NoError(t, os.WriteFile(broken, []byte("not a zip"), 0o600))
	_, refused, err = gather.Collect([]string{broken}, gather.DefaultLimits)
	require.NoError(t, err)
	require.Contains(t, refused[0].Reason, "not a zip")
	_, _, err = gather.Collect([]string{"/nowhere/at/all"}, gather.DefaultLimits)
	require.Error(t, err)
}

func TestExtraColumnsComeBack(t *testing.T) {
	o := officetest.WithBase(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,region,name\nC,North,Gamma\n"),
		officetest.File(
			"costs-x.csv",
			"project,cost_code,kind,period,version,amount,contract\nA,10,plan,2026-03,1,5,K-7\n",
		),
	)
	require.Empty(t, r.Refusals)
	require.Contains(t, fmt.Sprint(r.Notes), "region")
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(context.Background(), officetest.Operator, dir))
	b, err := os.ReadFile(filepath.Join(dir, "projects.csv"))
	require.NoError(t, err)
	require.Contains(t, string(b), "North")
	b, err = os.ReadFile(filepath.Join(dir, "costs.csv"))
	require.NoError(t, err)
	require.Contains(t, string(b), "K-7")
	require.Error(t, export.In(o).Export(context.Background(), officetest.Operator, dir), "it does not overwrite")
}

func TestAnotherProcess(t *testing.T) {
	ctx := context.Background()
	path := filepath.Join(t.TempDir(), "turret.db")
	one, err := office.Init(ctx, officetest.Operator, path, office.Settings{Reporting: "EUR", FiscalStart: 1})
	require.NoError(t, err)
	defer one.Close()
	two, err := office.Open(ctx, officetest.Operator, path, false)
	require.NoError(t, err)
	defer two.Close()
	var files []entry.File
	for name, body := range officetest.Base {
		files = append(files, officetest.File(name, body))
	}
	officetest.Take(t, one, entry.Options{}, files...)
	require.Len(
		t,
		officetest.Readings(t, two, "2026-01", portfolio.Latest, false),
		4,
		"what one gathers, the other shows",
	)
	officetest.Take(
		t,
		two,
		entry.Options{},
		officetest.File("progress.csv", "project,activity,period,percent\nA,1,2026-01,100\n"),
	)
	require.Equal(
		t,
		officetest.Readings(t, two, "2026-01", portfolio.Latest, false),
		officetest.Readings(t, one, "2026-01", portfolio.Latest, false),
	)
	require.Equal(t, 0.5, officetest.Readings(t, one, "2026-01", portfolio.Latest, false)[0]["earned_share"])
}

func TestRights(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	reader := office.Actor{Name: "Exec", Role: "executive"}
	nobody := office.Actor{Name: "Nobody"}
	_, err := entry.In(o).Gather(ctx, reader, nil, nil, entry.Options{})
	require.ErrorAs(t, err, new(*office.Denied))
	_, err = closing.In(o).ClosePeriod(ctx, reader, 24312)
	require.ErrorAs(t, err, new(*office.Denied))
	require.ErrorAs(t, export.In(o).Export(ctx, reader, "x"), new(*office.Denied))
	require.ErrorAs(t, export.In(o).Backup(ctx, reader, "x"), new(*office.Denied))
	require.ErrorAs(t, closing.In(o).ReopenPeriod(ctx, reader, 1, "x"), new(*office.Denied))
	_, err = o.Moment(ctx, reader, office.Ask{})
	require.NoError(t, err)
	_, err = o.Moment(ctx, nobody, office.Ask{})
	require.ErrorAs(t, err, new(*office.Denied))
}

// TestEveryTable: the example of the template goes in whole, and what it says
// of links, steps, items and the rest comes out as it went in.
func TestEveryTable(t *testing.T) {
	ctx := context.Background()
	dir := filepath.Join(t.TempDir(), "t")
	require.NoError(t, export.Template(officetest.Operator, dir))
	o := officetest.NewOffice(t)
	r := officetest.GatherPaths(t, o, entry.Options{}, filepath.Join(dir, "example"))
	require.Empty(t, r.Refusals)
	out := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, officetest.Operator, out))
	for name, says := range map[string]string{
		"links.csv": "EX-1,A2,A3,SS,10", "steps.csv": "EX-1,A3,rails,2,", "items.csv": "EX-1,I1,,Drain cover,1,new,2026-09-10,",
		"risks.csv": "8000.00", "narratives.csv": "Pour the second bay.", "overrides.csv": "EX-1,risk,2026-10,2026-12,watch",
		"rules.csv": "dates,finish_slip,2026-09,above,10,40", "baselines.csv": "EX-1,1,2026-08-20", "postings.csv": "L-1002,2026-10-31,2026-10,EX-1,LAB,opex,,A2,31250.50",
		"datapackage.json": "tabular-data-package",
	} {
		b, err := os.ReadFile(filepath.Join(out, name))
		require.NoError(t, err, name)
		require.Contains(t, string(b), says, name)
	}
	other := officetest.NewOffice(t)
	require.Empty(t, officetest.GatherPaths(t, other, entry.Options{}, out).Refusals)
	require.Equal(
		t,
		officetest.Readings(t, o, "2026-10", portfolio.Latest, false),
		officetest.Readings(t, other, "2026-10", portfolio.Latest, false),
	)
	require.Zero(t, officetest.GatherPaths(t, o, entry.Options{}, out).Changes(), "what came out changes nothing")
}

// TestLinksAcrossProjects, and links to what does not exist.
func TestLinksAcrossProjects(t *testing.T) {
	o := officetest.WithBase(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("activities.csv", "project,activity\nB,7\n"),
		officetest.File(
			"links.csv",
			"project,from,to,type,lag\nA,1,B/7,FS,3\nA,1,B/8,FS,0\nA,1,Z/7,FS,0\nA,1,2,XX,0\nA,1,2,FS,99999\n",
		),
	)
	require.Len(t, r.Refusals, 4)
	for i, says := range []string{`activity "8" is not known`, `project "Z" is not known`, "not one of", "not between"} {
		require.Contains(t, r.Refusals[i].Reason, says)
		require.Equal(t, i+3, r.Refusals[i].Row)
	}
}

// TestTableFromOutside: files of any name are what --table says.
func TestTableFromOutside(t *testing.T) {
	o := officetest.WithBase(t)
	table, err := entry.ParseTable("progress")
	require.NoError(t, err)
	p, err := o.ParsePeriod(context.Background(), officetest.Operator, "2026-02")
	require.NoError(t, err)
	r := officetest.Take(
		t,
		o,
		entry.Options{Table: table, Period: p},
		officetest.File("from-the-yard.csv", "project,activity,percent\nA,1,30\n"),
	)
	require.Empty(t, r.Refusals)
	require.Equal(t, "progress", r.Tallies[0].Table)
	_, err = entry.ParseTable("things")
	require.ErrorContains(t, err, "postings")
}

// TestTalliesOfTwoFiles: what two files of one table bring adds up.
func TestTalliesOfTwoFiles(t *testing.T) {
	o := officetest.WithBase(t)
	officetest.GatherMap(t, o, map[string]string{"programmes.csv": "programme,name\nA1,One\nA2,Two\nB1,One\nB2,Two\n"})
	r := officetest.Take(t, o, entry.Options{},
		officetest.File("programmes.csv", "programme,name\nA1,One\nA2,Twice\nA3,Three\n"),
		officetest.File("more/programmes.csv", "programme,name\nB1,One\nB2,Twice\nB3,Three\n"))
	require.Equal(t, []entry.Tally{{Table: "programmes", New: 2, Changed: 2, Unchanged: 2}}, r.Tallies)
	require.Equal(t, 4, r.Changes())
}
