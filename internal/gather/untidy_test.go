package gather

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// offices know two projects and three cost codes.
func knowing() *Options {
	o := options()
	o.Names = NewNames([]Name{
		{Column: "project", Code: "QS-01", Name: "Quay"},
		{Column: "project", Code: "QS-02", Name: "Quay Crane"},
		{Column: "cost_code", Code: "100", Name: "Staff"},
		{Column: "cost_code", Code: "210", Name: "Piles"},
		{Column: "cost_code", Code: "220", Name: "Cranes"},
	})
	return o
}

func understand(t testing.TB, name string, body []byte, o *Options, m Mapping) []*Understanding {
	t.Helper()
	sheets, refused := Sheets(&File{Name: name, Body: body}, o.Limits)
	require.Empty(t, refused)
	var out []*Understanding
	for _, s := range sheets {
		out = append(out, Understand(s, o, m))
	}
	return out
}

// rowsOf writes what a sheet is read as: the fields of each row by name.
func rowsOf(t testing.TB, u *Understanding, o *Options) (rows []string, refused []Refusal) {
	t.Helper()
	u.Read(o, func(r *portfolio.Row, _ func() map[string]string) {
		table := record.Named(u.Table)
		var parts []string
		for i, c := range table.Columns {
			f := r.Fields[i]
			switch {
			case f.Said == portfolio.None:
				parts = append(parts, c.Name+"=none")
			case f.Said == portfolio.Nothing || f.Text == c.Default && c.Default != "":
			case c.Type == record.Date:
				parts = append(parts, c.Name+"="+calendar.Date(f.Int).String())
			case c.Type == record.Period:
				parts = append(parts, c.Name+"="+o.Periods.Code(calendar.Period(f.Int)))
			case c.Type == record.Decimal:
				parts = append(parts, fmt.Sprintf("%s=%g", c.Name, float64(f.Int)/portfolio.Quantity))
			case f.Text == "":
				parts = append(parts, fmt.Sprintf("%s=%d", c.Name, f.Int))
			default:
				parts = append(parts, c.Name+"="+f.Text)
			}
		}
		for k, v := range r.Extra {
			parts = append(parts, "+"+k+"="+v)
		}
		rows = append(rows, fmt.Sprintf("%d: %s", r.Source.Row, strings.Join(parts, " ")))
	}, func(r Refusal) { refused = append(refused, r) })
	return rows, refused
}

// sumsOf writes what totals state, and what was found.
func sumsOf(list []Sum) (out []string) {
	for _, x := range list {
		out = append(out, fmt.Sprint(x.Row, " ", x.Head, " ", x.Stated, " ", x.Found, " ", x.Agrees))
	}
	return out
}

// book makes a spreadsheet of sheets of cells.
func book(t testing.TB, sheets map[string][][]any, then func(*excelize.File)) []byte {
	t.Helper()
	x := excelize.NewFile()
	first := true
	for _, name := range sortedNames(sheets) {
		if first {
			require.NoError(t, x.SetSheetName("Sheet1", name))
			first = false
		} else {
			_, err := x.NewSheet(name)
			require.NoError(t, err)
		}
		for i, row := range sheets[name] {
			cell, _ := excelize.CoordinatesToCellName(1, i+1)
			require.NoError(t, x.SetSheetRow(name, cell, &row))
		}
	}
	if then != nil {
		then(x)
	}
	var b bytes.Buffer
	require.NoError(t, x.Write(&b))
	return b.Bytes()
}

func sortedNames(m map[string][][]any) (out []string) {
	for k := range m {
		out = append(out, k)
	}
	for i := range out {
		for j := i; j > 0 && out[j] < out[j-1]; j-- {
			out[j], out[j-1] = out[j-1], out[j]
		}
	}
	return out
}

const ledgerPrint = `Skerrow Sound;;;;;;
Hauptbuch November 2026;;;;;;
gedruckt am 02.12.2026;;;;;;

Beleg;Buchungsdatum;Projekt;Konto;Lieferant;Buchungstext;Betrag
40001;03.11.2026;QS-01;210;Brae Marine Works;Pfähle Gruppe C;1.234.567,80
40002;05.11.2026;QS-01;220;;Miete Kran;45.000,00-
40003;17.11.2026;QS-02;210;Aldermouth Stål;Träger;(1.200,50)
Zwischensumme;;;;;;1.188.367,30
Beleg;Buchungsdatum;Projekt;Konto;Lieferant;Buchungstext;Betrag
40004;30.11.2026;QS-02;100;;Löhne;12,00
Summe;;;;;;1.188.379,30
`

