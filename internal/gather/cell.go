package gather

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// parseCell reads one cell of the canonical form: empty says nothing, "-" says
// that there is none. The reason is empty where it could be read.
func parseCell(c *record.Column, text string, f *portfolio.Field, o *Options) string {
	if text == "" {
		return ""
	}
	if text == "-" {
		if !c.Key {
			f.Said = portfolio.None
		}
		return ""
	}
	f.Said = portfolio.Value
	switch c.Type {
	case record.Date:
		d, err := calendar.ParseDate(text)
		if err != nil {
			return err.Error()
		}
		f.Int = int64(d)
	case record.Period:
		p, err := o.Periods.Parse(text)
		if q := o.Periods.ParseYear(text); c.Years && q != 0 {
			p, err = q, nil
		}
		if err != nil {
			return err.Error()
		}
		f.Int = int64(p)
	case record.Whole:
		n, err := strconv.ParseInt(text, 10, 64)
		if err != nil {
			return fmt.Sprintf("%q is not a whole number", text)
		}
		return bounded(c, f, n, 1, text)
	case record.Decimal:
		n, err := money.ParseScaled(text, portfolio.QuantityScale)
		if err != nil {
			return fmt.Sprintf("%q is not a number with at most %d decimals that fits", text, portfolio.QuantityScale)
		}
		return bounded(c, f, n, portfolio.Quantity, text)
	case record.Money:
		if _, err := money.ParseScaled(text, 4); err != nil {
			return err.Error()
		}
		f.Text = o.keep(text)
	case record.RateText:
		r, err := money.ParseRate(text)
		if err != nil {
			return err.Error()
		}
		f.Text = r.String()
	case record.Choice:
		for _, d := range c.Domain {
			if strings.EqualFold(text, d) {
				f.Text = d
				return ""
			}
		}
		words := c.Domain
		if c.Open {
			if own := o.Names.Find(c.Name, text); len(own) == 1 {
				f.Text = own[0]
				return ""
			}
			words = slices.Concat(words, o.Names.codes(c.Name))
		}
		return fmt.Sprintf("%q is not one of: %s", text, strings.Join(words, ", "))
	case record.CurrencyCode:
		cur, ok := money.ParseCurrency(text)
		if !ok {
			return fmt.Sprintf("%q is not a currency of ISO 4217, such as EUR", text)
		}
		f.Text = string(cur)
	case record.Day:
		return parseDay(text, f)
	case record.Code:
		f.Text = strings.Clone(text) // codes seldom repeat
	default:
		f.Text = o.keep(text)
	}
	return ""
}

func parseDay(text string, f *portfolio.Field) string {
	if _, ok := calendar.ParseWeekday(strings.ToLower(text)); ok {
		f.Text = strings.ToLower(text)
		return ""
	}
	d, err := calendar.ParseDate(text)
	if err != nil {
		return fmt.Sprintf("%q is neither a weekday (mon … sun) nor a date like 2026-12-25", text)
	}
	f.Text = d.String()
	return ""
}

func bounded(c *record.Column, f *portfolio.Field, n, unit int64, text string) string {
	if c.Max > c.Min && (n < c.Min || n > c.Max) {
		return fmt.Sprintf("%s is not between %d and %d", text, c.Min/unit, c.Max/unit)
	}
	f.Int = n
	return ""
}
