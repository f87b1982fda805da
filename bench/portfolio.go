package main

import (
	"bufio"
	"context"
	"fmt"
	"math/rand/v2"
	"os"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// The synthetic portfolio.
const (
	activities = 100
	statements = 24 // periods of statements
)

// How many projects and postings there are; the large portfolio has more of the same make.
var projects, postings = 1000, 500_000

// The lines of a project and the months of each; the step of money has more.
var costLines, months = 20, 48

// first is the first month of every plan.
var first = calendar.Months(4).Of(calendar.DateOf(2025, 1, 1))

func value(n int64) portfolio.Field { return portfolio.Field{Said: portfolio.Value, Int: n} }
func text(s string) portfolio.Field { return portfolio.Field{Said: portfolio.Value, Text: s} }
func rowOf(t *record.Kind, id int64, fields map[string]portfolio.Field) portfolio.Row {
	r := portfolio.Row{ID: id, Fields: make([]portfolio.Field, len(t.Columns))}
	for name, f := range fields {
		r.Fields[t.Index(name)] = f
	}
	return r
}

// currencies: two thirds of the projects are in euro.
var currencies = []money.Currency{"EUR", "EUR", "NOK", "EUR", "EUR", "GBP"}

func currencyOf(p int) money.Currency { return currencies[p%len(currencies)] }

// rules in the shares 60, 10, 10, 10, 10.
var rules = []string{"stated", "stated", "stated", "stated", "stated", "stated", "0-100", "50-50", "units", "elapsed"}

// synthesise writes the portfolio into a new database. Statements are written
// as parts: as files they would be seventeen million rows.
func synthesise(ctx context.Context, path string) error {
	st, err := store.Open(ctx, path, true)
	if err != nil {
		return err
	}
	defer st.Close()
	r := rand.New(rand.NewPCG(7, 7))
	b := master()
	if _, err := st.Commit(ctx, b); err != nil {
		return err
	}
	base := int64(1)
	forecasts := make([][]portfolio.Line, projects)
	for s := range statements {
		b := &store.Batch{Base: base, Actor: "bench", Origin: "gather"}
		for p := range projects {
			b.Parts = append(b.Parts, statement(r, p, s, &forecasts[p])...)
		}
		if base, err = st.Commit(ctx, b); err != nil {
			return err
		}
	}
	return nil
}

func master() *store.Batch {
	b := &store.Batch{Actor: "bench", Origin: "gather"}
	add := func(table string, id int64, fields map[string]portfolio.Field) {
		t := record.Named(table)
		b.Records = append(b.Records, store.RecordChange{Table: t, After: rowOf(t, id, fields)})
	}
	add("settings", 1, map[string]portfolio.Field{"setting": text("reporting_currency"), "value": text("EUR")})
	add("settings", 2, map[string]portfolio.Field{"setting": text("fiscal_start"), "value": text("4")})
	for i, c := range []string{"NOK", "GBP"} {
		for m := range months {
			id := int64(i*months + m + 1)
			rate := fmt.Sprintf("%.4f", []float64{0.087, 1.17}[i]*(1+0.001*float64(m%7)))
			add(
				"rates",
				2*id-1,
				map[string]portfolio.Field{
					"currency": text(c),
					"period":   value(int64(first) + int64(m)),
					"set":      text("period"),
					"rate":     text(rate),
				},
			)
			if m%12 == 3 {
				add(
					"rates",
					2*id,
					map[string]portfolio.Field{
						"currency": text(c),
						"period":   value(int64(first) + int64(m)),
						"set":      text("plan"),
						"rate":     text(rate),
					},
				)
			}
		}
	}
	for i := range 20 {
		add(
			"programmes",
			int64(i+1),
			map[string]portfolio.Field{
				"programme": text(fmt.Sprintf("G%02d", i)),
				"name":      text(fmt.Sprintf("Programme %d", i)),
			},
		)
	}
	for i := range costLines {
		add(
			"cost_codes",
			int64(i+1),
			map[string]portfolio.Field{
				"cost_code": text(fmt.Sprintf("C%02d", i)),
				"name":      text(fmt.Sprintf("Code %d", i)),
			},
		)
	}
	for p := range projects {
		add(
			"projects",
			int64(p+1),
			map[string]portfolio.Field{
				"project":   text(code(p)),
				"name":      text("Project " + code(p)),
				"programme": value(int64(p%20 + 1)),
				"lead":      text(fmt.Sprintf("Lead %d", p%40)),
				"currency":  text(string(currencyOf(p))),
			},
		)
		b.Parts = append(b.Parts, planOf(p)...)
	}
	return b
}

func code(p int) string { return fmt.Sprintf("P%04d", p) }

// span gives the baseline dates of an activity.
func span(p, a int) (start, finish calendar.Date) {
	start = calendar.DateOf(2025, 1, 6) + calendar.Date(a*12)
	return start, start + calendar.Date(60+(a+p)%90)
}

// planOf gives the activities, the baseline and the plan of a project.
func planOf(p int) []store.PartChange {
	t := record.Named("activities")
	var acts, base []portfolio.Row
	for a := range activities {
		start, finish := span(p, a)
		acts = append(
			acts,
			rowOf(
				t,
				int64(a+1),
				map[string]portfolio.Field{
					"activity": text(fmt.Sprint(a)),
					"name":     text(fmt.Sprintf("Activity %d", a)),
					"rule":     text(rules[a%10]),
					"units":    value(100 * portfolio.Quantity),
				},
			),
		)
		row := portfolio.Row{Fields: make([]portfolio.Field, len(record.ActivityBaselines.Kind.Columns))}
		row.Fields[0] = portfolio.Field{Said: portfolio.Value, Int: int64(a + 1), Text: fmt.Sprint(a)}
		row.Fields[2], row.Fields[3] = value(int64(start)), value(int64(finish))
		base = append(base, row)
	}
	var lines []portfolio.Line
	for c := range costLines {
		l := lineOf(p, c)
		for m := range months {
			l.Cells = append(
				l.Cells,
				portfolio.Cell{Period: first + calendar.Period(m), Amount: int64(100_000 + (p*31+c*17+m*7)%90_000)},
			)
		}
		lines = append(lines, l)
	}
	part := func(k portfolio.PartKind, v int32, body []byte) store.PartChange {
		return store.PartChange{Part: portfolio.Part{Project: int64(p + 1), Kind: k, Version: v}, Body: body}
	}
	return []store.PartChange{
		part(portfolio.ActivityPart, 0, format.EncodeRows(acts)),
		part(portfolio.BaselinePart, 1, format.EncodeRows(base)),
		part(portfolio.PlanPart, 1, format.EncodeLines(lines)),
	}
}

func lineOf(p, c int) portfolio.Line {
	return portfolio.Line{
		CodeID:   int64(c + 1),
		Code:     fmt.Sprintf("C%02d", c),
		Flow:     portfolio.Cost,
		Class:    "opex",
		Currency: currencyOf(p),
	}
}

// statement gives the progress and the forecast of a project in a period: a
// quarter of the activities and 15% of the forecast cells change.
func statement(r *rand.Rand, p, s int, forecast *[]portfolio.Line) []store.PartChange {
	t := record.Named("progress")
	var rows []portfolio.Row
	for a := s % 4; a < activities; a += 4 {
		start, finish := span(p, a)
		day := calendar.DateOf(2025, 2+s, 1) - 1 // of the period
		late := calendar.Date(p % 9 * 3)
		done := min(max(int64(day-start)*100/int64(finish+late-start), 0), 100)
		if (p*7+a*13+s*3)%97 == 0 && done < 100 { // a slip of the pen here and there
			done = max(done-20, 0)
		}
		f := map[string]portfolio.Field{
			"activity":   {Said: portfolio.Value, Int: int64(a + 1), Text: fmt.Sprint(a)},
			"percent":    value(done * portfolio.Quantity),
			"units_done": value(done * portfolio.Quantity),
		}
		if done > 0 {
			f["actual_start"] = value(int64(start))
		}
		if done == 100 {
			f["actual_finish"] = value(int64(finish + late))
		}
		f["start"], f["finish"] = value(int64(start)), value(int64(finish+late))
		rows = append(rows, rowOf(t, 0, f))
	}
	if *forecast == nil {
		for c := range costLines {
			l := lineOf(p, c)
			for m := 1; m < months; m++ {
				l.Cells = append(
					l.Cells,
					portfolio.Cell{Period: first + calendar.Period(m), Amount: int64(100_000 + r.IntN(90_000))},
				)
			}
			*forecast = append(*forecast, l)
		}
	}
	for i := range *forecast {
		l := &(*forecast)[i]
		for len(l.Cells) > 0 && l.Cells[0].Period <= first+calendar.Period(s) {
			l.Cells = l.Cells[1:]
		}
		for j := range l.Cells {
			if r.IntN(100) < 15 {
				l.Cells[j].Amount += int64(r.IntN(4000)) - 2000
			}
		}
	}
	version := int32(first) + int32(s)
	part := func(k portfolio.PartKind, body []byte) store.PartChange {
		return store.PartChange{Part: portfolio.Part{Project: int64(p + 1), Kind: k, Version: version}, Body: body}
	}
	return []store.PartChange{
		part(portfolio.ProgressPart, format.EncodeRows(rows)),
		part(portfolio.ForecastPart, format.EncodeLines(*forecast)),
	}
}

// writePostings writes the ledger as a file of the canonical form.
func writePostings(path string) error {
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(f)
	fmt.Fprintln(w, "posting,date,period,project,cost_code,class,cost_centre,activity,amount,currency,supplier,text")
	for i := range postings {
		p, c, s := i%projects, (i/projects)%costLines, (i/7)%statements
		fmt.Fprintf(
			w,
			"L%07d,%s,,%s,C%02d,opex,,,%d.%02d,%s,Supplier %d,Invoice %d\n",
			i,
			calendar.DateOf(2025, 1+s, 1+i%28),
			code(p),
			c,
			900+i%1700,
			i%100,
			currencyOf(p),
			i%300,
			i,
		)
	}
	if err := w.Flush(); err != nil {
		return err
	}
	return f.Close()
}
