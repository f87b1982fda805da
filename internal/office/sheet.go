package office

import (
	"context"
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/right"
)

// Sheet is all that is shown of one project at a period.
type Sheet struct {
	Now, Before *Reading // Before is nil without a comparison
	Milestones  []Milestone
	Risks       []figure.Risk
	Findings    []finding.Finding
	Story       []Paragraph
	Baseline    int
	Prev, Next  string // codes of the projects beside it
}

// Milestone is a milestone as the sheet shows it.
type Milestone struct {
	Code, Name, Level string
	dates.Milestone
}

// Paragraph is a section of the lead's words.
type Paragraph struct {
	Section, Text, Period string
}

// Sheet reads a project; nil where there is none of that code.
func (o *Office) Sheet(ctx context.Context, a right.Actor, m *Moment, code string) (*Sheet, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Empty || m.now.Project(code) == nil {
		return nil, nil
	}
	s := &Sheet{Now: m.now.Project(code)}
	if m.before != nil {
		s.Before = m.before.Project(code)
	}
	inputs, err := o.book.InputsAt(ctx, m.snap, m.Period.period)
	if err != nil {
		return nil, err
	}
	found, err := inputs.Examine(ctx, false, code, m.Period.period, m.Against, false, func(e *figure.Eval) {
		s.examine(e.Subject.(*figure.Project), inputs.Office.Periods)
	})
	if err != nil || !found {
		return nil, err
	}
	var codes []string
	for _, r := range m.now.Rows {
		if !r.Group {
			codes = append(codes, r.Code)
		}
	}
	for i, c := range codes {
		if c == code {
			if i > 0 {
				s.Prev = codes[i-1]
			}
			if i+1 < len(codes) {
				s.Next = codes[i+1]
			}
		}
	}
	return s, nil
}

// examine takes what the sheet shows beside the readings.
func (s *Sheet) examine(p *figure.Project, periods *calendar.Periods) {
	s.Baseline = p.Number
	for _, x := range dates.Milestones(p.View) {
		act := &p.Activities[x.Activity]
		s.Milestones = append(s.Milestones, Milestone{act.Code, act.Name, act.Level, x})
	}
	s.Risks, s.Findings = figure.RisksInForce(p.View), p.Findings()
	s.Story = story(p, periods)
}

// story gives each section of the lead's words as last said.
func story(p *figure.Project, periods *calendar.Periods) []Paragraph {
	var out []Paragraph
	for _, section := range [...]string{"summary", "done", "next", "help"} {
		for i := len(p.Narratives) - 1; i >= 0; i-- {
			n := &p.Narratives[i]
			if n.Section == section && n.Period <= p.Period && n.Text != "" {
				out = append(out, Paragraph{section, n.Text, periods.Name(n.Period)})
				break
			}
		}
	}
	return out
}

// Sentence says in words that a period's figures are provisional or final.
func (p PeriodInfo) Sentence() string {
	if p.Closed {
		return fmt.Sprintf("%s is closed.", p.Name)
	}
	return fmt.Sprintf("%s is open: its figures may still change.", p.Name)
}
