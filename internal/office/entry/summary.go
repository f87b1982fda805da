package entry

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
)

// A workbook often has a sheet that sums up its others, by project or by cost code. It
// lacks what each row needs, and says nothing of its own: it is passed over. Where most of
// its amounts are those of the other sheets and some are not, these are asked.

// summed gives what the sheets state that may sum up others, by their place.
func (in *intake) summed() map[int]*gather.Summed {
	out := make(map[int]*gather.Summed)
	for i := range in.sheets {
		if s := &in.sheets[i]; s.sheet != nil {
			if sum := s.Read.Summed(in.reading); sum != nil {
				out[i] = sum
			}
		}
	}
	return out
}

// summaries passes over the sheets that sum up others of their file.
func (d *doubts) summaries(in *intake, sums map[int]*gather.Summed, others []read) {
	for _, i := range slices.Sorted(maps.Keys(sums)) {
		s, sum := &in.sheets[i], sums[i]
		kind, _ := portfolio.PartKindNamed(sum.Kind)
		found := make(map[string]map[calendar.Period]float64)
		whole, some := true, false
		for _, r := range others {
			if r.Read.File != s.Read.File {
				continue
			}
			some = true
			whole = whole && r.is.part != nil
			for key, cells := range r.is.cells {
				if sum.Kind != "" && key.kind != kind {
					continue
				}
				whole = whole && !r.is.part[key.project]
				code := d.p.projectCode(key.project)
				unit := math.Pow10(d.p.projectCurrency(code).Exponent())
				if sum.By == "cost_code" {
					code = d.p.codeOf(record.CostCodes.Name, key.code)
				}
				if found[code] == nil {
					found[code] = make(map[calendar.Period]float64)
				}
				for at, v := range cells {
					found[code][at] += float64(v) / unit
				}
			}
		}
		if !some || !whole {
			continue
		}
		all, off, first := compared(sum.Sums, found, sum.Near, d.p.snap.Office.Periods.Name)
		if all == 0 || off*2 >= all && off > 0 {
			continue
		}
		if off > 0 {
			d.contradicts(s, others, first)
		}
		s.Read.Questions, s.Read.NoTable, s.passed = nil, true, true
		s.Read.Skipped = "it sums up the other sheets of the file, and states nothing more"
		in.report.note("%s was passed over: %s.", s.Label, s.Read.Skipped)
	}
}

// contradicts asks about the sheets that a summary of their file does not agree with.
func (d *doubts) contradicts(s *Sheet, others []read, first string) {
	for _, r := range others {
		if r.Read.File == s.Read.File && r.Read.Ready() && !r.Read.Trusted && !d.p.opts.Trust {
			r.Read.Ask("trust", fmt.Sprintf(
				"%s sums up the sheets of the file, and does not agree: %s; say that the rows are right, or correct them", s.Label, first,
			), "yes")
		}
	}
}

// compared counts the amounts of a summary, and those that are not those of the other
// sheets, and tells the first of them.
func compared(sums, found map[string]map[calendar.Period]float64, near float64, name func(calendar.Period) string) (all, off int, first string) {
	for _, code := range slices.Sorted(maps.Keys(sums)) {
		for _, at := range slices.Sorted(maps.Keys(sums[code])) {
			all++
			is, was := sums[code][at], found[code][at]
			if math.Abs(is-was) <= near {
				continue
			}
			if off++; first == "" {
				first = fmt.Sprintf("of %s in %s it has %s, and they come to %s", code, name(at), written(is), written(was))
			}
		}
	}
	return all, off, first
}
