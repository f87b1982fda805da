package figure_test

import (
	"flag"
	"fmt"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

var update = flag.Bool("update", false, "write docs/figures.md")

// docs writes the catalogue as a page.
func docs() string {
	var b strings.Builder
	b.WriteString(
		"# Figures\nEvery figure that Turret computes, made from the catalogue in `internal/core/figure`. `go test ./internal/core/figure -update` writes this page; a test holds it to the catalogue.\n\nAmounts are whole minor units, exact until one rounding, half to even. A figure that cannot be known is null and shows as — with its reason. An earlier period is written {name-3}. For a project, the figures *of what has earned value* are the figure itself; for a group they count the parts whose earned value is known. A project has one CPI: its shares, indices, earned schedule and dates are those of its own currency wherever its amounts are shown in another one, where estimates are made of converted amounts and those indices.\n\n| name | title | symbol | unit | formula | source |\n|---|---|---|---|---|---|\n",
	)
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		fmt.Fprintf(
			&b,
			"| `%s` | %s | %s | %s | %s | %s |\n",
			e.Name,
			e.Title,
			e.Symbol,
			e.Unit,
			strings.ReplaceAll(e.Formula, "|", "\\|"),
			e.Source,
		)
	}
	return b.String()
}

func TestDocs(t *testing.T) {
	const path = "../../../docs/figures.md"
	if *update {
		require.NoError(t, os.WriteFile(path, []byte(docs()), 0o644))
	}
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Equal(t, docs(), string(b), "run go test ./internal/core/figure -update")
}

func TestCatalogueIsWhole(t *testing.T) {
	names := map[string]bool{}
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		require.NotEmpty(t, e.Name, i)
		require.NotEmpty(t, e.Title, e.Name)
		require.NotEmpty(t, e.Symbol, e.Name)
		require.NotEmpty(t, e.Formula, e.Name)
		require.NotEmpty(t, e.Source, e.Name)
		require.False(t, names[e.Name], e.Name)
		names[e.Name] = true
		id, ok := figure.Lookup(e.Name)
		require.True(t, ok)
		require.Equal(t, figure.ID(i), id)
	}
	for _, name := range inBraces.FindAllStringSubmatch(docs(), -1) {
		base, _, _ := strings.Cut(name[1], "-")
		require.True(t, names[base] || base == "name", name[1])
	}
}

var inBraces = regexp.MustCompile(`\{([a-z0-9_]+(?:-[0-9])?)\}`)

// built is a project of ten months from January 2026 with a plan of 100.00 a
// month, one task, and what a case adds.
type built struct {
	office  *portfolio.Office
	project *portfolio.Project
	jan     calendar.Period
}

func build() *built {
	o := &portfolio.Office{
		Reporting: "EUR",
		Periods:   calendar.Months(1),
		Rates:     money.NewRates("EUR"),
		Codes:     map[int64]portfolio.CostCode{1: {Code: "10"}},
	}
	o.Settle()
	jan := o.Periods.Of(calendar.DateOf(2026, 1, 1))
	p := &portfolio.Project{Code: "X", Currency: "EUR", State: portfolio.Active, TooEarly: -1}
	p.Activities = []portfolio.Activity{{Code: "1", Kind: portfolio.Task, Rule: "stated", Parent: -1, Leaf: true}}
	p.Baselines = []portfolio.Baseline{
		{
			Number: 1,
			Rows: []portfolio.BaselineRow{
				{Start: calendar.DateOf(2026, 1, 1), Finish: calendar.DateOf(2026, 10, 31)},
			},
		},
	}
	b := &built{o, p, jan}
	b.version(&p.Plan, 1, 0, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000)
	return b
}

// version adds amounts of the months from one on, January being 0.
func (b *built) version(to *[]portfolio.Version, number, from int, amounts ...int64) {
	l := portfolio.Line{CodeID: 1, Flow: portfolio.Cost, Currency: "EUR"}
	for i, n := range amounts {
		l.Cells = append(l.Cells, portfolio.Cell{Period: b.jan + calendar.Period(from+i), Amount: n})
	}
	*to = append(*to, portfolio.Version{Number: number, Lines: []portfolio.Line{l}})
}

