package demo

import (
	"bytes"
	"fmt"
	"strings"

	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"

	"turret/internal/office/entry"
)

// Post is what three people send for the open period as they have it: a ledger
// print in German from an old system, a forecast with months as columns, and
// progress whose days can be read in two ways. They are there to try Gather
// with; the demonstration does not take them itself.
func Post() ([]entry.File, error) {
	ledger, err := charmap.Windows1252.NewEncoder().String(ledgerPrint())
	if err != nil {
		return nil, err
	}
	forecast, err := forecastSheet()
	if err != nil {
		return nil, err
	}
	progress, err := charmap.Windows1252.NewEncoder().String(progressList())
	if err != nil {
		return nil, err
	}
	return []entry.File{
		{Name: "Hauptbuch Quays 2026-11.csv", Body: []byte(ledger)},
		{Name: "Forecast Orran Bay.xlsx", Body: forecast},
		{Name: "Progress Orran Bay.txt", Body: []byte(progress)},
	}, nil
}

// ledgerPrint has a preamble, semicolons, decimal commas, signs behind, a
// heading printed twice, sums, a code that finance has closed, and a day that
// is none.
func ledgerPrint() string {
	var b strings.Builder
	b.WriteString("Skerrow Sound;;;;;;\nHauptbuch Kais und Slipanlagen;;;;;;\nBuchungsmonat November 2026;;;;;;\n\n")
	const head = "Beleg;Buchungsdatum;Projekt;Konto;Lieferant;Buchungstext;Betrag EUR\n"
	b.WriteString(head)
	rows := []struct {
		day, project, code, supplier, text, amount string
	}{
		{"03.11.2026", "QS-01", "210", "Brae Marine Works", "Pfähle Gruppe C, Rate 4", "148.250,00"},
		{"04.11.2026", "QS-01", "220", "Brae Lifting", "Kranmiete", "22.410,50"},
		{"05.11.2026", "QS-01", "220", "Brae Lifting", "Gutschrift Kranmiete", "1.200,00-"},
		{"09.11.2026", "QS-05", "210", "Orran Betonwerk", "Fertigteile Slip", "61.980,40"},
		{"11.11.2026", "QS-05", "230", "Orran Betonwerk", "Zuschlagstoffe", "8.115,75"},
		{"demnächst", "QS-05", "400", "Hafenamt", "Gebühr Bauabschnitt 2", "1.950,00"},
		{"17.11.2026", "QS-07", "7990", "Küstenfunk", "Nebelhorn, alte Kontierung", "4.310,00"},
		{"19.11.2026", "QS-04", "7990", "Peilboot Vask", "Peilung", "2.775,20"},
		{"24.11.2026", "QS-07", "120", "Stenholt & Töchter", "Montage", "3.060,00"},
	}
	for i, r := range rows {
		if i == 6 {
			b.WriteString("Übertrag;;;;;;241.506,65\n")
			b.WriteString(head)
		}
		fmt.Fprintf(&b, "KS-%d;%s;%s;%s;%s;%s;%s\n", 48101+i, r.day, r.project, r.code, r.supplier, r.text, r.amount)
	}
	b.WriteString("Summe;;;;;;251.651,85\n")
	return b.String()
}

// forecastSheet has instructions on a sheet of their own, months in mixed forms
// under merged heads, sums in rows and columns of which one is wrong, and a
// hidden row.
func forecastSheet() ([]byte, error) {
	x := excelize.NewFile()
	defer x.Close()
	const sheet = "Forecast"
	if err := x.SetSheetName("Sheet1", "Read me"); err != nil {
		return nil, err
	}
	if _, err := x.NewSheet(sheet); err != nil {
		return nil, err
	}
	rows := map[string][][]any{
		"Read me": {{"How to fill this in"}, {"1. Only the yellow cells."}, {"2. Send it by the fourth working day."}},
		sheet: {
			{"Slipway at Orran Bay, QS-05"},
			{"Forecast of what is still to come, stated November 2026"},
			{},
			{nil, nil, "FY27", nil, nil, nil, "FY28", nil, nil, nil, nil},
			{"Cost code", "What", "Dec", "Jan", "2027-02", "Mar 27", "P01 FY28", "May", "Jun", "Jul", "Total"},
			{"110", "Own staff", 21500, 24100, 27600, 28900, 27600, 24100, 18600, 11900, 184300},
			{"120", "Contract staff", 17900, 20100, 23000, 24100, 23000, 20100, 15500, 9900, 153600},
			{"210", "Main contract", 78200, 88500, 96400, 97300, 86100, 71200, 50800, 21000, 589500},
			{"220", "Equipment", 31400, 33600, 36200, 38900, 36700, 32100, 24800, 15800, 249500},
			{"230", "Materials", 19600, 20900, 22800, 24100, 23000, 20100, 15500, 9900, 155900},
			{"400", "Fees", 7100, "-", 9200, 9600, "-", 8000, 6200, 4000, 44100},
			{"500", "Contingency", 5300, 6900, 7900, 8300, 7900, 6900, 5300, 3400, 52900},
			{"Total", nil, 181000, 194100, 223100, 231200, 204300, 182500, 136700, 75900, 1428800},
		},
	}
	for _, name := range []string{"Read me", sheet} {
		for i, row := range rows[name] {
			if err := x.SetSheetRow(name, fmt.Sprintf("A%d", i+1), &row); err != nil {
				return nil, err
			}
		}
	}
	for _, m := range [][2]string{{"C4", "F4"}, {"G4", "K4"}} {
		if err := x.MergeCell(sheet, m[0], m[1]); err != nil {
			return nil, err
		}
	}
	if err := x.SetRowVisible(sheet, 12, false); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err := x.Write(&b)
	return b.Bytes(), err
}

// progressList has tabs, heads in other words, percent signs, and days that
// could begin with the month.
func progressList() string {
	return "Progress Slipway at Orran Bay QS-05 November 2026\n\n" +
		"Task\tPct complete\tForecast finish\tStarted\tRemark\n" +
		"D1\t100 %\t\t\tdone, see October\n" +
		"D2\t90 %\t04/12/2026\t\twaiting for the gate's frames\n" +
		"D3\t45 %\t08/01/2027\t02/11/2026\tformwork north side\n" +
		"D4\t5 %\t05/02/2027\t01/12/2026\tsite hut moved\n" +
		"D5\tabout 2\t05/03/2027\t\tnot before the tides\n" +
		"D12\t0 %\t05/03/2027\t\tnew task, no code yet\n"
}
