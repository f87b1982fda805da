package brief

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"

	"turret/internal/brief"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/forecast"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/office/board"
	"turret/internal/office/money"
	"turret/internal/office/weigh"
	"turret/internal/store"
	"turret/internal/tell"
)

// More are pages that a brief of the portfolio or of a programme can have beside its usual ones.
var More = []Part{
	{"decide:", decideTitle(nil), false},
	{"each:", eachTitle(nil), false},
	{"money:rows=code&per=year", "Money by cost code and year", true},
	{"road:", "Roadmap", true},
	{"forecasts:", forecastsTitle(nil), false},
	{"since:", sinceTitle(nil), false},
	{"trend:", "How the outlook moved", false},
}

func decideTitle(url.Values) string { return "What needs a decision" }

// decidePage are the baselines that wait, the projects at Act, and the help that leads ask for.
func (w *briefWriter) decidePage(ctx context.Context, p Part, _ url.Values) error {
	if w.list == nil {
		return ofSeveral(p)
	}
	waiting, err := baseline.In(w.o.Office).Waiting(ctx, w.a, w.m)
	if err != nil {
		return err
	}
	blocks := []brief.Block{brief.Head{Text: p.Title, Small: w.m.Period.Name, Level: 1}, brief.Head{Text: "Baselines that wait", Level: 2}}
	for i := range waiting {
		b := &waiting[i]
		blocks = append(blocks, brief.Words{Text: b.Project + " " + b.Name + ": " + b.Decision()})
	}
	if len(waiting) == 0 {
		blocks = append(blocks, brief.Words{Text: "No baseline waits for a decision.", Quiet: true})
	}
	blocks = append(blocks, brief.Head{Text: "Projects at Act", Level: 2}, w.decisions(), brief.Head{Text: "Help that leads ask for", Level: 2})
	helped := false
	for _, r := range w.projects() {
		s, err := w.sheet(ctx, r.Code)
		if err != nil {
			return err
		}
		if s == nil {
			continue
		}
		for _, x := range s.Story {
			if x.Name == "help" && len(x.Words) > 0 && x.Words[0].Period == w.m.Period.Name {
				helped = true
				blocks = append(blocks, brief.Words{Text: r.Code + " " + r.Name, Bold: true}, brief.Words{Text: x.Words[0].Text})
			}
		}
	}
	if !helped {
		blocks = append(blocks, brief.Words{Text: "Nobody asks for help for " + w.m.Period.Name + ".", Quiet: true})
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: blocks})
	return nil
}

func eachTitle(url.Values) string { return "A page for each project" }

// eachPage is a page for each project of the brief, whatever it stands at, with its plan.
func (w *briefWriter) eachPage(ctx context.Context, p Part, _ url.Values) error {
	if w.list == nil {
		return ofSeveral(p)
	}
	for _, r := range w.projects() {
		s, err := w.sheet(ctx, r.Code)
		if err != nil {
			return err
		}
		if s == nil {
			continue
		}
		plan, err := w.planned(ctx, r.Code)
		if err != nil {
			return err
		}
		w.project(s, p.Wide, 1, plan)
	}
	return nil
}

// mostMoneyRows and mostMoneyColumns bound what a page of money holds.
const mostMoneyRows, mostMoneyColumns = 60, 9

func moneyTitle(v url.Values) string {
	by := map[string]string{"": "project", "code": "cost code", "programme": "programme", "class": "class", "centre": "cost centre", "client": "client"}[v.Get("rows")]
	return "Money by " + cmp.Or(by, strings.ReplaceAll(v.Get("rows"), ",", ", "))
}

// MoneyPart names the page of a brief that shows a money table, by the parts of its address.
func MoneyPart(ask map[string]string) string { return askedPage("money:", ask) }