func (b *built) spend(amounts ...int64) *built {
	var v []portfolio.Version
	b.version(&v, 0, 0, amounts...)
	b.project.Actual = v[0].Lines
	return b
}

// percents says the task's progress month by month.
func (b *built) percents(list ...int64) *built {
	for i, n := range list {
		b.project.Progress = append(
			b.project.Progress,
			portfolio.Progress{
				Period: b.jan + calendar.Period(i),
				Rows: []portfolio.ProgressRow{
					{Percent: portfolio.Mark{Said: portfolio.Value, Int: n * portfolio.Quantity}},
				},
			},
		)
	}
	return b
}

func (b *built) forecast(month int, amounts ...int64) *built {
	b.version(&b.project.Forecast, int(b.jan)+month, month+1, amounts...)
	return b
}

func (b *built) at(month int) *figure.Eval {
	v := portfolio.At(b.office, b.project, b.jan+calendar.Period(month), portfolio.Latest)
	e := figure.OfProject(earned.NewProgress(v)).In("EUR")
	e.All()
	return e
}

// TestFigures: at the end of April PV is 400.00; 30% earned is 300.00; spent
// 90 + 110 + 120 + 80 = 400.00.
func TestFigures(t *testing.T) {
	b := build().spend(9000, 11000, 12000, 8000).percents(10, 15, 24, 30).forecast(3, 20000, 60000)
	b.version(&b.project.Commitment, int(b.jan)+2, 4, 15000)
	e := b.at(3)
	for _, c := range []struct {
		id   figure.ID
		want string
	}{
		{figure.BAC, "1000.00"},
		{figure.PV, "400.00"},
		{figure.EV, "300.00"},
		{figure.AC, "400.00"},
		{figure.SV, "-100.00"},          // 300 − 400
		{figure.CV, "-100.00"},          // 300 − 400
		{figure.SVShare, "-0.250000"},   // −100 ÷ 400
		{figure.CVShare, "-0.333333"},   // −100 ÷ 300
		{figure.SPI, "0.750000"},        // 300 ÷ 400
		{figure.CPI, "0.750000"},        // 300 ÷ 400
		{figure.EACPlan, "1100.00"},     // 400 + 1000 − 300
		{figure.EACCPI, "1333.33"},      // 400 + 700 ÷ 0.75 = 400 + 933.33…
		{figure.EACCPI3, "1485.00"},     // (300 − 100) ÷ (400 − 90) = 0.645…; 400 + 700 × 310 ÷ 200
		{figure.EACCPISPI, "1644.44"},   // 400 + 700 ÷ 0.5625 = 400 + 1244.44…
		{figure.EACStated, "1200.00"},   // 400 + 200 + 600
		{figure.EACComputed, "1333.33"}, // 30% earned: at CPI
		{figure.VAC, "-333.33"},         // 1000 − 1333.33
		{figure.AtStake, "333.33"},
		{figure.OnOrder, "150.00"},
		{figure.BeyondOrders, "650.00"}, // 1200 − 400 − 150
		{figure.ETCStated, "800.00"},
		{figure.ETCComputed, "933.33"},
		{figure.TCPIBAC, "1.166667"},        // 700 ÷ 600
		{figure.TCPIEAC, "0.875000"},        // 700 ÷ 800
		{figure.CredibilityGap, "0.125000"}, // |0.875 − 0.75|
		{figure.EarnedShare, "0.300000"},
		{figure.PlannedShare, "0.400000"},
		{figure.SpentShare, "0.400000"},
		{figure.EVPeriod, "60.00"},
		{figure.ACPeriod, "80.00"},
		{figure.PVPeriod, "100.00"},
		{figure.CPIPeriod, "0.750000"},
		{figure.SPIPeriod, "0.600000"},
		{figure.ES, "3.000000"},
		{figure.AT, "4.000000"},
		{figure.SVT, "-1.000000"},
		{figure.SPIT, "0.750000"},
		{figure.FinishComputed, "2027-02-10"}, // 10 × 4 ÷ 3 = 13⅓ months; a third of 28 days is 9⅓, up to the 10th
		{figure.ComputedOver, "0.333330"},
		{figure.StatedOver, "0.200000"},
		{figure.ForecastAge, "0"},
		{figure.CPI3, "0.645161"},       // 200 ÷ 310
		{figure.EACLow, "1100.00"},      // at plan
		{figure.EACHigh, "1644.44"},     // at CPI × SPI
		{figure.EACSpread, "0.544440"},  // 544.44 ÷ 1000
		{figure.Burn, "103.33"},         // (110 + 120 + 80) ÷ 3
		{figure.MonthsLeft, "5.806639"}, // 600 ÷ 103.33
	} {
		require.Equal(t, c.want, e.Get(c.id).Text("EUR"), figure.Get(c.id).Name)
	}
}

