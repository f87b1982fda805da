package office

import (
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/tell"
)

// Filter says which projects are wanted; empty fields want all. "-" stands for
// none, of leads and stages.
type Filter struct {
	Standing string // of overall, such as act
	Disagree bool
	Lead     string
	Stage    string
	State    string
	Text     string // in code, name, lead or sponsor
}

// Empty tells whether a filter wants everything.
func (f Filter) Empty() bool { return f == Filter{} }

func (f Filter) Wants(r *Reading) bool {
	is := func(want, have string) bool {
		return want == "" || strings.EqualFold(want, have) || want == "-" && have == ""
	}
	return is(f.Standing, r.Standing[standing.Overall].Code()) && (!f.Disagree || r.Disagrees()) &&
		is(f.Lead, r.Lead) && is(f.Stage, r.Stage) && is(f.State, string(r.State)) &&
		(f.Text == "" || strings.Contains(Fold(r.Code+" "+r.Name+" "+r.Lead+" "+r.Sponsor), Fold(f.Text)))
}

func (m *Moment) InScope(r *Reading) bool {
	return m.Scope.Code == "" || Within(m.now, r, m.Scope.Code)
}

// Wanted gives the codes of the projects in scope that the filter wants; nil
// where it wants all of the scope.
func (m *Moment) Wanted(scope string) []string {
	if m.Filter.Empty() || m.now == nil {
		return nil
	}
	out := []string{}
	for _, r := range m.now.Rows {
		if !r.Group && (scope == "*" || Within(m.now, r, scope)) && m.Filter.Wants(r) {
			out = append(out, r.Code)
		}
	}
	return out
}

// Active tells whether a project is running.
func Active(r *Reading) bool { return r.State == portfolio.Active }

// Within tells whether a reading is a scope or lies below it.
func Within(rs *book.Readings, r *book.Reading, scope string) bool {
	if scope == "*" {
		return true
	}
	for n := 0; r != nil && n <= len(rs.Rows); n++ {
		if r.Group && r.Code == scope {
			return true
		}
		r = rs.Group(r.Parent)
	}
	return false
}

// Fold writes a text without case and accents, as people look for it.
func Fold(s string) string {
	t := transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC)
	out, _, err := transform.String(t, s)
	if err != nil {
		out = s
	}
	return strings.ToLower(out)
}

// Facts says what a project is: its code, programme, stage and people.
func (m *Moment) Facts(n *Reading) string {
	programme := n.Parent
	if g, _ := m.Find(n.Parent); g != nil && g.Group {
		programme = g.Name
	}
	stage := n.Stage
	if stage != "" {
		stage += " stage"
	}
	state := ""
	if n.State != portfolio.Active {
		state = string(n.State)
	}
	var out []string
	for _, x := range [][2]string{{"", n.Code}, {"", programme}, {"", stage}, {"lead ", n.Lead}, {"sponsor ", n.Sponsor}, {"", state}} {
		if x[1] != "" {
			out = append(out, x[0]+x[1])
		}
	}
	return strings.Join(out, " · ")
}

// Owing tells whether a project owes statements, and has given all of them.
func Owing(r *Reading) (owes, stated bool) {
	age := r.Value(figure.StatementAge)
	if age.Known {
		return true, age.N == 0
	}
	return Active(r) && age.Why != figure.OwesNothing, false
}

// Owing counts the projects of a moment's scope that owe statements, and those
// that have given all of them.
func (m *Moment) Owing() (stated, owes int) {
	if m.now == nil || !m.owes {
		return 0, 0
	}
	for _, r := range m.now.Rows {
		if r.Group || !m.InScope(r) {
			continue
		}
		if o, s := Owing(r); o {
			owes++
			if s {
				stated++
			}
		}
	}
	return stated, owes
}

// ProjectNames lists the projects of a moment by code, with their names.
func (m *Moment) ProjectNames() (out [][2]string) {
	for _, r := range m.now.Rows {
		if !r.Group {
			out = append(out, [2]string{r.Code, r.Name})
		}
	}
	return out
}

// DimensionCodes lists the dimensions that can be set, with their titles,
// overall first.
func (m *Moment) DimensionCodes() (out [][2]string) {
	for _, d := range m.snap.Rules.Dimensions() {
		out = append(out, [2]string{m.snap.Rules.Code(d), tell.Capital(m.snap.Rules.Title(d))})
	}
	return out
}

// ProposedBaselines counts the baselines of a project that wait for a decision.
func (m *Moment) ProposedBaselines(project string) (n int) {
	p := m.snap.Project(project)
	for i := 0; p != nil && i < len(p.Baselines); i++ {
		if p.Baselines[i].State == portfolio.PlanProposed {
			n++
		}
	}
	return n
}

// BaselinesWaiting counts the baselines of projects in scope that wait for a
// decision.
func (m *Moment) BaselinesWaiting() (n int) {
	for _, p := range m.snap.Projects() {
		if r := m.now.Project(p.Code); r != nil && m.InScope(r) {
			n += m.ProposedBaselines(p.Code)
		}
	}
	return n
}
