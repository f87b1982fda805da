package office

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/record"
	"turret/internal/store"
)

// Words are those on one project or group of a moment's period.
type Words struct {
	Said    bool                // something is
	Text    map[string]string   // by section; nil where nobody needs to know
	Missing []portfolio.Section // that must not be, and are
	Agreed  string              // by whom; "" where nobody did, or the words are others since
	On      calendar.Date
}

// readWords has the texts of projects at hand where something is asked of them.
func (m *Moment) readWords(ctx context.Context) error {
	needs := slices.ContainsFunc(m.snap.Office.Sections, func(s portfolio.Section) bool { return s.Wanted != "" && s.Wanted != portfolio.Never })
	if !needs && len(m.snap.Records.Of(record.Agreements.Kind)) == 0 {
		return nil
	}
	_, err := m.snap.Filled(ctx)
	m.texts = err == nil
	return err
}

// WordsOf tells what was said of a project or group for the period. Who reads but some of a
// group's projects reads none on the whole.
func (m *Moment) WordsOf(r *Reading) (w Words) {
	stage := ""
	if r.Group {
		w.Text = m.snap.Commentary(r.Code, m.Asked.Number)
		w.Said = len(w.Text) > 0
	} else if p := m.snap.Project(r.Code); p != nil {
		stage = p.Stage
		w.Said = slices.ContainsFunc(m.snap.Stated[p.ID], func(x store.Stated) bool {
			return x.Kind == portfolio.NarrativePart && calendar.Period(x.Version) == m.Asked.Number
		})
		if m.texts && w.Said {
			w.Text = said(p, m.Asked.Number)
		}
	}
	w.Missing = claim.Missing(m.snap.Office.Sections, stage, r.Standing[standing.Overall], w.Text)
	w.Agreed, w.On = m.agreed(r.Code, w.Text)
	return w
}

// Text is what was said of a project or group for the period, by section; of projects once what
// is stated about them is decoded.
func (m *Moment) Text(code string) map[string]string {
	if p := m.snap.Project(code); p != nil {
		return said(p, m.Asked.Number)
	}
	return m.snap.Commentary(code, m.Asked.Number)
}

// said is what a project's words of a period are, by section.
func said(p *portfolio.Project, at calendar.Period) map[string]string {
	out := make(map[string]string)
	for i := range p.Narratives {
		if n := &p.Narratives[i]; n.Period == at && strings.TrimSpace(n.Text) != "" {
			out[n.Section] = n.Text
		}
	}
	return out
}

// agreed tells who agreed to words as they are.
func (m *Moment) agreed(code string, text map[string]string) (by string, on calendar.Date) {
	digest := claim.Digest(text)
	if digest == "" {
		return "", 0
	}
	k := record.Agreements
	rows := m.snap.Records.Of(k.Kind)
	for i := range rows {
		if r := &rows[i]; k.Scope.Of(r) == code && k.Period.Of(r) == m.Asked.Number && k.Words.Of(r) == digest {
			return cmp.Or(k.By.Of(r), "the office"), k.On.Of(r)
		}
	}
	return "", 0
}

// WordsDue tells whether words on a project or group are wanted for a moment's period.
func (m *Moment) WordsDue(r *Reading) bool {
	state, stage, owed := r.State, "", false
	if r.Group {
		if m.snap.Sight() != nil {
			return false // of those who read all
		}
		state = portfolio.Active
	} else if p := m.snap.Project(r.Code); p != nil {
		stage, owed = p.Stage, m.snap.Office.Owes(p, portfolio.NarrativePart, m.Asked.Number)
	}
	overall := r.Standing[standing.Overall]
	owed = owed || len(claim.Missing(m.snap.Office.Sections, stage, overall, nil)) > 0
	return claim.Wanted(state, overall, m.hasMoved(r), owed)
}

// WordsLack tells whether words are wanted that are not said, or not all of them.
func (m *Moment) WordsLack(r *Reading) bool {
	if !m.WordsDue(r) {
		return false
	}
	w := m.WordsOf(r)
	return !w.Said || len(w.Missing) > 0
}

// ToWrite counts the projects and groups in scope whose words are wanted and not said; none where
// nothing is stated yet, or the period is closed.
func (m *Moment) ToWrite() int {
	if m.Empty || m.Asked.Closed {
		return 0
	}
	return len(m.Unexplained())
}

// Unexplained are the projects and groups in scope whose words are wanted and not said, by code.
func (m *Moment) Unexplained() (out []string) {
	if m.Empty || m.Waits() {
		return nil
	}
	for _, r := range m.Readings().Rows {
		if m.InScope(r) && m.WordsLack(r) {
			out = append(out, r.Code)
		}
	}
	return out
}

// Remarks are what was said of a group up to a moment's period, by section, the latest first, as
// the figures of each period fill it.
func (o *Office) Remarks(ctx context.Context, m *Moment, group string) (map[string][]Remark, error) {
	out := make(map[string][]Remark)
	for _, c := range m.snap.Commentaries(group, m.Asked.Number) {
		text, err := o.livingOf(ctx, m, group, c.Period, c.Text)
		if err != nil {
			return nil, err
		}
		out[c.Section] = append(out[c.Section], Remark{c.Period, m.snap.Office.Periods.Name(c.Period), text})
	}
	return out, nil
}

// Remark is what was said for a period.
type Remark struct {
	Period calendar.Period
	Name   string // of the period
	Text   string
}
