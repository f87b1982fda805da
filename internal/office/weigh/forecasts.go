package weigh

import (
	"cmp"
	"context"
	"maps"
	"math"
	"slices"
	"strings"

	"turret/internal/core/forecast"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// Leads are the numbers of periods ahead that forecast errors are told of.
var Leads = []int{1, 3, 6, 12}

// Forecasts tells how far statements of cost missed what came.
type Forecasts struct {
	Ahead int             // the lead that is looked at
	By    []ForecastTrack // by person, the farthest from what came first
	All   []forecast.Summary
	Pairs []ForecastPair  // of one project at that lead
	Of    *office.Reading // that project, or nil
	Final []ForecastPair  // of one finished project: said for the final cost
	Why   string          // why nothing is known of that project, or ""
	Asked []string
}

// ForecastTrack is a person's or a project's errors, by Leads.
type ForecastTrack struct {
	Name     string // a person
	Of       *office.Reading
	Errors   []forecast.Summary
	Projects []ForecastTrack
}

// ForecastPair is what one statement said and what came.
type ForecastPair struct {
	forecast.Error
	Made, Through string // periods
}

// Forecasts sets what the leads of a moment's scope and filter stated against
// what came, each project in its own currency: by person, at each of Leads. Of
// names a project whose statements are listed one by one, at a lead.
func (o Room) Forecasts(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	of string,
	ahead int,
) (*Forecasts, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	f := &Forecasts{Ahead: ahead}
	if !slices.Contains(Leads, ahead) {
		f.Ahead = 3
	}
	if m.Empty {
		return f, nil
	}
	if of != "" {
		if f.Of = m.Readings().Project(of); f.Of == nil {
			f.Asked = append(f.Asked, "There is no project "+of+" here; these are all.")
		}
	}
	inputs, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil {
		return nil, err
	}
	var list []*office.Reading
	var codes []string
	for _, r := range m.Readings().Rows {
		if r.Group || r.State == portfolio.Proposed || f.Of == nil && !(m.InScope(r) && m.Filter.Wants(r)) ||
			f.Of != nil && r.Lead != f.Of.Lead {
			continue
		}
		list, codes = append(list, r), append(codes, r.Code)
	}
	records, err := inputs.Forecasts(ctx, codes, m.Period.Number)
	if err != nil {
		return nil, err
	}
	f.people(list, records)
	for i, r := range list {
		if f.Of != nil && r.Code == f.Of.Code && records[i] != nil {
			f.Why = records[i].Why
			f.Pairs, f.Final = pairs(m, records[i].Since(f.Ahead)), pairs(m, records[i].Final())
		}
	}
	return f, nil
}

// ErrorColumn is the column of lists that has forecast errors, and ErrorAhead the
// lead that it tells of.
const (
	ErrorColumn = "forecast_error"
	ErrorAhead  = 3
)

// ForecastErrors gives the errors of the forecasts of a moment's scope and filter
// at one of Leads, by project; those without a record have none.
func (o Room) ForecastErrors(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	ahead int,
) (map[string]forecast.Summary, error) {
	f, err := o.Forecasts(ctx, a, m, "", ahead)
	if err != nil {
		return nil, err
	}
	out := make(map[string]forecast.Summary)
	at := slices.Index(Leads, f.Ahead)
	for i := range f.By {
		for _, p := range f.By[i].Projects {
			out[p.Of.Code] = p.Errors[at]
		}
	}
	return out, nil
}

func pairs(m *office.Moment, list []forecast.Error) (out []ForecastPair) {
	ps := m.Snapshot().Office.Periods
	for _, e := range list {
		out = append(out, ForecastPair{e, ps.Name(e.Made), ps.Name(e.Through)})
	}
	return out
}

// people sums errors up by person.
func (f *Forecasts) people(list []*office.Reading, records []*forecast.Record) {
	pools := make(map[string][][]forecast.Error)
	tracks := make(map[string]*ForecastTrack)
	all := make([][]forecast.Error, len(Leads))
	for i, r := range list {
		rec := records[i]
		if rec == nil || rec.Why != "" {
			continue
		}
		x := ForecastTrack{Of: r}
		pool := pools[r.Lead]
		if pool == nil {
			pool = make([][]forecast.Error, len(Leads))
		}
		for k, n := range Leads {
			errs := rec.Since(n)
			x.Errors = append(x.Errors, forecast.Summarize(errs))
			pool[k], all[k] = append(pool[k], errs...), append(all[k], errs...)
		}
		pools[r.Lead] = pool
		if tracks[r.Lead] == nil {
			tracks[r.Lead] = &ForecastTrack{Name: r.Lead}
		}
		tracks[r.Lead].Projects = append(tracks[r.Lead].Projects, x)
	}
	at := slices.Index(Leads, f.Ahead)
	worse := func(a, b ForecastTrack) int {
		x, y := a.Errors[at], b.Errors[at]
		return cmp.Or(cmp.Compare(min(y.Count, 1), min(x.Count, 1)), cmp.Compare(y.Absolute, x.Absolute))
	}
	for _, lead := range slices.Sorted(maps.Keys(tracks)) {
		t := tracks[lead]
		for _, errs := range pools[lead] {
			t.Errors = append(t.Errors, forecast.Summarize(errs))
		}
		slices.SortStableFunc(t.Projects, worse)
		f.By = append(f.By, *t)
	}
	slices.SortStableFunc(f.By, worse)
	for _, errs := range all {
		f.All = append(f.All, forecast.Summarize(errs))
	}
}

// Few is the number of statements or outcomes below which a mean says little.
const Few = 3

// Say sums the errors up at the lead that is looked at.
func (f *Forecasts) Say() []tell.Phrase {
	at := slices.Index(Leads, f.Ahead)
	if len(f.All) == 0 || f.All[at].Count == 0 {
		return []tell.Phrase{
			{
				Text: "No forecast is old enough to be set against what came " + tell.Plural(f.Ahead, "period", "periods") + " later.",
			},
		}
	}
	s := f.All[at]
	out := []tell.Phrase{
		{Text: "Said " + tell.Plural(f.Ahead, "period", "periods") + " ahead, cost missed what came by "},
		{Text: tell.Ratio(s.Absolute, false), Tone: tone(s.Absolute)},
		{Text: " on average, and was " + direction(s.Mean) + "."},
	}
	for _, x := range f.By {
		if e := x.Errors[at]; e.Count >= Few && len(f.By) > 1 {
			name := cmp.Or(x.Name, "No lead")
			out = append(
				out,
				tell.Phrase{Text: " "},
				tell.Phrase{Text: name, To: name, Tone: tone(e.Absolute)},
				tell.Phrase{Text: " missed most: by " + tell.Ratio(e.Absolute, false) + "."},
			)
			break
		}
	}
	return out
}

// direction says which way forecasts were off.
func direction(mean float64) string {
	switch {
	case math.Abs(mean) < 0.005:
		return "neither too low nor too high"
	case mean < 0:
		return tell.Ratio(-mean, false) + " too low"
	}
	return tell.Ratio(mean, false) + " too high"
}

// tone is that of a mean distance: beyond a tenth it is worth a look, beyond a
// fifth it is bad.
func tone(absolute float64) string {
	switch {
	case absolute > 0.20:
		return "act"
	case absolute > 0.10:
		return "watch"
	}
	return ""
}

// Tone of the errors at a lead.
func (t *ForecastTrack) Tone(i int) string {
	if t.Errors[i].Count < Few {
		return "quiet"
	}
	return strings.TrimSpace(tone(t.Errors[i].Absolute))
}
