package money_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"math/big"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/amounts"
	"turret/internal/office/entry"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

// plainCell is a cell as the exported rows say it, with the kind it is of and
// the path of every dimension.
type plainCell struct {
	project, kind, period, version, currency string
	paths                                    map[costs.Dimension][]string
	amount                                   *big.Rat
}

// plainMoney recomputes money tables from exported rows alone, without any of
// the code that makes them.
type plainMoney struct {
	cells    []plainCell
	rates    map[string]map[string][][2]string // by currency and set: period and rate
	currency map[string]string                 // of projects
	planned  map[string]bool                   // projects with plan cells
	known    map[plainKey]map[string]int64     // what was converted before, by centre
	shares   map[[3]string][]plainShare        // by project, cost code and period
}

type plainShare struct {
	centre  string
	percent *big.Rat
}

// shared parts a converted cell among cost centres, by the written rule: those of
// the code, else of the nearest above it, else of the project; each set the last
// at or before the cell's period, and one that adds up to nothing is none.
func (p *plainMoney) shared(c *plainCell, n int64) map[string]int64 {
	own := c.paths[costs.ByCentre][0]
	if own != "" {
		return map[string]int64{own: n}
	}
	chain := slices.Clone(c.paths[costs.ByCode])
	slices.Reverse(chain)
	for _, code := range append(chain, "") {
		from := ""
		for k := range p.shares {
			if k[0] == c.project && k[1] == code && k[2] <= c.period {
				from = max(from, k[2])
			}
		}
		set := p.shares[[3]string{c.project, code, from}]
		sum := new(big.Rat)
		for _, s := range set {
			sum.Add(sum, s.percent)
		}
		if sum.Sign() == 0 {
			continue
		}
		type part struct {
			whole int64
			rest  *big.Rat
		}
		parts := make([]part, len(set))
		left := max(n, -n)
		for i, s := range set {
			exact := new(big.Rat).Mul(big.NewRat(max(n, -n), 100), s.percent)
			whole := new(big.Int).Quo(exact.Num(), exact.Denom())
			parts[i] = part{whole.Int64(), exact.Sub(exact, new(big.Rat).SetInt(whole))}
			left -= whole.Int64()
		}
		for ; left > 0; left-- { // to the largest rest, the first of equal ones
			best := 0
			for i := range parts {
				if parts[i].rest.Cmp(parts[best].rest) > 0 {
					best = i
				}
			}
			parts[best].whole, parts[best].rest = parts[best].whole+1, big.NewRat(-1, 1)
		}
		out := make(map[string]int64)
		for i, s := range set {
			out[s.centre] += parts[i].whole * map[bool]int64{true: 1, false: -1}[n >= 0]
		}
		return out
	}
	return map[string]int64{"": n}
}

type plainKey struct {
	cell     int
	to, at   string
	constant bool
}

func rowsOf(t *testing.T, body string) (out []map[string]string) {
	t.Helper()
	if body == "" {
		return nil
	}
	list, err := csv.NewReader(strings.NewReader(body)).ReadAll()
	require.NoError(t, err)
	for _, r := range list[1:] {
		m := make(map[string]string)
		for i, name := range list[0] {
			m[name] = r[i]
		}
		out = append(out, m)
	}
	return out
}

