package office

import (
	"cmp"
	"maps"
	"os"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// formatField writes a field in the canonical form. Money in minor units takes
// the currency.
func formatField(c *record.Column, f *portfolio.Field, cur money.Currency, periods *calendar.Periods) string {
	switch f.Said {
	case portfolio.Nothing:
		return ""
	case portfolio.None:
		return "-"
	}
	switch c.Type {
	case record.Date:
		return calendar.Date(f.Int).String()
	case record.Period:
		return periods.Code(calendar.Period(f.Int))
	case record.Whole:
		return money.FormatScaled(f.Int, 0)
	case record.Decimal:
		return trim(money.FormatScaled(f.Int, portfolio.QuantityScale))
	case record.Money:
		if f.Text == "" {
			return money.Format(f.Int, cur)
		}
	}
	return f.Text
}

func trim(s string) string {
	for s[len(s)-1] == '0' {
		s = s[:len(s)-1]
	}
	if s[len(s)-1] == '.' {
		s = s[:len(s)-1]
	}
	return s
}

// formatRow gives the cells of a row by column, those that say nothing left
// out.
func formatRow(t *record.Kind, r *portfolio.Row, periods *calendar.Periods) map[string]string {
	out := make(map[string]string)
	for i := range t.Columns {
		if i < len(r.Fields) {
			if s := formatField(&t.Columns[i], &r.Fields[i], "", periods); s != "" {
				out[t.Columns[i].Name] = s
			}
		}
	}
	maps.Copy(out, r.Extra)
	return out
}

func sortedKeys[K cmp.Ordered, V any](m map[K]V) []K { return slices.Sorted(maps.Keys(m)) }

func exists(path string) bool {
	_, err := os.Stat(path)
	return err == nil
}
