package entry

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/likely"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/store"
)

// A project's forecast is all cells of its last statement. One that comes in parts, or that
// is another project's, moves the whole project: it is asked before it is taken.

// statement is what the files of a run state as the forecast of one project.
type statement struct {
	codes map[int64]map[calendar.Period]int64
	sheet *gather.Understanding // the first that states it
	part  bool                  // not all of it could be read here
}

// moved asks about projects whose forecasts come to many times more or less than what they
// last were for the same periods, by the office's limit, or that name far fewer codes.
func (d *doubts) moved(ctx context.Context, read []read) error {
	all := make(map[cellOf]*statement) // by project and version
	for _, r := range read {
		for _, key := range slices.SortedFunc(maps.Keys(r.is.cells), byCell) {
			if key.kind != portfolio.ForecastPart {
				continue
			}
			of := cellOf{project: key.project, kind: key.kind, version: key.version}
			if all[of] == nil {
				all[of] = &statement{codes: make(map[int64]map[calendar.Period]int64)}
			}
			s := all[of]
			s.part = s.part || r.is.part == nil || r.is.part[key.project]
			if s.sheet == nil && !r.Read.Canonical && !r.Read.Trusted && r.Read.Ready() {
				s.sheet = r.Read
			}
			if s.codes[key.code] == nil {
				s.codes[key.code] = make(map[calendar.Period]int64)
			}
			for at, v := range r.is.cells[key] {
				s.codes[key.code][at] += v
			}
		}
	}
	told := make(map[*gather.Understanding][]string)
	var order []*gather.Understanding
	for _, of := range slices.SortedFunc(maps.Keys(all), byCell) {
		s := all[of]
		if s.part || s.sheet == nil {
			continue
		}
		why, err := d.movedBy(ctx, of, s)
		if err != nil {
			return err
		}
		if why != "" {
			if told[s.sheet] == nil {
				order = append(order, s.sheet)
			}
			told[s.sheet] = append(told[s.sheet], why)
		}
	}
	const most = 3
	for _, u := range order {
		list := told[u]
		text := strings.Join(list[:min(len(list), most)], "; ")
		if n := len(list) - most; n > 0 {
			text += fmt.Sprintf("; and so %d more", n)
		}
		u.Ask("trust", text+": a forecast is all that a project has to come, and what it does not name is none; say that it is whole and right, or send the rest with it", "yes")
	}
	return nil
}

func byCell(a, b cellOf) int {
	return cmp.Or(cmp.Compare(a.project, b.project), cmp.Compare(a.code, b.code), cmp.Compare(a.kind, b.kind), cmp.Compare(a.version, b.version))
}

// movedBy tells how the forecast of a project moves, where it is by more than the limit; what
// is stated of the same version already counts with it.
func (d *doubts) movedBy(ctx context.Context, of cellOf, s *statement) (why string, err error) {
	before := of
	before.version--
	last, err := d.last(ctx, before)
	if err != nil || last == nil {
		return "", err
	}
	now, err := d.last(ctx, of)
	if err != nil {
		return "", err
	}
	if sameVersion := d.stated(of); !sameVersion {
		now = nil
	}
	sum := func(codes map[int64]map[calendar.Period]int64, but map[int64]map[calendar.Period]int64) (total int64, n map[int64]bool) {
		n = make(map[int64]bool)
		for code, cells := range codes {
			for at, v := range cells {
				if _, again := but[code][at]; again || int32(at) <= of.version || v == 0 {
					continue
				}
				total += v
				n[code] = true
			}
		}
		return total, n
	}
	was, codesWere := sum(last, nil)
	is, codesAre := sum(s.codes, nil)
	more, codesMore := sum(now, s.codes)
	is += more
	maps.Copy(codesAre, codesMore)
	code := d.p.projectCode(of.project)
	c := d.p.projectCurrency(code)
	switch likely.Moved(is, was, len(codesAre), len(codesWere), d.p.snap.Office.MovedLimit) {
	case likely.ByAmount:
		unit := math.Pow10(c.Exponent())
		return fmt.Sprintf("what is to come of %s after %s goes from %s to %s %s", code,
			d.p.snap.Office.Periods.Name(calendar.Period(of.version)), written(float64(was)/unit), written(float64(is)/unit), c), nil
	case likely.ByCodes:
		return fmt.Sprintf("%s names %d cost codes where it named %d", code, len(codesAre), len(codesWere)), nil
	}
	return "", nil
}

// stated tells whether a project has a statement of a version.
func (d *doubts) stated(of cellOf) bool {
	return slices.ContainsFunc(d.p.snap.Stated[of.project], func(s store.Stated) bool { return s.Kind == of.kind && s.Version == of.version })
}

// neighbours asks about a sheet whose titles state another period than most others of its
// run, which agree.
func (in *intake) neighbours(p *plan) {
	const few, most = 3, 0.75
	periodOf := func(u *gather.Understanding) (name, period string) {
		for _, name := range [...]string{"version", "period"} {
			if v := u.Fixed[name]; v != "" {
				if _, err := p.snap.Office.Periods.Parse(v); err == nil {
					return name, v
				}
			}
		}
		return "", ""
	}
	counts, n := make(map[string]int), 0
	for i := range in.sheets {
		if s := &in.sheets[i]; s.sheet != nil && s.Read.Ready() && !s.Read.Canonical {
			if _, period := periodOf(s.Read); period != "" {
				counts[period]++
				n++
			}
		}
	}
	usual := ""
	for period, k := range counts {
		if k >= few && float64(k) >= most*float64(n) {
			usual = period
		}
	}
	if usual == "" {
		return
	}
	for i := range in.sheets {
		s := &in.sheets[i]
		if s.sheet == nil || !s.Read.Ready() || s.Read.Canonical || s.Read.Trusted {
			continue
		}
		if name, period := periodOf(s.Read); period != "" && period != usual && !s.Read.Said[name] {
			s.Read.Ask("fixed."+name, fmt.Sprintf(
				"it is taken as of %s, and %d of the %d that come with it are of %s; say which", period, counts[usual], n, usual,
			), period, usual)
		}
	}
}
