package record

import (
	"fmt"
	"maps"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// office is a run over an office that a test describes.
type office struct {
	closed    calendar.Period // the last period that is closed
	stated    bool
	paid      bool
	decided   bool
	reporting money.Currency // as the run leaves it; EUR unless said
	rows      map[string][]portfolio.Row
	closes    []calendar.Period
}

func (o *office) Closed(p calendar.Period) bool       { return p <= o.closed }
func (o *office) PeriodCode(p calendar.Period) string { return fmt.Sprintf("period %d", p) }
func (o *office) PeriodName(p calendar.Period) string { return fmt.Sprintf("Period %d", p) }
func (o *office) FiscalStart() int                    { return 4 }
func (o *office) ReportedIn() money.Currency          { return "EUR" }
func (o *office) Stated() bool                        { return o.stated }
func (o *office) Paid(int64) bool                     { return o.paid }
func (o *office) Role(name string) bool               { return name == "viewer" }
func (o *office) Decided() bool                       { return o.decided }
func (o *office) Another(name string) bool            { return name == "other" }
func (o *office) Close(p calendar.Period)             { o.closes = append(o.closes, p) }
func (o *office) Reporting() money.Currency {
	if o.reporting != "" {
		return o.reporting
	}
	return "EUR"
}

func (o *office) Known(k *Kind, code string) bool {
	for _, r := range o.rows[k.Name] {
		if r.Fields[0].Text == code {
			return true
		}
	}
	return false
}

func (o *office) Each(k *Kind, do func(*portfolio.Row)) {
	for i := range o.rows[k.Name] {
		do(&o.rows[k.Name][i])
	}
}

// says is a row by the names of columns: a text, a number, or nil for a cell that
// says there is none.
type says map[string]any

func (s says) row(k *Kind) portfolio.Row {
	r := portfolio.Row{Fields: make([]portfolio.Field, len(k.Columns))}
	for name, v := range s {
		at := k.Index(name)
		if at < 0 {
			panic(k.Name + " has no column " + name)
		}
		f := portfolio.Field{Said: portfolio.Value}
		switch v := v.(type) {
		case nil:
			f.Said = portfolio.None
		case string:
			f.Text = v
		case int:
			f.Int = int64(v)
		}
		r.Fields[at] = f
	}
	return r
}

// with is a row that differs from another in some columns.
func (s says) with(other says) says {
	out := maps.Clone(s)
	maps.Copy(out, other)
	return out
}

// without is a row that says nothing in some columns.
func (s says) without(columns ...string) says {
	out := maps.Clone(s)
	for _, c := range columns {
		delete(out, c)
	}
	return out
}

// The office of the table: periods up to 100 are closed, one programme, one
// project and one check and dimension of its own.
func someOffice() *office {
	return &office{closed: 100, rows: map[string][]portfolio.Row{
		"programmes": {says{"programme": "north"}.row(Programmes.Kind)},
		"projects":   {says{"project": "K1"}.row(Projects.Kind)},
		"checks":     {says{"check": "ours"}.row(Checks.Kind)},
		"dimensions": {says{"dimension": "supply"}.row(Dimensions.Kind)},
	}}
}

var (
	rule = says{
		"dimension": "cost",
		"reading":   "cpi",
		"from":      101,
		"direction": "below",
		"watch":     "0.95",
		"act":       "0.9",
	}
	override = says{"dimension": "cost", "from": 101, "until": 103, "standing": "act", "reason": "late"}
	answer   = says{"check": "ours", "answer": "accepted", "from": 101, "until": 103, "reason": "known"}
	off      = says{"check": "ours", "from": 101, "until": 103, "reason": "known"}
	own      = says{
		"check":      "mine",
		"from":       101,
		"title":      "Ours",
		"over":       "project",
		"expression": "cpi < 0.5",
		"says":       "it is {cpi}",
	}
)

// TestWhatIsRefused goes through what each kind refuses: the column it points to
// and words of the reason; no column where the row is taken.
func TestWhatIsRefused(t *testing.T) {
	for _, c := range []struct {
		what   string
		kind   *Kind
		row    says
		was    says
		same   bool
		over   func(*office)
		column string
		why    string
	}{
		{what: "a period closes", kind: Periods.Kind, row: says{"period": 101, "state": "closed"}},
		{what: "a closed period stays so", kind: Periods.Kind, row: says{"period": 100, "state": "closed"}},
		{what: "a closed period opens", kind: Periods.Kind, row: says{"period": 100, "state": "open"}, column: "state", why: "Period 100 is closed; reopen it"},
		{what: "a closed period goes in checking", kind: Periods.Kind, row: says{"period": 100, "state": "in checking"}, column: "state", why: "reopen"},

		{what: "a rule", kind: Rules.Kind, row: rule},
		{what: "a rule of the office's dimension", kind: Rules.Kind, row: rule.with(says{"dimension": "supply"})},
		{what: "a rule of an unknown dimension", kind: Rules.Kind, row: rule.with(says{"dimension": "tide"}), column: "dimension", why: `"tide" is not a dimension; there are dates, cost, progress, risk, crew, data, supply`},
		{what: "a rule of overall", kind: Rules.Kind, row: rule.with(says{"dimension": "overall"}), column: "dimension", why: "is not a dimension"},
		{what: "a rule in a closed period", kind: Rules.Kind, row: rule.with(says{"from": 100}), column: "from", why: "period 100 is closed; let the rule take effect"},
		{what: "the same rule in a closed period", kind: Rules.Kind, row: rule.with(says{"from": 100}), same: true},
		{what: "a rule of a programme", kind: Rules.Kind, row: rule.with(says{"scope": "north"})},
		{what: "a rule of a project", kind: Rules.Kind, row: rule.with(says{"scope": "K1"})},
		{what: "a rule of nobody", kind: Rules.Kind, row: rule.with(says{"scope": "K9"}), column: "scope", why: `"K9" is neither`},
		{what: "a limit that is no number", kind: Rules.Kind, row: rule.with(says{"watch": "some"}), column: "watch", why: "some"},
		{what: "an act limit that is no number", kind: Rules.Kind, row: rule.with(says{"act": "some"}), column: "act", why: "some"},
		{what: "limits that cross", kind: Rules.Kind, row: rule.with(says{"watch": "0.8"}), column: "act", why: "swap them"},
		{what: "limits that meet", kind: Rules.Kind, row: rule.with(says{"watch": "0.9"})},
		{what: "a rule of money", kind: Rules.Kind, row: rule.with(says{"reading": "bac"}), column: "reading", why: "limits are for shares"},
		{what: "a rule of a day", kind: Rules.Kind, row: rule.with(says{"reading": "finish_stated"}), column: "reading", why: "limits are for shares"},
		{what: "an expression with a title", kind: Rules.Kind, row: rule.with(says{"reading": "cpi * spi", "title": "Both"})},
		{what: "an expression without", kind: Rules.Kind, row: rule.with(says{"reading": "cpi * spi"}), column: "title", why: "needs a title"},
		{what: "an expression with a blank title", kind: Rules.Kind, row: rule.with(says{"reading": "cpi * spi", "title": "  "}), column: "title", why: "needs a title"},
		{what: "an expression that does not read", kind: Rules.Kind, row: rule.with(says{"reading": "cpi *", "title": "Both"}), column: "reading", why: "as an expression"},
		{what: "an expression of money", kind: Rules.Kind, row: rule.with(says{"reading": "bac - ev", "title": "Rest"}), column: "reading", why: "limits are for shares"},

		{what: "a dimension", kind: Dimensions.Kind, row: says{"dimension": "berths", "title": "Berths"}},
		{what: "a weight of overall", kind: Dimensions.Kind, row: says{"dimension": "overall", "weight": 2}, column: "dimension", why: "overall does not count"},
		{what: "a weight of data", kind: Dimensions.Kind, row: says{"dimension": "data", "weight": 2}, column: "dimension", why: "data does not count"},
		{what: "a weight of cost", kind: Dimensions.Kind, row: says{"dimension": "cost", "weight": 2}},
		{what: "a dimension with a space", kind: Dimensions.Kind, row: says{"dimension": "sea bed"}, column: "dimension", why: "no spaces"},
		{what: "a dimension with a comma", kind: Dimensions.Kind, row: says{"dimension": "a,b"}, column: "dimension", why: "no spaces"},
		{what: "a dimension with a slash", kind: Dimensions.Kind, row: says{"dimension": "a/b"}, column: "dimension", why: "no spaces"},
		{what: "a dimension without a code", kind: Dimensions.Kind, row: says{"dimension": nil}, column: "dimension", why: "no spaces"},

		{what: "an override", kind: Overrides.Kind, row: override},
		{what: "an override of overall", kind: Overrides.Kind, row: override.with(says{"dimension": "overall"})},
		{what: "an override of the office's dimension", kind: Overrides.Kind, row: override.with(says{"dimension": "supply"})},
		{what: "an override of nothing known", kind: Overrides.Kind, row: override.with(says{"dimension": "tide"}), column: "dimension", why: "supply, and overall"},
		{what: "an override without an end", kind: Overrides.Kind, row: override.without("until"), column: "until", why: "needs a last period"},
		{what: "an override without a standing", kind: Overrides.Kind, row: override.without("standing"), column: "standing", why: "a standing and a reason"},
		{what: "an override without a reason", kind: Overrides.Kind, row: override.without("reason"), column: "reason", why: "a reason"},
		{what: "an override of one period", kind: Overrides.Kind, row: override.with(says{"until": 101})},
		{what: "an override that ends before it begins", kind: Overrides.Kind, row: override.with(says{"from": 104}), column: "until", why: "before the first"},
		{what: "an override in a closed period", kind: Overrides.Kind, row: override.with(says{"from": 100}), column: "from", why: "let the override take effect"},
		{what: "the same override in a closed period", kind: Overrides.Kind, row: override.with(says{"from": 100}), same: true},
		{what: "an override that ends sooner", kind: Overrides.Kind, was: override.with(says{"from": 99}), row: override.with(says{"from": 99, "until": 101})},
		{what: "an override that ends with the last closed period", kind: Overrides.Kind, was: override.with(says{"from": 99}), row: override.with(says{"from": 99, "until": 100, "reason": "over"})},
		{what: "an override that ends in the midst of closed ones", kind: Overrides.Kind, was: override.with(says{"from": 98}), row: override.with(says{"from": 98, "until": 99}), column: "until", why: "the periods after that are closed"},
		{what: "an older override with another standing", kind: Overrides.Kind, was: override.with(says{"from": 99}), row: override.with(says{"from": 99, "standing": "watch"}), column: "from", why: "is closed"},

		{what: "a question", kind: Questions.Kind, row: says{"text": "Why?"}},
		{what: "a question about a figure", kind: Questions.Kind, row: says{"text": "Why?", "about": "figure eac"}},
		{what: "a question about a statement", kind: Questions.Kind, row: says{"text": "Why?", "about": "forecast"}},
		{what: "a question about a nameless figure", kind: Questions.Kind, row: says{"text": "Why?", "about": "figure"}, column: "about", why: "with a name behind"},
		{what: "a question about a named forecast", kind: Questions.Kind, row: says{"text": "Why?", "about": "forecast 7"}, column: "about", why: "nothing that a question"},
		{what: "a question about the weather", kind: Questions.Kind, row: says{"text": "Why?", "about": "weather"}, column: "about", why: "nothing that a question"},
		{what: "a question that asks nothing", kind: Questions.Kind, row: says{"text": " "}, column: "text", why: "what is asked"},
		{what: "a reply", kind: Replies.Kind, row: says{"text": "So."}},
		{what: "a reply that says nothing", kind: Replies.Kind, row: says{"text": "  "}, column: "text", why: "what is answered"},
		{what: "one let in", kind: LetIn.Kind, row: says{"period": 101, "reason": "steel"}},
		{what: "one let in without a reason", kind: LetIn.Kind, row: says{"period": 101}, column: "reason", why: "still to be stated"},
		{what: "one shut out without a reason", kind: LetIn.Kind, row: says{"period": 101, "state": "shut"}},
		{what: "one let into a closed period", kind: LetIn.Kind, row: says{"period": 100, "reason": "steel"}, column: "period", why: "period 100 is closed"},
		{what: "one that was let in before it closed", kind: LetIn.Kind, row: says{"period": 100, "reason": "steel"}, same: true},
		{what: "a template", kind: Projects.Kind, row: says{"project": "T", "state": "template"}},
		{what: "a template that stays one", kind: Projects.Kind, was: says{"project": "T", "state": "template"}, row: says{"project": "T", "state": "template", "name": "Works"}},
		{what: "a project that would be a template", kind: Projects.Kind, was: says{"project": "T", "state": "active"}, row: says{"project": "T", "state": "template"}, column: "state", why: "does not become a template"},
		{what: "a template that would run", kind: Projects.Kind, was: says{"project": "T", "state": "template"}, row: says{"project": "T", "state": "active"}, column: "state", why: "never runs"},
		{what: "days of reminders", kind: Settings.Kind, row: says{"setting": "remind_after", "value": "1, 4;60 0"}},
		{what: "no reminders", kind: Settings.Kind, row: says{"setting": "remind_before", "value": ""}},
		{what: "a reminder on no day", kind: Settings.Kind, row: says{"setting": "remind_before", "value": "1 soon"}, column: "value", why: `"soon" is no number of days`},
		{what: "a reminder too far off", kind: Settings.Kind, row: says{"setting": "remind_after", "value": "61"}, column: "value", why: `"61" is no number of days`},
		{what: "a reminder before none", kind: Settings.Kind, row: says{"setting": "remind_after", "value": "-1"}, column: "value", why: `"-1" is no number of days`},

		{what: "a name", kind: Settings.Kind, row: says{"setting": "name", "value": "Harbour"}},
		{what: "the usual calendar", kind: Settings.Kind, row: says{"setting": "calendar", "value": "site"}},
		{what: "a currency", kind: Settings.Kind, row: says{"setting": "reporting_currency", "value": "NOK"}},
		{what: "no currency", kind: Settings.Kind, row: says{"setting": "reporting_currency", "value": "kroner"}, column: "value", why: "ISO 4217"},
		{what: "another currency over statements", kind: Settings.Kind, row: says{"setting": "reporting_currency", "value": "NOK"}, over: func(o *office) { o.stated = true }, column: "value", why: "cannot change"},
		{what: "another currency over rates", kind: Settings.Kind, row: says{"setting": "reporting_currency", "value": "NOK"}, over: func(o *office) { o.rows["rates"] = make([]portfolio.Row, 1) }, column: "value", why: "cannot change"},
		{what: "the same currency over statements", kind: Settings.Kind, row: says{"setting": "reporting_currency", "value": "EUR"}, over: func(o *office) { o.stated = true }},
		{what: "a first month", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "12"}},
		{what: "the other first month", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "1"}},
		{what: "month 0", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "0"}, column: "value", why: "from 1 to 12"},
		{what: "month 13", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "13"}, column: "value", why: "from 1 to 12"},
		{what: "no month", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "May"}, column: "value", why: "from 1 to 12"},
		{what: "another month over statements", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "5"}, over: func(o *office) { o.stated = true }, column: "value", why: "cannot change"},
		{what: "the same month over statements", kind: Settings.Kind, row: says{"setting": "fiscal_start", "value": "4"}, over: func(o *office) { o.stated = true }},
		{what: "a level of a role", kind: Settings.Kind, row: says{"setting": "code_level_viewer", "value": "9"}},
		{what: "no level of a role", kind: Settings.Kind, row: says{"setting": "code_level_viewer", "value": ""}},
		{what: "level 1", kind: Settings.Kind, row: says{"setting": "code_level_viewer", "value": "1"}},
		{what: "level 0", kind: Settings.Kind, row: says{"setting": "code_level_viewer", "value": "0"}, column: "value", why: "from 1 to 9"},
		{what: "level 10", kind: Settings.Kind, row: says{"setting": "code_level_viewer", "value": "10"}, column: "value", why: "from 1 to 9"},
		{what: "a level of no role", kind: Settings.Kind, row: says{"setting": "code_level_nobody", "value": "1"}, column: "setting", why: "is not a setting"},
		{what: "no setting", kind: Settings.Kind, row: says{"setting": "viewer", "value": "1"}, column: "setting", why: "is not a setting"},

		{what: "an answer", kind: Answers.Kind, row: answer},
		{what: "an answer to a check of every office", kind: Answers.Kind, row: answer.with(says{"check": "baseline-missing"})},
		{what: "an answer to no check", kind: Answers.Kind, row: answer.with(says{"check": "none"}), column: "check", why: `"none" is not a check`},
		{what: "no answer", kind: Answers.Kind, row: answer.without("answer"), column: "answer", why: "accepted, sent back or withdrawn"},
		{what: "accepted for ever", kind: Answers.Kind, row: answer.without("until"), column: "until", why: "has an end"},
		{what: "sent back without an end", kind: Answers.Kind, row: answer.without("until").with(says{"answer": "sent back"})},
		{what: "sent back without a reason", kind: Answers.Kind, row: answer.with(says{"answer": "sent back", "reason": " "}), column: "reason", why: "which is kept"},
		{what: "withdrawn without a reason", kind: Answers.Kind, row: answer.without("reason").with(says{"answer": "withdrawn"})},
		{what: "an answer that ends before it begins", kind: Answers.Kind, row: answer.with(says{"until": 100}), column: "until", why: "before the first"},
		{what: "an answer in a closed period", kind: Answers.Kind, row: answer.with(says{"from": 100}), column: "from", why: "is closed"},

		{what: "a check off", kind: ChecksOff.Kind, row: off},
		{what: "no check off", kind: ChecksOff.Kind, row: off.with(says{"check": "none"}), column: "check", why: "is not a check"},
		{what: "off without a reason", kind: ChecksOff.Kind, row: off.with(says{"reason": " "}), column: "reason", why: "which is kept"},
		{what: "off until before it begins", kind: ChecksOff.Kind, row: off.with(says{"until": 100}), column: "until", why: "before the first"},
		{what: "off in a closed period", kind: ChecksOff.Kind, row: off.with(says{"from": 100}), column: "from", why: "is closed"},

		{what: "a check of the office's own", kind: Checks.Kind, row: own},
		{what: "a check in a closed period", kind: Checks.Kind, row: own.with(says{"from": 100}), column: "from", why: "is closed"},
		{what: "a check called as one of every office", kind: Checks.Kind, row: own.with(says{"check": "baseline-missing"}), column: "check", why: "give your own another code"},
		{what: "a check without a title", kind: Checks.Kind, row: own.with(says{"title": " "}), column: "title", why: "needs a title"},
		{what: "a check with a space", kind: Checks.Kind, row: own.with(says{"check": "my own"}), column: "check", why: "no spaces"},
		{what: "a check with a hash", kind: Checks.Kind, row: own.with(says{"check": "own#1"}), column: "check", why: "no spaces"},
		{what: "a check that does not read", kind: Checks.Kind, row: own.with(says{"expression": "cpi <"}), column: "expression"},
		{what: "a check that says what is not there", kind: Checks.Kind, row: own.with(says{"says": "it is {nothing}"}), column: "says"},
		{what: "a check of projects unless said", kind: Checks.Kind, row: own.without("over")},
		{what: "an unknown check without an expression", kind: Checks.Kind, row: own.without("expression"), column: "check", why: "is not a check"},
		{what: "the limit of a check", kind: Checks.Kind, row: says{"check": "statement-stale", "from": 101, "limit": "5"}},
		{what: "a limit of zero", kind: Checks.Kind, row: says{"check": "statement-stale", "from": 101, "limit": "0"}},
		{what: "a limit below zero", kind: Checks.Kind, row: says{"check": "statement-stale", "from": 101, "limit": "-1"}, column: "limit", why: "not below zero"},
		{what: "a limit that is no number", kind: Checks.Kind, row: says{"check": "statement-stale", "from": 101, "limit": "few"}, column: "limit", why: "few"},
		{what: "a limit of a check without", kind: Checks.Kind, row: says{"check": "baseline-missing", "from": 101, "limit": "1"}, column: "limit", why: "has no limit"},

		{what: "groups by share", kind: Policies.Kind, row: says{"policy": "groups", "from": 101, "how": "share"}},
		{what: "groups as usual", kind: Policies.Kind, row: says{"policy": "groups", "from": 101, "how": "usual"}, column: "how", why: "groups combine by"},
		{what: "overall as usual", kind: Policies.Kind, row: says{"policy": "overall", "from": 101, "how": "usual"}},
		{what: "a policy in a closed period", kind: Policies.Kind, row: says{"policy": "overall", "from": 100, "how": "usual"}, column: "from", why: "is closed"},

		{what: "a boundary", kind: Boundaries.Kind, row: says{"first": 1, "last": 2}},
		{what: "no boundary", kind: Boundaries.Kind, row: says{"first": nil, "last": nil}},
		{what: "half a boundary", kind: Boundaries.Kind, row: says{"first": 1, "last": nil}, column: "last", why: "both a first and a last day"},
		{what: "a weekday", kind: Calendars.Kind, row: says{"kind": "week", "day": "mon"}},
		{what: "a holiday", kind: Calendars.Kind, row: says{"kind": "holiday", "day": "2026-05-17"}},
		{what: "a week row with a day", kind: Calendars.Kind, row: says{"kind": "week", "day": "2026-05-17"}, column: "day", why: "mon … sun"},
		{what: "a holiday on a weekday", kind: Calendars.Kind, row: says{"kind": "holiday", "day": "mon"}, column: "day", why: "ISO date"},

		{what: "a project", kind: Projects.Kind, row: says{"project": "K2", "start": 10, "finish": 10}},
		{what: "a project without days", kind: Projects.Kind, row: says{"project": "K2", "start": 10}},
		{what: "a project that ends before it begins", kind: Projects.Kind, row: says{"project": "K2", "start": 10, "finish": 9}, column: "finish", why: "lies before start"},
		{what: "another currency before money", kind: Projects.Kind, was: says{"currency": "EUR"}, row: says{"currency": "NOK"}},
		{what: "another currency after money", kind: Projects.Kind, was: says{"currency": "EUR"}, row: says{"currency": "NOK"}, over: func(o *office) { o.paid = true }, column: "currency", why: "amounts are stated"},
		{what: "the same currency after money", kind: Projects.Kind, was: says{"currency": "EUR"}, row: says{"currency": "EUR"}, over: func(o *office) { o.paid = true }},

		{what: "a rate", kind: Rates.Kind, row: says{"currency": "NOK", "rate": "0.1"}},
		{what: "no rate", kind: Rates.Kind, row: says{"currency": "NOK", "rate": nil}, column: "rate", why: "above zero"},
		{what: "a rate of the reporting currency", kind: Rates.Kind, row: says{"currency": "EUR", "rate": "2"}, column: "currency", why: "is always 1"},
		{what: "a rate of what a run makes the reporting currency", kind: Rates.Kind, row: says{"currency": "NOK", "rate": "2"}, over: func(o *office) { o.reporting = "NOK" }, column: "currency", why: "NOK is the reporting currency"},

		{what: "a baseline proposed", kind: Baselines.Kind, row: says{"baseline": 2, "state": "proposed"}},
		{what: "a baseline approved of old", kind: Baselines.Kind, row: says{"baseline": 1, "state": "approved"}, same: true},
	} {
		t.Run(c.kind.Name+": "+c.what, func(t *testing.T) {
			o := someOffice()
			if c.over != nil {
				c.over(o)
			}
			row := c.row.row(c.kind)
			x := &Change{After: &row, Same: c.same}
			if c.was != nil {
				was := c.was.row(c.kind)
				x.Before = &was
			}
			column, why := c.kind.Refuse(o, x)
			require.Equal(t, c.column, column, why)
			if c.column == "" {
				require.Empty(t, why)
				return
			}
			require.NotEmpty(t, why)
			require.True(t, strings.Contains(why, c.why), "%q does not say %q", why, c.why)
			require.GreaterOrEqual(t, c.kind.Index(column), 0)
		})
	}
}

