package brief

import (
	"cmp"
	"context"
	"net/url"

	"turret/internal/brief"
	"turret/internal/chart"
	"turret/internal/core/exception"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/weigh"
	"turret/internal/tell"
)

func foundTitle(v url.Values) string {
	if r, ok := exception.Of(exception.Kind(v.Get("cause"))); ok {
		return "Exceptions: " + r.Title
	}
	return "Exceptions, project by project"
}

// mostFound bounds the projects that a page of exceptions lists.
const mostFound = 25

// exceptionPage is the page that lists exceptions, with why each is one.
func (w *briefWriter) exceptionPage(ctx context.Context, p Part, v url.Values) error {
	ask := weigh.ExceptionAsk{Kind: v.Get("cause"), Share: v.Get("sort") == "share", Limits: make(map[string]string)}
	for _, x := range exception.AllLimits {
		ask.Limits[x.Name] = v.Get(x.Name)
	}
	m, err := w.moment(ctx, v)
	if err != nil {
		return err
	}
	e, err := weigh.In(w.o.Office).Exceptions(ctx, w.a, m, ask)
	if err != nil {
		return err
	}
	if notes := append(m.Notes, e.Asked...); len(notes) > 0 {
		return office.Refusef("%s of this brief: %s", p.Title, notes[0])
	}
	blocks := []brief.Block{brief.Head{Text: p.Title, Small: m.Period.Name, Level: 1}, brief.Sentence{Phrases: e.Say()}}
	for _, k := range e.Kinds {
		if k.Kind == e.Kind {
			blocks = append(blocks, brief.Words{Text: k.Looks, Quiet: true})
		}
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: append(blocks, foundGrid(e))})
	return nil
}

// moment is the one that a page asks for: in the brief's period, with a scope and a filter of
// its own.
func (w *briefWriter) moment(ctx context.Context, v url.Values) (*office.Moment, error) {
	return w.o.Moment(ctx, w.a, office.Ask{
		At:      w.b.Spec.At,
		Vs:      v.Get("vs"),
		Against: v.Get("against"),
		Scope:   cmp.Or(v.Get("scope"), w.m.Scope.Code),
		Filter: office.Filter{
			Standing: v.Get("standing"),
			Disagree: v.Get("disagree") != "",
			Lead:     v.Get("lead"),
			Stage:    v.Get("stage"),
			State:    v.Get("state"),
			Text:     v.Get("q"),
		},
	})
}

// foundGrid lists the projects that were found, the worst first, as many as fit.
func foundGrid(e *weigh.Exceptions) brief.Grid {
	g := brief.Grid{
		Columns: []brief.Col{
			{Head: "", Share: 0.5},
			{Head: "Project", Share: 2.6, Wrap: true},
			{Head: "Lead", Share: 1.3, Wrap: true},
			{Head: "Exception", Share: 1.5, Wrap: true},
			{Head: "Why", Share: 5.4, Wrap: true},
		},
		Empty: "No project is beyond the limits.",
	}
	for i, x := range e.Projects {
		if i == mostFound {
			others := "and " + tell.Plural(len(e.Projects)-i, "other", "others")
			g.Rows = append(g.Rows, brief.Line{Cells: []brief.Piece{{}, {Text: others, Tone: "quiet"}}})
			break
		}
		for k, c := range x.Cases {
			rule, _ := exception.Of(c.Kind)
			line := brief.Line{
				Cells: []brief.Piece{{}, {}, {}, {Text: rule.Title, Tone: "quiet"}, brief.Txt(tell.Plain(c.Words()))},
			}
			if k == 0 {
				line.Cells[0] = brief.Piece{
					Glyph: []chart.Glyph{{Standing: x.Standing[standing.Overall], Overall: true}},
				}
				line.Cells[1], line.Cells[2] = brief.Piece{Text: x.Code + " " + x.Name, Bold: true}, brief.Txt(x.Lead)
			}
			g.Rows = append(g.Rows, line)
		}
	}
	return g
}