func TestOutlookMethod(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(*built)
		want   string
		how    string
	}{
		{"under 15% earned: at plan", func(b *built) { b.spend(20000).percents(14) }, "1060.00", "{eac_plan}, the rest at plan, as {earned_share} is earned, less than 15%"}, // 200 + 1000 − 140
		{"15% earned: at CPI", func(b *built) { b.spend(20000).percents(15) }, "1333.33", "{eac_cpi}, at CPI, as {earned_share} is earned, 15% or more"},                     // 200 + 850 × 200 ÷ 150
		{"its own choice", func(b *built) { b.spend(20000).percents(15); b.project.Method = "plan" }, "1050.00", "{eac_plan}, the estimate that is set for the project"},     // 200 + 850
		{"chosen one not known", func(b *built) { b.percents(50); b.project.Method = "cpi" }, "500.00", "{eac_plan}, as {eac_cpi} is not known"},                             // nothing spent: at plan, 0 + 500
		{"no earned value", func(b *built) { b.spend(20000).forecast(0, 70000); b.project.EarnedOff = true }, "900.00", "{eac_stated}, as it is not known what is earned"},   // as stated
		{"nothing but plan and cost", func(b *built) { b.spend(120000); b.project.EarnedOff = true }, "1200.00", "the larger of {bac} and {ac}, as no estimate is known"},    // the larger of 1000 and 1200
		{"all earned: the cost", func(b *built) { b.spend(80000).percents(100).forecast(0, 500) }, "800.00", "{ac}, as all of it is done"},
		{"finished: the cost", func(b *built) { b.spend(80000).percents(60); b.project.State = portfolio.Finished }, "800.00", "{ac}, as all of it is done"},
	} {
		b := build()
		c.change(b)
		e := b.at(0)
		require.Equal(t, c.want, e.Get(figure.EACComputed).Text("EUR"), c.name)
		require.Equal(t, c.how, figure.Applied(e, figure.EACComputed), c.name)
	}
}

// A formula of several cases is told as it applied.
func TestFormulaAsItApplied(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(*built)
		id     figure.ID
		want   string
	}{
		{"plan cells", func(*built) {}, figure.BAC, "sum of all plan cells without management reserve"},
		{"no plan cells", func(b *built) { b.project.Plan = nil }, figure.BAC, "the budgets of activities spread over their baseline days"},
		{"over plan", func(b *built) { b.spend(20000).percents(14) }, figure.AtStake, "{eac_computed} − {bac}"},                   // 1060 − 1000
		{"under plan", func(b *built) { b.spend(10000).percents(14) }, figure.AtStake, "0, as {eac_computed} is not above {bac}"}, // 960
		{"under way", func(b *built) { b.spend(20000).percents(14) }, figure.EACPlan, figure.Get(figure.EACPlan).Formula},
		{"all done", func(b *built) { b.spend(20000).percents(100) }, figure.EACCPI, "{ac_earned}, as all of it is done"},
		{"of a project alone", func(*built) {}, figure.EarnedShare, "Σ weight × earned fraction ÷ Σ weight of activities"},
		{"while it is judged", func(*built) {}, figure.CredibilityGap, "|{tcpi_eac} − {cpi}|"},
	} {
		b := build()
		c.change(b)
		require.Equal(t, c.want, figure.Applied(b.at(0), c.id), c.name)
	}
}

func TestDoneKeepsWhatIsStated(t *testing.T) {
	b := build().spend(80000).percents(100).forecast(0, 500)
	require.Equal(t, "805.00", b.at(0).Get(figure.EACStated).Text("EUR"))
	require.Equal(t, "800.00", b.at(0).Get(figure.EACCPI3).Text("EUR"))
	b = build().spend(80000).percents(100)
	require.Equal(t, "800.00", b.at(0).Get(figure.EACStated).Text("EUR"))
	require.False(t, b.at(0).Get(figure.FinishComputed).Known)
}

