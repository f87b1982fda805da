package gather

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// How the links that a list of activities tells are read, once it is known where they stand.

// chained are the columns of links that a reader reads, with what it knows to do so.
type chained struct {
	column int
	after  bool
	coded  bool // activities are called by their codes
	names  *callings
	tongue tongue
}

// chains makes ready to read links, where the layout is of those within another table.
func (r *reader) chains(s *Sheet) {
	if r.Within == "" {
		return
	}
	for i := range r.Uses {
		if use := r.Uses[i].As; use == AsBefore || use == AsAfter {
			at := r.refs(i)
			r.chain = append(r.chain, chained{
				column: i, after: use == AsAfter, coded: at == r.column("activity"),
				names: r.callings(s, r.o, at, everyRow), tongue: r.hear(s, r.o, i),
			})
		}
	}
	for i, x := range r.Uses { // the rest is read with the activities
		if x.As != "project" && x.As != "activity" && x.As != "name" {
			r.places[i] = -1
		}
	}
	r.months, r.linked = nil, make(map[[3]string]entry)
}

// linksOf hands over the links that a row of an activity tells.
func (r *reader) linksOf(line *Line, cells func() map[string]string) {
	project := r.out.Fields[r.t.Index("project")].Text
	own := r.out.Fields[r.t.Index("activity")].Text
	if at := r.t.Index("name"); own == "" && at >= 0 {
		own = r.out.Fields[at].Text
	}
	own = r.o.codeOf(project, own)
	for k := range r.chain {
		c := &r.chain[k]
		cell := line.At(c.column)
		text := strings.TrimFunc(cell.Text, isSpace)
		if text == "" {
			continue
		}
		bad := func(format string, args ...any) {
			r.bad(line, r.head(c.column), strings.Clone(text), format, args...)
		}
		known := func(s string) bool {
			if _, ok := c.names.find(project, s); ok {
				return true
			}
			return r.o.Coded != nil && r.o.Coded(project, s)
		}
		c.tongue.week = r.o.week(project)
		list, why := c.tongue.entries(text, known)
		if why != "" {
			bad("%s", why)
			continue
		}
		for _, e := range list {
			other, ok := c.names.find(project, e.ref)
			switch {
			case ok:
			case c.coded || e.found:
				other = end{project, e.ref} // a code of the office's own, or of nothing that is known
			default:
				bad("%q names %q, which %s has not; write what it calls the activity", text, e.ref, r.called(c.column))
				continue
			}
			from, to := end{project, own}, other
			if !c.after {
				from, to = to, from
			}
			if why := r.link(line, project, from, to, e, cells); why != "" {
				bad("%s", why)
			}
		}
	}
}

// called says by what a column of links calls activities.
func (l *Layout) called(i int) string {
	if l.Uses[i].Refs == byRow {
		return "the list"
	}
	return fmt.Sprintf("the column %q", l.Uses[i].Refs)
}

// link hands over one link; one that was told before and differs has a reason.
func (r *reader) link(line *Line, project string, from, to end, e entry, cells func() map[string]string) string {
	text := func(x end) string {
		if x.project == project {
			return x.activity
		}
		return x.project + "/" + x.activity
	}
	key := [3]string{project, text(from), text(to)}
	e.ref, e.found = "", false
	if old, told := r.linked[key]; told {
		if old != e {
			return fmt.Sprintf("the link from %s to %s is told twice: as %s%+d and as %s%+d; leave one", key[1], key[2], old.kind, old.lag, e.kind, e.lag)
		}
		return ""
	}
	r.linked[key] = e
	t := record.Links.Kind
	row := portfolio.Row{Fields: make([]portfolio.Field, len(t.Columns)), Source: portfolio.Source{Row: int32(line.N)}}
	for column, value := range map[string]string{
		"project": project, "from": key[1], "to": key[2], "type": e.kind, "lag": fmt.Sprint(e.lag),
	} {
		at := t.Index(column)
		if why := parseCell(&t.Columns[at], value, &row.Fields[at], r.o); why != "" {
			return why
		}
	}
	for _, column := range [...]string{"project", "from", "to"} {
		if row.Fields[t.Index(column)].Said != portfolio.Value {
			return column + " is empty, and it is part of the row's key; fill it in"
		}
	}
	r.row(&row, cells)
	return ""
}