// TestLedgerPrint: a preamble, semicolons, an old encoding, words in German,
// decimal commas, signs behind and brackets, a header printed again, a subtotal
// and a total.
func TestLedgerPrint(t *testing.T) {
	old, err := charmap.Windows1252.NewEncoder().String(ledgerPrint)
	require.NoError(t, err)
	wide, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(ledgerPrint)
	require.NoError(t, err)
	for format, body := range map[string]string{"UTF-8": ledgerPrint, "Windows-1252": old, "UTF-16": wide} {
		o := knowing()
		u := understand(t, "Hauptbuch.csv", []byte(body), o, Mapping{})[0]
		require.Contains(t, u.Format, format+", cells between semicolons")
		require.Equal(t, "postings", u.Table)
		require.Equal(t, 5, u.Head)
		require.Empty(t, u.Questions)
		require.Equal(t, 4, u.Rows)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused)
		require.Equal(t, []string{
			"6: posting=40001 date=2026-11-03 project=QS-01 cost_code=210 amount=1234567.80 supplier=Brae Marine Works text=Pfähle Gruppe C",
			"7: posting=40002 date=2026-11-05 project=QS-01 cost_code=220 amount=-45000.00 text=Miete Kran",
			"8: posting=40003 date=2026-11-17 project=QS-02 cost_code=210 amount=-1200.50 supplier=Aldermouth Stål text=Träger",
			"11: posting=40004 date=2026-11-30 project=QS-02 cost_code=100 amount=12.00 text=Löhne",
		}, rows, format)
		// 1,234,567.80 − 45,000.00 − 1,200.50 = 1,188,367.30, and 12.00 more.
		require.Equal(
			t,
			[]string{"9 betrag 1188367.3 1188367.3 true", "12 betrag 1188379.3 1188379.3 true"},
			sumsOf(u.Sums),
		)
	}
}

// TestForecastSheet: months as columns in mixed forms under merged heads, a
// sheet of instructions, a total row and total columns, hidden rows, thousands.
func TestForecastSheet(t *testing.T) {
	body := book(t, map[string][][]any{
		"Forecast": {
			{"Forecast November 2026, QS-01"},
			{"All amounts in kEUR"},
			{},
			{nil, nil, "FY27", nil, nil, "FY28", nil, nil},
			{"Cost code", "What", "Dec", "P10 FY27", "FY27", "2027-04", 46508, "Total"},
			{"210", "Piles", 100.5, 20, 120.5, 1, 2, 123.5},
			{"220", "Cranes", "1,000.25", nil, 1000.25, "-", 3, 1003.25},
			{"100", "Staff", 5, 5, 10, 5, 5, 21},
			{"Total", nil, 1105.75, 25, 1130.75, 6, 10, 1147.75},
		},
		"Instructions": {{"Please fill in the sheet Forecast"}, {"One row per code"}},
	}, func(x *excelize.File) {
		style, err := x.NewStyle(&excelize.Style{NumFmt: 17})
		require.NoError(t, err)
		require.NoError(t, x.SetCellStyle("Forecast", "G5", "G5", style)) // 46508 is 1 May 2027
		require.NoError(t, x.MergeCell("Forecast", "C4", "E4"))
		require.NoError(t, x.SetRowVisible("Forecast", 7, false))
	})
	o := knowing()
	list := understand(t, "qs01.xlsx", body, o, Mapping{})
	require.Len(t, list, 2)
	require.True(t, list[1].NoTable, "instructions hold no table")
	u := list[0]
	require.Equal(t, "costs", u.Table, u.Why)
	require.Empty(t, u.Questions)
	require.Equal(t, map[string]string{"kind": "forecast", "project": "QS-01", "version": "2026-11", "currency": "EUR"}, u.Fixed)
	require.Equal(t, 3, u.Places)
	require.Equal(t, 1, u.Hidden)
	rows, refused := rowsOf(t, u, o)
	require.Empty(t, refused)
	const head = " project=QS-01 cost_code=%s kind=forecast period=%s version=2026-11 amount=%s currency=EUR +what=%s"
	var want []string
	for _, x := range [][5]string{
		{"6", "210", "2026-12", "100500", "Piles"},
		{"6", "210", "2027-01", "20000", "Piles"},
		{"6", "210", "2027-04", "1000", "Piles"},
		{"6", "210", "2027-05", "2000", "Piles"},
		{"7", "220", "2026-12", "1000250", "Cranes"},
		{"7", "220", "2027-04", "0", "Cranes"},
		{"7", "220", "2027-05", "3000", "Cranes"},
		{"8", "100", "2026-12", "5000", "Staff"},
		{"8", "100", "2027-01", "5000", "Staff"},
		{"8", "100", "2027-04", "5000", "Staff"},
		{"8", "100", "2027-05", "5000", "Staff"},
	} {
		want = append(want, x[0]+":"+fmt.Sprintf(head, x[1], x[2], x[3], x[4]))
	}
	require.Equal(t, want, rows)
	var wrong []Sum
	for _, x := range u.Sums {
		if !x.Agrees {
			wrong = append(wrong, x)
		}
	}
	// Staff is 5 + 5 + 5 + 5 = 20, and the sheet says 21; and so does its total:
	// 1,105.75 + 25 + 6 + 10 = 1,146.75.
	require.Equal(t, []string{"8 total 21 20 false", "9 total 1147.75 1146.75 false"}, sumsOf(wrong))
}

