package money_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
	"turret/internal/office/period"
	"turret/internal/readback"
)

// TestMoneyIsWhatTheFiguresSay: what the table sums to date and at completion is
// what the readings say of every project and group, in both currencies and
// against both baselines.
func TestMoneyIsWhatTheFiguresSay(t *testing.T) {
	o := officetest.Example(t)
	for _, at := range []string{"2026-05", "2026-08", "2026-11"} {
		for _, against := range []string{"", "original"} {
			for _, in := range []string{"", "project"} {
				m := officetest.Moment(t, o, office.Ask{At: at, Against: against, In: in})
				codes := []string{"*"}
				for _, x := range m.Programmes() {
					codes = append(codes, x.Code)
				}
				for _, x := range m.ProjectNames() {
					codes = append(codes, x[0])
				}
				for _, code := range codes {
					r, _ := m.Find(code)
					if r.Group && in != "" {
						continue
					}
					ask := money.Ask{
						Per:  "completion",
						Rows: "code,class",
						Show: "plan,spent,running,commitment,outlook",
					}
					scoped := m
					if r.Group {
						scoped = officetest.Moment(t, o, office.Ask{At: at, Against: against, Scope: r.Code})
					} else {
						ask.Project = r.Code
					}
					table := officetest.MoneyTable(t, o, scoped, ask)
					for _, c := range []struct {
						id      figure.ID
						measure costs.Measure
						column  int
					}{{figure.BAC, costs.Planned, 2}, {figure.PV, costs.Planned, 0}, {figure.AC, costs.Spent, 0}, {figure.EACStated, costs.Running, 2}, {figure.EACComputed, costs.Expected, 2}, {figure.OnOrder, costs.OnOrder, 2}} {
						v := r.Value(c.id)
						if !v.Known || r.Group && c.id == figure.EACStated && len(table.Unstated) > 0 {
							continue // a group counts the computed outlook of those that state none
						}
						n, ok := table.Value(table.Root, 0, c.measure, c.column)
						require.True(t, ok)
						require.Equal(
							t,
							v.N,
							n,
							"%s of %s at %s against %q in %q",
							figure.Get(c.id).Name,
							r.Code,
							at,
							against,
							in,
						)
					}
				}
			}
		}
	}
}

// TestMoneyFiles: another program reads the sums that the table shows; what is
// not listed follows as a row, so that shown rows add up.
func TestMoneyFiles(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-08"})
	ask := money.Ask{Rows: "programme,project,code", Unfolded: "3", Only: "differs", Show: "running,percent"}
	table := officetest.MoneyTable(t, o, m, ask)
	body, err := money.In(o).File(ctx, officetest.Operator, m, ask, "xlsx")
	require.NoError(t, err)
	var head, total []string
	var rows [][]readback.Cell
	for _, cells := range readback.XLSX(t, body)[0] {
		switch {
		case cells[0].Value == "Code":
			for _, c := range cells {
				head = append(head, c.Value)
			}
		case cells[0].Value == "All":
			for _, c := range cells {
				total = append(total, c.Value)
				if c.Value != "" && c.Value != "All" {
					require.Contains(t, c.Formula, "SUBTOTAL(9,")
				}
			}
		case head != nil:
			rows = append(rows, cells)
		}
	}
	require.Contains(t, head, "FY27, spent, then forecast, Aug 2026")
	at := slices.Index(head, "FY27, spent, then forecast")
	n, _ := table.Value(table.Root, 0, costs.Running, len(table.Columns)-1)
	sum, err := strconv.ParseFloat(total[at], 64)
	require.NoError(t, err)
	require.InDelta(t, float64(n)/100, sum, 0.001)
	var leaves float64
	formulas, rest := 0, false
	for _, r := range rows {
		rest = rest || strings.Contains(r[1].Value, "not listed below")
		if r[at].Formula != "" {
			formulas++
			continue
		}
		v, err := strconv.ParseFloat(r[at].Value, 64)
		require.NoError(t, err)
		leaves += v
	}
	require.InDelta(t, sum, leaves, 0.001, "the rows that are no sums add up to the total")
	require.Positive(t, formulas)
	require.True(t, rest)

	body, err = money.In(o).File(ctx, officetest.Operator, m, ask, "csv")
	require.NoError(t, err)
	list, err := csv.NewReader(bytes.NewReader(body)).ReadAll()
	require.NoError(t, err)
	require.Equal(t, len(rows), len(list)-1)
	require.Equal(t, []string{"level", "code", "name"}, list[0][:3])
}