func TestUnknownHasItsReason(t *testing.T) {
	for _, c := range []struct {
		name   string
		change func(*built)
		id     figure.ID
		why    string
	}{
		{"no plan", func(b *built) { b.project.Plan = nil; b.spend(500) }, figure.CPI, "it has neither plan amounts nor budgets"},
		{"nothing spent", func(b *built) { b.percents(10) }, figure.CPI, "the actual cost is not above zero"},
		{"credit notes", func(b *built) { b.spend(-500).percents(10) }, figure.CPI, "the actual cost is not above zero"},
		{"never stated", func(b *built) { b.spend(500) }, figure.EACStated, "no forecast was stated up to this period"},
		{"plan spent", func(b *built) { b.spend(100000).percents(50) }, figure.TCPIBAC, "out of reach"},
		{"nothing earned", func(b *built) { b.spend(500).percents(0) }, figure.EACCPI, "its index is not above zero"},
		{"nothing earned", func(b *built) { b.spend(500).percents(0) }, figure.EACCPISPI, "its index is not above zero"}, // 0 × 0
		{"nothing earned", func(b *built) { b.spend(500).percents(0) }, figure.FinishComputed, "nothing is earned yet"},
		{"earned value off", func(b *built) { b.project.EarnedOff = true }, figure.EV, "earned value is turned off for this project"},
		{"too early to judge", func(b *built) { b.spend(500).percents(5).forecast(0, 900) }, figure.CredibilityGap, "it is judged while 15% to 95% is earned"},
		{"a group's", func(*built) {}, figure.StatedShare, "it belongs to groups"},
		{"no income", func(*built) {}, figure.Margin, "it has no income"},
		{"the plan is spent", func(b *built) { b.spend(100000) }, figure.MonthsLeft, "all of the plan is spent"},
		{"nothing spent", func(*built) {}, figure.MonthsLeft, "nothing was spent in three periods"},
		{"no risks", func(*built) {}, figure.RiskExposure, "no risk was ever stated"},
	} {
		b := build()
		c.change(b)
		v := b.at(0).Get(c.id)
		require.False(t, v.Known, c.name)
		require.Equal(t, c.why, v.Why, c.name)
		require.Empty(t, v.Text("EUR"))
	}
}

// TestBeforeTheStart: cumulatives before the project are zero, so that the
// index of three periods stands from the first one.
func TestBeforeTheStart(t *testing.T) {
	e := build().spend(20000).percents(10).at(0)
	require.Equal(t, "2000.00", e.Get(figure.EACCPI3).Text("EUR")) // 200 + 900 × (200 − 0) ÷ (100 − 0)
	require.Equal(t, "100.00", e.Get(figure.EVPeriod).Text("EUR"))
}

// TestTrailSaysWhatTheFormulaSays: an entry asks for no other entries than its
// formula names.
func TestTrailSaysWhatTheFormulaSays(t *testing.T) {
	e := build().spend(9000, 11000, 12000, 8000).percents(10, 15, 24, 30).forecast(3, 20000, 60000).at(3)
	for i := range figure.Len() {
		entry := figure.Get(figure.ID(i))
		named := map[string]bool{}
		for _, m := range inBraces.FindAllStringSubmatch(entry.Formula, -1) {
			named[m[1]] = true
		}
		if len(named) == 0 {
			continue
		}
		n := e.Trail(figure.ID(i))
		require.True(t, n.Value.Equal(e.Get(figure.ID(i))), entry.Name)
		for _, x := range n.Inputs {
			name := figure.Get(x.ID).Name
			if back := e.Period - x.Period; back > 0 {
				name = fmt.Sprintf("%s-%d", name, back)
			}
			require.True(t, named[name], "%s asks for %s and its formula does not say so", entry.Name, name)
		}
	}
}

