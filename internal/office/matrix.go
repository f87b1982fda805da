package office

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
	"turret/internal/right"
	"turret/internal/store"
)

// Intake is what came in for a period: projects by kind of statement.
type Intake struct {
	Kinds  []IntakeKind
	Groups []IntakeGroup
	Stated int // projects that gave all they owe
	Owing  int
	Same   int // projects that stated something the same as last
}

// IntakeGroup is a programme with its projects.
type IntakeGroup struct {
	Name string
	Rows []IntakeRow
	In   []int // projects that stated a kind, by column
	Of   []int // and that owe it or stated it
}

// IntakeRow is a project with what it stated.
type IntakeRow struct {
	Code, Name string
	Cells      []IntakeCell
	Owes       []string // kinds that are missing
	Last       string   // how its last statement of the period came
	Active     bool
}

// What a cell of the matrix tells.
const (
	In      = "in"
	Same    = "same"    // stated, and equal to the statement before
	Missing = "missing" // owed
	NotOwed = ""
)

// IntakeCell tells what a project stated of one kind.
type IntakeCell struct {
	State  string
	Days   int // since it came
	At     time.Time
	Source string // the file, and its sheet
	By     string
	Before string // the period of the statement before, or ""
	Due    calendar.Date
	Late   bool // it came after its due day, or that has gone without it
}

// Intake reads what came in for a moment's period.
func (o *Office) Intake(ctx context.Context, a right.Actor, m *Moment) (*Intake, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Intake{Kinds: slices.Clone(intakeKinds)}
	if m.Empty {
		return out, nil
	}
	at := m.Period.period
	for i := range out.Kinds {
		out.Kinds[i].Due = m.snap.Office.DueOn(out.Kinds[i].Statement, at)
	}
	batches := make(map[int64]bool)
	for _, list := range m.snap.Stated {
		for _, x := range list {
			if x.Version == int32(at) {
				batches[x.Batch] = true
			}
		}
	}
	came, err := o.cameBy(ctx, slices.Collect(maps.Keys(batches)))
	if err != nil {
		return nil, err
	}
	same, err := o.sameAsBefore(ctx, m.snap, at)
	if err != nil {
		return nil, err
	}
	groups := make(map[string]*IntakeGroup)
	var order []string
	for _, r := range m.now.Rows {
		if r.Group && r.Code != "*" {
			order = append(order, r.Code)
		}
	}
	order = append(order, "")
	for _, r := range m.now.Rows {
		if r.Group || !m.inScope(r) {
			continue
		}
		p := m.snap.Project(r.Code)
		if p == nil {
			continue
		}
		g := groups[r.Parent]
		if g == nil {
			g = &IntakeGroup{Name: "No programme", In: make([]int, len(intakeKinds)), Of: make([]int, len(intakeKinds))}
			if pr := m.now.Group(r.Parent); pr != nil && r.Parent != "*" && r.Parent != "" {
				g.Name = pr.Name
			}
			groups[r.Parent] = g
		}
		row := o.intakeRow(m, r, p, out.Kinds, came, same)
		for i, c := range row.Cells {
			if c.State == In || c.State == Same {
				g.In[i]++
			}
			if c.State != NotOwed {
				g.Of[i]++
			}
		}
		if row.Active {
			out.Owing++
			if len(row.Owes) == 0 {
				out.Stated++
			}
		}
		if slices.ContainsFunc(row.Cells, func(c IntakeCell) bool { return c.State == Same }) {
			out.Same++
		}
		g.Rows = append(g.Rows, row)
	}
	for _, code := range append(order, slices.Sorted(maps.Keys(groups))...) {
		if g := groups[code]; g != nil {
			out.Groups = append(out.Groups, *g)
			delete(groups, code)
		}
	}
	return out, nil
}

func (o *Office) intakeRow(m *Moment, r *Reading, p *portfolio.Project, kinds []IntakeKind, came map[int64]*Run, same map[portfolio.Part]bool) IntakeRow {
	at := m.Period.period
	row := IntakeRow{Code: r.Code, Name: r.Name, Active: active(r)}
	var last int64
	today := calendar.DateIn(o.clock())
	for _, k := range kinds {
		c := IntakeCell{Due: k.Due}
		for _, x := range m.snap.Stated[p.ID] {
			if !slices.Contains(k.kinds, x.Kind) {
				continue
			}
			if v := calendar.Period(x.Version); v < at && v > 0 {
				c.Before = m.snap.Office.Periods.Name(v)
			}
			if x.Version != int32(at) {
				continue
			}
			c.State = In
			if same[x.Part] {
				c.State = Same
			}
			b := came[x.Batch]
			c.At, c.By = b.At, b.Actor
			c.Source = b.source(x.Kind.Sent())
			c.Late = c.Due != 0 && calendar.DateIn(c.At) > c.Due
			c.Days = max(0, int(o.clock().Sub(c.At)/(24*time.Hour)))
			if x.Batch > last {
				last, row.Last = x.Batch, c.Source
			}
		}
		if c.State == NotOwed && k.Owed && row.Active {
			c.State, c.Late = Missing, c.Due != 0 && today > c.Due
			row.Owes = append(row.Owes, strings.ToLower(k.Title))
		}
		row.Cells = append(row.Cells, c)
	}
	return row
}

// cameBy gives batches as runs, each read once; one that gathered no files has
// no sheets.
func (o *Office) cameBy(ctx context.Context, batches []int64) (map[int64]*Run, error) {
	named, err := o.store.BatchesNamed(ctx, batches)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]*Run, len(named))
	for _, id := range batches {
		b := named[id]
		r, err := run(store.Run{Batch: id, At: b.At, Actor: b.Actor, Origin: b.Origin, Sheets: cmp.Or(b.Sheets, "[]")})
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
	at       calendar.Period
}

func (o *Office) sameAsBefore(ctx context.Context, snap *book.Snapshot, at calendar.Period) (map[portfolio.Part]bool, error) {
	return cache.Get(ctx, o.kept, repeated{snap.Revision, at}, func(ctx context.Context) (map[portfolio.Part]bool, error) {
		out, err := snap.SameAsBefore(ctx, at, portfolio.ProgressPart, portfolio.ForecastPart, portfolio.RiskPart, portfolio.NarrativePart)
		if err != nil {
			return nil, fmt.Errorf("compare statements: %w", err)
		}
		return out, nil
	})
}