// TestAllOrAsk: a column is read in the one form that fits all its cells; if
// two fit, it is asked; if none does, it is told.
func TestAllOrAsk(t *testing.T) {
	ledger := func(date, amount [2]string) string {
		return fmt.Sprintf(
			"Document;Posting date;Project;Account;Amount\n1;%s;QS-01;210;%s\n2;%s;QS-01;210;%s\n",
			date[0],
			amount[0],
			date[1],
			amount[1],
		)
	}
	iso, plain := [2]string{"2026-11-01", "2026-11-02"}, [2]string{"5.00", "6.00"}
	for _, c := range []struct {
		name         string
		date, amount [2]string
		m            Mapping
		says         string // of the question, or ""
		row          string // the first, where it is read
	}{
		{"a day above 12 tells", [2]string{"05/11/2026", "25/11/2026"}, plain, Mapping{}, "", "date=2026-11-05"},
		{"a month above 12 tells", [2]string{"11/05/2026", "11/25/2026"}, plain, Mapping{}, "", "date=2026-11-05"},
		{"two orders fit", [2]string{"05/11/2026", "06/11/2026"}, plain, Mapping{}, `"05/11/2026" in row 2 can be 5 Nov 2026 or 11 May 2026`, ""},
		{"two orders fit, and it is told", [2]string{"05/11/2026", "06/11/2026"}, plain, Mapping{Forms: map[string]string{Every: DayFirst}}, "", "date=2026-11-05"},
		{"the same day either way", [2]string{"11/11/2026", "11/11/2026"}, plain, Mapping{}, "", "date=2026-11-11"},
		{"no order fits all", [2]string{"25/11/2026", "11/25/2026"}, plain, Mapping{}, `no order of day, month and year fits all its cells: "11/25/2026" in row 3, and "25/11/2026" in row 2`, ""},
		{"a comma tells", iso, [2]string{"1.234", "12,5"}, Mapping{}, "", "amount=1234"},
		{"a point tells", iso, [2]string{"1,234", "12.5"}, Mapping{}, "", "amount=1234"},
		{"two marks fit", iso, [2]string{"1.234", "5"}, Mapping{}, `"1.234" in row 2 can be read with a decimal point or a decimal comma`, ""},
		{"two marks fit, and it is told", iso, [2]string{"1.234", "5"}, Mapping{Forms: map[string]string{"amount": Comma}}, "", "amount=1234"},
		{"three forms", iso, [2]string{"1,234.50", "1.234,50"}, Mapping{}, `"1,234.50" in row 2 can only be read with a decimal point, and "1.234,50" in row 3 only with a decimal comma`, ""},
		{"a dash is zero", iso, [2]string{"-", "5"}, Mapping{}, "", "amount=0"},
		{"a dash beside zero", iso, [2]string{"-", "0.00"}, Mapping{}, `"-" in row 2 can mean zero or that nothing is said`, ""},
		{"a dash, and it is told", iso, [2]string{"7", "0.00"}, Mapping{Dash: DashNothing}, "", "amount=7"},
	} {
		t.Run(c.name, func(t *testing.T) {
			o := knowing()
			u := understand(t, "x.csv", []byte(ledger(c.date, c.amount)), o, c.m)[0]
			require.Equal(t, "postings", u.Table)
			rows, refused := rowsOf(t, u, o)
			if c.says != "" {
				require.Len(t, u.Questions, 1)
				require.Contains(t, u.Questions[0].Text, c.says)
				require.Empty(t, rows, "nothing is read before it is answered")
				require.Contains(t, refused[0].Reason, c.says)
				return
			}
			require.Empty(t, u.Questions)
			require.NotEmpty(t, rows)
			require.Contains(t, rows[0]+" ", c.row+" ")
		})
	}
}