// TestMoneyCell: what is behind a cell adds up to it, from the portfolio to the
// postings of one project.
func TestMoneyCell(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-08"})
	ask := money.Ask{Rows: "programme,code", Per: "quarter"}
	table := officetest.MoneyTable(t, o, m, ask)
	postings := 0
	var walk func(*costs.Row)
	walk = func(row *costs.Row) {
		for column := range table.Columns {
			for _, x := range []costs.Measure{costs.Running, costs.Planned, costs.Variance} {
				for version := range 2 {
					c, err := money.In(o).Cell(ctx, officetest.Operator, m, ask, money.RowKey(row), column, x, version)
					require.NoError(t, err)
					n, _ := table.Value(row, version, x, column)
					require.Equal(t, n, c.Amount)
					require.Zero(t, c.Left, "%v %s", row.Path(), x)
					if len(c.Parts) > 1 {
						part := c.Parts[0]
						own, err := money.In(o).
							Cell(ctx, officetest.Operator, m, money.Ask{Project: part.Code, Rows: "code", Per: "quarter"}, part.Key, column, x, version)
						require.NoError(t, err)
						require.Equal(t, part.Amount, own.Amount, "the project's own table says the same")
						continue
					}
					var sum int64
					for _, f := range c.Trail.Facts {
						sum += f.Value.N
						postings += len(f.Postings)
					}
					if c.Trail.Omitted == 0 {
						require.Equal(t, n, sum)
					}
				}
			}
		}
		for _, b := range row.Below {
			walk(b)
		}
	}
	walk(table.Root.Below[0])
	require.Positive(t, postings)
}

// TestMoneyBridge: it leads from what stands beside the table to what the table
// says, for any row, and its parts are its steps however they are listed.
func TestMoneyBridge(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	used := make(map[string]bool)
	for _, c := range []struct {
		ask    office.Ask
		money  money.Ask
		amount costs.Measure
	}{
		{office.Ask{At: "2026-11", Vs: "2026-08"}, money.Ask{Rows: "programme,code"}, costs.Running},
		{office.Ask{At: "2026-11", Vs: "2026-05"}, money.Ask{Rows: "class,code", Per: "completion"}, costs.Running},
		{office.Ask{At: "2026-11"}, money.Ask{Rows: "programme,project", Beside: "original", Per: "completion"}, costs.Planned},
		{office.Ask{At: "2026-08", Vs: "2026-11"}, money.Ask{Rows: "code", Span: "FY27", Rates: "plan"}, costs.Running},
	} {
		m := officetest.Moment(t, o, c.ask)
		table := officetest.MoneyTable(t, o, m, c.money)
		var walk func(*costs.Row)
		walk = func(row *costs.Row) {
			for _, by := range money.BridgeBys {
				b, err := money.In(o).Bridge(ctx, officetest.Operator, m, c.money, money.RowKey(row), c.amount, "", by)
				require.NoError(t, err)
				now, _ := table.Value(row, 0, c.amount, len(table.Columns)-1)
				was, _ := table.Value(row, 1, c.amount, len(table.Columns)-1)
				require.Equal(t, []int64{was, now}, []int64{b.From, b.To}, "%v", row.Path())
				steps, parts := int64(0), b.Rest
				for _, x := range b.Steps {
					steps += x.Amount
					used[x.Code] = used[x.Code] || x.Amount != 0
				}
				for _, x := range b.Parts {
					parts += x.Amount
				}
				require.Equal(t, now-was, steps)
				require.Equal(t, now-was, parts)
				for _, x := range b.Steps {
					one, err := money.In(o).
						Bridge(ctx, officetest.Operator, m, c.money, money.RowKey(row), c.amount, x.Code, by)
					require.NoError(t, err)
					sum := one.Rest
					for _, y := range one.Parts {
						sum += y.Amount
					}
					require.Equal(t, x.Amount, sum, "%s by %s", x.Code, by)
				}
			}
			for _, r := range row.Below {
				walk(r)
			}
		}
		walk(table.Root)
	}
	for _, cause := range []string{"baseline", "actual", "more"} {
		require.True(t, used[cause], "the example has some of %s", cause)
	}
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	for _, c := range []struct {
		ask     money.Ask
		row     string
		measure costs.Measure
		says    string
	}{
		{money.Ask{}, "", costs.Running, "choose under Beside"},
		{money.Ask{Beside: "original"}, "nowhere", costs.Running, "no such row"},
		{money.Ask{Beside: "original"}, "", costs.Booked, "not of \"actual\""},
	} {
		_, err := money.In(o).Bridge(ctx, officetest.Operator, m, c.ask, c.row, c.measure, "", "")
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, c.says)
	}
}

