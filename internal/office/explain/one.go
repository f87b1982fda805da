package explain

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/dates"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/money"
	"turret/internal/office/sheet"
	"turret/internal/office/stating"
	"turret/internal/right"
	"turret/internal/tell"
)

// One is a project or group with what its words stand beside.
type One struct {
	Now        *office.Reading
	Moved      *office.Moved // since the moment's Since, or nil
	Since      office.PeriodInfo
	Facts      []Fact
	Causes     []money.BridgeStep // of the change of the computed outlook, the largest first
	Slipped    []Slipped
	Findings   []finding.Finding // errors and warnings
	Movers     []office.Moved    // of a group's projects
	Story      []sheet.Section   // what was said, the latest first
	Milestones []Milestone       // of a project
	Promised   []sheet.Paragraph // what was said last to come next
	Pen        *stating.Sheet    // of a project; nil for who does not state it
	Draft      *Draft            // of a group; nil for who does not write on it
	Sections   []portfolio.Section
	Words      office.Words
	Questions  []asking.Thread // about the words, of the period, that are open
	named      []claim.Milestone
	shown      *office.Reading // in the reporting currency; nil where that is the project's own
	sums       []int64         // of cost codes
}

// Fact is a figure now and then; Was is unknown where nothing is known of it.
type Fact struct {
	ID      figure.ID
	Was, Is figure.Value
}

// Milestone is one that a text can name; its day is zero where it is not known.
type Milestone struct {
	Code, Name string
	Day        calendar.Date
}

// Slipped is a raised milestone whose stated day moved in the period.
type Slipped struct {
	Name    string
	Was, Is calendar.Date
}

// refused tells an answer to a question that cannot be had from an error.
func refused(err error) bool {
	var denied *right.Denied
	return errors.Is(err, office.ErrRefused) || errors.As(err, &denied)
}

// facts that are told beside words.
var facts = []figure.ID{
	figure.EACComputed, figure.EACStated, figure.AC, figure.AtStake, figure.CPI, figure.SPIT, figure.EarnedShare, figure.FinishStated,
	figure.FinishSlip, figure.LateShare, figure.RiskExposure,
}

// One reads what the words of a project stand beside, in its own currency unless another is asked
// for by name. Nil where there is no such project.
func (o Room) One(ctx context.Context, a right.Actor, m *office.Moment, code string) (*One, error) {
	m, err := o.OfOne(ctx, m)
	if err != nil {
		return nil, err
	}
	s, err := sheet.In(o.Office).Told(ctx, a, m, code)
	if err != nil || s == nil {
		return nil, err
	}
	out := &One{Now: s.Now, shown: s.Shown, Moved: s.Moved, Since: m.Since, Story: s.Story, Sections: m.Snapshot().Office.Sections, Words: m.WordsOf(s.Now)}
	var was *office.Reading
	if earlier := m.Earlier(); earlier != nil {
		was = earlier.Project(code)
	}
	out.facts(was)
	for _, c := range s.Codes {
		out.sums = append(out.sums, c.Plan, c.Spent, c.ToGo, c.OnOrder)
	}
	for _, x := range s.Milestones {
		named := claim.Milestone{Name: x.Name}
		for _, d := range append(slices.Clone(x.Stated), x.Baseline, x.Current) {
			if d != 0 {
				named.Days = append(named.Days, d)
			}
		}
		out.named = append(out.named, named)
		out.Milestones = append(out.Milestones, Milestone{x.Code, x.Name, x.Current})
		if n := len(x.Stated); x.Raised && n > 1 && x.State != dates.Met && x.Stated[n-1] != 0 && x.Stated[n-2] != 0 && x.Stated[n-1] != x.Stated[n-2] {
			out.Slipped = append(out.Slipped, Slipped{x.Name, x.Stated[n-2], x.Stated[n-1]})
		}
	}
	for _, f := range s.Findings {
		if f.Severity == finding.Error || f.Severity == finding.Warning {
			out.Findings = append(out.Findings, f)
		}
	}
	for _, x := range s.Story {
		for _, w := range x.Words {
			if x.Name == "next" && w.Period != m.Asked.Name && len(out.Promised) == 0 {
				out.Promised = append(out.Promised, w)
			}
		}
	}
	if _, err := m.Snapshot().Filled(ctx); err != nil {
		return nil, err
	}
	out.Words.Text = m.Text(code)
	threads, err := asking.In(o.Office).Threads(ctx, a, asking.Which{Project: code, Open: true})
	if err != nil {
		return nil, err
	}
	for _, t := range threads {
		if t.About.Place == place && t.Period == m.Asked.Number {
			out.Questions = append(out.Questions, t)
		}
	}
	if out.Pen, err = stating.In(o.Office).Sheet(ctx, a, m, code, "narratives"); err != nil {
		if !refused(err) {
			return nil, err
		}
		out.Pen = nil
	}
	return out, o.causes(ctx, a, m, code, out)
}

