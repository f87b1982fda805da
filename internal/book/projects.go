package book

import (
	"slices"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// projects builds every project's master data, by id.
func (rec Records) projects(o *portfolio.Office) map[int64]*portfolio.Project {
	out := make(map[int64]*portfolio.Project)
	rec.each(record.Projects.Kind, func(r *portfolio.Row) {
		p := &portfolio.Project{
			ID: r.ID, Code: record.Projects.Project.Of(r), Name: record.Projects.NameCol.Of(r), Programme: record.Projects.Programme.Code(r), Lead: record.Projects.Lead.Of(r), Sponsor: record.Projects.Sponsor.Of(r),
			Stage: record.Projects.Stage.Of(
				r,
			), State: portfolio.State(record.Projects.State.Or(r)), Since: record.Projects.StateSince.Of(r), Currency: money.Currency(record.Projects.Currency.Of(r)),
			Start: record.Projects.Start.Of(
				r,
			), Finish: record.Projects.Finish.Of(r), Calendar: record.Projects.Calendar.Of(r), EarnedOff: record.Projects.EarnedValue.Or(r) == "off",
			Method: record.Projects.OutlookMethod.Of(r), TooEarly: -1, GraceDays: -1, Client: record.Projects.Client.Of(r), PacePeriods: int(record.Projects.PacePeriods.Of(r)), FromTime: record.Projects.Actuals.Or(r) == "time", Sources: []portfolio.Source{r.Source},
		}
		if p.Currency == "" {
			p.Currency = o.Reporting
		}
		if f := *record.Projects.TooEarly.In(r); f.Said == portfolio.Value {
			p.TooEarly = f.Int
		}
		if record.Projects.GraceDays.Said(r) {
			p.GraceDays = int(record.Projects.GraceDays.Of(r))
		}
		out[p.ID] = p
	})
	rec.each(record.Baselines.Kind, func(r *portfolio.Row) {
		if p := out[record.Baselines.Project.ID(r)]; p != nil {
			p.Baselines = append(p.Baselines, portfolio.Baseline{
				Number: int(
					record.Baselines.Baseline.Of(r),
				), State: portfolio.Approval(record.Baselines.State.Or(r)), Approved: record.Baselines.Approved.Of(r), Reason: record.Baselines.Reason.Of(r), Approver: record.Baselines.Approver.Of(r),
				Proposed: record.Baselines.Proposed.Of(
					r,
				), Proposer: record.Baselines.Proposer.Of(r), Remark: record.Baselines.Remark.Of(r),
			})
		}
	})
	rec.sayOf(out)
	rec.shares(out)
	rec.funding(o.Reporting, out)
	return out
}

// shares fills in how the money of projects is shared out to cost centres.
func (rec Records) shares(out map[int64]*portfolio.Project) {
	rec.each(record.Shares.Kind, func(r *portfolio.Row) {
		p := out[record.Shares.Project.ID(r)]
		if p == nil {
			return
		}
		code, from := record.Shares.CostCode.ID(r), record.Shares.From.Of(r)
		i := slices.IndexFunc(p.Shares, func(s portfolio.Sharing) bool { return s.CodeID == code && s.From == from })
		if i < 0 {
			i = len(p.Shares)
			p.Shares = append(p.Shares, portfolio.Sharing{CodeID: code, From: from})
		}
		s := &p.Shares[i]
		s.Centres, s.Weights = append(
			s.Centres,
			record.Shares.CostCentre.Of(r),
		), append(
			s.Weights,
			record.Shares.Percent.Of(r),
		)
	})
}

// sayOf fills in what was said of projects: overrides, answers to findings, and
// checks that are off.
func (rec Records) sayOf(out map[int64]*portfolio.Project) {
	rec.each(record.Overrides.Kind, func(r *portfolio.Row) {
		if p := out[record.Overrides.Project.ID(r)]; p != nil {
			p.Overrides = append(
				p.Overrides,
				portfolio.Override{
					Dimension: record.Overrides.Dimension.Of(r),
					From:      record.Overrides.From.Of(r),
					Until:     record.Overrides.Until.Of(r),
					Standing:  record.Overrides.Standing.Of(r),
					Reason:    record.Overrides.Reason.Of(r),
				},
			)
		}
	})
	rec.each(record.ChecksOff.Kind, func(r *portfolio.Row) {
		if p := out[record.ChecksOff.Project.ID(r)]; p != nil {
			p.Unchecked = append(
				p.Unchecked,
				portfolio.Unchecked{
					Check:  record.ChecksOff.CheckCol.Of(r),
					From:   record.ChecksOff.From.Of(r),
					Until:  record.ChecksOff.Until.Of(r),
					Reason: record.ChecksOff.Reason.Of(r),
				},
			)
		}
	})
	rec.each(record.Answers.Kind, func(r *portfolio.Row) {
		if p := out[record.Answers.Project.ID(r)]; p != nil {
			p.Answers = append(p.Answers, portfolio.Answer{
				Check: record.Answers.CheckCol.Of(
					r,
				), Record: record.Answers.Record.Of(r), From: record.Answers.From.Of(r), Until: record.Answers.Until.Of(r),
				Accepted: record.Answers.Answer.Of(
					r,
				) == "accepted", Withdrawn: record.Answers.Answer.Of(r) == "withdrawn", Reason: record.Answers.Reason.Of(r), Values: record.Answers.RestingOn.Of(r), By: record.Answers.By.Of(r),
			})
		}
	})
}
