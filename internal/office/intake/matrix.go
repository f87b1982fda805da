package intake

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/store"
)

// Matrix is what came in for a period: projects by kind of statement.
type Matrix struct {
	Kinds  []office.OwedKind
	Groups []Group
	Stated int // projects that gave all they owe
	Owing  int
	Same   int  // projects that stated something the same as last
	Early  bool // nothing is stated for the period yet, and it has not ended: nothing is owed
}

// Group is a programme with its projects.
type Group struct {
	Name string
	Rows []Row
	In   []int // projects that stated a kind, by column
	Of   []int // and that owe it or stated it
}

// Row is a project with what it stated.
type Row struct {
	Code, Name string
	Cells      []Cell
	Owes       []string // kinds that are missing
	Last       string   // how its last statement of the period came
	Owing      bool     // some statement is asked of it
}

// What a cell of the matrix tells.
const (
	Came      = "in"
	Same      = "same"      // stated, and equal to the statement before
	Confirmed = "confirmed" // someone said that the statement before still holds
	Missing   = "missing"   // owed
	NotOwed   = ""
)

// Cell tells what a project stated of one kind.
type Cell struct {
	State  string
	Days   int // since it came
	At     time.Time
	Source string // the file, and its sheet
	By     string
	Before string // the period of the statement before, or ""
	Due    calendar.Date
	Late   bool // it came after its due day, or that has gone without it
}

// Matrix reads what came in for a moment's period.
func (o Room) Matrix(ctx context.Context, a right.Actor, m *office.Moment) (*Matrix, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Matrix{Kinds: slices.Clone(office.OwedKinds)}
	if m.Empty {
		return out, nil
	}
	at := m.Period.Number
	out.Early = !m.Owes()
	for i := range out.Kinds {
		out.Kinds[i].Due = m.Snapshot().Office.DueOn(out.Kinds[i].Statement, at)
	}
	came, err := o.cameBy(ctx, batchesOf(m.Snapshot(), at))
	if err != nil {
		return nil, err
	}
	same, err := o.sameAsBefore(ctx, m.Snapshot(), at)
	if err != nil {
		return nil, err
	}
	groups := make(map[string]*Group)
	for _, r := range m.Readings().Rows {
		if r.Group || !m.InScope(r) {
			continue
		}
		p := m.Snapshot().Project(r.Code)
		if p == nil {
			continue
		}
		g := groups[r.Parent]
		if g == nil {
			g = newGroup(m, r.Parent)
			groups[r.Parent] = g
		}
		row := o.intakeRow(m, r, p, out.Kinds, came, same)
		out.count(g, row)
		g.Rows = append(g.Rows, row)
	}
	for _, code := range append(programmesInOrder(m), slices.Sorted(maps.Keys(groups))...) {
		if g := groups[code]; g != nil {
			out.Groups = append(out.Groups, *g)
			delete(groups, code)
		}
	}
	return out, nil
}

// batchesOf gives the batches that stated anything of a period.
func batchesOf(s *book.Snapshot, at calendar.Period) []int64 {
	batches := make(map[int64]bool)
	for _, list := range s.Stated {
		for _, x := range list {
			if x.Version == int32(at) {
				batches[x.Batch] = true
			}
		}
	}
	return slices.Collect(maps.Keys(batches))
}

// programmesInOrder gives the codes of programmes as the board has them, and "" for
// projects without one.
func programmesInOrder(m *office.Moment) (order []string) {
	for _, r := range m.Readings().Rows {
		if r.Group && r.Code != "*" {
			order = append(order, r.Code)
		}
	}
	return append(order, "")
}

// newGroup begins the rows of a programme.
func newGroup(m *office.Moment, programme string) *Group {
	g := &Group{
		Name: "No programme",
		In:   make([]int, len(office.OwedKinds)),
		Of:   make([]int, len(office.OwedKinds)),
	}
	if pr := m.Readings().Group(programme); pr != nil && programme != "*" && programme != "" {
		g.Name = pr.Name
	}
	return g
}

