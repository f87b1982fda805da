package check

import (
	"cmp"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/tell"
)

// FindingFilter chooses findings; empty parts choose all.
type FindingFilter struct {
	Check, Project, Lead string
	Severity             string
	State                string // a state, or "unexplained"
	Age                  string // "new": found first in this period; "old": before
}

func (f *FindingFilter) wants(x *office.Finding) bool {
	return (f.Check == "" || f.Check == x.Check) && (f.Project == "" || f.Project == x.Project) &&
		(f.Lead == "" || f.Lead == x.Lead) &&
		(f.Severity == "" || f.Severity == string(x.Severity)) &&
		(f.State == "" || f.State == string(x.State) || f.State == "unexplained" && x.Unexplained()) &&
		(f.Age == "" || f.Age == "new" && x.Age == 1 || f.Age == "old" && x.Age > 1)
}

// Counts are numbers of findings by severity, and of those accepted.
type Counts = book.Counts

// Cause is what findings of one check have in common.
type Cause struct {
	Check, Title, About  string
	Severity             finding.Severity // the worst of them
	Counts               Counts
	Unexplained          int
	Worth                int64 // of the open ones, in the reporting currency
	Since                calendar.Period
	SinceName            string
	Projects, Leads      []string
	Was                  int  // open in the compared period
	Compared             bool // Was is known
	LeadsMore, CodesMore int  // that are not listed
}

// QualityPeriod is a period of the trend.
type QualityPeriod struct {
	office.PeriodInfo
	Short  string
	Counts Counts
	Known  bool
}

// Checking is all that Check shows of a moment.
type Checking struct {
	Found  []office.Finding // in scope, that the filter wants, the worst first
	All    []office.Finding // in scope
	Causes []Cause          // of those that the filter wants
	Counts Counts           // of all in scope
	Was    Counts           // in the compared period
	Since  office.PeriodInfo
	Trend  []QualityPeriod
	Waits  int  // unexplained errors and warnings
	Kept   bool // false where the period was closed before findings were kept
	Rows   int  // refused rows that wait, of the whole office; for the open period
	Codes  []entry.WaitingCode
}

// Checking reads what Check shows.
func (o Room) Checking(ctx context.Context, a right.Actor, m *office.Moment, filter FindingFilter) (*Checking, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	c := &Checking{All: m.Findings(), Waits: m.Waiting(), Since: m.Since}
	for _, r := range m.Readings().Rows {
		c.Kept = c.Kept || r.Version != ""
	}
	for i := range c.All {
		c.Counts.Add(&c.All[i].Finding)
		if filter.wants(&c.All[i]) {
			c.Found = append(c.Found, c.All[i])
		}
	}
	was := make(map[string]int)
	if m.Earlier() != nil {
		known := false
		for _, r := range m.Earlier().Rows {
			known = known || r.Version != ""
			if r.Group || !m.InScope(r) {
				continue
			}
			for i := range r.Findings {
				c.Was.Add(&r.Findings[i])
				if r.Findings[i].Counts() {
					was[r.Findings[i].Check]++
				}
			}
		}
		if !known { // it was closed before findings were kept
			c.Since = office.PeriodInfo{}
		}
	}
	c.FindCauses(m, was, c.Since.Code != "")
	if err := o.trend(ctx, m, c); err != nil {
		return nil, err
	}
	if !m.Period.Closed {
		var err error
		if c.Rows, err = o.Store().AllRefusalsWaiting(ctx); err != nil {
			return nil, err
		}
		if c.Rows > 0 {
			if c.Codes, _, err = entry.In(o.Office).WaitingCodes(ctx, a); err != nil {
				return nil, err
			}
		}
	}
	return c, nil
}

const mostNames = 3 // projects and leads that a cause names