// TestOddCellsAreRefusedAlone: a cell that no form reads does not keep the
// others from being read.
func TestOddCellsAreRefusedAlone(t *testing.T) {
	o := knowing()
	u := understand(t, "x.csv", []byte("Document;Posting date;Project;Account;Amount\n1;05.11.2026;QS-01;210;1,5\n2;soon;QS-01;210;2,5\n3;06.11.2026;QS-01;210;much\n4;07.11.2026;QS-01;210;4,5;stray\n"), o, Mapping{})[0]
	rows, refused := rowsOf(t, u, o)
	require.Len(t, rows, 2)
	require.Len(t, refused, 2)
	require.Equal(t, []string{"posting date", "amount"}, []string{refused[0].Column, refused[1].Column})
	require.Contains(t, u.Notes, "Left out, since they have no head: column F.")
	require.Contains(t, refused[0].Reason, `"soon" is not a day that exists`)
	require.Contains(t, refused[1].Reason, `"much" is not a number with a decimal comma`)
	require.Equal(t, "2", refused[0].Cells["document"], "the row's cells are kept")
}

// TestColumnsByWhatTheyHold: a head that says nothing, over codes that the
// office knows.
func TestColumnsByWhatTheyHold(t *testing.T) {
	o := knowing()
	o.Period = 24322
	u := understand(t, "status.csv", []byte("Where\tTask\tPct complete\nQS-01\tA1\t45 %\nQS-02\tB2\t50 %\n"), o, Mapping{})[0]
	require.Equal(t, "progress", u.Table)
	require.Equal(t, "project", u.Columns[0].As)
	require.Equal(t, Likely, u.Columns[0].Certainty)
	require.Contains(t, u.Columns[0].Why, "100% of its cells are known as project")
	rows, _ := rowsOf(t, u, o)
	require.Equal(t, "2: project=QS-01 activity=A1 period=2026-11 percent=45", rows[0])
}

func TestDebitAndCredit(t *testing.T) {
	o := knowing()
	u := understand(t, "gl.csv", []byte("Voucher|Date|Project|Account|Debit|Credit\n1|2026-11-01|QS-01|210|100.00|\n2|2026-11-02|QS-01|210||40.00\n3|2026-11-03|QS-01|210|1|2\n"), o, Mapping{})[0]
	rows, refused := rowsOf(t, u, o)
	require.Len(t, rows, 2)
	require.Contains(t, rows[1], "amount=-40.00")
	require.Contains(t, refused[0].Reason, "both a debit and a credit")
}

func TestRepeatedHeads(t *testing.T) {
	o := knowing()
	u := understand(t, "gl.csv", []byte("Voucher;Date;Project;Account;Amount;Amount\n1;2026-11-01;QS-01;210;5;6\n"), o, Mapping{})[0]
	require.Len(t, u.Questions, 1)
	require.Contains(t, u.Questions[0].Text, `two columns are headed "Amount"`)
	u = understand(t, "gl.csv", []byte("Voucher;Date;Project;Account;Amount;Amount\n1;2026-11-01;QS-01;210;5;6\n"), o, Mapping{Columns: map[string]string{"amount": AsNone, "amount 2": "amount"}})[0]
	require.Empty(t, u.Questions)
	rows, _ := rowsOf(t, u, o)
	require.Contains(t, rows[0], "amount=6")
}

