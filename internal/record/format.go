package record

import (
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Format writes a field in the canonical form: "" where it says nothing, "-"
// where it says that there is none. Money in minor units takes the currency.
func Format(c *Column, f *portfolio.Field, cur money.Currency, periods *calendar.Periods) string {
	switch f.Said {
	case portfolio.Nothing:
		return ""
	case portfolio.None:
		return "-"
	}
	switch c.Type {
	case Date:
		return calendar.Date(f.Int).String()
	case Period:
		return periods.Code(calendar.Period(f.Int))
	case Whole:
		return money.FormatScaled(f.Int, 0)
	case Decimal:
		return money.FormatShort(f.Int, portfolio.QuantityScale)
	case Money:
		if f.Text == "" {
			return money.Format(f.Int, cur)
		}
	}
	return f.Text
}

// FormatRow gives the cells of a row by column, those that say nothing left
// out.
func FormatRow(t *Kind, r *portfolio.Row, periods *calendar.Periods) map[string]string {
	out := make(map[string]string)
	for i := range t.Columns {
		if i < len(r.Fields) {
			if s := Format(&t.Columns[i], &r.Fields[i], "", periods); s != "" {
				out[t.Columns[i].Name] = s
			}
		}
	}
	t.Beside(out, r.Extra)
	return out
}

// Beside adds to the cells of a row what is kept beside them. What is called like a column of
// the kind is told from it by its name.
func (k *Kind) Beside(cells, extra map[string]string) {
	for name, text := range extra {
		cells[k.BesideName(name)] = text
	}
}

// BesideName is what something that is kept beside the columns of a kind is called: no name
// of one of them.
func (k *Kind) BesideName(name string) string {
	if k.Index(name) >= 0 {
		return name + " beside"
	}
	return name
}

// OrClear writes a cell as someone entered it: nothing as what clears it.
func OrClear(text string) string {
	if text = strings.TrimSpace(text); text == "" {
		return "-"
	}
	return text
}
