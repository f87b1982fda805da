package book

import (
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// Records are the rows of every table of records, by table name. References
// have both id and code.
type Records map[string][]portfolio.Row

// Of gives the rows of a kind.
func (rec Records) Of(k *record.Kind) []portfolio.Row { return rec[k.Name] }

func (rec Records) each(k *record.Kind, f func(*portfolio.Row)) {
	rows := rec[k.Name]
	for i := range rows {
		f(&rows[i])
	}
}

// link fills in the codes of references.
func (rec Records) link() {
	codes := map[record.Type]map[int64]string{
		record.ProgrammeRef: rec.codes(
			"programmes",
		), record.CostCodeRef: rec.codes("cost_codes"), record.ProjectRef: rec.codes("projects"), record.CentreRef: rec.codes("cost_centres"),
	}
	for name := range rec {
		rec.linkBy(name, codes)
	}
}

// linkTable fills in the codes of one table's references.
func (rec Records) linkTable(name string) {
	rec.linkBy(name, map[record.Type]map[int64]string{record.ProjectRef: rec.codes("projects")})
}

func (rec Records) linkBy(name string, codes map[record.Type]map[int64]string) {
	t, rows := record.Named(name), rec[name]
	for i := range rows {
		for j := range t.Columns {
			if m := codes[t.Columns[j].Type]; m != nil && rows[i].Fields[j].Said == portfolio.Value {
				rows[i].Fields[j].Text = m[rows[i].Fields[j].Int]
			}
		}
	}
}

func (rec Records) codes(table string) map[int64]string {
	m := make(map[int64]string, len(rec[table]))
	for i := range rec[table] {
		m[rec[table][i].ID] = rec[table][i].Fields[0].Text
	}
	return m
}

// Setting gives a setting of the office, or "".
func (rec Records) Setting(name string) (value string) {
	rec.each(record.Settings.Kind, func(r *portfolio.Row) {
		if record.Settings.Setting.Of(r) == name {
			value = record.Settings.Value.Of(r)
		}
	})
	return value
}

// office builds what all projects share.
func (rec Records) office() (*portfolio.Office, error) {
	o := &portfolio.Office{
		Name:      rec.Setting("name"),
		Calendar:  rec.Setting("calendar"),
		Calendars: make(map[string]*calendar.Calendar),
		Codes:     make(map[int64]portfolio.CostCode),
		Due:       make(map[string]int),
		Centres:   make(map[string]portfolio.Centre),
	}
	var ok bool
	if o.Reporting, ok = money.ParseCurrency(rec.Setting("reporting_currency")); !ok {
		o.Reporting = "EUR"
	}
	var err error
	if o.Periods, err = rec.Periods(); err != nil {
		return nil, err
	}
	rec.each(record.DueDays.Kind, func(r *portfolio.Row) {
		if record.DueDays.Days.Said(r) {
			o.Due[record.DueDays.Statement.Of(r)] = int(record.DueDays.Days.Of(r))
		}
	})
	o.Rates = money.NewRates(o.Reporting)
	var bad error
	rec.each(record.Rates.Kind, func(r *portfolio.Row) {
		rate, err := money.ParseRate(record.Rates.Rate.Of(r))
		if err != nil {
			bad = err
			return
		}
		set := money.PeriodRates
		if record.Rates.Set.Or(r) == "plan" {
			set = money.PlanRates
		}
		o.Rates.Put(money.Currency(record.Rates.Currency.Of(r)), set, int(int64(record.Rates.Period.Of(r))), rate)
	})
	rec.each(record.CostCodes.Kind, func(r *portfolio.Row) {
		o.Codes[r.ID] = portfolio.CostCode{
			Code:    record.CostCodes.CostCode.Of(r),
			Name:    record.CostCodes.NameCol.Of(r),
			Parent:  record.CostCodes.Parent.ID(r),
			Reserve: record.CostCodes.Reserve.Or(r),
		}
	})
	rec.each(record.CostCentres.Kind, func(r *portfolio.Row) {
		o.Centres[record.CostCentres.CostCentre.Of(r)] = portfolio.Centre{
			Name:   record.CostCentres.NameCol.Of(r),
			Parent: record.CostCentres.Parent.Code(r),
		}
	})
	rec.each(record.Programmes.Kind, func(r *portfolio.Row) {
		o.Groups = append(
			o.Groups,
			portfolio.Programme{
				ID:     r.ID,
				Code:   record.Programmes.Programme.Of(r),
				Name:   record.Programmes.NameCol.Of(r),
				Parent: record.Programmes.Parent.Code(r),
				Owner:  record.Programmes.Owner.Of(r),
			},
		)
	})
	o.CodeLevels = make(map[string]int)
	rec.each(record.Settings.Kind, func(r *portfolio.Row) {
		if role, ok := strings.CutPrefix(record.Settings.Setting.Of(r), "code_level_"); ok {
			if n, err := strconv.Atoi(record.Settings.Value.Of(r)); err == nil {
				o.CodeLevels[role] = n
			}
		}
	})
	rec.calendars(o)
	o.Settle()
	return o, bad
}

// Periods builds the reporting calendar: the office's own boundaries, else
// calendar months. Where the boundaries do not fit each other the error is a
// *calendar.BoundError.
func (rec Records) Periods() (*calendar.Periods, error) {
	var list []calendar.Bound
	rec.each(record.Boundaries.Kind, func(r *portfolio.Row) {
		if b := (calendar.Bound{Code: record.Boundaries.Period.Of(r), Name: record.Boundaries.NameCol.Of(r), First: record.Boundaries.First.Of(r), Last: record.Boundaries.Last.Of(r)}); b.First != 0 ||
			b.Last != 0 {
			list = append(list, b)
		}
	})
	if len(list) > 0 {
		return calendar.Listed(list)
	}
	start := 1
	if s := rec.Setting("fiscal_start"); s != "" {
		if _, err := fmt.Sscan(s, &start); err != nil {
			return nil, fmt.Errorf("the setting fiscal_start is %q", s)
		}
	}
	return calendar.Months(start), nil
}

func (rec Records) calendars(o *portfolio.Office) {
	type days struct {
		week     calendar.Week
		hasWeek  bool
		holidays []calendar.Date
	}
	all := make(map[string]*days)
	rec.each(record.Calendars.Kind, func(r *portfolio.Row) {
		code := record.Calendars.Calendar.Of(r)
		d := all[code]
		if d == nil {
			d = &days{}
			all[code] = d
		}
		if record.Calendars.State.Or(r) == "off" {
			return
		}
		if wd, ok := calendar.ParseWeekday(record.Calendars.Day.Of(r)); ok && record.Calendars.KindCol.Of(r) == "week" {
			d.week[wd], d.hasWeek = true, true
		} else if day, err := calendar.ParseDate(record.Calendars.Day.Of(r)); err == nil {
			d.holidays = append(d.holidays, day)
		}
	})
	for code, d := range all {
		if !d.hasWeek {
			d.week = calendar.MondayToFriday
		}
		o.Calendars[code] = calendar.New(code, d.week, d.holidays)
	}
}

// progressRow is what is said of the progress of an activity.
func progressRow(r *portfolio.Row, activity int) portfolio.ProgressRow {
	return portfolio.ProgressRow{
		Activity: activity,
		Percent:  record.Progress.Percent.Mark(r),
		Start:    record.Progress.Start.Mark(r),
		Finish:   record.Progress.Finish.Mark(r),
		Began:    record.Progress.ActualStart.Mark(r),
		Done:     record.Progress.ActualFinish.Mark(r),
		Units:    record.Progress.UnitsDone.Mark(r),
		Note:     record.Progress.Note.Of(r),
		Source:   r.Source,
	}
}

// riskOf is what is said of a risk in a period.
func riskOf(r *portfolio.Row, at calendar.Period) portfolio.RiskStatement {
	return portfolio.RiskStatement{
		Period:     at,
		Risk:       record.Risks.Risk.Of(r),
		Kind:       *record.Risks.KindCol.In(r),
		Title:      *record.Risks.Title.In(r),
		Likelihood: *record.Risks.Likelihood.In(r),
		Impact:     *record.Risks.Impact.In(r),
		Owner:      *record.Risks.Owner.In(r),
		Due:        *record.Risks.Due.In(r),
		State:      *record.Risks.State.In(r),
		Response:   *record.Risks.Response.In(r),
		Source:     r.Source,
	}
}

// narrativeOf is a text of a period.
func narrativeOf(r *portfolio.Row, at calendar.Period) portfolio.Narrative {
	return portfolio.Narrative{
		Period:  at,
		Section: record.Narratives.Section.Of(r),
		Text:    record.Narratives.Text.Of(r),
		Stated:  record.Narratives.StatedStanding.Of(r),
		Source:  r.Source,
	}
}

// stepOf is a step of an activity.
func stepOf(r *portfolio.Row, activity int) portfolio.Step {
	return portfolio.Step{
		Activity: activity,
		Code:     record.Steps.Step.Of(r),
		Weight:   record.Steps.Weight.Of(r),
		Done:     record.Steps.Done.Of(r),
		Source:   r.Source,
	}
}

// itemOf is a piece of the work that an activity counts.
func itemOf(r *portfolio.Row, activity int) portfolio.Item {
	return portfolio.Item{
		Activity: activity,
		Code:     record.Items.Item.Of(r),
		Size:     record.Items.Size.Of(r),
		Dropped:  record.Items.State.Of(r) == "dropped",
		Created:  record.Items.Created.Of(r),
		Accepted: record.Items.Accepted.Of(r),
		Source:   r.Source,
	}
}

// fill decodes the parts of one project into it. Bodies missing from the map
// are left pending where the kind allows it.
func fill(p *portfolio.Project, stated []store.Stated, bodies map[int64][]byte) error {
	rows := func(k portfolio.PartKind, b []byte, f func(*portfolio.Row)) error {
		t := record.OfPart(k)
		list, err := format.DecodeRows(b, len(t.Columns))
		for i := range list {
			f(&list[i])
		}
		return err
	}
	at := make(map[int64]int) // activity id to index
	index := func(id int64) int {
		if i, ok := at[id]; ok {
			return i
		}
		return -1
	}
	for _, s := range stated { // activities come first, their kind being the lowest
		body, loaded := bodies[s.ID]
		var err error
		switch s.Kind {
		case portfolio.ActivityPart:
			err = rows(
				s.Kind,
				body,
				func(r *portfolio.Row) { at[r.ID] = len(p.Activities); p.Activities = append(p.Activities, activity(r)) },
			)
			nest(p, at)
		case portfolio.BaselinePart:
			baselineOf(p, int(s.Version)).Rows, err = baselineRows(body, index)
		case portfolio.ProgressPart:
			pr := portfolio.Progress{Period: calendar.Period(s.Version)}
			err = rows(s.Kind, body, func(r *portfolio.Row) {
				if i := index(record.Progress.Activity.ID(r)); i >= 0 {
					pr.Rows = append(pr.Rows, progressRow(r, i))
				}
			})
			p.Progress = append(p.Progress, pr)
		case portfolio.RiskPart:
			err = rows(s.Kind, body, func(r *portfolio.Row) {
				p.Risks = append(p.Risks, riskOf(r, calendar.Period(s.Version)))
			})
		case portfolio.NarrativePart:
			err = rows(s.Kind, body, func(r *portfolio.Row) {
				p.Narratives = append(p.Narratives, narrativeOf(r, calendar.Period(s.Version)))
			})
		case portfolio.StepPart:
			err = rows(s.Kind, body, func(r *portfolio.Row) {
				p.Steps = append(p.Steps, stepOf(r, index(record.Steps.Activity.ID(r))))
			})
		case portfolio.ItemPart:
			err = rows(s.Kind, body, func(r *portfolio.Row) {
				p.Items = append(p.Items, itemOf(r, index(record.Items.Activity.ID(r))))
			})
		case portfolio.LinkPart:
			err = rows(s.Kind, body, func(r *portfolio.Row) {
				from, to := *record.Links.From.In(r), *record.Links.To.In(r)
				i, j := link(from, p.Code, index), link(to, p.Code, index)
				switch {
				case i >= 0 && j >= 0:
					p.Links = append(
						p.Links,
						portfolio.Link{
							From:   i,
							To:     j,
							Type:   record.Links.Type.Or(r),
							Lag:    int(record.Links.Lag.Of(r)),
							Source: r.Source,
						},
					)
				case i >= 0:
					p.Across = append(p.Across, across(r, i, to, false))
				case j >= 0:
					p.Across = append(p.Across, across(r, j, from, true))
				}
			})
		default:
			err = lines(p, s, body, loaded)
		}
		if err != nil {
			return fmt.Errorf("project %s, %s %d: %w", p.Code, s.Kind, s.Version, err)
		}
	}
	for i := range p.Baselines {
		sort.Slice(
			p.Baselines[i].Rows,
			func(a, b int) bool { return p.Baselines[i].Rows[a].Activity < p.Baselines[i].Rows[b].Activity },
		)
	}
	slices.SortFunc(p.Baselines, func(a, b portfolio.Baseline) int { return a.Number - b.Number })
	return nil
}

func across(r *portfolio.Row, here int, end portfolio.Field, into bool) portfolio.Across {
	other, code, _ := strings.Cut(end.Text, "/")
	return portfolio.Across{
		Here:     here,
		Other:    other,
		Code:     code,
		Activity: end.Int,
		Into:     into,
		Type:     record.Links.Type.Or(r),
		Lag:      int(record.Links.Lag.Of(r)),
		Source:   r.Source,
	}
}

// baselineRows decodes what a baseline says of activities.
func baselineRows(body []byte, index func(int64) int) (out []portfolio.BaselineRow, err error) {
	t := record.ActivityBaselines.Kind
	list, err := format.DecodeRows(body, len(t.Columns))
	for i := range list {
		r := &list[i]
		if k := index(record.ActivityBaselines.Activity.ID(r)); k >= 0 {
			out = append(
				out,
				portfolio.BaselineRow{
					Activity:  k,
					HasBudget: record.ActivityBaselines.Budget.Said(r),
					Budget:    record.ActivityBaselines.Budget.Of(r),
					Start:     record.ActivityBaselines.BaselineStart.Of(r),
					Finish:    record.ActivityBaselines.BaselineFinish.Of(r),
					Source:    r.Source,
				},
			)
		}
	}
	return out, err
}

// link gives the place of an end of a link, or -1 for one of another project.
func link(f portfolio.Field, project string, index func(int64) int) int {
	if other, _, across := strings.Cut(f.Text, "/"); across && other != project {
		return -1
	}
	return index(f.Int)
}

func activity(r *portfolio.Row) portfolio.Activity {
	return portfolio.Activity{
		ID: r.ID, Code: record.Activities.Activity.Of(r), Name: record.Activities.NameCol.Of(r), Parent: int(record.Activities.Parent.ID(r)), Kind: portfolio.Kind(record.Activities.KindCol.Or(r)), Level: record.Activities.Level.Or(r), Rule: record.Activities.Rule.Or(r),
		Start: record.Activities.Start.Of(
			r,
		), Finish: record.Activities.Finish.Of(r), Units: record.Activities.Units.Of(r), Owner: record.Activities.Owner.Of(r), Source: r.Source,
	}
}

// nest turns the ids of parents into places and marks the leaves.
func nest(p *portfolio.Project, at map[int64]int) {
	for i := range p.Activities {
		a := &p.Activities[i]
		a.Leaf = a.Kind == portfolio.Task
		if j, ok := at[int64(a.Parent)]; ok && a.Parent != 0 {
			a.Parent = j
		} else {
			a.Parent = -1
		}
	}
	for i := range p.Activities {
		if j := p.Activities[i].Parent; j >= 0 {
			p.Activities[j].Leaf = false
		}
	}
}

func baselineOf(p *portfolio.Project, n int) *portfolio.Baseline {
	for i := range p.Baselines {
		if p.Baselines[i].Number == n {
			return &p.Baselines[i]
		}
	}
	p.Baselines = append(p.Baselines, portfolio.Baseline{Number: n})
	return &p.Baselines[len(p.Baselines)-1]
}

func lines(p *portfolio.Project, s store.Stated, body []byte, loaded bool) error {
	v := portfolio.Version{Number: int(s.Version)}
	if !loaded {
		v.Pending = s.ID
	} else {
		var err error
		if v.Lines, err = format.DecodeLines(body); err != nil {
			return err
		}
	}
	switch s.Kind {
	case portfolio.PlanPart:
		p.Plan = append(p.Plan, v)
	case portfolio.ForecastPart:
		p.Forecast = append(p.Forecast, v)
	case portfolio.CommitmentPart:
		p.Commitment = append(p.Commitment, v)
	case portfolio.AccrualPart:
		p.Accrual = append(p.Accrual, v.Lines...)
	case portfolio.ActualPart:
		p.Actual = append(p.Actual, v.Lines...)
	case portfolio.LedgerPart:
		p.Ledger = append(p.Ledger, v.Lines...)
	}
	return nil
}

func sortProjects(m map[int64]*portfolio.Project) []*portfolio.Project {
	out := make([]*portfolio.Project, 0, len(m))
	for _, p := range m {
		out = append(out, p)
	}
	slices.SortFunc(out, func(a, b *portfolio.Project) int { return strings.Compare(a.Code, b.Code) })
	return out
}

// inState gives the periods that are in a state: closed, or in checking.
func (rec Records) inState(state string) map[calendar.Period]bool {
	out := make(map[calendar.Period]bool)
	rec.each(record.Periods.Kind, func(r *portfolio.Row) {
		if record.Periods.State.Of(r) == state {
			out[record.Periods.Period.Of(r)] = true
		}
	})
	return out
}