// TestTwoColumnsForOne: the column's own name goes before another word; two
// words for an amount or a day are asked about; of two texts the first counts.
func TestTwoColumnsForOne(t *testing.T) {
	const kinds = "Project,Cost code,Month,"
	for _, c := range []struct{ body, asks, row string }{
		{kinds + "Budget,Actual\nQS-01,210,2026-11,5,6\n", `"Budget" and "Actual" both can be amount`, ""},
		{kinds + "Net,Amount\nQS-01,210,2026-11,5,6\n", "", "amount=6"},
		{kinds + "Amount,Net\nQS-01,210,2026-11,5,6\n", "", "amount=5"},
		{kinds + "Amount,Remarks,Comment\nQS-01,210,2026-11,5,a,b\n", "", "note=a"},
	} {
		u := understand(t, "sheet.csv", []byte(c.body), knowing(), Mapping{Fixed: map[string]string{"kind": "actual"}})[0]
		if c.asks != "" {
			require.Len(t, u.Questions, 1, c.body)
			require.Contains(t, u.Questions[0].Text, c.asks)
			continue
		}
		require.Empty(t, u.Questions, c.body)
		rows, _ := rowsOf(t, u, knowing())
		require.Contains(t, rows[0], c.row)
	}
	u := understand(t, "sheet.csv", []byte(kinds+"Budget,Actual\nQS-01,210,2026-11,5,6\n"), knowing(), Mapping{Columns: map[string]string{"actual": "amount"}})[0]
	require.Empty(t, u.Questions, "what was said settles it")
	require.Equal(t, "actual", u.Fixed["kind"], "and its head says of which kind it is")
	require.Equal(t, AsExtra, u.Columns[3].As)
}

// TestProjectsUnderOtherHeads: a WBS of known projects names the project; where
// nothing does, that is asked once and not refused row by row.
func TestProjectsUnderOtherHeads(t *testing.T) {
	u := understand(t, "gl.csv", []byte("Document,Posting date,WBS,GL account,Amount in EUR\n1,2026-11-03,QS-01,210,5.00\n"), knowing(), Mapping{})[0]
	require.Empty(t, u.Questions)
	require.Equal(t, "project", u.Columns[2].As)
	u = understand(t, "gl.csv", []byte("Document,Posting date,GL account,Amount in EUR\n1,2026-11-03,210,5.00\n"), knowing(), Mapping{})[0]
	require.Len(t, u.Questions, 1)
	require.Contains(t, u.Questions[0].Text, "no column tells the project")
	u = understand(t, "x.csv", []byte("Project,Cost code,Nov 2026,Dec 2026\nQS-01,210,1,2\n"), knowing(), Mapping{})[0]
	require.Equal(t, "costs", u.Table, "not the projects, with the months as extras")
}

// TestDaysUnderBareHeads: what stands under "Baseline" and "Forecast" are finish
// dates where they are days.
func TestDaysUnderBareHeads(t *testing.T) {
	u := understand(t, "milestones.csv", []byte("Project;Milestone;Baseline;Forecast;Note\nQS-01;Keel laid;13.02.2026;14.02.2026;x\nQS-01;Launch;01.02.2027;14.03.2027;\n"), knowing(), Mapping{})[0]
	require.Equal(t, "activities", u.Table)
	rows, refused := rowsOf(t, u, knowing())
	require.Empty(t, refused)
	require.Contains(t, rows[1], "baseline_finish=2027-02-01 baseline=1 finish=2027-03-14")
	require.Contains(t, u.Notes, "Kept beside, since activities has no place for them: Note.")
	o := knowing()
	o.Period = 24322
	u = understand(t, "dates.csv", []byte("Project;Activity;Forecast;Actual\nQS-01;A1;14.03.2027;\nQS-01;A2;;13.11.2026\n"), o, Mapping{})[0]
	require.Equal(t, "progress", u.Table)
	rows, _ = rowsOf(t, u, o)
	require.Contains(t, rows[0], "finish=2027-03-14")
	require.Contains(t, rows[1], "actual_finish=2026-11-13")
}