// count counts what a project has stated, in its group and in all.
func (m *Matrix) count(g *Group, row Row) {
	for i, c := range row.Cells {
		if c.State != Missing && c.State != NotOwed {
			g.In[i]++
		}
		if c.State != NotOwed {
			g.Of[i]++
		}
	}
	if row.Owing {
		m.Owing++
		if len(row.Owes) == 0 {
			m.Stated++
		}
	}
	if slices.ContainsFunc(row.Cells, func(c Cell) bool { return c.State == Same }) {
		m.Same++
	}
}

func (o Room) intakeRow(
	m *office.Moment,
	r *office.Reading,
	p *portfolio.Project,
	kinds []office.OwedKind,
	came map[int64]*entry.Run,
	same map[portfolio.Part]bool,
) Row {
	at := m.Period.Number
	owes, _ := office.Owing(r)
	row := Row{Code: r.Code, Name: r.Name, Owing: owes && m.Owes()}
	var last int64
	today := calendar.DateIn(o.Clock())
	for _, k := range kinds {
		c := Cell{Due: k.Due}
		for _, x := range m.Snapshot().Stated[p.ID] {
			if !slices.Contains(k.Kinds, x.Kind) {
				continue
			}
			if v := calendar.Period(x.Version); v < at && v > 0 {
				c.Before = m.Snapshot().Office.Periods.Name(v)
			}
			if x.Version != int32(at) {
				continue
			}
			c.State = Came
			if same[x.Part] {
				c.State = Same
			}
			b := came[x.Batch]
			if b.Origin == office.Confirmed {
				c.State = Confirmed
			}
			c.At, c.By = b.At, b.Actor
			c.Source = b.Source(x.Kind.Sent())
			c.Late = c.Due != 0 && calendar.DateIn(c.At) > c.Due
			c.Days = max(0, int(o.Clock().Sub(c.At)/(24*time.Hour)))
			if x.Batch > last {
				last, row.Last = x.Batch, c.Source
			}
		}
		if c.State == NotOwed && k.Part != 0 && m.Owes() && m.Snapshot().Office.Owes(p, k.Part, at) {
			c.State, c.Late = Missing, c.Due != 0 && today > c.Due
			row.Owes = append(row.Owes, strings.ToLower(k.Title))
		}
		row.Cells = append(row.Cells, c)
	}
	return row
}

// cameBy gives batches as runs, each read once; one that gathered no files has
// no sheets.
func (o Room) cameBy(ctx context.Context, batches []int64) (map[int64]*entry.Run, error) {
	named, err := o.Store().BatchesNamed(ctx, batches)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]*entry.Run, len(named))
	for _, id := range batches {
		b := named[id]
		r, err := entry.RunFrom(
			store.Run{Batch: id, At: b.At, Actor: b.Actor, Origin: b.Origin, Sheets: cmp.Or(b.Sheets, "[]")},
		)
		if err != nil {
			return nil, err
		}
		out[id] = &r
	}
	return out, nil
}

// repeated is which statements of a period say the same as those before them, at a
// revision.
type repeated struct {
	revision int64
	sight    string
	at       calendar.Period
}

func (o Room) sameAsBefore(
	ctx context.Context,
	snap *book.Snapshot,
	at calendar.Period,
) (map[portfolio.Part]bool, error) {
	return cache.Get(
		ctx,
		o.Kept(),
		repeated{snap.Revision, snap.Sight().Key(), at},
		func(ctx context.Context) (map[portfolio.Part]bool, error) {
			out, err := snap.SameAsBefore(
				ctx,
				at,
				portfolio.ProgressPart,
				portfolio.ForecastPart,
				portfolio.RiskPart,
				portfolio.NarrativePart,
			)
			if err != nil {
				return nil, fmt.Errorf("compare statements: %w", err)
			}
			return out, nil
		},
	)
}
