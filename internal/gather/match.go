package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A schedule that is sent again may number its activities anew. They are matched by their
// codes; where a name and its place are known under another code, that is offered.

// What activities are matched by, where their codes and their names say different things.
const (
	MatchByName = "by name"
	MatchByCode = "by code"
)

// MatchNames are the answers to what activities are matched by.
var MatchNames = []string{MatchByName, MatchByCode}

// recoding is an activity of a sheet that is known under another code by its name.
type recoding struct {
	project, code, name string
	known               string // the code that the office has
}

// recodings finds the activities of a list whose names, at their place, are known under
// other codes that the list does not give to the same name.
func (l *Layout) recodings(s *Sheet, o *Options) []recoding {
	name := l.column("name")
	if l.Table != record.Activities.Name || name < 0 || o.Activity == nil {
		return nil
	}
	r := &reader{Layout: l, o: o, t: l.table()}
	r.nest(s)
	type row struct {
		end
		name, up string
	}
	var rows []row
	names := make(map[end]string)
	parent := l.column("parent")
	placed := parent >= 0 || r.nests != nil
	l.walk(s, o, everyRow, func(_ int, e end, line *Line) bool {
		x := row{end: e, name: strings.Clone(strings.TrimFunc(line.At(name).Text, isSpace)), up: r.nests[line.N]}
		if parent >= 0 {
			x.up = strings.Clone(strings.TrimFunc(line.At(parent).Text, isSpace))
		}
		if e.activity != "" && x.name != "" {
			rows = append(rows, x)
			names[end{e.project, LooseCode(e.activity)}] = Normal(x.name)
		}
		return true
	})
	var out []recoding
	taken := make(map[end]bool)
	for _, x := range rows {
		known := ""
		if o.Placed != nil {
			known = o.Placed(x.project, names[end{x.project, LooseCode(x.up)}], x.name)
		}
		if known == "" && !placed { // the list does not say where they stand
			known = o.Activity(x.project, x.name)
		}
		at := end{x.project, LooseCode(known)}
		if known == "" || LooseCode(known) == LooseCode(x.activity) || names[at] == Normal(x.name) || taken[at] {
			continue
		}
		taken[at] = true
		out = append(out, recoding{x.project, x.activity, x.name, known})
	}
	return out
}

// matching asks what activities are matched by, where codes and names differ.
func (f *finder) matching() {
	if f.t != record.Activities.Kind || f.m.Match == MatchByCode || f.u.Trusted {
		return
	}
	list := f.u.recodings(f.s, f.o)
	if len(list) == 0 {
		return
	}
	if f.m.Match == MatchByName {
		f.u.Recoded = make(map[string]string, len(list))
		for _, x := range list {
			f.u.Recoded[x.project+"/"+x.code] = x.known
		}
		f.u.note("%s matched by name: %s.", plural(len(list), "activity is", "activities are"), firstOf(list))
		return
	}
	f.u.ask(f.u.column("activity"), "match", fmt.Sprintf(
		"%s known by name and place under another code, as %s; say whether the schedule was numbered anew, or these are other activities",
		plural(len(list), "activity is", "activities are"), firstOf(list),
	), MatchNames...)
}

// firstOf names the first few recodings.
func firstOf(list []recoding) string {
	const most = 3
	var out []string
	for _, x := range list[:min(most, len(list))] {
		out = append(out, fmt.Sprintf("%q, %s here and %s before", x.name, x.code, x.known))
	}
	return strings.Join(out, "; ")
}

// recoded gives an activity the code that it is known by, where it was matched by name.
func (l *Layout) recoded(project, code string) string {
	if to := l.Recoded[project+"/"+code]; to != "" {
		return to
	}
	return code
}

// matched does so for the activity of a row and the one above it. A code that is another's
// by name is refused: the row would change that one.
func (r *reader) matched() (column, value, why string) {
	if len(r.Recoded) == 0 {
		return "", "", ""
	}
	project := r.out.Fields[r.t.Index("project")].Text
	if r.taken == nil {
		r.taken = make(map[string]bool, len(r.Recoded))
		for from, to := range r.Recoded {
			of, _, _ := strings.Cut(from, "/")
			r.taken[of+"/"+to] = true
		}
	}
	for _, name := range [...]string{"activity", "parent"} {
		at := r.t.Index(name)
		if at < 0 || r.out.Fields[at].Said != portfolio.Value {
			continue
		}
		f := &r.out.Fields[at]
		switch to := r.recoded(project, f.Text); {
		case to != f.Text:
			f.Text = r.o.keep(to)
		case r.taken[project+"/"+f.Text] && name == "activity":
			return "activity", f.Text, fmt.Sprintf("%s is, matched by name, the code of another activity; give this one a code that %s does not have", f.Text, project)
		}
	}
	return "", "", ""
}

// MatchedAs reads a sheet beside a list of activities by the codes that the list was matched
// by.
func (u *Understanding) MatchedAs(first *Understanding) {
	if first.Recoded != nil && slices.Contains([]string{record.Progress.Name, linksTable}, u.Table) {
		u.Recoded = first.Recoded
	}
}