// TestRates: what is stated and what goes on from earlier, what is missing, and
// who is outside the totals for it.
func TestRates(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("cost_codes.csv", "cost_code,name\n1,One\n"),
		officetest.File("projects.csv", "project,name,currency\nE,Euro,EUR\nN,Kroner,NOK\nS,Kronor,SEK\n"),
		officetest.File(
			"rates.csv",
			"currency,period,set,rate\nNOK,2026-01,period,0.09\nNOK,2026-03,period,0.088\nGBP,2025-04,plan,1.2\n",
		),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,amount\nE,1,plan,2026-03,5\nN,1,plan,2026-03,5\nS,1,plan,2026-03,5\n",
		),
		officetest.File(
			"narratives.csv",
			"project,period,section,text\nE,2026-02,summary,Well\nE,2026-04,summary,Well\n",
		),
	)
	book := func() *period.RateBook {
		b, err := period.In(o).Rates(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{}))
		require.NoError(t, err)
		return b
	}
	b := book()
	require.Equal(t, []string{"FY26", "FY27"}, b.Years)
	require.Len(t, b.Currencies, 3)
	write := func(list []period.RateCell) (out []string) {
		for _, c := range list {
			out = append(out, map[bool]string{true: "!", false: ""}[c.Stated]+c.Rate)
		}
		return out
	}
	require.Equal(t, []string{"!1.2", "1.2"}, write(b.Currencies[0].Plan))
	require.Equal(t, []string{"0.09", "!0.088", "0.088"}, write(b.Currencies[1].Period), "February goes on, April too")
	require.True(t, b.Currencies[2].None)
	require.Equal(t, []string{"S"}, b.LeftOut)
	says := strings.Join(b.Missing, "\n")
	for _, x := range []string{"GBP has no period rates", "NOK has no plan rates", "SEK has no rate at all; the money of 1 project is in it"} {
		require.Contains(t, says, x)
	}
	for _, c := range []struct{ currency, period, set, rate, says string }{
		{"SEK", "2026-04", "period", "", "above zero"}, {"SEK", "2026-04", "period", "0", "above zero"}, {"KRONA", "2026-04", "period", "0.1", "KRONA"}, {"SEK", "April", "period", "0.1", "not a period"}, {"EUR", "2026-04", "plan", "1.1", "whose rate is always 1"},
	} {
		err := period.In(o).SetRate(ctx, officetest.Operator, 1<<40, c.currency, c.period, c.set, c.rate)
		require.ErrorIs(t, err, office.ErrRefused, c.says)
		require.ErrorContains(t, err, c.says)
	}
	require.NoError(t, period.In(o).SetRate(ctx, officetest.Operator, 1<<40, "sek", "2026-04", "plan", "0.1"))
	require.ErrorContains(
		t,
		period.In(o).SetRate(ctx, officetest.Operator, 0, "SEK", "2026-04", "plan", "0.2"),
		"changed the rate SEK, 2026-04, plan meanwhile",
	)
	require.Empty(t, book().LeftOut)
}

