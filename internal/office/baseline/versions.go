package baseline

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// The kinds of versions that money can be read by.
const (
	StatementVersion = "statement"
	BaselineVersion  = "baseline"
	CutVersion       = "cut"
)

// Version is a state of the office's money that it can be compared with: what was
// stated in a period, a baseline of a project, or a cut. Each is there by itself;
// any can be given a name and a note.
type Version struct {
	Kind, Project, Version string // Version is a period, a number, or the id of a cut
	Title                  string // as stated in Oct 2026
	Name, Note             string
	When                   string // how it came to be, in words
}

// Key names a version in a form.
func (v *Version) Key() string {
	return strings.Join([]string{v.Kind, v.Project, v.Version}, "~")
}

// Versions lists what money can be compared with, as a moment knows it: periods,
// the last first, then cuts made by hand, then baselines of projects in scope.
func (o Room) Versions(ctx context.Context, a right.Actor, m *office.Moment) ([]Version, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := statementVersions(m)
	cuts, err := closing.In(o.Office).Cuts(ctx, a, m)
	if err != nil {
		return nil, err
	}
	for _, c := range cuts {
		if c.Hand {
			out = append(out, Version{
				Kind:    CutVersion,
				Version: strconv.FormatInt(c.ID, 10),
				Title:   "cut " + c.Name,
				When:    c.At + " by " + c.Actor,
			})
		}
	}
	all, err := o.AllBaselines(ctx, a, m)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(all, func(x, y BaselineEntry) int { return strings.Compare(x.Project, y.Project) })
	for _, b := range all {
		when := string(b.State)
		if b.Counts() && b.Approved != 0 {
			when = "in force from " + b.Approved.String()
		}
		out = append(out, Version{
			Kind:    BaselineVersion,
			Project: b.Project,
			Version: strconv.Itoa(b.Number),
			Title:   fmt.Sprintf("baseline %d of %s", b.Number, b.Project),
			When:    when,
		})
	}
	said := namedVersions(m)
	for i := range out {
		named := said[out[i].Key()]
		out[i].Name, out[i].Note = named[0], named[1]
	}
	return out, nil
}

// namedVersions gives the names and notes of versions, by key.
func namedVersions(m *office.Moment) map[string][2]string {
	said := make(map[string][2]string)
	k, rows := record.Versions, m.Snapshot().Records.Of(record.Versions.Kind)
	for i := range rows {
		r := &rows[i]
		key := Version{Kind: k.KindCol.Of(r), Project: k.Project.Code(r), Version: k.VersionCol.Of(r)}
		if id := k.Project.ID(r); id != 0 {
			if p := m.Snapshot().ByID(id); p != nil {
				key.Project = p.Code
			}
		}
		said[key.Key()] = [2]string{k.NameCol.Of(r), k.Note.Of(r)}
	}
	return said
}

// statementVersions are the forecasts as they were stated, the latest period first.
func statementVersions(m *office.Moment) (out []Version) {
	s := m.Snapshot()
	stated := make(map[calendar.Period]int)
	for _, list := range s.Stated {
		for _, x := range list {
			if x.Kind == portfolio.ForecastPart {
				stated[calendar.Period(x.Version)]++
			}
		}
	}
	for p := max(s.Current(), s.Last); p >= s.First() && p > 0; p-- {
		n := stated[p]
		if n == 0 {
			continue
		}
		state := "open"
		if s.Closed[p] {
			state = "closed"
		}
		out = append(out, Version{
			Kind:    StatementVersion,
			Version: s.Office.Periods.Code(p),
			Title:   "as stated in " + s.Office.Periods.Name(p),
			When:    fmt.Sprintf("%d forecasts, %s", n, state),
		})
	}
	return out
}

// Named lists the versions that were given a name.
func (o Room) Named(ctx context.Context, a right.Actor, m *office.Moment) ([]Version, error) {
	if len(m.Snapshot().Records.Of(record.Versions.Kind)) == 0 {
		return nil, right.Check(a, right.Read)
	}
	list, err := o.Versions(ctx, a, m)
	return slices.DeleteFunc(list, func(v Version) bool { return v.Name == "" }), err
}

// NameVersion gives a version a name and a note, both of which may be empty.
func (o Room) NameVersion(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	seen int64,
	key, name, note string,
) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	list, err := o.Versions(ctx, a, m)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(list, func(v Version) bool { return v.Key() == key })
	if i < 0 {
		return office.Refusef("That version is gone; choose one of the list.")
	}
	v := list[i]
	row := entry.Row{
		"kind":    v.Kind,
		"project": v.Project,
		"version": v.Version,
		"name":    record.OrClear(name),
		"note":    record.OrClear(note),
	}
	_, err = entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.NamedVersion, Note: v.Title + " named " + strings.TrimSpace(name), Seen: seen, Rows: entry.These(entry.Of("versions", row))})
	return err
}
