package book

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// projects builds every project's master data, by id.
func (rec Records) projects(o *portfolio.Office) map[int64]*portfolio.Project {
	out := make(map[int64]*portfolio.Project)
	rec.each("projects", func(r row) {
		p := &portfolio.Project{
			ID: r.ID, Code: r.text("project"), Name: r.text("name"), Programme: r.text("programme"), Lead: r.text("lead"), Sponsor: r.text("sponsor"),
			Stage: r.text("stage"), State: portfolio.State(r.or("state")), Since: r.date("state_since"), Currency: money.Currency(r.text("currency")),
			Start: r.date("start"), Finish: r.date("finish"), Calendar: r.text("calendar"), EarnedOff: r.or("earned_value") == "off",
			Method: r.text("outlook_method"), TooEarly: -1, Sources: []portfolio.Source{r.Source},
		}
		if p.Currency == "" {
			p.Currency = o.Reporting
		}
		if f := r.said("too_early"); f.Said == portfolio.Value {
			p.TooEarly = f.Int
		}
		out[p.ID] = p
	})
	rec.each("baselines", func(r row) {
		if p := out[r.int("project")]; p != nil {
			p.Baselines = append(p.Baselines, portfolio.Baseline{
				Number: int(r.int("baseline")), State: portfolio.Approval(r.or("state")), Approved: r.date("approved"), Reason: r.text("reason"), Approver: r.text("approver"),
				Proposed: r.date("proposed"), Proposer: r.text("proposer"), Remark: r.text("remark"),
			})
		}
	})
	rec.sayOf(out)
	rec.shares(out)
	return out
}

// shares fills in how the money of projects is shared out to cost centres.
func (rec Records) shares(out map[int64]*portfolio.Project) {
	rec.each("shares", func(r row) {
		p := out[r.int("project")]
		if p == nil {
			return
		}
		code, from := r.int("cost_code"), calendar.Period(r.int("from"))
		i := slices.IndexFunc(p.Shares, func(s portfolio.Sharing) bool { return s.CodeID == code && s.From == from })
		if i < 0 {
			i = len(p.Shares)
			p.Shares = append(p.Shares, portfolio.Sharing{CodeID: code, From: from})
		}
		s := &p.Shares[i]
		s.Centres, s.Weights = append(s.Centres, r.text("cost_centre")), append(s.Weights, r.int("percent"))
	})
}

// sayOf fills in what was said of projects: overrides, answers to findings, and
// checks that are off.
func (rec Records) sayOf(out map[int64]*portfolio.Project) {
	rec.each("overrides", func(r row) {
		if p := out[r.int("project")]; p != nil {
			p.Overrides = append(p.Overrides, portfolio.Override{Dimension: r.text("dimension"), From: calendar.Period(r.int("from")), Until: calendar.Period(r.int("until")), Standing: r.text("standing"), Reason: r.text("reason")})
		}
	})
	rec.each("checks_off", func(r row) {
		if p := out[r.int("project")]; p != nil {
			p.Unchecked = append(p.Unchecked, portfolio.Unchecked{Check: r.text("check"), From: calendar.Period(r.int("from")), Until: calendar.Period(r.int("until")), Reason: r.text("reason")})
		}
	})
	rec.each("answers", func(r row) {
		if p := out[r.int("project")]; p != nil {
			p.Answers = append(p.Answers, portfolio.Answer{
				Check: r.text("check"), Record: r.text("record"), From: calendar.Period(r.int("from")), Until: calendar.Period(r.int("until")),
				Accepted: r.text("answer") == "accepted", Withdrawn: r.text("answer") == "withdrawn", Reason: r.text("reason"), Values: r.text("resting_on"), By: r.text("by"),
			})
		}
	})
}
