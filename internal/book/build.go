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
	"turret/internal/store"
	"turret/internal/store/format"
)

// Records are the rows of every table of records, by table name. References
// have both id and code.
type Records map[string][]portfolio.Row

// field gives a named field of a row; the zero Field where it says nothing.
func field(t *portfolio.Table, r *portfolio.Row, name string) portfolio.Field {
	f := r.Fields[t.Index(name)]
	if f.Said != portfolio.Value {
		return portfolio.Field{}
	}
	return f
}

// row reads the fields of rows of one table by name.
type row struct {
	t *portfolio.Table
	*portfolio.Row
}

func (r row) text(name string) string { return field(r.t, r.Row, name).Text }
func (r row) int(name string) int64   { return field(r.t, r.Row, name).Int }
func (r row) date(name string) calendar.Date {
	return calendar.Date(field(r.t, r.Row, name).Int)
}
func (r row) said(name string) portfolio.Field { return r.Fields[r.t.Index(name)] }

func (r row) mark(name string) portfolio.Mark {
	f := r.said(name)
	return portfolio.Mark{Said: f.Said, Int: f.Int}
}

func (r row) or(name string) string {
	if s := r.text(name); s != "" {
		return s
	}
	return r.t.Columns[r.t.Index(name)].Default
}

func (rec Records) each(table string, f func(row)) {
	t := portfolio.TableNamed(table)
	for i := range rec[table] {
		f(row{t, &rec[table][i]})
	}
}

// link fills in the codes of references.
func (rec Records) link() {
	codes := map[portfolio.Type]map[int64]string{
		portfolio.ProgrammeRef: rec.codes("programmes"), portfolio.CostCodeRef: rec.codes("cost_codes"), portfolio.ProjectRef: rec.codes("projects"), portfolio.CentreRef: rec.codes("cost_centres"),
	}
	for name := range rec {
		rec.linkBy(name, codes)
	}
}

// linkTable fills in the codes of one table's references.
func (rec Records) linkTable(name string) {
	rec.linkBy(name, map[portfolio.Type]map[int64]string{portfolio.ProjectRef: rec.codes("projects")})
}

func (rec Records) linkBy(name string, codes map[portfolio.Type]map[int64]string) {
	t, rows := portfolio.TableNamed(name), rec[name]
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
	rec.each("settings", func(r row) {
		if r.text("setting") == name {
			value = r.text("value")
		}
	})
	return value
}

