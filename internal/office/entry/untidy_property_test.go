package entry_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/officetest"
)

// sale is a line of a ledger.
type sale struct {
	number, code, text string
	day                time.Time
	cents              int64
}

func entries(r *rand.Rand) (out []sale) {
	for i := range 3 + r.IntN(30) {
		e := sale{
			number: fmt.Sprintf("B%04d", i),
			code:   []string{"10", "20"}[r.IntN(2)],
			text:   []string{"Löhne, Kran", "Pier \"C\"", "= nothing", ""}[r.IntN(4)],
		}
		e.day = time.Date(2026, time.Month(1+r.IntN(3)), 1+r.IntN(28), 0, 0, 0, 0, time.UTC)
		e.cents = r.Int64N(4_000_000_00) - 1_000_000_00
		out = append(out, e)
	}
	// One day beyond the twelfth tells which of two orders is meant, one amount
	// of two decimals which of two marks.
	out[0].day = time.Date(2026, 1, 28, 0, 0, 0, 0, time.UTC)
	out[0].cents = 1234567_89
	return out
}

// printOf writes a ledger as somebody's system would print it.
func printOf(r *rand.Rand, list []sale) []byte {
	heads := [][5]string{
		{"Beleg", "Buchungsdatum", "Projekt", "Konto", "Betrag"},
		{"Voucher", "Posting date", "Project", "Account", "Amount"},
		{"posting", "date", "project code", "cost code", "Amount EUR"},
	}[r.IntN(3)]
	sep := []string{";", "\t"}[r.IntN(2)]
	day := []string{"02.01.2006", "2/1/2006", "2006-01-02", "02-Jan-2006", "2006/01/02"}[r.IntN(5)]
	dec, group := ",", []string{"", ".", " "}[r.IntN(3)]
	if r.IntN(2) == 0 {
		dec, group = ".", []string{"", ",", "'"}[r.IntN(3)]
	}
	minus := []string{"-%s", "%s-", "(%s)"}[r.IntN(3)]
	write := func(cents int64) string {
		whole, part, _ := strings.Cut(strings.TrimPrefix(money.Format(cents, "EUR"), "-"), ".")
		for i := len(whole) - 3; i > 0; i -= 3 {
			whole = whole[:i] + group + whole[i:]
		}
		if cents < 0 {
			return fmt.Sprintf(minus, whole+dec+part)
		}
		return whole + dec + part
	}
	order := r.Perm(6)
	line := func(b *strings.Builder, cells [6]string) {
		for i, k := range order {
			if i > 0 {
				b.WriteString(sep)
			}
			c := cells[k]
			if strings.ContainsAny(c, sep+`"`) {
				c = `"` + strings.ReplaceAll(c, `"`, `""`) + `"`
			}
			b.WriteString(c)
		}
		b.WriteString("\r\n")
	}
	var b strings.Builder
	if r.IntN(2) == 0 {
		b.WriteString("Skerrow Sound" + strings.Repeat(sep, 5) + "\r\n\r\n")
	}
	head := [6]string{heads[0], heads[1], heads[2], heads[3], heads[4], "Text"}
	line(&b, head)
	total, totals := int64(0), r.IntN(2) == 0
	for i, e := range list {
		if totals && i == len(list)/2 { // the print begins a new page
			line(&b, [6]string{"Subtotal", "", "", "", write(total), ""})
			line(&b, head)
		}
		total += e.cents
		line(&b, [6]string{e.number, e.day.Format(day), "A", e.code, write(e.cents), e.text})
	}
	if totals {
		line(&b, [6]string{"Total", "", "", "", write(total), ""})
	}
	switch r.IntN(3) {
	case 0:
		out, err := charmap.Windows1252.NewEncoder().String(b.String())
		if err == nil {
			return []byte(out)
		}
	case 1:
		out, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(b.String())
		if err == nil {
			return []byte(out)
		}
	}
	return []byte(b.String())
}

// canonical writes the ledger as the exchange format has it.
func canonical(list []sale) string {
	b := "posting,date,project,cost_code,amount,text\n"
	for _, e := range list {
		b += fmt.Sprintf(
			"%s,%s,A,%s,%s,\"%s\"\n",
			e.number,
			e.day.Format("2006-01-02"),
			e.code,
			money.Format(e.cents, "EUR"),
			strings.ReplaceAll(e.text, `"`, `""`),
		)
	}
	return b
}

