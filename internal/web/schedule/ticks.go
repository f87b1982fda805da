package schedule

import (
	"time"

	"turret/internal/chart"
	"turret/internal/core/calendar"
)

// ticks are the days that an axis names: years, quarters, months, weeks or days, as they
// fit.
func ticks(from, to calendar.Date) (out []chart.TimeTick) {
	days := int(to - from)
	y, m, _ := from.Split()
	switch {
	case days > 1100:
		for ; calendar.DateOf(y, m, 1) <= to; m++ {
			d := calendar.DateOf(y, m, 1)
			if _, month, _ := d.Split(); month%3 == 1 {
				text := ""
				if month == 1 || month == 7 && days < 2600 {
					text = d.Time().Format("Jan 2006")
				}
				out = append(out, chart.TimeTick{Day: float64(d), Text: text, Strong: month == 1})
			}
		}
	case days > 70:
		for ; calendar.DateOf(y, m, 1) <= to; m++ {
			d := calendar.DateOf(y, m, 1)
			_, month, _ := d.Split()
			out = append(out, chart.TimeTick{Day: float64(d), Text: d.Time().Format("Jan 06"), Strong: month == 1})
		}
	default:
		for d := from; d <= to; d++ {
			monday := d.Time().Weekday() == time.Monday
			if days > 21 && !monday {
				continue
			}
			out = append(out, chart.TimeTick{Day: float64(d), Text: d.Time().Format("2 Jan"), Strong: monday})
		}
	}
	return out
}