// office builds what all projects share.
func (rec Records) office() (*portfolio.Office, error) {
	o := &portfolio.Office{Name: rec.Setting("name"), Calendar: rec.Setting("calendar"), Calendars: make(map[string]*calendar.Calendar), Codes: make(map[int64]portfolio.CostCode), Due: make(map[string]int), Centres: make(map[string]portfolio.Centre)}
	var ok bool
	if o.Reporting, ok = money.ParseCurrency(rec.Setting("reporting_currency")); !ok {
		o.Reporting = "EUR"
	}
	var err error
	if o.Periods, err = rec.Periods(); err != nil {
		return nil, err
	}
	rec.each("due_days", func(r row) {
		if r.said("days").Said == portfolio.Value {
			o.Due[r.text("statement")] = int(r.int("days"))
		}
	})
	o.Rates = money.NewRates(o.Reporting)
	var bad error
	rec.each("rates", func(r row) {
		rate, err := money.ParseRate(r.text("rate"))
		if err != nil {
			bad = err
			return
		}
		set := money.PeriodRates
		if r.or("set") == "plan" {
			set = money.PlanRates
		}
		o.Rates.Put(money.Currency(r.text("currency")), set, int(r.int("period")), rate)
	})
	rec.each("cost_codes", func(r row) {
		o.Codes[r.ID] = portfolio.CostCode{Code: r.text("cost_code"), Name: r.text("name"), Parent: r.int("parent"), Reserve: r.or("reserve")}
	})
	rec.each("cost_centres", func(r row) {
		o.Centres[r.text("cost_centre")] = portfolio.Centre{Name: r.text("name"), Parent: r.text("parent")}
	})
	rec.each("programmes", func(r row) {
		o.Groups = append(o.Groups, portfolio.Programme{ID: r.ID, Code: r.text("programme"), Name: r.text("name"), Parent: r.text("parent"), Owner: r.text("owner")})
	})
	o.CodeLevels = make(map[string]int)
	rec.each("settings", func(r row) {
		if role, ok := strings.CutPrefix(r.text("setting"), "code_level_"); ok {
			if n, err := strconv.Atoi(r.text("value")); err == nil {
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
	rec.each("boundaries", func(r row) {
		if b := (calendar.Bound{Code: r.text("period"), Name: r.text("name"), First: r.date("first"), Last: r.date("last")}); b.First != 0 || b.Last != 0 {
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
	rec.each("calendars", func(r row) {
		code := r.text("calendar")
		d := all[code]
		if d == nil {
			d = &days{}
			all[code] = d
		}
		if r.or("state") == "off" {
			return
		}
		if wd, ok := calendar.ParseWeekday(r.text("day")); ok && r.text("kind") == "week" {
			d.week[wd], d.hasWeek = true, true
		} else if day, err := calendar.ParseDate(r.text("day")); err == nil {
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

// fill decodes the parts of one project into it. Bodies missing from the map
// are left pending where the kind allows it.
func fill(p *portfolio.Project, stated []store.Stated, bodies map[int64][]byte) error {
	rows := func(k portfolio.PartKind, b []byte, f func(row)) error {
		t := k.Table()
		list, err := format.DecodeRows(b, len(t.Columns))
		for i := range list {
			f(row{t, &list[i]})
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
			err = rows(s.Kind, body, func(r row) { at[r.ID] = len(p.Activities); p.Activities = append(p.Activities, activity(r)) })
			nest(p, at)
		case portfolio.BaselinePart:
			baselineOf(p, int(s.Version)).Rows, err = baselineRows(body, index)
		case portfolio.ProgressPart:
			pr := portfolio.Progress{Period: calendar.Period(s.Version)}
			err = rows(s.Kind, body, func(r row) {
				if i := index(r.int("activity")); i >= 0 {
					pr.Rows = append(pr.Rows, portfolio.ProgressRow{Activity: i, Percent: r.mark("percent"), Start: r.mark("start"), Finish: r.mark("finish"), Began: r.mark("actual_start"), Done: r.mark("actual_finish"), Units: r.mark("units_done"), Note: r.text("note"), Source: r.Source})
				}
			})
			p.Progress = append(p.Progress, pr)
		case portfolio.RiskPart:
			err = rows(s.Kind, body, func(r row) {
				p.Risks = append(p.Risks, portfolio.RiskStatement{Period: calendar.Period(s.Version), Risk: r.text("risk"), Kind: r.said("kind"), Title: r.said("title"), Likelihood: r.said("likelihood"), Impact: r.said("impact"), Owner: r.said("owner"), Due: r.said("due"), State: r.said("state"), Response: r.said("response"), Source: r.Source})
			})
		case portfolio.NarrativePart:
			err = rows(s.Kind, body, func(r row) {
				p.Narratives = append(p.Narratives, portfolio.Narrative{Period: calendar.Period(s.Version), Section: r.text("section"), Text: r.text("text"), Stated: r.text("stated_standing"), Source: r.Source})
			})
		case portfolio.StepPart:
			err = rows(s.Kind, body, func(r row) {
				p.Steps = append(p.Steps, portfolio.Step{Activity: index(r.int("activity")), Code: r.text("step"), Weight: r.int("weight"), Done: r.date("done"), Source: r.Source})
			})
		case portfolio.ItemPart:
			err = rows(s.Kind, body, func(r row) {
				p.Items = append(p.Items, portfolio.Item{Activity: index(r.int("activity")), Code: r.text("item"), Size: r.int("size"), Dropped: r.text("state") == "dropped", Created: r.date("created"), Accepted: r.date("accepted"), Source: r.Source})
			})
		case portfolio.LinkPart:
			err = rows(s.Kind, body, func(r row) {
				from, to := r.said("from"), r.said("to")
				i, j := link(from, p.Code, index), link(to, p.Code, index)
				switch {
				case i >= 0 && j >= 0:
					p.Links = append(p.Links, portfolio.Link{From: i, To: j, Type: r.or("type"), Lag: int(r.int("lag")), Source: r.Source})
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
		sort.Slice(p.Baselines[i].Rows, func(a, b int) bool { return p.Baselines[i].Rows[a].Activity < p.Baselines[i].Rows[b].Activity })
	}
	slices.SortFunc(p.Baselines, func(a, b portfolio.Baseline) int { return a.Number - b.Number })
	return nil
}

func across(r row, here int, end portfolio.Field, into bool) portfolio.Across {
	other, code, _ := strings.Cut(end.Text, "/")
	return portfolio.Across{Here: here, Other: other, Code: code, Activity: end.Int, Into: into, Type: r.or("type"), Lag: int(r.int("lag")), Source: r.Source}
}

// baselineRows decodes what a baseline says of activities.
func baselineRows(body []byte, index func(int64) int) (out []portfolio.BaselineRow, err error) {
	t := portfolio.BaselineRows
	list, err := format.DecodeRows(body, len(t.Columns))
	for i := range list {
		r := row{t, &list[i]}
		if k := index(r.int("activity")); k >= 0 {
			out = append(out, portfolio.BaselineRow{Activity: k, HasBudget: r.said("budget").Said == portfolio.Value, Budget: r.int("budget"), Start: r.date("baseline_start"), Finish: r.date("baseline_finish"), Source: r.Source})
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

func activity(r row) portfolio.Activity {
	return portfolio.Activity{
		ID: r.ID, Code: r.text("activity"), Name: r.text("name"), Parent: int(r.int("parent")), Kind: portfolio.Kind(r.or("kind")), Level: r.or("level"), Rule: r.or("rule"),
		Start: r.date("start"), Finish: r.date("finish"), Units: r.int("units"), Owner: r.text("owner"), Source: r.Source,
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
	rec.each("periods", func(r row) {
		if r.text("state") == state {
			out[calendar.Period(r.int("period"))] = true
		}
	})
	return out
}
