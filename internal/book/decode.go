package book

import (
	"fmt"
	"slices"
	"sort"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// progressRow is what is said of the progress of an activity.
func progressRow(r *portfolio.Row, activity int) portfolio.ProgressRow {
	return portfolio.ProgressRow{
		Activity: int32(activity),
		Percent:  record.Progress.Percent.Mark(r),
		Start:    record.Progress.Start.Mark(r),
		Finish:   record.Progress.Finish.Mark(r),
		Began:    record.Progress.ActualStart.Mark(r),
		Done:     record.Progress.ActualFinish.Mark(r),
		Units:    record.Progress.UnitsDone.Mark(r),
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
	k := record.Items
	i := portfolio.Item{
		Activity: activity,
		Code:     k.Item.Of(r),
		Name:     k.NameCol.Of(r),
		Owner:    k.Owner.Of(r),
		State:    k.State.Or(r),
		Size:     k.Size.Of(r),
		Created:  k.Created.Of(r),
		Accepted: k.Accepted.Of(r),
		Dropped:  k.Dropped.Of(r),
		Due:      k.Due.Of(r),
		Blocked:  k.Blocked.Of(r),
		Source:   r.Source,
	}
	if i.State == "dropped" && i.Dropped == 0 {
		i.Dropped = 1
	}
	return i
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
			err = rows(s.Kind, body, func(r *portfolio.Row) { takeLink(p, r, index) })
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
	p.Settle()
	return nil
}

// takeLink takes a link within the project, or its end of one to another, unless it was
// taken out.
func takeLink(p *portfolio.Project, r *portfolio.Row, index func(int64) int) {
	if record.Links.State.Or(r) == "off" {
		return
	}
	from, to := *record.Links.From.In(r), *record.Links.To.In(r)
	i, j := link(from, p.Code, index), link(to, p.Code, index)
	switch {
	case i >= 0 && j >= 0:
		p.Links = append(p.Links, portfolio.Link{
			From:   i,
			To:     j,
			Type:   record.Links.Type.Or(r),
			Lag:    int(record.Links.Lag.Of(r)),
			Source: r.Source,
		})
	case i >= 0:
		p.Across = append(p.Across, across(r, i, to, false))
	case j >= 0:
		p.Across = append(p.Across, across(r, j, from, true))
	case strings.Contains(from.Text, "/") && strings.Contains(to.Text, "/"):
		p.Elsewhere = append(p.Elsewhere, portfolio.Elsewhere{
			From: end(from), To: end(to), Type: record.Links.Type.Or(r), Lag: int(record.Links.Lag.Of(r)), Terms: terms(r), Source: r.Source,
		})
	}
}

func end(f portfolio.Field) portfolio.End {
	project, code, _ := strings.Cut(f.Text, "/")
	return portfolio.End{Project: project, Code: code, Activity: f.Int}
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
		Terms:    terms(r),
		Source:   r.Source,
	}
}

func terms(r *portfolio.Row) portfolio.Terms {
	return portfolio.Terms{What: record.Links.What.Of(r), Agreed: record.Links.AgreedBy.Of(r)}
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
	k := record.Activities
	a := portfolio.Activity{
		ID: r.ID, Code: k.Activity.Of(r), Name: k.NameCol.Of(r), Parent: int(k.Parent.ID(r)),
		Kind: portfolio.Kind(k.KindCol.Or(r)), Level: k.Level.Or(r), Rule: k.Rule.Or(r),
		Start: k.Start.Of(r), Finish: k.Finish.Of(r), Units: k.Units.Of(r), Owner: k.Owner.Of(r), Source: r.Source,
	}
	if k.Constraint.Said(r) || k.ConstraintDate.Said(r) {
		a.Bound = &portfolio.Bound{Constraint: k.Constraint.Of(r), Day: k.ConstraintDate.Of(r), Reason: k.ConstraintReason.Of(r)}
	}
	if k.Receiver.Said(r) || k.HandedOver.Said(r) || k.Accepted.Said(r) || k.SentBack.Said(r) {
		a.Deliverable = &portfolio.Deliverable{
			Receiver: k.Receiver.Of(r), HandedOver: k.HandedOver.Of(r), Accepted: k.Accepted.Of(r),
			SentBack: k.SentBack.Of(r), Reason: k.SentBackReason.Of(r),
		}
	}
	return a
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
