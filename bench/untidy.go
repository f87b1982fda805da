package main

import (
	"bufio"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/intake"
)

// writeUntidy writes the ledger as a print: a preamble, semicolons, decimal
// commas, German words, days with points, signs behind.
func writeUntidy(path string, rows int) error {
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(f)
	fmt.Fprint(
		w,
		"Bench GmbH;;;;;;;\nHauptbuch 2026;;;;;;;\n\nBeleg;Buchungsdatum;Projekt;Konto;W\xe4hrung;Lieferant;Buchungstext;Betrag\n",
	)
	for i := range rows {
		p, c, s := i%projects, (i/projects)%costLines, (i/7)%statements
		day := calendar.DateOf(2025, 1+s, 1+i%28).Time().Format("02.01.2006")
		amount := 1900 + i%7000
		fmt.Fprintf(
			w,
			"U%07d;%s;%s;C%02d;%s;Lieferant %d;Rechnung %d;%d.%03d,%02d%s\n",
			i,
			day,
			code(p),
			c,
			currencyOf(p),
			i%300,
			i,
			amount/1000,
			amount%1000,
			i%100,
			strings.Repeat("-", i%50/49),
		)
	}
	if err := w.Flush(); err != nil {
		return err
	}
	return f.Close()
}

// writeWide writes a forecast as a spreadsheet: rows of cost codes by project,
// months as columns under a merged head, a total column and a total row.
func writeWide(path string, rows int) error {
	x := excelize.NewFile()
	defer x.Close()
	w, err := x.NewStreamWriter("Sheet1")
	if err != nil {
		return err
	}
	head := []any{"Project", "Cost code", "Cost centre"}
	for m := range 12 {
		head = append(head, time.Date(2027, time.Month(1+m), 1, 0, 0, 0, 0, time.UTC).Format("Jan 06"))
	}
	if err := w.SetRow("A1", []any{"Forecast Dec 2026"}); err != nil {
		return err
	}
	if err := w.SetRow("A3", append(head, "Total")); err != nil {
		return err
	}
	for i := range rows {
		row := []any{
			code(i % projects),
			fmt.Sprintf("C%02d", i/projects%costLines),
			fmt.Sprintf("K%d", i/projects/costLines),
		}
		sum := 0
		for m := range 12 {
			n := 1000 + (i*7+m*131)%9000
			sum += n
			row = append(row, n)
		}
		if err := w.SetRow(fmt.Sprintf("A%d", i+4), append(row, sum)); err != nil {
			return err
		}
	}
	if err := w.Flush(); err != nil {
		return err
	}
	return x.SaveAs(path)
}

// untidyStep gathers both by the command, as dry runs that write nothing and
// then for good, and previews a ledger of 50,000 rows as the screen does.
func untidyStep(ctx context.Context, dir string) (result, error) {
	ledger, wide, small := filepath.Join(
		dir,
		"Hauptbuch.csv",
	), filepath.Join(
		dir,
		"Forecast.xlsx",
	), filepath.Join(
		dir,
		"Hauptbuch klein.csv",
	)
	if err := writeUntidy(ledger, postings); err != nil {
		return nil, err
	}
	if err := writeUntidy(small, 50_000); err != nil {
		return nil, err
	}
	if err := writeWide(wide, 50_000); err != nil {
		return nil, err
	}
	out := result{}
	for _, x := range []struct{ name, path string }{{"untidy CSV of 500,000 rows", ledger}, {"XLSX of 50,000 rows × 12 months", wide}} {
		copied := filepath.Join(dir, "untidy.db")
		if err := copyFile(database(dir), copied); err != nil {
			return nil, err
		}
		d, mb, err := run(filepath.Join(dir, "turret"), "gather", "--db", copied, x.path)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", x.name, err)
		}
		out[x.name], out[x.name+": peak memory"] = ms(d), mb
		if err := os.Remove(copied); err != nil {
			return nil, err
		}
	}
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	body, err := os.ReadFile(small)
	if err != nil {
		return nil, err
	}
	id, err := intake.In(o).SaveDraft(ctx, me, []entry.File{{Name: "Hauptbuch klein.csv", Body: body}})
	if err != nil {
		return nil, err
	}
	draft, err := intake.In(o).DraftOf(ctx, me, id)
	if err != nil {
		return nil, err
	}
	if _, err := o.Moment(ctx, me, office.Ask{}); err != nil { // the page that shows it has read the period
		return nil, err
	}
	begun := time.Now()
	r, err := intake.In(o).Preview(ctx, me, draft, entry.Watch{})
	if err != nil {
		return nil, err
	}
	if len(r.Refusals) > 0 {
		return nil, fmt.Errorf("the preview refuses: %s", r.Refusals[0])
	}
	out["preview of a file of 50,000 rows"] = ms(time.Since(begun))
	return out, intake.In(o).DropDraft(ctx, me, id)
}