func readPlain(t *testing.T, files map[string]string) *plainMoney {
	p := &plainMoney{
		rates:    make(map[string]map[string][][2]string),
		currency: make(map[string]string),
		planned:  make(map[string]bool),
		shares:   make(map[[3]string][]plainShare),
		known:    make(map[plainKey]map[string]int64),
	}
	above := func(name, key string) map[string]string {
		out := make(map[string]string)
		for _, r := range rowsOf(t, files[name]) {
			out[r[key]] = r["parent"]
		}
		return out
	}
	chain := func(parents map[string]string, at string) (out []string) {
		for at != "" {
			out = append([]string{at}, out...)
			at = parents[at]
		}
		return out
	}
	programmes, codes := above("programmes.csv", "programme"), above("cost_codes.csv", "cost_code")
	programme, client := make(map[string]string), make(map[string]string)
	for _, r := range rowsOf(t, files["projects.csv"]) {
		programme[r["project"]], p.currency[r["project"]], client[r["project"]] = r["programme"], r["currency"], r["client"]
	}
	for _, r := range rowsOf(t, files["rates.csv"]) {
		if p.rates[r["currency"]] == nil {
			p.rates[r["currency"]] = make(map[string][][2]string)
		}
		p.rates[r["currency"]][r["set"]] = append(p.rates[r["currency"]][r["set"]], [2]string{r["period"], r["rate"]})
	}
	for _, sets := range p.rates {
		for _, list := range sets {
			slices.SortFunc(list, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
		}
	}
	for _, r := range rowsOf(t, files["shares.csv"]) {
		k := [3]string{r["project"], r["cost_code"], r["from"]}
		percent, ok := new(big.Rat).SetString(r["percent"])
		require.True(t, ok, r)
		p.shares[k] = append(p.shares[k], plainShare{r["cost_centre"], percent})
	}
	stated := make(map[[2]string]map[string]bool) // classes of the plan, by project and cost code
	for _, r := range rowsOf(t, files["costs.csv"]) {
		k := [2]string{r["project"], r["cost_code"]}
		if stated[k] == nil {
			stated[k] = make(map[string]bool)
		}
		if r["kind"] == "plan" && r["class"] != "" {
			stated[k][r["class"]] = true
		}
	}
	class := func(r map[string]string) string {
		of := stated[[2]string{r["project"], r["cost_code"]}]
		switch {
		case r["class"] != "":
			return r["class"]
		case of["capex"] && !of["opex"]:
			return "capex"
		}
		return "opex"
	}
	add := func(r map[string]string, kind, amount string) {
		n, ok := new(big.Rat).SetString(amount)
		require.True(t, ok, amount)
		currency := r["currency"]
		if currency == "" {
			currency = p.currency[r["project"]]
		}
		p.planned[r["project"]] = p.planned[r["project"]] || kind == "plan"
		p.cells = append(
			p.cells,
			plainCell{r["project"], kind, r["period"], r["version"], currency, map[costs.Dimension][]string{
				costs.ByProgramme: chain(
					programmes,
					programme[r["project"]],
				), costs.ByProject: {r["project"]}, costs.ByCode: chain(codes, r["cost_code"]), costs.ByClass: {class(r)},
				costs.ByFlow: {"cost"}, costs.ByCentre: {r["cost_centre"]}, costs.ByActivity: {r["activity"]}, costs.ByClient: {client[r["project"]]},
			}, n},
		)
	}
	for _, r := range rowsOf(t, files["costs.csv"]) {
		add(r, r["kind"], r["amount"])
	}
	posted := make(map[string]*big.Rat) // summed in their currency before they are converted
	first := make(map[string]map[string]string)
	for _, r := range rowsOf(t, files["postings.csv"]) {
		k := strings.Join(
			[]string{
				r["project"],
				r["cost_code"],
				r["class"],
				r["cost_centre"],
				r["activity"],
				r["period"],
				r["currency"],
			},
			"|",
		)
		if posted[k] == nil {
			posted[k], first[k] = new(big.Rat), r
		}
		n, ok := new(big.Rat).SetString(r["amount"])
		require.True(t, ok)
		posted[k].Add(posted[k], n)
	}
	for k, n := range posted {
		add(first[k], "actual", n.FloatString(4))
	}
	return p
}

// rate is what one unit is worth in euro, by the written rule.
func (p *plainMoney) rate(currency, set, period, asOf string) *big.Rat {
	if currency == "EUR" {
		return big.NewRat(1, 1)
	}
	list := p.rates[currency][set]
	if len(list) == 0 {
		list = p.rates[currency][map[string]string{"plan": "period", "period": "plan"}[set]]
		period = min(period, asOf)
	}
	out := list[0][1]
	for _, x := range list {
		if x[0] <= period {
			out = x[1]
		}
	}
	r, _ := new(big.Rat).SetString(out)
	return r
}

// convert gives minor units of a currency, each cell by itself, half to even.
func (p *plainMoney) convert(c *plainCell, to string, at string, constant bool) int64 {
	set, period := "period", c.period
	if c.kind == "plan" || constant {
		set = "plan"
	}
	if (c.kind == "forecast" || c.kind == "commitment") && !constant {
		period = min(period, at)
	}
	n := new(big.Rat).Set(c.amount)
	if c.currency != to {
		n.Mul(n, p.rate(c.currency, set, period, at))
		n.Quo(n, p.rate(to, set, period, at))
	}
	if to != "JPY" {
		n.Mul(n, big.NewRat(100, 1))
	}
	return halfEven(n)
}

func halfEven(r *big.Rat) int64 {
	two := new(big.Rat).Mul(r, big.NewRat(2, 1))
	low := new(big.Int).Div(r.Num(), r.Denom()) // towards minus infinity
	rest := new(big.Rat).Sub(two, new(big.Rat).SetInt(new(big.Int).Mul(low, big.NewInt(2))))
	if c := rest.Cmp(big.NewRat(1, 1)); c > 0 || c == 0 && low.Bit(0) == 1 {
		low.Add(low, big.NewInt(1))
	}
	return low.Int64()
}

// plainAsk is a slice of money.
type plainAsk struct {
	at, to, class, code string
	centre, activity    string
	constant            bool
	codes               map[string]bool // of the projects that count
	rows                []costs.Dimension
}

// value adds up a measure of a row from one month to another.
func (p *plainMoney) value(ask plainAsk, path []string, m costs.Measure, from, through string) (sum int64) {
	kinds := map[costs.Measure]map[string]int64{
		costs.Planned: {"plan": 1}, costs.Spent: {"actual": 1, "accrual": 1}, costs.Booked: {"actual": 1}, costs.Accrued: {"accrual": 1}, costs.ToGo: {"forecast": 1}, costs.OnOrder: {"commitment": 1},
		costs.Running: {"actual": 1, "accrual": 1, "forecast": 1}, costs.Variance: {"plan": 1, "actual": -1, "accrual": -1, "forecast": -1},
	}[m]
	in := func(month string) bool { return month >= from && month <= through }
	last := make(map[string]string) // the statement in force by project and kind
	for _, c := range p.cells {
		if k := c.project + c.kind; c.version <= ask.at && (c.kind == "forecast" || c.kind == "commitment") {
			last[k] = max(last[k], c.version)
		}
	}
	for i := range p.cells {
		c := &p.cells[i]
		code := c.paths[costs.ByCode]
		switch {
		case kinds[c.kind] == 0, !ask.codes[c.project]:
			continue
		case ask.activity != "" && c.paths[costs.ByActivity][0] != ask.activity:
			continue
		case ask.class != "" && c.paths[costs.ByClass][0] != ask.class,
			ask.code != "" && !slices.Contains(code, ask.code):
			continue
		case c.kind == "plan" && slices.Contains(code, "9"),
			(c.kind == "actual" || c.kind == "accrual") && c.period > ask.at:
			continue
		case (c.kind == "forecast" || c.kind == "commitment") && c.version != last[c.project+c.kind],
			c.kind == "forecast" && c.period <= ask.at:
			continue
		}
		k := plainKey{i, ask.to, ask.at, ask.constant}
		if _, done := p.known[k]; !done {
			p.known[k] = p.shared(c, p.convert(c, ask.to, ask.at, ask.constant))
		}
		for centre, n := range p.known[k] {
			if ask.centre != "" && ask.centre != centre {
				continue
			}
			var place []string
			for _, d := range ask.rows {
				if d == costs.ByCentre {
					place = append(place, centre)
				} else {
					place = append(place, c.paths[d]...)
				}
			}
			if len(place) < len(path) || !slices.Equal(place[:len(path)], path) {
				continue
			}
			n *= kinds[c.kind]
			if in(c.period) {
				sum += n
			}
			if c.kind == "accrual" && c.period < ask.at && in(next(c.period)) {
				sum -= n
			}
		}
	}
	return sum
}

// next is the month after one of 2026.
func next(month string) string {
	var m int
	fmt.Sscanf(month, "2026-%d", &m)
	return fmt.Sprintf("2026-%02d", m+1)
}

// typeSome types amounts of every kind into the tables of some projects, in blocks and by
// cell, and sends them; it gives how many were.
func typeSome(t *testing.T, r *rand.Rand, o *office.Office) (sent int) {
	t.Helper()
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "types", right.Analyst), amounts.In(o)
	m := officetest.Moment(t, o, office.Ask{Own: true})
	for _, p := range m.ProjectNames() {
		for _, k := range amounts.Kinds {
			x, err := room.Table(ctx, a, m, p[0], k.Name, "")
			if err != nil || x.Shut != "" || len(x.Lines) == 0 {
				continue
			}
			typed := make(map[string]amounts.Typed)
			for range 6 {
				l := &x.Lines[r.IntN(len(x.Lines))]
				if c := &l.Cells[r.IntN(len(l.Cells))]; !c.Locked {
					typed[c.Name] = amounts.Typed{Was: c.Shown(), Text: fmt.Sprint(r.IntN(100_000) - 10_000)}
				}
			}
			require.NoError(t, room.Keep(ctx, a, m, p[0], k.Name, typed))
			do := amounts.Change{Do: []string{"scale", "spread"}[r.IntN(2)], Percent: "33.3", Total: "10001", How: "even"}
			if p1, err := room.Preview(ctx, a, m, p[0], k.Name, do); err == nil {
				_, err = room.Apply(ctx, a, m, p[0], k.Name, do, p1.Seen)
				require.NoError(t, err)
			}
			if _, err := room.Send(ctx, a, m, p[0], k.Name); err == nil {
				sent++
			} else {
				require.ErrorIs(t, err, office.ErrRefused, "%s of %s", k.Name, p[0])
			}
			m = officetest.Moment(t, o, office.Ask{Own: true})
		}
	}
	return sent
}