// FindCauses groups what is shown by check, the worst first.
func (c *Checking) FindCauses(m *office.Moment, was map[string]int, compared bool) {
	at := make(map[string]int)
	for i := range c.Found {
		f := &c.Found[i]
		k, ok := at[f.Check]
		if !ok {
			k = len(c.Causes)
			at[f.Check] = k
			_, about := m.Snapshot().Rules.Check(f.Check)
			c.Causes = append(
				c.Causes,
				Cause{
					Check:    f.Check,
					Title:    f.Title,
					About:    about,
					Severity: finding.Off,
					Since:    f.Since,
					Was:      was[f.Check],
					Compared: compared,
				},
			)
		}
		x := &c.Causes[k]
		x.Counts.Add(&f.Finding)
		x.Since = min(x.Since, f.Since)
		if f.Severity.Rank() < x.Severity.Rank() {
			x.Severity = f.Severity
		}
		if f.Unexplained() {
			x.Unexplained++
		}
		if f.Counts() {
			x.Worth += f.Worth
		}
		if !slices.Contains(x.Projects, f.Project) {
			x.Projects = append(x.Projects, f.Project)
		}
		if f.Lead != "" && !slices.Contains(x.Leads, f.Lead) {
			x.Leads = append(x.Leads, f.Lead)
		}
	}
	for i := range c.Causes {
		x := &c.Causes[i]
		x.SinceName = m.PeriodName(x.Since)
		x.CodesMore, x.LeadsMore = max(len(x.Projects)-mostNames, 0), max(len(x.Leads)-mostNames, 0)
	}
	slices.SortStableFunc(c.Causes, func(a, b Cause) int {
		return cmp.Or(
			a.Severity.Rank()-b.Severity.Rank(),
			cmp.Compare(b.Counts.Open(), a.Counts.Open()),
			cmp.Compare(b.Worth, a.Worth),
			strings.Compare(a.Check, b.Check),
		)
	})
}

// trend counts the findings of the periods up to the moment's.
func (o Room) trend(ctx context.Context, m *office.Moment, c *Checking) error {
	const most = 24
	inScope := make(map[string]bool)
	for _, r := range m.Readings().Rows {
		if !r.Group && m.InScope(r) {
			inScope[r.Code] = true
		}
	}
	for p := max(m.Snapshot().First(), m.Period.Number-most+1); p <= m.Period.Number; p++ {
		x := QualityPeriod{PeriodInfo: m.Info(p), Short: m.Snapshot().Office.Periods.Short(p)}
		if p == m.Period.Number {
			x.Counts, x.Known = c.Counts, true
		} else if marks, err := o.Book().Marks(ctx, m.Snapshot(), p); err != nil {
			return err
		} else if marks != nil && marks.Checked {
			x.Known = true
			for code, n := range marks.ByCode {
				if inScope[code] {
					for i := range n {
						x.Counts[i] += n[i]
					}
				}
			}
		}
		c.Trend = append(c.Trend, x)
	}
	return nil
}

// Check lists the findings of a period, for the command line.
func (o Room) Check(ctx context.Context, a right.Actor, at, scope string) ([]office.Finding, error) {
	m, err := o.Moment(ctx, a, office.Ask{At: at, Scope: scope})
	if err != nil {
		return nil, err
	}
	if scope != "" && scope != "*" && m.Scope.Code == "" {
		if r, _ := m.Find(scope); r != nil && !r.Group {
			return m.FindingsOf(r), nil
		}
		return nil, fmt.Errorf(
			"%w %q: it is neither a project nor a programme; * is the whole portfolio",
			office.ErrUnknownScope,
			scope,
		)
	}
	return m.Findings(), nil
}

// findingJSON is a finding as check prints it.
type findingJSON struct {
	Check    string      `json:"check"`
	Severity string      `json:"severity"`
	State    string      `json:"state"`
	Project  string      `json:"project"`
	Record   string      `json:"record"`
	Text     string      `json:"text"`
	Money    json.Number `json:"money"`
	Currency string      `json:"currency"`
	Since    string      `json:"since"`
}

// WriteFindings prints findings as table, csv or json.
func (o Room) WriteFindings(ctx context.Context, w io.Writer, format string, list []office.Finding) error {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return err
	}
	rows := []findingJSON{}
	for i := range list {
		f := &list[i]
		rows = append(
			rows,
			findingJSON{
				f.Check,
				string(f.Severity),
				string(f.State),
				f.Project,
				f.Record,
				f.Text,
				json.Number(money.Format(f.Money, f.Currency)),
				string(f.Currency),
				s.Office.Periods.Code(f.Since),
			},
		)
	}
	switch format {
	case "json":
		e := json.NewEncoder(w)
		e.SetIndent("", " ")
		e.SetEscapeHTML(false)
		return e.Encode(rows)
	case "csv":
		c := csv.NewWriter(w)
		if err := c.Write([]string{"check", "severity", "state", "project", "record", "money", "currency", "since", "text"}); err != nil {
			return err
		}
		for _, r := range rows {
			if err := c.Write([]string{r.Check, r.Severity, r.State, tell.Neutral(r.Project), tell.Neutral(r.Record), r.Money.String(), r.Currency, r.Since, tell.Neutral(r.Text)}); err != nil {
				return err
			}
		}
		c.Flush()
		return c.Error()
	}
	for _, r := range rows {
		state := ""
		if r.State != string(finding.Open) {
			state = ", " + r.State
		}
		if _, err := fmt.Fprintf(w, "%-7s %s  %s [%s%s]\n", r.Severity, r.Project, r.Text, r.Check, state); err != nil {
			return err
		}
	}
	return nil
}