// TestMapping: codes exact, by prefix and by pattern; signs turned; rows
// skipped; a column said to be another.
func TestMapping(t *testing.T) {
	o := knowing()
	o.Every = []CodeRule{{Column: "cost_code", Match: Exact, From: "7990", To: "100"}}
	m := Mapping{
		Columns: map[string]string{"text": "supplier"}, Negate: true,
		Codes: []CodeRule{
			{Column: "project", Match: Exact, From: "P-1", To: "QS-01"},
			{Column: "cost_code", Match: Prefix, From: "21", To: "210"},
			{Column: "cost_code", Match: Pattern, From: "9*5", To: "220"},
		},
		Skip: []SkipRule{{Head: "Text", Like: "carried*"}},
	}
	u := understand(t, "gl.csv", []byte("Voucher;Date;Project;Account;Text;Amount\n1;2026-11-01;P-1;2100;x;5\n2;2026-11-01;p-1;9005;y;-6\n3;2026-11-01;P-1;210;Carried forward;7\n4;2026-11-01;P-1;7990;z;8\n"), o, m)[0]
	rows, refused := rowsOf(t, u, o)
	require.Empty(t, refused)
	require.Equal(t, []string{
		"2: posting=1 date=2026-11-01 project=QS-01 cost_code=210 amount=-5 supplier=x",
		"3: posting=2 date=2026-11-01 project=QS-01 cost_code=220 amount=6 supplier=y",
		"5: posting=4 date=2026-11-01 project=QS-01 cost_code=100 amount=-8 supplier=z",
	}, rows)
	v := understand(t, "other.csv", []byte("Voucher;Date;Project;Account;Text;Amount\n9;2026-12-01;P-1;2100;x;5\n"), o, Mapping{})[0]
	require.Equal(t, u.Look(), v.Look(), "files of one source look alike")
}

// TestSpreadsheetCells: formulas by their last values, one without a value
// refused; days as serial numbers; shares shown as percentages.
func TestSpreadsheetCells(t *testing.T) {
	body := book(t, map[string][][]any{"Progress": {
		{"Project", "Task", "Percent", "Finish", "Note"},
		{"QS-01", "A1", 0.455, 46331, "=cmd|' /C calc'!A0"},
		{"QS-01", "A2", 0.5, 46332, "<script>alert(1)</script>"},
	}}, func(x *excelize.File) {
		day, err := x.NewStyle(&excelize.Style{NumFmt: 14})
		require.NoError(t, err)
		share, err := x.NewStyle(&excelize.Style{NumFmt: 10})
		require.NoError(t, err)
		require.NoError(t, x.SetCellStyle("Progress", "D2", "D4", day))
		require.NoError(t, x.SetCellStyle("Progress", "C2", "C4", share))
		require.NoError(t, x.SetCellFormula("Progress", "C4", "C2*2")) // no value is saved with it
		require.NoError(t, x.SetCellStr("Progress", "A4", "QS-01"))
		require.NoError(t, x.SetCellStr("Progress", "B4", "A3"))
	})
	o := knowing()
	o.Period = 24322
	u := understand(t, "progress.xlsx", body, o, Mapping{})[0]
	require.Empty(t, u.Questions)
	rows, refused := rowsOf(t, u, o)
	require.Equal(t, []string{
		"2: project=QS-01 activity=A1 period=2026-11 percent=45.5 finish=2026-11-05 note==cmd|' /C calc'!A0",
		"3: project=QS-01 activity=A2 period=2026-11 percent=50 finish=2026-11-06 note=<script>alert(1)</script>",
	}, rows)
	require.Len(t, refused, 1)
	require.Equal(t, 4, refused[0].Row)
	require.Contains(t, refused[0].Reason, "formula whose value the file did not save")
}