// TestCostCentres: a tree, which money tables add up; a centre is not its own
// ancestor, and those that only lines name stand alone.
func TestCostCentres(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("cost_codes.csv", "cost_code,name\n1,One\n"),
		officetest.File("projects.csv", "project,name\nP,Pier\n"),
		officetest.File("cost_centres.csv", "cost_centre,name,parent\nW,Workshop,\nW1,Welders,W\nW2,Fitters,W\n"),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,cost_centre,amount\nP,1,plan,2026-04,W1,10\nP,1,plan,2026-04,W2,20\nP,1,plan,2026-04,W,3\nP,1,plan,2026-04,HARBOUR,5\nP,1,plan,2026-04,,7\n",
		),
		officetest.File("narratives.csv", "project,period,section,text\nP,2026-04,summary,Well\n"),
	)
	require.Empty(t, r.Refusals)
	tree := func(o *office.Office) (out []string) {
		table := officetest.MoneyTable(
			t,
			o,
			officetest.Moment(t, o, office.Ask{}),
			money.Ask{Rows: "centre", Show: "plan"},
		)
		for _, x := range table.Rows {
			n, _ := table.Value(x.Row, 0, costs.Planned, len(table.Columns)-1)
			out = append(out, strings.Repeat(" ", x.Depth-1)+x.Name+" "+strconv.FormatInt(n/100, 10))
		}
		return out
	}
	want := []string{"No cost centre 7", "HARBOUR 5", "Workshop 33", " Welders 10", " Fitters 20"}
	require.Equal(t, want, tree(o))
	for row, says := range map[string]string{"W,,W2": "it is its own parent, or in a loop of parents", "W3,Painters,NONE": `cost centre`} {
		r := officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_centres.csv", "cost_centre,name,parent\n"+row+"\n"),
		)
		require.Len(t, r.Refusals, 1, row)
		require.Contains(t, r.Refusals[0].Reason+" cost centre", says)
	}
	again := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("cost_centres.csv", "cost_centre,name,parent\nW1,Welders,W\n"),
	)
	require.Zero(t, again.Changes(), "the same again changes nothing")
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, officetest.Operator, dir))
	other := officetest.NewOffice(t)
	require.Empty(t, officetest.GatherPaths(t, other, entry.Options{}, dir).Refusals)
	require.Equal(t, want, tree(other))
}

// TestBaselines: from the original to the latest by approved changes, line by
// line; what is approved after the period counts later.
func TestBaselines(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_codes.csv", "cost_code,name,reserve\n1,One,\n2,Two,\n9,Rest,management\n"),
			officetest.File("projects.csv", "project,name,start,finish\nP,Pier,2026-04-01,2026-09-30\n"),
			officetest.File(
				"baselines.csv",
				"project,baseline,approved,reason,approver\nP,1,2026-03-20,,\nP,2,2026-05-11,More piles,Ida Holm\nP,3,2026-07-01,Less deck,Ida Holm\n",
			),
			officetest.File(
				"costs.csv",
				"project,cost_code,kind,period,version,amount\nP,1,plan,2026-04,1,100\nP,2,plan,2026-05,1,50\nP,9,plan,2026-05,1,999\nP,1,plan,2026-04,2,130\nP,2,plan,2026-05,2,50\nP,1,plan,2026-04,3,130\nP,2,plan,2026-05,3,20\n",
			),
			officetest.File(
				"narratives.csv",
				"project,period,section,text\nP,2026-04,summary,Well\nP,2026-06,summary,Well\n",
			),
		).Refusals,
	)
	for _, c := range []struct {
		at      string
		inForce int
	}{{"2026-04", 1}, {"2026-05", 2}, {"2026-06", 2}} {
		m := officetest.Moment(t, o, office.Ask{At: c.at})
		b, err := baseline.In(o).Baselines(ctx, officetest.Operator, m, "P")
		require.NoError(t, err)
		require.Len(t, b.List, 3)
		var plans, changes []int64
		for _, x := range b.List {
			plans, changes = append(plans, x.Plan/100), append(changes, x.Change/100)
			require.Equal(t, x.Number == c.inForce, x.InForce, "%s: %d", c.at, x.Number)
			require.Equal(t, x.Number > c.inForce, x.Later, "%s: %d", c.at, x.Number)
		}
		require.Equal(t, []int64{150, 180, 150}, plans)
		require.Equal(t, []int64{150, 30, -30}, changes)
		require.Equal(
			t,
			[]baseline.BaselineCode{
				{Code: "1", Name: "One", Plans: []int64{100_00, 130_00, 130_00}},
				{Code: "2", Name: "Two", Plans: []int64{50_00, 50_00, 20_00}},
			},
			b.Codes,
		)
		r, _ := m.Find("P")
		require.Equal(t, b.List[c.inForce-1].Plan, r.Value(figure.BAC).N, "the one in force is BAC")
	}
	none, err := baseline.In(o).Baselines(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{}), "NONE")
	require.NoError(t, err)
	require.Nil(t, none)
}
