package demo

import (
	"context"
	"time"

	"turret/internal/office"
	"turret/internal/office/entry"
)

// templates makes what new projects of the demonstration begin from: by size.
func templates(ctx context.Context, o *office.Office) error {
	ps := newSheet("projects.csv", "project", "name", "currency", "state")
	ps.row("T-SMALL", "Small works, half a year", "EUR", "template")
	ps.row("T-QUAY", "Quay or slipway, a year and a half", "EUR", "template")
	acts := newSheet("activities.csv", "project", "activity", "parent", "name", "kind", "level", "baseline_start", "baseline_finish", "budget")
	for _, x := range [][]string{
		{"T-SMALL", "A", "", "Preparation", "summary", "", "", "", ""},
		{"T-SMALL", "A1", "A", "Survey", "task", "", "2026-01-05", "2026-01-30", "12000.00"},
		{"T-SMALL", "A2", "A", "Design and consents", "task", "", "2026-02-02", "2026-03-13", "28000.00"},
		{"T-SMALL", "B", "", "Works", "summary", "", "", "", ""},
		{"T-SMALL", "B1", "B", "Works on site", "task", "", "2026-03-16", "2026-06-12", "140000.00"},
		{"T-SMALL", "B9", "B", "Handed over", "milestone", "project", "2026-06-26", "2026-06-26", ""},
		{"T-QUAY", "A", "", "Definition", "summary", "", "", "", ""},
		{"T-QUAY", "A1", "A", "Requirements", "task", "", "2026-01-05", "2026-02-13", ""},
		{"T-QUAY", "A2", "A", "Survey of the ground", "task", "", "2026-01-19", "2026-03-27", ""},
		{"T-QUAY", "A9", "A", "Concept agreed", "milestone", "programme", "2026-04-10", "2026-04-10", ""},
		{"T-QUAY", "B", "", "Design and tender", "summary", "", "", "", ""},
		{"T-QUAY", "B1", "B", "Design", "task", "", "2026-04-13", "2026-07-31", ""},
		{"T-QUAY", "B2", "B", "Consents", "task", "", "2026-06-01", "2026-09-11", ""},
		{"T-QUAY", "B3", "B", "Tender and award", "task", "", "2026-08-03", "2026-10-30", ""},
		{"T-QUAY", "C", "", "Construction", "summary", "", "", "", ""},
		{"T-QUAY", "C1", "C", "Piles and sheet walls", "task", "", "2026-11-02", "2027-02-26", ""},
		{"T-QUAY", "C2", "C", "Deck and fenders", "task", "", "2027-02-01", "2027-05-28", ""},
		{"T-QUAY", "C9", "C", "Handed over", "milestone", "portfolio", "2027-06-25", "2027-06-25", ""},
	} {
		acts.row(x...)
	}
	plan := newSheet("costs.csv", "project", "cost_code", "kind", "class", "period", "version", "amount")
	for i, amount := range []string{"6000.00", "9000.00", "25000.00", "48000.00", "52000.00", "40000.00"} {
		plan.row("T-SMALL", "210", "plan", "capex", monthOf2026(i), "1", amount)
	}
	for i, amount := range []string{"20000.00", "35000.00", "40000.00", "45000.00", "60000.00", "60000.00", "60000.00", "30000.00", "30000.00", "30000.00"} {
		plan.row("T-QUAY", "300", "plan", "opex", monthOf2026(i), "1", amount)
	}
	for i, amount := range []string{"250000.00", "420000.00", "460000.00", "430000.00", "380000.00", "310000.00", "240000.00", "90000.00"} {
		plan.row("T-QUAY", "210", "plan", "capex", monthOf2026(10+i), "1", amount)
	}
	return take(ctx, o, []entry.File{ps.file(), acts.file(), plan.file()})
}

// monthOf2026 is the code of a month, counted from January 2026 as zero.
func monthOf2026(n int) string {
	return time.Date(2026, time.Month(1+n), 1, 0, 0, 0, 0, time.UTC).Format("2006-01")
}