// TestRandomSlicesOfMoney takes random slices (scope, rows, span, amounts, second
// version, currency, rates, filters) of random portfolios, and recomputes every
// cell of them plainly from the exported rows.
func TestRandomSlicesOfMoney(t *testing.T) {
	ctx := context.Background()
	checked, slicesTaken, sent := 0, 0, 0
	for seed := range officetest.Fewer(uint64(8)) {
		r := rand.New(rand.NewPCG(7, seed))
		o := officetest.NewOffice(t)
		require.Empty(t, officetest.Take(t, o, entry.Options{}, officetest.FilesOf(officetest.Random(r))...).Refusals)
		clients := "project,client\n"
		for i, p := range officetest.Moment(t, o, office.Ask{}).ProjectNames() {
			clients += p[0] + "," + []string{"", "Isles council", "C2"}[i%3] + "\n"
		}
		officetest.GatherMap(t, o, map[string]string{"projects.csv": clients, "clients.csv": "client,name\nC2,Ferry company\n"})
		if seed%2 == 0 {
			sent += typeSome(t, r, o)
		}
		plain := readPlain(t, officetest.Exported(t, o))
		months := []string{"2026-01", "2026-02", "2026-03", "2026-04"}
		activity := ""
		for i := range plain.cells {
			activity = max(activity, plain.cells[i].paths[costs.ByActivity][0])
		}
		for range 38 {
			slicesTaken++
			at, vs := months[r.IntN(4)], months[r.IntN(4)]
			m := officetest.Moment(
				t,
				o,
				office.Ask{
					At:    at,
					Vs:    vs,
					In:    []string{"", "project"}[r.IntN(2)],
					Scope: []string{"", "P1", "P3"}[r.IntN(3)],
				},
			)
			ask := money.Ask{
				Per:   string(costs.Cuts[r.IntN(4)]),
				Rates: []string{"", "plan"}[r.IntN(2)],
				Class: []string{"", "", "capex"}[r.IntN(3)],
				Code:  []string{"", "", "2"}[r.IntN(3)],
				Span:  []string{"", "all", "2026-02..2026-06"}[r.IntN(3)],
			}
			ask.Currency = []string{"", "", "GBP", "JPY"}[r.IntN(4)]
			ask.Centre = []string{"", "", "CX"}[r.IntN(3)]
			ask.Activity = []string{"", "", "", "", activity}[r.IntN(5)]
			if r.IntN(2) == 0 {
				ask.Sum = "cumulative"
			}
			if names := m.ProjectNames(); r.IntN(2) == 0 {
				ask.Project = names[r.IntN(len(names))][0]
			}
			dims := slices.Clone(costs.Dimensions)
			r.Shuffle(len(dims), func(i, j int) { dims[i], dims[j] = dims[j], dims[i] })
			var names []string
			for _, d := range dims[:1+r.IntN(3)] {
				names = append(names, string(d))
			}
			ask.Rows = strings.Join(names, ",")
			table, err := money.In(o).Table(ctx, officetest.Operator, m, ask)
			require.NoError(t, err)
			versions := []string{at}
			if table.Compared() {
				versions = append(versions, vs)
			}
			for v, period := range versions {
				want := plainAsk{
					at:       period,
					to:       string(table.Currency),
					class:    ask.Class,
					code:     ask.Code,
					centre:   ask.Centre,
					activity: ask.Activity,
					constant: ask.Rates == "plan",
					rows:     table.Dims,
					codes:    make(map[string]bool),
				}
				then := officetest.Moment(t, o, office.Ask{At: period, Scope: m.Scope.Code})
				budgets := false
				for _, x := range then.ProjectNames() {
					now, _ := then.Find(x[0])
					counts := ask.Project == x[0] ||
						ask.Project == "" && inProgramme(plain, x[0], m.Scope.Code) && now.State != "cancelled" && now.State != "proposed" && now.Value(figure.BAC).Known &&
							now.Value(figure.AC).Known
					want.codes[x[0]] = counts
					budgets = budgets || counts && !plain.planned[x[0]]
				}
				var walk func(*costs.Row)
				walk = func(row *costs.Row) {
					for i, c := range table.Columns {
						if row.Depth > 0 && r.IntN(24) > 0 { // the total whole, of the rest some
							continue
						}
						for _, x := range costs.Measures {
							n, ok := table.Value(row, v, x, i)
							if !ok || x == costs.Expected ||
								budgets &&
									(x == costs.Planned || x == costs.Variance) { // spread from budgets: tested where they are
								continue
							}
							checked++
							require.Equal(
								t,
								plain.value(want, row.Path(), x, monthOf(c, 0), monthOf(c, 1)),
								n,
								"seed %d, %+v at %s, %v of %v in %s",
								seed,
								ask,
								period,
								x,
								row.Path(),
								c.Name,
							)
						}
					}
					for _, b := range row.Below {
						walk(b)
					}
				}
				walk(table.Root)
			}
		}
	}
	require.Positive(t, sent, "tables were typed and sent")
	t.Logf("%d slices, %d cells, %d tables typed", slicesTaken, checked, sent)
	if !testing.Short() {
		require.Greater(t, checked, 50_000)
	}
}

func monthOf(c costs.Column, end int) string {
	p := []int{int(c.From), int(c.To)}[end]
	return fmt.Sprintf("%04d-%02d", p/12, p%12+1)
}

func inProgramme(p *plainMoney, project, scope string) bool {
	if scope == "" {
		return true
	}
	for i := range p.cells {
		if p.cells[i].project == project {
			return slices.Contains(p.cells[i].paths[costs.ByProgramme], scope)
		}
	}
	return false
}