// facts are told as they are and as they were; was is nil where nothing is known of it.
func (x *One) facts(was *office.Reading) {
	for _, id := range facts {
		f := Fact{ID: id, Is: x.Now.Value(id), Was: figure.Unknown(figure.Get(id).Unit, "nothing stands beside it")}
		if was != nil && was.Currency == x.Now.Currency {
			f.Was = was.Value(id)
		}
		if f.Is.Known || f.Was.Known {
			x.Facts = append(x.Facts, f)
		}
	}
}

// causes tells by what the computed outlook of a project moved, or with "" that of the scope.
func (o Room) causes(ctx context.Context, a right.Actor, m *office.Moment, code string, out *One) error {
	if m.Since.Code == "" || m.Since.Code == m.Period.Code {
		return nil
	}
	ask := office.Ask{At: m.Period.Code, Vs: m.Since.Code, Scope: m.Scope.Code, Own: true}
	if code != "" && m.InProject {
		ask.In = "project"
	}
	then, err := o.Moment(ctx, a, ask)
	if err != nil {
		return err
	}
	b, err := money.In(o.Office).OutlookBridge(ctx, a, then, code, "")
	if err != nil {
		if refused(err) {
			return nil
		}
		return err
	}
	for _, s := range b.Steps {
		if s.Amount != 0 {
			out.Causes = append(out.Causes, s)
		}
	}
	return nil
}

// Alive fills the living figures of a text.
func (x *One) Alive(text string) string {
	return office.Alive(text, x.Now, func(code string) (string, bool) {
		i := slices.IndexFunc(x.Milestones, func(m Milestone) bool { return m.Code == code })
		if i < 0 {
			return "", false
		}
		if x.Milestones[i].Day == 0 {
			return "not known", true
		}
		return tell.Date(x.Milestones[i].Day), true
	})
}

// Doubts hold a text, its living figures filled, against what the figures say of the project.
func (x *One) Doubts(text string) []claim.Doubt {
	f := claim.Facts{Value: x.Now.Value, Currency: x.Now.Currency, Standing: x.Now.Standing, Milestones: x.named, Sums: slices.Clone(x.sums)}
	for _, y := range x.Facts {
		if figure.Get(y.ID).Unit == figure.Money && y.Is.Known && y.Was.Known {
			f.Sums = append(f.Sums, y.Is.N-y.Was.N, y.Was.N)
		}
	}
	for _, c := range x.Causes {
		f.Sums = append(f.Sums, c.Amount)
	}
	if x.shown != nil && x.shown.Currency != x.Now.Currency {
		f.Shown, f.ShownIn = x.shown.Value, x.shown.Currency
	}
	return claim.Check(text, f)
}

// First writes a first text from the figures, by rules: how it stands, what moved it, and what
// comes next. It is a beginning, for someone to make theirs.
func (x *One) First() string {
	if x.Now.Group {
		return x.firstOfGroup()
	}
	var b strings.Builder
	fmt.Fprintf(&b, "%s stands at %s. ", x.Now.Name, x.Now.Standing[standing.Overall])
	for _, p := range sheet.Telling(x.Now, x.Now.Currency).Say() {
		b.WriteString(p.Text)
	}
	if x.Moved != nil {
		for _, line := range x.Moved.Lines() {
			fmt.Fprintf(&b, " %s.", strings.TrimSuffix(line, "."))
		}
	}
	for _, s := range x.Slipped {
		fmt.Fprintf(&b, " %s moved from %s to %s.", s.Name, tell.Date(s.Was), tell.Date(s.Is))
	}
	if n := x.Now.Next; n.Name != "" {
		fmt.Fprintf(&b, " Next is %s, %s.", n.Name, tell.Date(n.Date))
	}
	return strings.TrimSpace(b.String())
}
