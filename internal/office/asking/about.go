package asking

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// About is what a question is about.
type About struct {
	Text  string // as it is kept, such as "figure eac"
	Place string // one of record.Places
	Name  string // of a figure, a finding with its record, an activity or a risk
	Title string // in words
}

// Check and Record name the finding that a question is about.
func (a About) Check() string { check, _, _ := strings.Cut(a.Name, " "); return check }

// Record is the record of the finding; "" for one of the project itself.
func (a About) Record() string { _, rec, _ := strings.Cut(a.Name, " "); return rec }

// titles of places that have no name behind them.
var titles = map[string]string{
	"project": "the project", "progress": "dates and progress", "forecast": "the forecast", "commitment": "the orders",
	"risks": "risks and issues", "narratives": "the words",
}

// aboutOf reads what a question is about; what is gone meanwhile keeps its name.
func aboutOf(s *book.Snapshot, p *portfolio.Project, text string) About {
	place, name, ok := record.PlaceOf(text)
	if !ok {
		return About{Text: text, Place: "project", Title: text}
	}
	a := About{Text: text, Place: place, Name: name, Title: titles[place]}
	switch place {
	case "figure":
		a.Title = name
		if id, ok := figure.Lookup(name); ok {
			a.Title = figure.Get(id).Title
		}
	case "finding":
		title, _ := s.Rules.Check(a.Check())
		a.Title = "finding: " + cmp.Or(title, a.Check())
		if rec := a.Record(); rec != "" {
			a.Title += ", " + rec
		}
	case "activity", "risk":
		a.Title = strings.TrimSpace(fmt.Sprintf("%s %s %s", place, name, titleOf(p, place, name)))
	}
	return a
}

// titleOf is what an activity or a risk of a project is called; "" where it is gone.
func titleOf(p *portfolio.Project, place, name string) (title string) {
	if place == "activity" {
		for i := range p.Activities {
			if p.Activities[i].Code == name {
				return p.Activities[i].Name
			}
		}
		return ""
	}
	for i := range p.Risks {
		if x := &p.Risks[i]; x.Risk == name && x.Title.Said == portfolio.Value {
			title = x.Title.Text
		}
	}
	return title
}

// Askable is a group of what can be asked about on a project.
type Askable struct {
	Title string
	Of    []About
}

// askable lists what a project has that can be asked about, figures and findings aside:
// those are asked about where they stand.
func askable(s *book.Snapshot, p *portfolio.Project) []Askable {
	whole := Askable{Title: "Whole"}
	for place := range slices.Values(record.Places) {
		if titles[place] != "" {
			whole.Of = append(whole.Of, aboutOf(s, p, place))
		}
	}
	acts, risks := Askable{Title: "Activities"}, Askable{Title: "Risks and issues"}
	for i := range p.Activities {
		acts.Of = append(acts.Of, aboutOf(s, p, "activity "+p.Activities[i].Code))
	}
	seen := make(map[string]bool)
	for i := range p.Risks {
		if code := p.Risks[i].Risk; !seen[code] {
			seen[code] = true
			risks.Of = append(risks.Of, aboutOf(s, p, "risk "+code))
		}
	}
	out := []Askable{whole}
	for _, g := range []Askable{acts, risks} {
		if len(g.Of) > 0 {
			out = append(out, g)
		}
	}
	return out
}

// there tells whether a project has what is asked about.
func there(p *portfolio.Project, rules *book.Rules, a About) bool {
	switch a.Place {
	case "figure":
		_, ok := figure.Lookup(a.Name)
		return ok
	case "finding":
		title, _ := rules.Check(a.Check())
		return title != ""
	case "activity", "risk":
		return titleOf(p, a.Place, a.Name) != "" || slices.ContainsFunc(p.Risks, func(r portfolio.RiskStatement) bool { return r.Risk == a.Name })
	}
	return true
}
