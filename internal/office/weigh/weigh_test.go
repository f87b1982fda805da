package weigh_test

import (
	"context"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/driver"
	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/brief"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/sheet"
	"turret/internal/office/weigh"
	"turret/internal/tell"
)

// quays are eight projects of two leads and two suppliers. Each has a plan of
// 1,000.00 from January to April 2026. Ann's earn all that is planned and spend
// it; Ben's spend a fifth more than they earn. What was forecast is what is
// planned, so Ben's forecasts are too low.
func quays(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	projects, activities := "project,name,lead,programme,stage\n", "project,activity,baseline_start,baseline_finish\n"
	costs, postings, progress := "project,cost_code,kind,period,version,amount\n", "posting,date,project,cost_code,amount,currency,supplier\n", "project,activity,period,percent,finish\n"
	for i, code := range strings.Split("ABCDEFGH", "") {
		lead, supplier, dear := "Ann", "Orran", 0
		if i >= 4 {
			lead, supplier, dear = "Ben", "Brae", 1
		}
		projects += code + ",Quay " + code + "," + lead + ",N,build\n"
		activities += code + ",1,2026-01-01,2026-04-30\n"
		for k, m := range []string{"2026-01", "2026-02", "2026-03", "2026-04"} {
			costs += code + ",10,plan," + m + ",1,250.00\n"
			if k < 3 {
				postings += code + "-" + m + "," + m + "-15," + code + ",10," + []string{"250.00", "300.00"}[dear] + ",EUR," + supplier + "\n"
				percent := []string{"25", "50", "75"}[k]
				progress += code + ",1," + m + "," + percent + ",2026-0" + []string{"4-30", "5-29"}[dear] + "\n"
				for later := k + 1; later < 4; later++ {
					costs += code + ",10,forecast,2026-0" + []string{"1", "2", "3", "4"}[later] + "," + m + ",250.00\n"
				}
			}
		}
	}
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("programmes.csv", "programme,name\nN,North\n"),
			officetest.File("cost_codes.csv", "cost_code,name\n10,Works\n"),
			officetest.File("projects.csv", projects),
			officetest.File("activities.csv", activities),
			officetest.File(
				"costs.csv",
				costs,
			),
			officetest.File("postings.csv", postings),
			officetest.File("progress.csv", progress),
		).Refusals,
	)
	return o
}

func codesOf(list []weigh.ExceptionProject) (out []string) {
	for _, p := range list {
		out = append(out, p.Code)
	}
	return out
}

