package book

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
	refers := func(c record.Column) bool { return c.Type == record.ProjectRef }
	if slices.ContainsFunc(record.Named(name).Columns, refers) {
		rec.linkBy(name, map[record.Type]map[int64]string{record.ProjectRef: rec.codes("projects")})
	}
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
		Discount:  -1,
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
	rec.stating(o)
	rec.common(o)
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
	o.CodeLevels, o.ReadOwn = make(map[string]int), make(map[string]bool)
	o.MovedLimit, o.NearCritical, o.Remind = portfolio.StandardMovedLimit, portfolio.StandardNearCritical, portfolio.StandardReminding
	rec.each(record.Settings.Kind, func(r *portfolio.Row) {
		switch days, bad := record.DaysOf(record.Settings.Value.Of(r)); {
		case bad != "":
		case record.Settings.Setting.Of(r) == record.RemindBefore:
			o.Remind.Before = days
		case record.Settings.Setting.Of(r) == record.RemindAfter:
			o.Remind.After = days
		}
		if record.Settings.Setting.Of(r) == record.SecondFactor {
			o.Second = strings.Fields(record.Settings.Value.Of(r))
		}
		if record.Settings.Setting.Of(r) == record.NearCritical {
			if n, err := strconv.Atoi(record.Settings.Value.Of(r)); err == nil {
				o.NearCritical = n
			}
		}
		if record.Settings.Setting.Of(r) == record.DiscountRate {
			if n, err := money.ParseScaled(record.Settings.Value.Of(r), portfolio.QuantityScale); err == nil && record.Settings.Value.Of(r) != "" {
				o.Discount = n
			}
		}
		if record.Settings.Setting.Of(r) == record.AccessDays {
			o.AccessDays, _ = strconv.Atoi(record.Settings.Value.Of(r)) // what was taken is a number, or nothing
		}
		if role := record.ReadBy(record.Settings.Setting.Of(r)); role != "" {
			o.ReadOwn[role] = record.Settings.Value.Of(r) == record.ReadOwn
		}
		if record.Settings.Setting.Of(r) == record.MovedLimit {
			if n, err := strconv.ParseFloat(record.Settings.Value.Of(r), 64); err == nil && n > 1 {
				o.MovedLimit = n
			}
		}
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

func sortProjects(m map[int64]*portfolio.Project) []*portfolio.Project {
	out := make([]*portfolio.Project, 0, len(m))
	for _, p := range m {
		if p.State != portfolio.Template {
			out = append(out, p)
		}
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

// stating reads what projects owe, and who states it beside their leads.
func (rec Records) stating(o *portfolio.Office) {
	rec.each(record.Owing.Kind, func(r *portfolio.Row) {
		kind, _ := portfolio.PartKindNamed(record.Owing.Statement.Of(r))
		o.Owing = append(o.Owing, portfolio.Owing{
			Scope: record.Owing.Scope.Of(r), Kind: kind, Stage: record.Owing.Stage.Of(r), State: portfolio.State(record.Owing.State.Of(r)),
			From: record.Owing.From.Of(r), Owed: record.Owing.Owed.Or(r) == "yes", Every: int(record.Owing.Every.Of(r)),
		})
	})
	rec.each(record.Rights.Kind, func(r *portfolio.Row) {
		kinds, _ := portfolio.KindsNamed(record.Rights.Kinds.Of(r))
		if record.Rights.State.Or(r) == "given" {
			o.Grants = append(o.Grants, portfolio.Grant{
				Account: record.Rights.Account.Of(r), Lets: lets[record.Rights.Right.Of(r)],
				Scope: record.Rights.Scope.Of(r), Kinds: kinds,
			})
		}
	})
	rec.each(record.Stating.Kind, func(r *portfolio.Row) {
		kinds, _ := record.KindsOf(record.Stating.Kinds.Of(r))
		o.Stating = append(o.Stating, portfolio.Stating{
			Project: record.Stating.Project.ID(r), Account: record.Stating.Account.Of(r), Kinds: kinds,
			From: record.Stating.From.Of(r), Until: record.Stating.Until.Of(r),
		})
	})
}

// lets are what the rights of a record let do.
var lets = map[string]portfolio.Lets{
	record.Reading: portfolio.LetsRead, record.Approving: portfolio.LetsApprove, record.Administering: portfolio.LetsAdminister,
}