// moneyPage is a page of the money table: actual and forecast of each row and column.
func (w *briefWriter) moneyPage(ctx context.Context, p Part, v url.Values) error {
	m, err := w.moment(ctx, v)
	if err != nil {
		return err
	}
	t, err := money.In(w.o.Office).Table(ctx, w.a, m, money.Ask{
		Project: v.Get("of"), Rows: v.Get("rows"), Level: v.Get("level"), Per: cmp.Or(v.Get("per"), "year"), Span: v.Get("span"), Show: cmp.Or(v.Get("amounts"), "running"),
		Rates: v.Get("rates"), Currency: v.Get("currency"), Flow: v.Get("flow"), Class: v.Get("class"), Code: v.Get("code"), Centre: v.Get("centre"),
	})
	if err != nil {
		return err
	}
	if notes := append(m.Notes, t.Asked...); len(notes) > 0 {
		return office.Refusef("%s of this brief: %s", p.Title, notes[0])
	}
	from := max(0, len(t.Columns)-mostMoneyColumns)
	g := brief.Grid{Columns: []brief.Col{{Head: "", Share: 3, Wrap: true}}, Empty: "There is no money to show."}
	for _, c := range t.Columns[from:] {
		g.Columns = append(g.Columns, brief.Col{Head: c.Name, Share: 1, Number: true})
	}
	measure := t.Measures[0]
	add := func(r *costs.Row, total bool) {
		line := brief.Line{Total: total, Cells: []brief.Piece{{Text: r.Name, Bold: total || len(r.Below) > 0}}}
		for c := from; c < len(t.Columns); c++ {
			text := ""
			if n, ok := t.Value(r, 0, measure, c); ok {
				text = tell.Thousands.Write(n, t.Currency)
			}
			line.Cells = append(line.Cells, brief.Txt(text))
		}
		g.Rows = append(g.Rows, line)
	}
	rows := t.Rows[:min(len(t.Rows), mostMoneyRows)]
	left := len(t.Rows) - len(rows)
	for _, r := range rows {
		add(r.Row, false)
	}
	if len(t.Rows) > 1 {
		add(t.Root, true)
	}
	blocks := []brief.Block{brief.Head{Text: p.Title, Small: m.Period.Name + ", " + strings.ToLower(measure.Title()) + ", " + tell.Thousands.Name(t.Currency), Level: 1}, g}
	if left > 0 {
		blocks = append(blocks, brief.Words{Text: fmt.Sprintf("and %s more: the money table has them.", tell.Plural(left, "row", "rows")), Quiet: true})
	}
	if from > 0 {
		blocks = append(blocks, brief.Words{Text: "Earlier columns are left out for want of room.", Quiet: true})
	}
	for _, n := range t.Notes {
		blocks = append(blocks, brief.Words{Text: n, Quiet: true})
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: blocks})
	return nil
}

func forecastsTitle(url.Values) string { return "How good forecasts were" }

// forecastsPage tells by how much statements of cost missed what came, by person.
func (w *briefWriter) forecastsPage(ctx context.Context, p Part, v url.Values) error {
	m, err := w.moment(ctx, v)
	if err != nil {
		return err
	}
	f, err := weigh.In(w.o.Office).Forecasts(ctx, w.a, m, "", weigh.Leads[1])
	if err != nil {
		return err
	}
	g := brief.Grid{Columns: []brief.Col{{Head: "Lead", Share: 3, Wrap: true}}, Empty: "Nobody has stated a forecast that something came of yet."}
	for _, n := range weigh.Leads {
		g.Columns = append(g.Columns, brief.Col{Head: tell.Plural(n, "period ahead", "periods ahead"), Share: 1.6, Number: true})
	}
	line := func(name string, errors []forecast.Summary, total bool) {
		row := brief.Line{Total: total, Cells: []brief.Piece{brief.Txt(name)}}
		for _, e := range errors {
			row.Cells = append(row.Cells, brief.Txt(missed(e)))
		}
		g.Rows = append(g.Rows, row)
	}
	for i := range f.By {
		line(cmp.Or(f.By[i].Name, "No lead"), f.By[i].Errors, false)
	}
	if len(f.By) > 1 {
		line("All", f.All, true)
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: p.Title, Small: m.Period.Name, Level: 1},
		brief.Sentence{Phrases: f.Say()},
		g,
		brief.Words{Text: "By how much what was stated missed what came, on average and whichever way; in brackets of how many statements.", Quiet: true},
	}})
	return nil
}

// missed writes a mean error, with of how many statements it is.
func missed(e forecast.Summary) string {
	if e.Count == 0 {
		return tell.Dash
	}
	return fmt.Sprintf("%s (%d)", tell.Ratio(e.Absolute, false), e.Count)
}

func sinceTitle(url.Values) string { return "What changed since the last brief" }

// told are the figures of a project that readers of briefs remember.
var told = []figure.ID{figure.BAC, figure.EACComputed, figure.EACStated, figure.FinishStated}

