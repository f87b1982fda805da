package officetest

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"turret/internal/core/money"
	"turret/internal/office/entry"
)

// Random makes the files of a random portfolio: three programmes, one below
// another, some projects in three currencies, statements in four months.
func Random(r *rand.Rand) map[string][]string {
	out := map[string][]string{
		"programmes.csv": {"programme,name,parent", "P1,One,", "P2,Two,P1", "P3,Three,"},
		"cost_codes.csv": {"cost_code,name,parent,reserve", "1,A,,", "2,B,1,", "9,R,,management"},
		"rates.csv": {
			"currency,period,set,rate",
			"GBP,2026-01,period,1.17",
			"GBP,2026-03,period,1.21",
			"JPY,2026-01,plan,0.0061",
			"JPY,2026-02,period,0.0064",
		},
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
		add(
			"projects.csv",
			"K%d,Project,P%d,%s,%s,%s,%s,%s",
			p,
			1+r.IntN(3),
			cur,
			state,
			since,
			[]string{"on", "on", "off"}[r.IntN(3)],
			[]string{"", "", "cpi", "cpi3", "stated"}[r.IntN(5)],
		)
		budgets := r.IntN(3) == 0
		for a := range 1 + r.IntN(5) {
			budget := ""
			if budgets {
				budget = amount(cur)
			}
			rule := []string{"stated", "0-100", "50-50", "units", "elapsed"}[r.IntN(5)]
			add(
				"activities.csv",
				"K%d,%d,task,,%s,%s,2026-0%d-05,2026-0%d-20,40",
				p,
				a,
				rule,
				budget,
				1+r.IntN(2),
				3+r.IntN(5),
			)
			for m := 1; m <= 4; m++ {
				if r.IntN(2) == 0 {
					continue
				}
				done := ""
				if r.IntN(4) == 0 {
					done = fmt.Sprintf("2026-0%d-11", m)
				}
				add(
					"progress.csv",
					"K%d,%d,2026-0%d,%d,2026-0%d-25,2026-01-07,%s,%d",
					p,
					a,
					m,
					r.IntN(101),
					4+r.IntN(5),
					done,
					r.IntN(45),
				)
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
					add(
						"shares.csv",
						"K%d,%s,2026-0%d,CY,%d.%03d",
						p,
						code,
						from,
						(100_000-first)/1000,
						(100_000-first)%1000,
					)
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
					class := map[string]string{"1": "opex", "2": "capex", "9": []string{"capex", "", "opex"}[m%3]}[code]
					add("costs.csv", "K%d,%s,plan,%s,2026-0%d,1,%s,%s,", p, code, class, m, amount(c), c)
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
				add(
					"risks.csv",
					"K%d,R,%d,%d,%s,2026-0%d",
					p,
					1+r.IntN(5),
					1+r.IntN(5),
					[]string{"open", "closed"}[r.IntN(2)],
					m,
				)
			}
		}
	}
	return out
}

func FilesOf(tables map[string][]string) []entry.File {
	var out []entry.File
	for name, rows := range tables {
		out = append(out, File(name, strings.Join(rows, "\n")+"\n"))
	}
	return out
}

// Shuffled orders rows and files at random, and cuts tables in two.
func Shuffled(r *rand.Rand, tables map[string][]string) []entry.File {
	var out []entry.File
	for name, rows := range tables {
		body := append([]string(nil), rows[1:]...)
		r.Shuffle(len(body), func(i, j int) { body[i], body[j] = body[j], body[i] })
		cut := len(body) / 2
		if name == "programmes.csv" || name == "cost_codes.csv" {
			cut = 0
		}
		stem := strings.TrimSuffix(name, ".csv")
		out = append(out, File(stem+"-a.csv", strings.Join(append(rows[:1:1], body[cut:]...), "\n")+"\n"))
		if cut > 0 {
			out = append(out, File(stem+"-b.csv", strings.Join(append(rows[:1:1], body[:cut]...), "\n")+"\n"))
		}
	}
	r.Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

// Fewer is how often something random is tried: a tenth in short runs, such as
// those that look for races.
func Fewer[N ~int | ~uint64](n N) N {
	if testing.Short() {
		return max(n/10, 1)
	}
	return n
}
