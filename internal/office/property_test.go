package office_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office/entry"
	"turret/internal/office/export"
)

// random makes the files of a random portfolio: three programmes, one below
// another, some projects in three currencies, statements in four months.
func random(r *rand.Rand) map[string][]string {
	out := map[string][]string{
		"programmes.csv": {"programme,name,parent", "P1,One,", "P2,Two,P1", "P3,Three,"},
		"cost_codes.csv": {"cost_code,name,parent,reserve", "1,A,,", "2,B,1,", "9,R,,management"},
		"rates.csv":      {"currency,period,set,rate", "GBP,2026-01,period,1.17", "GBP,2026-03,period,1.21", "JPY,2026-01,plan,0.0061", "JPY,2026-02,period,0.0064"},
		"projects.csv":   {"project,name,programme,currency,state,state_since,earned_value,outlook_method"},
		"activities.csv": {"project,activity,kind,level,rule,budget,baseline_start,baseline_finish,units"},
		"costs.csv":      {"project,cost_code,kind,class,period,version,amount,currency,activity"},
		"progress.csv":   {"project,activity,period,percent,finish,actual_start,actual_finish,units_done"},
		"postings.csv":   {"posting,date,project,cost_code,amount,currency"},
		"shares.csv":     {"project,cost_code,from,cost_centre,percent"},
		"risks.csv":      {"project,risk,likelihood,impact,state,period"},
	}
	add := func(name, format string, args ...any) { out[name] = append(out[name], fmt.Sprintf(format, args...)) }
	currencies := []string{"EUR", "GBP", "JPY"}
	amount := func(c string) string {
		if c == "JPY" {
			return fmt.Sprint(r.IntN(900_000))
		}
		return money.Format(int64(r.IntN(900_000)), "EUR")
	}
	for p := range 3 + r.IntN(5) {
		cur := currencies[r.IntN(3)]
		state, since := []string{"active", "active", "active", "finished", "on hold", "cancelled", "proposed"}[r.IntN(7)], ""
		if r.IntN(2) == 0 {
			since = "2026-03-15"
		}
		add("projects.csv", "K%d,Project,P%d,%s,%s,%s,%s,%s", p, 1+r.IntN(3), cur, state, since, []string{"on", "on", "off"}[r.IntN(3)], []string{"", "", "cpi", "cpi3", "stated"}[r.IntN(5)])
		budgets := r.IntN(3) == 0
		for a := range 1 + r.IntN(5) {
			budget := ""
			if budgets {
				budget = amount(cur)
			}
			rule := []string{"stated", "0-100", "50-50", "units", "elapsed"}[r.IntN(5)]
			add("activities.csv", "K%d,%d,task,,%s,%s,2026-0%d-05,2026-0%d-20,40", p, a, rule, budget, 1+r.IntN(2), 3+r.IntN(5))
			for m := 1; m <= 4; m++ {
				if r.IntN(2) == 0 {
					continue
				}
				done := ""
				if r.IntN(4) == 0 {
					done = fmt.Sprintf("2026-0%d-11", m)
				}
				add("progress.csv", "K%d,%d,2026-0%d,%d,2026-0%d-25,2026-01-07,%s,%d", p, a, m, r.IntN(101), 4+r.IntN(5), done, r.IntN(45))
			}
		}
		add("activities.csv", "K%d,M,milestone,portfolio,,,,2026-0%d-12,", p, 2+r.IntN(6))
		for _, code := range []string{"", "1", "2"} { // shared out to centres, by code and from some periods on
			for from := 1; from <= 5 && r.IntN(3) == 0; from += 1 + r.IntN(3) {
				switch first := r.IntN(100_000); r.IntN(3) {
				case 0:
					add("shares.csv", "K%d,%s,2026-0%d,CX,0", p, code, from)
				case 1:
					add("shares.csv", "K%d,%s,2026-0%d,CX,%d.%03d", p, code, from, first/1000, first%1000)
					add("shares.csv", "K%d,%s,2026-0%d,CY,%d.%03d", p, code, from, (100_000-first)/1000, (100_000-first)%1000)
				default:
					add("shares.csv", "K%d,%s,2026-0%d,CZ,33.3", p, code, from)
					add("shares.csv", "K%d,%s,2026-0%d,CY,33.3", p, code, from)
					add("shares.csv", "K%d,%s,2026-0%d,CX,33.4", p, code, from)
				}
			}
		}
		for m := 1; m <= 9; m++ {
			for _, code := range []string{"1", "2", "9"} {
				if !budgets && r.IntN(3) > 0 {
					c := currencies[r.IntN(3)]
					add("costs.csv", "K%d,%s,plan,opex,2026-0%d,1,%s,%s,", p, code, m, amount(c), c)
				}
			}
		}
		for m := 1; m <= 4; m++ {
			for n := range r.IntN(4) {
				c := currencies[r.IntN(3)]
				add("postings.csv", "L%d-%d-%d,2026-0%d-10,K%d,%d,%s,%s", p, m, n, m, p, 1+r.IntN(2), amount(c), c)
			}
			if r.IntN(2) == 0 {
				add("costs.csv", "K%d,1,accrual,opex,2026-0%d,,%s,,", p, m, amount(cur))
				add("costs.csv", "K%d,2,forecast,capex,2026-0%d,2026-0%d,%s,,M", p, m+1+r.IntN(4), m, amount(cur))
				add("costs.csv", "K%d,2,commitment,capex,2026-0%d,2026-0%d,%s,,", p, m+1, m, amount(cur))
				add("risks.csv", "K%d,R,%d,%d,%s,2026-0%d", p, 1+r.IntN(5), 1+r.IntN(5), []string{"open", "closed"}[r.IntN(2)], m)
			}
		}
	}
	return out
}