// TestExceptions: Ben's outlook is 900 + 250 ÷ (750 ÷ 900) = 1,200.00, 20% over
// plan; what he states rises by 50.00 each period, which is what he overspends,
// and ends at 1,150.00.
func TestExceptions(t *testing.T) {
	ctx := context.Background()
	o := quays(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-03"})
	find := func(m *office.Moment, ask weigh.ExceptionAsk) *weigh.Exceptions {
		e, err := weigh.In(o).Exceptions(ctx, officetest.Operator, m, ask)
		require.NoError(t, err)
		return e
	}
	e := find(m, weigh.ExceptionAsk{})
	require.Equal(t, 8, e.Looked)
	require.Equal(t, 2, e.Short, "two periods are known before")
	require.Equal(t, []string{"E", "F", "G", "H"}, codesOf(e.Projects))
	over := e.Projects[0].Cases[0]
	require.Equal(t, exception.Over, over.Kind)
	require.Equal(
		t,
		"The computed outlook of €1,200 is €200 (20.0%) over the plan of €1,000.",
		tell.Plain(over.Words()),
	)
	require.Empty(t, find(m, weigh.ExceptionAsk{Kind: "over", Limits: map[string]string{"over": "21"}}).Projects)

	after := find(m, weigh.ExceptionAsk{Kind: "after", Limits: map[string]string{"after": "2"}})
	require.Equal(t, []string{"E", "F", "G", "H"}, codesOf(after.Projects))
	require.Equal(
		t,
		"The stated outlook rose by €100 in 2 periods running, while €100 was spent beyond what was earned; the computed one is still €50 higher.",
		tell.Plain(after.Projects[0].Cases[0].Words()),
	)
	require.Equal(t, "4 of 8 projects stand out here, Quay E first.", tell.Plain(after.Say()))

	require.Equal(
		t,
		[]string{"E", "F", "G", "H"},
		codesOf(
			find(
				officetest.Moment(t, o, office.Ask{At: "2026-03", Filter: office.Filter{Lead: "Ben"}}),
				weigh.ExceptionAsk{},
			).Projects,
		),
	)
	require.Empty(
		t,
		find(
			officetest.Moment(t, o, office.Ask{At: "2026-03", Filter: office.Filter{Lead: "Ann"}}),
			weigh.ExceptionAsk{},
		).Projects,
	)
	require.Equal(
		t,
		[]string{"There is no exception called luck; these are all kinds."},
		find(m, weigh.ExceptionAsk{Kind: "luck"}).Asked,
	)

	// The list goes into a brief, and its page says the same.
	page := brief.ExceptionsPart(map[string]string{"cause": "over", "over": "20"})
	b, err := brief.In(o).Brief(ctx, officetest.Operator, brief.Spec{At: "2026-03", Parts: []string{page}})
	require.NoError(t, err)
	require.Len(t, b.Pack.Pages, 1)
	require.Equal(t, "Exceptions: Overruns", b.Pack.Pages[0].Title)
	body, err := b.Write(brief.FormHTML)
	require.NoError(t, err)
	for _, says := range []string{"E Quay E", "20% or more", "€200 (20.0%) over the plan", "4 of 8 projects stand out"} {
		require.Contains(t, string(body), says)
	}
	_, err = brief.In(o).
		Brief(ctx, officetest.Operator, brief.Spec{At: "2026-03", Parts: []string{brief.ExceptionsPart(map[string]string{"over": "much"})}})
	require.ErrorContains(t, err, "is a number from 0 to 1000")
}

// TestExceptionsBySize: overruns go by money, or by percent.
func TestExceptionsBySize(t *testing.T) {
	o := officetest.NewOffice(t)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_codes.csv", "cost_code,name\n1,One\n"),
			officetest.File("projects.csv", "project,name\nBIG,Big\nSMALL,Small\n"),
			officetest.File("costs.csv", `project,cost_code,kind,period,version,amount
BIG,1,plan,2026-01,1,10000
BIG,1,actual,2026-01,,10600
SMALL,1,plan,2026-01,1,100
SMALL,1,actual,2026-01,,150
`),
		).Refusals,
	)
	m := officetest.Moment(t, o, office.Ask{})
	for share, want := range map[bool][]string{false: {"BIG", "SMALL"}, true: {"SMALL", "BIG"}} {
		e, err := weigh.In(o).
			Exceptions(context.Background(), officetest.Operator, m, weigh.ExceptionAsk{Kind: "over", Share: share})
		require.NoError(t, err)
		require.Equal(t, want, codesOf(e.Projects))
	}
}