// TestClosingIsKnownToTheRun: a run learns of a period that it closes, once, and of
// no other.
func TestClosingIsKnownToTheRun(t *testing.T) {
	o := someOffice()
	for period, state := range map[int]string{99: "closed", 101: "closed", 102: "in checking", 103: "open"} {
		row := says{"period": period, "state": state}.row(Periods.Kind)
		_, why := Periods.Refuse(o, &Change{After: &row})
		require.Empty(t, why)
	}
	require.Equal(t, []calendar.Period{101}, o.closes)
}

// TestDimensionsOfTheOfficeAreFew: so many as fit, no more; those it has may change.
func TestDimensionsOfTheOfficeAreFew(t *testing.T) {
	o := &office{rows: map[string][]portfolio.Row{"dimensions": {says{"dimension": "cost"}.row(Dimensions.Kind)}}}
	taken := 0
	for i := range 40 {
		row := says{"dimension": fmt.Sprintf("own%d", i)}.row(Dimensions.Kind)
		o.rows["dimensions"] = append(o.rows["dimensions"], row)
		column, why := Dimensions.Refuse(o, &Change{After: &row})
		if column != "" {
			require.Contains(t, why, fmt.Sprintf("at most %d dimensions", taken))
			_, why = Dimensions.Refuse(o, &Change{Before: &row, After: &row})
			require.Empty(t, why)
			return
		}
		taken++
	}
	t.Fatal("dimensions without end")
}