func filesOf(tables map[string][]string) []entry.File {
	var out []entry.File
	for name, rows := range tables {
		out = append(out, file(name, strings.Join(rows, "\n")+"\n"))
	}
	return out
}

// shuffled orders rows and files at random, and cuts tables in two.
func shuffled(r *rand.Rand, tables map[string][]string) []entry.File {
	var out []entry.File
	for name, rows := range tables {
		body := append([]string(nil), rows[1:]...)
		r.Shuffle(len(body), func(i, j int) { body[i], body[j] = body[j], body[i] })
		cut := len(body) / 2
		if name == "programmes.csv" || name == "cost_codes.csv" {
			cut = 0
		}
		stem := strings.TrimSuffix(name, ".csv")
		out = append(out, file(stem+"-a.csv", strings.Join(append(rows[:1:1], body[cut:]...), "\n")+"\n"))
		if cut > 0 {
			out = append(out, file(stem+"-b.csv", strings.Join(append(rows[:1:1], body[:cut]...), "\n")+"\n"))
		}
	}
	r.Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

const seeds = 25

// fewer is how often something random is tried: a tenth in short runs, such as
// those that look for races.
func fewer[N ~int | ~uint64](n N) N {
	if testing.Short() {
		return max(n/10, 1)
	}
	return n
}

const bac = figure.BAC

var sums = []figure.ID{figure.BAC, figure.PV, figure.EV, figure.AC, figure.EACComputed, figure.AtStake, figure.OnOrder, figure.BACEarned, figure.PVEarned, figure.ACEarned}

// TestAnyOrder: any order of rows and files gives the same readings; a second
// gather changes nothing; export and gather into an empty database change
// nothing either.
func TestAnyOrder(t *testing.T) {
	for seed := range fewer(uint64(seeds)) {
		r := rand.New(rand.NewPCG(seed, 1))
		tables := random(r)
		one, two := newOffice(t), newOffice(t)
		require.Empty(t, take(t, one, entry.Options{}, filesOf(tables)...).Refusals, seed)
		mixed := shuffled(r, tables)
		require.Empty(t, take(t, two, entry.Options{}, mixed...).Refusals, seed)
		for _, period := range []string{"2026-01", "2026-03", "2026-05"} {
			require.Equal(t, readings(t, one, period, portfolio.Latest, true), readings(t, two, period, portfolio.Latest, true), "seed %d", seed)
		}
		again := take(t, two, entry.Options{}, mixed...)
		require.Zero(t, again.Changes(), "seed %d: %+v", seed, again.Tallies)
		require.Zero(t, take(t, one, entry.Options{}, mixed...).Changes())

		zip := filepath.Join(t.TempDir(), "all.zip")
		require.NoError(t, export.In(one).Export(context.Background(), operator, zip))
		three := newOffice(t)
		require.Empty(t, gatherPaths(t, three, entry.Options{}, zip).Refusals)
		require.Equal(t, readings(t, one, "2026-04", portfolio.Latest, false), readings(t, three, "2026-04", portfolio.Latest, false))
		require.Equal(t, readings(t, one, "2026-04", portfolio.Original, true), readings(t, three, "2026-04", portfolio.Original, true))
	}
}

// TestNothingFromLater: no figure of a period depends on what is stated after.
func TestNothingFromLater(t *testing.T) {
	later := func(name, row string) bool { // rows stated in April
		cells := strings.Split(row, ",")
		switch name {
		case "progress.csv":
			return cells[2] == "2026-04"
		case "postings.csv":
			return strings.HasPrefix(cells[1], "2026-04")
		case "risks.csv":
			return cells[5] == "2026-04"
		case "costs.csv":
			return cells[5] == "2026-04" || cells[2] == "accrual" && cells[4] == "2026-04"
		case "rates.csv":
			return cells[1] == "2026-04"
		}
		return false
	}
	for seed := range fewer(uint64(seeds)) {
		r := rand.New(rand.NewPCG(seed, 2))
		tables := random(r)
		tables["rates.csv"] = append(tables["rates.csv"], "GBP,2026-04,period,1.35", "JPY,2026-04,period,0.009")
		early, rest := make(map[string][]string), make(map[string][]string)
		n := 0
		for name, rows := range tables {
			early[name], rest[name] = rows[:1:1], rows[:1:1]
			for _, row := range rows[1:] {
				if later(name, row) {
					rest[name] = append(rest[name], row)
					n++
				} else {
					early[name] = append(early[name], row)
				}
			}
		}
		require.Positive(t, n)
		o := newOffice(t)
		take(t, o, entry.Options{}, filesOf(early)...)
		own, reporting := readings(t, o, "2026-03", portfolio.Latest, false), readings(t, o, "2026-03", portfolio.Latest, true)
		require.Empty(t, take(t, o, entry.Options{}, filesOf(rest)...).Refusals)
		require.Equal(t, own, readings(t, o, "2026-03", portfolio.Latest, false), "seed %d", seed)
		require.Equal(t, reporting, readings(t, o, "2026-03", portfolio.Latest, true), "seed %d", seed)
	}
}

// TestGroupsEqualTheirParts in every figure that is a sum, to the cent.
func TestGroupsEqualTheirParts(t *testing.T) {
	below := map[string][]string{"P1": {"P1", "P2"}, "P2": {"P2"}, "P3": {"P3"}, "*": {"P1", "P2", "P3"}}
	for seed := range fewer(uint64(seeds)) {
		r := rand.New(rand.NewPCG(seed, 3))
		o := newOffice(t)
		take(t, o, entry.Options{}, filesOf(random(r))...)
		ctx := context.Background()
		p, err := o.ParsePeriod(ctx, operator, "2026-04")
		require.NoError(t, err)
		rows, err := export.In(o).Readings(ctx, operator, export.Query{Period: p, Reporting: true})
		require.NoError(t, err)
		for _, g := range rows {
			if !g.Group {
				continue
			}
			for _, id := range sums {
				var want int64
				known := 0
				for _, x := range rows {
					if x.Group || !slices.Contains(below[g.Code], x.Parent) || x.State == portfolio.Cancelled || x.State == portfolio.Proposed || !x.Value(bac).Known {
						continue
					}
					if v := x.Value(id); v.Known {
						want += v.N
						known++
					}
				}
				v := g.Value(id)
				require.Equal(t, known > 0, v.Known, "seed %d, %s, %d: %s", seed, g.Code, id, v.Why)
				if v.Known {
					require.Equal(t, want, v.N, "seed %d, %s, %d", seed, g.Code, id)
				}
			}
		}
	}
}