// TestUntidyReadsAsTidy: however a ledger is printed, it is taken as its
// canonical table is; nothing is asked that the file tells, and no cent is
// another.
func TestUntidyReadsAsTidy(t *testing.T) {
	seed := rand.Uint64()
	t.Logf("seed %d", seed)
	r := rand.New(rand.NewPCG(seed, 1))
	for range officetest.Fewer(30) {
		list := entries(r)
		body := printOf(r, list)
		tidy, untidy := withCodes(t), withCodes(t)
		require.Empty(
			t,
			officetest.Take(t, tidy, entry.Options{}, officetest.File("postings.csv", canonical(list))).Refusals,
		)
		got := officetest.Take(t, untidy, entry.Options{Trust: true}, entry.File{Name: "print.txt", Body: body})
		require.Empty(t, got.Refusals, "%s", body)
		for _, s := range got.Sheets {
			for _, x := range s.Sums {
				require.True(t, x.Agrees, "%s", body)
			}
		}
		require.Equal(t, officetest.Exported(t, tidy), officetest.Exported(t, untidy), "%s", body)

		// Sent again in another dress it changes nothing.
		again := officetest.Take(t, untidy, entry.Options{Trust: true}, entry.File{Name: "print 2.txt", Body: printOf(r, list)})
		require.Zero(t, again.Changes(), "%s", body)
	}
}

// withCodes has a second cost code.
func withCodes(t testing.TB) *office.Office {
	t.Helper()
	o := officetest.WithBase(t)
	officetest.Take(t, o, entry.Options{}, officetest.File("cost_codes.csv", "cost_code,name\n20,Plant\n"))
	return o
}

// TestAForecastSheetReadsAsItsTable: months across in whichever form, in
// thousands or not, with totals, are the cells of the canonical table.
func TestAForecastSheetReadsAsItsTable(t *testing.T) {
	ctx := context.Background()
	r := rand.New(rand.NewPCG(rand.Uint64(), 2))
	for range officetest.Fewer(12) {
		months := []time.Time{}
		for m := range 2 + r.IntN(8) {
			months = append(months, time.Date(2026, time.Month(3+m), 1, 0, 0, 0, 0, time.UTC))
		}
		form := []string{"Jan 2006", "2006-01", "01/2006", "January 2006"}[r.IntN(4)]
		thousands, totals := r.IntN(2) == 0, r.IntN(2) == 0
		w := excelize.NewFile()
		sheet := w.GetSheetName(0)
		title := "Forecast"
		if thousands {
			title += " in EUR k"
		}
		require.NoError(t, w.SetSheetRow(sheet, "A1", &[]any{title}))
		head := []any{"Project", "Cost code"}
		for _, m := range months {
			head = append(head, m.Format(form))
		}
		if totals {
			head = append(head, "Total")
		}
		require.NoError(t, w.SetSheetRow(sheet, "A3", &head))
		tidy := "project,cost_code,kind,period,version,amount\n"
		column := make([]float64, len(months)+1)
		for i, code := range []string{"10", "20"} {
			row, sum := []any{"A", code}, 0.0
			for k, m := range months {
				n := float64(r.IntN(90_000)) * 10
				tidy += fmt.Sprintf("A,%s,forecast,%s,2026-02,%.0f\n", code, m.Format("2006-01"), n)
				if thousands {
					n /= 1000
				}
				row = append(row, n)
				sum += n
				column[k] += n
			}
			column[len(months)] += sum
			if totals {
				row = append(row, sum)
			}
			require.NoError(t, w.SetSheetRow(sheet, fmt.Sprintf("A%d", 4+i), &row))
		}
		if totals {
			row := []any{"Total", ""}
			for _, n := range column {
				row = append(row, n)
			}
			require.NoError(t, w.SetSheetRow(sheet, "A6", &row))
		}
		body, err := w.WriteToBuffer()
		require.NoError(t, err)

		a, b := withCodes(t), withCodes(t)
		require.Empty(t, officetest.Take(t, a, entry.Options{}, officetest.File("costs.csv", tidy)).Refusals)
		p, err := b.ParsePeriod(ctx, officetest.Operator, "2026-02")
		require.NoError(t, err)
		opts := entry.Options{Period: p, Trust: true}
		opts.Say.Fixed = map[string]string{"kind": "forecast"}
		got := officetest.Take(t, b, opts, entry.File{Name: "Cost sheet.xlsx", Body: body.Bytes()})
		require.Empty(t, got.Refusals)
		require.Equal(t, tidyCosts(t, a), tidyCosts(t, b), "%v, thousands %v, totals %v", form, thousands, totals)
	}
}

// tidyCosts gives the lines of the exported costs, in order, and what they come to.
func tidyCosts(t testing.TB, o *office.Office) []string {
	t.Helper()
	out := strings.Split(strings.TrimSpace(officetest.Exported(t, o)["costs.csv"]), "\n")
	slices.Sort(out)
	p, err := o.ParsePeriod(context.Background(), officetest.Operator, "2026-02")
	require.NoError(t, err)
	rows, err := export.In(o).Readings(context.Background(), officetest.Operator, export.Query{Period: p, Scope: "A"})
	require.NoError(t, err)
	return append(out, rows[0].Value(figure.EACStated).Text(rows[0].Currency))
}