// TestManyEmptyRows: a sheet that formatting made a million rows long.
func TestManyEmptyRows(t *testing.T) {
	if testing.Short() {
		t.Skip("runs on one goroutine, and long")
	}
	x := excelize.NewFile()
	w, err := x.NewStreamWriter("Sheet1")
	require.NoError(t, err)
	require.NoError(t, w.SetRow("A1", []any{"Project", "Task", "Percent"}))
	require.NoError(t, w.SetRow("A2", []any{"QS-01", "A1", 5}))
	for i := 3; i < 300_000; i++ {
		require.NoError(t, w.SetRow(fmt.Sprintf("A%d", i), nil, excelize.RowOpts{Height: 15}))
	}
	require.NoError(t, w.SetRow("A300001", []any{"QS-01", "A2", 6}))
	require.NoError(t, w.Flush())
	var b bytes.Buffer
	require.NoError(t, x.Write(&b))
	o := knowing()
	o.Period = 24322
	rows, refused := rowsOf(t, understand(t, "progress.xlsx", b.Bytes(), o, Mapping{})[0], o)
	require.Empty(t, refused)
	require.Len(t, rows, 2)
	require.True(t, strings.HasPrefix(rows[1], "300001: "))
}

func FuzzUnderstand(f *testing.F) {
	f.Add("x.csv", ledgerPrint)
	f.Add("forecast.csv", "Forecast Nov 2026\n\nProject,Code,Dec 26,Jan 27,Total\nQS-01,210,1,2,3\nTotal,,1,2,3\n")
	f.Add("progress.csv", "project\tactivity\tpct\nQS-01\tA\t5%\n")
	f.Fuzz(func(t *testing.T, name, body string) {
		o := knowing()
		o.Limits.Rows, o.Limits.LineBytes = 200, 2000
		sheets, _ := Sheets(&File{Name: name, Body: []byte(body)}, o.Limits)
		for _, s := range sheets {
			u := Understand(s, o, Mapping{})
			require.Len(t, u.Uses, len(u.Heads))
			seen := make(map[string]bool)
			for _, h := range u.Heads {
				require.False(t, seen[h] && !u.Canonical, "two columns are called %q", h)
				seen[h] = true
			}
			u.Read(
				o,
				func(r *portfolio.Row, _ func() map[string]string) { require.Positive(t, r.Source.Row) },
				func(r Refusal) { require.NotEmpty(t, r.Reason) },
			)
		}
	})
}

func FuzzSpreadsheet(f *testing.F) {
	f.Add("<row r=\"1\"><c r=\"A1\" t=\"s\"><v>0</v></c></row>")
	f.Add("<row r=\"2\" hidden=\"1\"><c r=\"B2\"><f>1+1</f><v></v></c><c r=\"AAAA9\"/></row>")
	f.Fuzz(func(t *testing.T, markup string) {
		x := zipOf(
			t,
			map[string]string{
				"xl/worksheets/sheet1.xml": "<worksheet><sheetData>" + markup + "</sheetData></worksheet>",
			},
		)
		for _, e := range x.File {
			marks, _ := scanMarks(e, DefaultLimits)
			for _, m := range marks.rows {
				require.LessOrEqual(t, len(m.kinds), DefaultLimits.Columns)
			}
		}
	})
}

// TestMacrosAndLinksAreTold: what a spreadsheet carries along is neither run
// nor fetched, and that is said once.
func TestMacrosAndLinksAreTold(t *testing.T) {
	plain := book(
		t,
		map[string][][]any{"A": {{"Programme", "Name"}, {"X", "One"}}, "B": {{"Cost code", "Name"}, {"1", "Two"}}},
		nil,
	)
	in, err := zip.NewReader(bytes.NewReader(plain), int64(len(plain)))
	require.NoError(t, err)
	parts := map[string]string{"xl/vbaProject.bin": "x", "xl/externalLinks/externalLink1.xml": "<externalLink/>"}
	for _, e := range in.File {
		r, err := e.Open()
		require.NoError(t, err)
		b, err := io.ReadAll(r)
		require.NoError(t, err)
		parts[e.Name] = string(b)
	}
	list := understand(t, "carrying.xlsm", zipBytes(t, parts), knowing(), Mapping{})
	require.Len(t, list, 2)
	require.Contains(t, list[0].Notes, "It holds macros; they were neither run nor kept.")
	require.Contains(
		t,
		list[0].Notes,
		"It refers to other files; they were not fetched, and the values it saved from them were read.",
	)
	require.Empty(t, list[1].Notes)
	rows, refused := rowsOf(t, list[0], knowing())
	require.Empty(t, refused)
	require.Equal(t, []string{"2: programme=X name=One"}, rows)
}
