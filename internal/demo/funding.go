package demo

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"slices"
	"strconv"

	"turret/internal/office/entry"
)

// sources say who pays for what; others are paid by the council alone.
var sources = map[string][]struct {
	from  string
	share float64
}{
	"SP": {{"Harbour fund", 0.6}, {council, 0.4}},
	"FR": {{"Isles ferry loan", 0.75}, {council, 0.25}},
}

const council = "Council, capital programme"

// fundingFiles are what the council has authorised: for each project by fiscal year, as its
// first plan asked for it; a reserve of the fleet programme; and a transfer.
func fundingFiles() []entry.File {
	fu := newSheet("funding.csv", "scope", "source", "period", "decision", "amount", "currency")
	for _, l := range lives {
		if l.state == "proposed" {
			continue
		}
		of := sources[l.programme]
		if of == nil {
			of = sources[""]
		}
		months := make(map[int]int) // of the project, by fiscal year
		for m := range l.months {
			day := firstDay(l.start + m)
			year := day.Year()
			if day.Month() >= 4 {
				year++
			}
			months[year]++
		}
		var years []int
		for y := range months {
			years = append(years, y)
		}
		slices.Sort(years)
		for _, y := range years {
			part := float64(l.budget) * 1000 * float64(months[y]) / float64(l.months)
			decision := fmt.Sprintf("council, budget of FY%02d", y%100)
			if len(of) == 0 {
				fu.row(l.code, council, fmt.Sprintf("FY%02d", y%100), decision, cents(part), l.currency)
			}
			for _, s := range of {
				fu.row(l.code, s.from, fmt.Sprintf("FY%02d", y%100), decision, cents(part*s.share), l.currency)
			}
		}
	}
	fu.row("FR", council, "FY27", "council, 12 February 2026: reserve for the yards", "2500000.00", "EUR")
	tr := newSheet("transfers.csv", "transfer", "scope", "source", "cost_code", "period", "amount", "currency", "reason")
	const why = "harbour board, 9 September 2026: dredging came cheaper"
	tr.row("T-01", "QS-04", council, "", code(openPeriod-2), "-150000.00", "EUR", why)
	tr.row("T-01", "QS-01", council, "", code(openPeriod-2), "150000.00", "EUR", why)
	de := newSheet("depths.csv", "stage", "level") // a proposal is estimated in a few large codes
	de.row("proposal", "1")
	pa := newSheet("packs.csv", "pack", "name", "scopes", "pages", "forms", "readers", "send")
	pa.row("BOARD", "Harbour board", "*", "first,board,moved,exceptions,milestones,trust", "pdf,pptx", "board@skerrow.example,treasury@skerrow.example,tor", "2 working days after closing")
	pa.row("LEADS", "To each lead", "projects", "", "pdf", "leads", "")
	return []entry.File{fu.file(), tr.file(), de.file(), pa.file()}
}

// missed is what the ledger of the open period says beyond what it sent, in cents.
const missed = 3

// controlTotals are what the ledger says that its postings in euros add up to, since it tells
// so: for the open period, three cents more than it sent.
func controlTotals(po *sheet, p int) *sheet {
	out := newSheet("controls-"+code(p)+".csv", "source", "period", "cost_code", "amount", "currency")
	if p < openPeriod-2 {
		return out
	}
	po.w.Flush()
	rows, err := csv.NewReader(bytes.NewReader(po.b.Bytes())).ReadAll()
	if err != nil {
		panic(err) // it was written here
	}
	amount, currency := slices.Index(rows[0], "amount"), slices.Index(rows[0], "currency")
	var sum int64
	for _, r := range rows[1:] {
		if r[currency] != "EUR" {
			continue
		}
		n, err := strconv.ParseFloat(r[amount], 64)
		if err != nil {
			panic(err)
		}
		sum += int64(math.Round(n * 100))
	}
	if p == openPeriod {
		sum += missed
	}
	out.row("postings", code(p), "", cents(float64(sum)/100), "EUR")
	return out
}