// sincePage sets projects beside what the last brief of an earlier period said of them: their
// standing, plan, outlooks and finish.
func (w *briefWriter) sincePage(ctx context.Context, p Part, _ url.Values) error {
	if w.list == nil {
		return ofSeveral(p)
	}
	last, cut, err := w.lastBrief(ctx)
	if err != nil {
		return err
	}
	blocks := []brief.Block{brief.Head{Text: p.Title, Small: w.m.Period.Name, Level: 1}}
	if last == nil {
		w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: append(blocks, brief.Words{
			Text: "No brief of the same projects was made of a closed period before, so there is nothing to set beside.", Quiet: true,
		})})
		return nil
	}
	rs, err := w.o.Book().CutReadings(ctx, cut, true)
	if err != nil {
		return err
	}
	g := brief.Grid{
		Columns: []brief.Col{{Head: "Project", Share: 2.6, Wrap: true}, {Head: "What", Share: 2, Wrap: true}, {Head: "Said then", Share: 1.6, Number: true}, {Head: "Now", Share: 1.6, Number: true}},
		Empty:   "Nothing of it changed.",
	}
	for _, now := range w.projects() {
		name := now.Code + " " + now.Name
		add := func(what, was, is string) {
			g.Rows = append(g.Rows, brief.Line{Cells: []brief.Piece{{Text: name, Bold: name != ""}, brief.Txt(what), {Text: was, Tone: "quiet"}, brief.Txt(is)}})
			name = ""
		}
		was := rs.Project(now.Code)
		if was == nil {
			add("is new", "", now.Standing[standing.Overall].String())
			continue
		}
		if a, b := was.Standing[standing.Overall], now.Standing[standing.Overall]; a != b {
			add("Overall", a.String(), b.String())
		}
		for _, id := range told {
			if a, b := was.Value(id), now.Value(id); !a.Equal(b) && was.Currency == now.Currency {
				add(figure.Get(id).Title, tell.Figure(id, a, was.Currency, true).Text, tell.Figure(id, b, now.Currency, true).Text)
			}
		}
	}
	then := fmt.Sprintf("Beside the brief of %s, made by %s on %s.", w.m.PeriodName(calendar.Period(last.Period)), last.Actor, tell.Date(calendar.DateIn(time.UnixMilli(last.At).UTC())))
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: append(blocks, brief.Words{Text: then}, g)})
	return nil
}

// lastBrief finds the last brief of the same scope that was made of an earlier period that was
// closed then, with its cut; nil where there is none.
func (w *briefWriter) lastBrief(ctx context.Context) (*store.Brief, int64, error) {
	list, err := w.o.Store().Briefs(ctx)
	if err != nil {
		return nil, 0, err
	}
	for i := range list {
		b := &list[i]
		var spec Spec
		if err := json.Unmarshal([]byte(b.Spec), &spec); err != nil || b.Withdrawn.Valid || spec.Scope != w.scope || calendar.Period(b.Period) >= w.m.Period.Number {
			continue
		}
		for _, c := range w.m.Snapshot().History {
			if int64(c.Period) == b.Period && bytes.Equal(c.Hash[:], b.Hash) {
				return b, c.ID, nil
			}
		}
	}
	return nil, 0, nil
}

func trendTitle(v url.Values) string {
	id, ok := figure.Lookup(cmp.Or(v.Get("figure"), figure.Get(figure.EACComputed).Name))
	if !ok {
		return "How a figure moved"
	}
	return "How it moved: " + tell.Lower(figure.Get(id).Title)
}

// trendPage draws how a figure moved over the periods.
func (w *briefWriter) trendPage(ctx context.Context, p Part, v url.Values) error {
	m, err := w.moment(ctx, v)
	if err != nil {
		return err
	}
	name := cmp.Or(v.Get("figure"), figure.Get(figure.EACComputed).Name)
	id, ok := figure.Lookup(name)
	if !ok {
		return office.Refusef("%s of this brief: there is no figure %q.", p.Title, name)
	}
	scope := cmp.Or(v.Get("of"), m.Scope.Code, portfolio.Everywhere)
	t, err := board.In(w.o.Office).Trend(ctx, w.a, m, id, scope)
	if err != nil {
		return err
	}
	if t == nil {
		return office.Refusef("%s of this brief: there is no project or programme %q.", p.Title, scope)
	}
	axis := tell.Axis{ID: id, Currency: t.Currency}
	g := brief.Grid{Columns: []brief.Col{{Head: "Period", Share: 2}, {Head: figure.Get(id).Title, Share: 2, Number: true}}}
	for _, x := range slices.Backward(t.Points) {
		g.Rows = append(g.Rows, brief.Line{Cells: []brief.Piece{brief.Txt(x.Period.Name), brief.Txt(tell.Figure(id, x.Value, t.Currency, true).Text)}})
	}
	of := t.Name
	if t.Code == portfolio.Everywhere {
		of = m.Name
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: p.Title, Small: of + ", " + m.Period.Name, Level: 1},
		brief.Picture{Draw: tell.Trend(figure.Get(id).Title, axis, t.Names(), t.Values()).Draw},
		g,
	}})
	return nil
}

func textTitle(v url.Values) string { return cmp.Or(v.Get("title"), "In words") }

// textPage is a page of words; without any it is none.
func (w *briefWriter) textPage(_ context.Context, p Part, v url.Values) error {
	if strings.TrimSpace(v.Get("q")) == "" {
		return nil
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: []brief.Block{
		brief.Head{Text: p.Title, Small: w.m.Period.Name, Level: 1}, brief.Words{Text: v.Get("q")},
	}})
	return nil
}

// ofSeveral refuses a page that a project's brief cannot have.
func ofSeveral(p Part) error {
	return office.Refusef("%s is a page of the portfolio's and of programmes' briefs; leave it out of a project's.", p.Title)
}