// TestSharesAddUp: the shares of one money from one period on come to a hundred
// percent together; those of others do not count to them.
func TestSharesAddUp(t *testing.T) {
	share := says{"project": 1, "cost_code": 2, "from": 101, "cost_centre": "port", "percent": 40_000_000}
	row := share.row(Shares.Kind)
	set, n := Shares.Sum.Of(&row)
	require.Equal(t, int64(40*portfolio.Quantity), n)
	for _, c := range []struct {
		other says
		same  bool
	}{
		{share.with(says{"cost_centre": "rail", "percent": 60_000_000}), true},
		{share.with(says{"project": 3}), false},
		{share.with(says{"cost_code": 3}), false},
		{share.without("cost_code"), false},
		{share.with(says{"from": 102}), false},
	} {
		other := c.other.row(Shares.Kind)
		of, _ := Shares.Sum.Of(&other)
		require.Equal(t, c.same, of == set, c.other)
	}
	for sum, refused := range map[int64]bool{0: false, 100: false, 99: true, 101: true} {
		_, why := Shares.Sum.Refuse(someOffice(), &row, sum*portfolio.Quantity)
		require.Equal(t, refused, why != "", sum)
	}
}

// TestColumns: what a row says is read by the column, with what an empty cell
// means.
func TestColumns(t *testing.T) {
	row := says{"setting": "name", "value": nil}.row(Settings.Kind)
	require.True(t, Settings.Setting.Said(&row))
	require.False(t, Settings.Value.Said(&row))
	require.Equal(t, "", Settings.Value.Of(&row))
	require.Equal(t, portfolio.Mark{Said: portfolio.None}, Settings.Value.Mark(&row))
	weight := says{"weight": 3}.row(Dimensions.Kind)
	require.Equal(t, int64(3), Dimensions.Weight.Of(&weight))
	require.Equal(t, "no", Dimensions.Apart.Or(&weight), "what an empty cell means")
	apart := says{"apart": "yes", "weight": nil}.row(Dimensions.Kind)
	require.Equal(t, "yes", Dimensions.Apart.Or(&apart))
	require.Zero(t, Dimensions.Weight.Of(&apart))
	ref := says{"project": 7}.row(Overrides.Kind)
	require.Equal(t, int64(7), Overrides.Project.ID(&ref))
	require.Equal(t, 0, Overrides.Kind.Project())
	require.Equal(t, -1, Settings.Kind.Project())
	require.Equal(t, -1, Projects.Kind.Project())
	require.Equal(t, Overrides.From.at, Overrides.BySQL("from_period"))
	require.Equal(t, "from_period", Overrides.SQLColumns()[Overrides.From.at])
}