// TestForecasts: Ann said what came; Ben said 250 a month where 300 came, at any
// lead, which is a sixth too little.
func TestForecasts(t *testing.T) {
	ctx := context.Background()
	o := quays(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-03"})
	f, err := weigh.In(o).Forecasts(ctx, officetest.Operator, m, "", 1)
	require.NoError(t, err)
	require.Equal(t, []string{"Ben", "Ann"}, []string{f.By[0].Name, f.By[1].Name}, "the farthest off first")
	ben, ann := f.By[0].Errors[0], f.By[1].Errors[0]
	require.Equal(t, []int{8, 8}, []int{ben.Count, ann.Count}, "two statements of four projects")
	require.InDelta(t, -1.0/6, ben.Mean, 1e-12)
	require.InDelta(t, 1.0/6, ben.Absolute, 1e-12)
	require.Zero(t, ann.Absolute)
	require.InDelta(t, -1.0/12, f.All[0].Mean, 1e-12)
	require.Zero(t, f.By[0].Errors[1].Count, "nothing is three periods old")
	require.Equal(
		t,
		"Said 1 period ahead, cost missed what came by 8.3% on average, and was 8.3% too low. Ben missed most: by 16.7%.",
		tell.Plain(f.Say()),
	)

	of, err := weigh.In(o).Forecasts(ctx, officetest.Operator, m, "E", 1)
	require.NoError(t, err)
	require.Len(t, of.Pairs, 2)
	require.Equal(t, []int64{250_00, 300_00}, []int64{of.Pairs[0].Said, of.Pairs[0].Came})
	require.Equal(t, []string{"Jan 2026", "Feb 2026"}, []string{of.Pairs[0].Made, of.Pairs[0].Through})
	require.Len(t, of.By, 1, "its lead alone")

	// A list goes by it: in April, with nothing booked, Ann's 750 of January were
	// half too much for the 500 that came, Ben's a quarter for 600.
	for sort, want := range map[string]string{"-forecast_error": "A", "forecast_error": "E"} {
		list, err := board.In(o).
			List(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-04", Own: true}), board.Order{Group: "none", Sort: sort})
		require.NoError(t, err)
		require.Equal(t, want, list.Codes[0], sort)
	}
	errs, err := weigh.In(o).
		ForecastErrors(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-04", Own: true}), weigh.ErrorAhead)
	require.NoError(t, err)
	require.InDelta(t, 0.5, errs["B"].Absolute, 1e-9)
	require.InDelta(t, 0.25, errs["F"].Absolute, 1e-9)

	// What a project says anew is seen; what others said is not read again.
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File(
				"costs.csv",
				"project,cost_code,kind,period,version,amount\nE,10,forecast,2026-02,2026-01,300\nE,10,forecast,2026-03,2026-01,300\nE,10,forecast,2026-04,2026-01,300\n",
			),
		).Refusals,
	)
	of, err = weigh.In(o).
		Forecasts(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-03"}), "E", 1)
	require.NoError(t, err)
	require.Equal(t, int64(300_00), of.Pairs[0].Said)

	// The sheet says the same of the project.
	s, err := sheet.In(o).Sheet(ctx, officetest.Operator, m, "F")
	require.NoError(t, err)
	require.InDelta(t, -1.0/6, s.Measures.Project[0].Mean, 1e-12)
	require.Equal(t, 8, s.Measures.Lead[0].Count)
}

// TestMeasures: of a project at 75% the outlook at CPI is taken; readings go back
// to its first period; the codes' last amounts are those of the plan and of the
// stated outlook.
func TestMeasures(t *testing.T) {
	o := quays(t)
	s, err := sheet.In(o).
		Sheet(context.Background(), officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-03"}), "E")
	require.NoError(t, err)
	x := s.Measures
	require.True(t, x.HasTaken)
	require.Equal(t, figure.EACCPI, x.Taken)
	require.Contains(t, x.Why, "15% or more is earned")
	require.Equal(t, []string{"Jan 2026", "Feb 2026", "Mar 2026"}, x.Periods)
	require.Len(t, x.Readings, 3)
	require.Len(t, x.Codes, 1)
	require.Equal(t, []int64{250_00, 500_00, 750_00, 1000_00}, x.Codes[0].Plan)
	require.Equal(t, []int64{300_00, 600_00, 900_00}, x.Codes[0].Spent)
	require.Equal(t, []int64{300_00, 600_00, 900_00, 1150_00}, x.Codes[0].Running)
}

// TestMap: places are those of the readings; boxes hold what lies in them, and
// the four regions hold every project once.
func TestMap(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{})
	plain, err := weigh.In(o).Map(ctx, officetest.Operator, m, weigh.MapAsk{})
	require.NoError(t, err)
	require.NotEmpty(t, plain.Marks)
	total := 0
	for _, r := range plain.Regions() {
		total += r.Count
		x, y := tell.Axis{ID: plain.X, Currency: "EUR"}, tell.Axis{ID: plain.Y, Currency: "EUR"}
		box := strings.Join([]string{x.Text(r.Box[0]), x.Text(r.Box[1]), y.Text(r.Box[2]), y.Text(r.Box[3])}, ",")
		in, err := weigh.In(o).Map(ctx, officetest.Operator, m, weigh.MapAsk{Box: box})
		require.NoError(t, err)
		require.Empty(t, in.Asked)
		require.Len(t, in.Rows(), r.Count, "%s: %s", r.Name, box)
	}
	require.Equal(t, len(plain.Marks), total)
	for _, k := range plain.Marks {
		v := k.Value(figure.ComputedOver)
		f, _ := v.Rat().Float64()
		require.InDelta(t, f*100, k.X, 1e-9, k.Code)
		require.False(t, math.IsNaN(k.Y))
	}
	for _, r := range plain.Off {
		require.True(t, !r.Value(plain.X).Known || !r.Value(plain.Y).Known, r.Code)
	}
	for _, k := range plain.Marks { // what lies on the edge of a box is within
		x, y := strconv.FormatFloat(k.X, 'g', -1, 64), strconv.FormatFloat(k.Y, 'g', -1, 64)
		at, err := weigh.In(o).Map(ctx, officetest.Operator, m, weigh.MapAsk{Box: strings.Join([]string{x, x, y, y}, ",")})
		require.NoError(t, err)
		if len(at.Asked) == 0 { // it may be no box, having no area
			require.True(t, slices.ContainsFunc(at.Marks, func(o weigh.MapMark) bool { return o.Code == k.Code && o.Inside }), k.Code)
		}
		far := strconv.FormatFloat(k.X+1000, 'g', -1, 64)
		high := strconv.FormatFloat(k.Y+1000, 'g', -1, 64)
		from, err := weigh.In(o).Map(ctx, officetest.Operator, m, weigh.MapAsk{Box: strings.Join([]string{x, far, y, high}, ",")})
		require.NoError(t, err)
		require.Empty(t, from.Asked)
		require.True(t, slices.ContainsFunc(from.Marks, func(o weigh.MapMark) bool { return o.Code == k.Code && o.Inside }), k.Code)
	}
	one, err := weigh.In(o).Map(ctx, officetest.Operator, m, weigh.MapAsk{Of: plain.Marks[0].Code})
	require.NoError(t, err)
	require.Len(t, one.Rows(), 1)
	for _, ask := range []weigh.MapAsk{{Box: "1,2,3"}, {Box: "2,1,0,1"}, {Box: "a,b,c,d"}, {X: "luck"}, {Of: "NONE"}, {X: "finish_planned", Box: "2026-01-01,NaN,0,1"}} {
		bad, err := weigh.In(o).Map(ctx, officetest.Operator, m, ask)
		require.NoError(t, err)
		require.Len(t, bad.Asked, 1, "%+v", ask)
		require.Len(t, bad.Rows(), len(bad.Marks), "and all are shown")
	}
	dated, err := weigh.In(o).
		Map(ctx, officetest.Operator, m, weigh.MapAsk{X: "finish_planned", Y: "cpi", Box: "2026-01-01,2027-01-01,0,9"})
	require.NoError(t, err)
	require.Empty(t, dated.Asked)
}

// TestDrivers: cost goes with the lead and the supplier, who are the same people's
// projects, and with nothing that all have alike.
func TestDrivers(t *testing.T) {
	ctx := context.Background()
	o := quays(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-03"})
	d, err := weigh.In(o).Drivers(ctx, officetest.Operator, m, weigh.DriversAsk{By: "lead", Value: "Ben"})
	require.NoError(t, err)
	require.Equal(t, 8, d.Projects)
	require.Equal(t, "lead", d.Now.Name)
	require.Equal(t, 1.0, d.Now.Results[0].Explained, "without a spread within")
	require.Equal(t, driver.Clear, d.Now.Results[0].Word)
	require.Equal(t, []string{"Ben", "Ann"}, []string{d.Now.Values[0].Value, d.Now.Values[1].Value})
	require.InDelta(t, 0.2, d.Now.Values[0].Groups[0].Mean, 1e-9)
	require.InDelta(t, 21, d.Now.Values[0].Groups[1].Mean, 1e-9, "working days from 30 April to 29 May 2026")
	require.Equal(t, int64(4000_00), d.Now.Values[0].Money)
	require.Len(t, d.Rows, 4)
	words := make(map[string]driver.Word)
	for _, x := range d.All {
		words[x.Name] = x.Results[0].Word
	}
	require.Equal(
		t,
		map[string]driver.Word{
			"lead":      driver.Clear,
			"supplier":  driver.Clear,
			"programme": driver.Same,
			"stage":     driver.Same,
			"code":      driver.Same,
			"size":      driver.Same,
			"age":       driver.Same,
			"currency":  driver.Same,
		},
		words,
	)

	// By cost code it is what is spent and stated: 15% over of Ben's.
	d, err = weigh.In(o).Drivers(ctx, officetest.Operator, m, weigh.DriversAsk{By: "code", Value: "10 Works"})
	require.NoError(t, err)
	require.Len(t, d.Parts, 8)
	require.Equal(t, []int64{1000_00, 1150_00}, []int64{d.Parts[0].Plan, d.Parts[0].Outlook})

	// A supplier that is renamed moves its projects, though no sum changes.
	bySupplier := func() (out []string) {
		d, err := weigh.In(o).
			Drivers(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-03"}), weigh.DriversAsk{By: "supplier"})
		require.NoError(t, err)
		for _, v := range d.Now.Values {
			out = append(out, v.Value)
		}
		slices.Sort(out)
		return out
	}
	require.Equal(t, []string{"Brae", "Orran"}, bySupplier())
	again := "posting,date,project,cost_code,amount,currency,supplier\n"
	for _, m := range []string{"2026-01", "2026-02", "2026-03"} {
		again += "H-" + m + "," + m + "-15,H,10,300.00,EUR,Brae Marine\n"
	}
	require.Empty(t, officetest.Take(t, o, entry.Options{}, officetest.File("postings.csv", again)).Refusals)
	require.Equal(t, []string{"Brae", "Brae Marine", "Orran"}, bySupplier())

	few, err := weigh.In(o).
		Drivers(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-03", Filter: office.Filter{Text: "Quay A"}}), weigh.DriversAsk{})
	require.NoError(t, err)
	require.Equal(t, 1, few.Projects)
	for _, x := range few.All {
		require.Contains(t, []driver.Word{driver.Same, driver.Few}, x.Results[0].Word)
	}
}