func TestStatementAge(t *testing.T) {
	b := build().percents(5, 10).forecast(0, 1)
	require.Equal(t, int64(2), b.at(2).Get(figure.StatementAge).N, "progress is one period old, the forecast two")
	b = build().percents(5)
	require.Equal(
		t,
		int64(3),
		b.at(2).Get(figure.StatementAge).N,
		"a forecast was never stated, and owed in three periods",
	)
	b.project.State = portfolio.OnHold
	require.False(t, b.at(2).Get(figure.StatementAge).Known)
	b.project.State = portfolio.Active
	rule := func(kind portfolio.PartKind, owed bool) portfolio.Owing {
		return portfolio.Owing{Scope: portfolio.Everywhere, Kind: kind, Owed: owed}
	}
	b.office.Owing = []portfolio.Owing{rule(portfolio.ForecastPart, false)}
	require.Equal(t, int64(2), b.at(2).Get(figure.StatementAge).N, "the forecast is not owed; progress is two periods old")
	b.office.Owing = append(b.office.Owing, rule(portfolio.ProgressPart, false))
	require.Equal(t, figure.OwesNothing, b.at(2).Get(figure.StatementAge).Why)
}

func TestRisksInForce(t *testing.T) {
	b := build()
	say := func(month int, risk string, l, i int64, state string) {
		r := portfolio.RiskStatement{Period: b.jan + calendar.Period(month), Risk: risk}
		if l > 0 {
			r.Likelihood, r.Impact = portfolio.Field{
				Said: portfolio.Value,
				Int:  l,
			}, portfolio.Field{
				Said: portfolio.Value,
				Int:  i,
			}
		}
		if state != "" {
			r.State = portfolio.Field{Said: portfolio.Value, Text: state}
		}
		b.project.Risks = append(b.project.Risks, r)
	}
	say(0, "R1", 3, 4, "")
	say(0, "R2", 5, 5, "")
	say(1, "R2", 0, 0, "closed")
	require.Equal(t, int64(25), b.at(0).Get(figure.RiskExposure).N)
	require.Equal(t, int64(12), b.at(1).Get(figure.RiskExposure).N, "closed later, scores stay as last said")
	say(2, "R1", 0, 0, "closed")
	require.Equal(t, int64(0), b.at(2).Get(figure.RiskExposure).N, "all are closed")
}

// TestJudge: the counts of what was found come in from outside; figures stay.
func TestJudge(t *testing.T) {
	e := build().spend(500).at(0)
	require.False(t, e.Get(figure.Errors).Known)
	judged := e.Judge(figure.Found{Errors: 1, Warnings: 2, Facts: []figure.Fact{{What: "a"}, {What: "b"}, {What: "c"}}}, nil)
	require.Equal(t, int64(1), judged.Get(figure.Errors).N)
	require.Equal(t, int64(2), judged.Get(figure.Warnings).N)
	require.Equal(t, e.Get(figure.AC), judged.Get(figure.AC))
	require.False(t, e.Get(figure.Errors).Known, "the one it was made of stays as it was")
	facts := judged.Subject.Facts(judged, figure.Warnings, judged.Period)
	require.Len(t, facts, 2)
	require.Equal(t, "b", facts[0].What)
}

// TestFacts: the plan's facts of BAC are all of it, those of PV up to the period; only what
// is spent has postings behind it.
func TestFacts(t *testing.T) {
	e := build().spend(500, 700).at(1)
	amounts := func(id figure.ID) (out []int64, posted int) {
		for _, f := range e.Subject.Facts(e, id, e.Period) {
			out = append(out, f.Value.N)
			if f.Posted != nil {
				posted++
			}
		}
		return out, posted
	}
	all, posted := amounts(figure.BAC)
	require.Len(t, all, 10, "January to October")
	require.Zero(t, posted)
	soFar, _ := amounts(figure.PV)
	require.Len(t, soFar, 2, "January and February")
	spent, posted := amounts(figure.AC)
	require.Equal(t, []int64{500, 700}, spent)
	require.LessOrEqual(t, posted, len(spent))
}

func TestDecimals(t *testing.T) {
	require.Equal(t, "0.000002", figure.Decimals(exact.Of(25, 10_000_000), 6), "half to even")
	require.Equal(t, "0.000004", figure.Decimals(exact.Of(35, 10_000_000), 6))
	require.Equal(t, "-1.500000", figure.Decimals(exact.Of(-3, 2), 6))
	require.Equal(t, "12", figure.TrimDecimals("12.000"))
	require.Equal(t, "120", figure.TrimDecimals("120"))
}
