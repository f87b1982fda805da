package office

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// DueDay is the day by which a kind of statement is due for a period.
type DueDay struct {
	Title string
	Day   calendar.Date
}

// Due lists the days by which statements are due for a moment's period, the
// earliest first; none where the office has set none.
func (m *Moment) Due() (out []DueDay) {
	for _, k := range OwedKinds {
		if d := m.snap.Office.DueOn(k.Statement, m.Asked.Number); d != 0 {
			out = append(out, DueDay{k.Title, d})
		}
	}
	slices.SortStableFunc(out, func(a, b DueDay) int { return int(a.Day - b.Day) })
	return out
}

// OwedKind is a column of the matrix.
type OwedKind struct {
	Title     string
	Part      portfolio.PartKind // what projects owe; zero: nobody owes it
	Statement string             // as due days call it
	Due       calendar.Date
	Kinds     []portfolio.PartKind
}

// OwedKinds are the statements that the matrix shows.
var OwedKinds = []OwedKind{
	{"Dates", portfolio.ProgressPart, "progress", 0, []portfolio.PartKind{portfolio.ProgressPart}},
	{"Forecast", portfolio.ForecastPart, "forecast", 0, []portfolio.PartKind{portfolio.ForecastPart}},
	{"Orders", portfolio.CommitmentPart, "commitment", 0, []portfolio.PartKind{portfolio.CommitmentPart}},
	{"Ledger", 0, "ledger", 0, []portfolio.PartKind{portfolio.LedgerPart, portfolio.ActualPart}},
	{"Risks", portfolio.RiskPart, "risks", 0, []portfolio.PartKind{portfolio.RiskPart}},
	{"Story", portfolio.NarrativePart, "narratives", 0, []portfolio.PartKind{portfolio.NarrativePart}},
}
