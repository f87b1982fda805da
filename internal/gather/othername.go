package gather

import (
	"fmt"
	"strings"
)

// otherNames asks about rows whose code and name, in columns of their own, are those of
// two projects or cost codes: one of them is wrong.
func (f *finder) otherNames() (w watcher) {
	u := f.u
	if f.o.Names == nil || u.Trusted || f.t.Name == "projects" || f.t.Name == "cost_codes" {
		return w
	}
	var pairs []*twoNames
	for code, x := range u.Uses {
		if x.As != "project" && x.As != "cost_code" || x.Prefix || x.Kinds {
			continue
		}
		for name, y := range u.Uses {
			if y.As != AsExtra || !endsAsName(u.Columns[name].Head) {
				continue
			}
			label, _ := unitOf(u.Columns[name].Head)
			if column, weight := called(f.t, label, f.o.Words); weight == 0 || column != x.As {
				continue
			}
			pairs = append(pairs, &twoNames{as: x.As, code: code, name: name})
		}
	}
	pairs = append(pairs, f.namedActivities()...)
	if len(pairs) == 0 {
		return w
	}
	w.row = func(l *Line) {
		for _, p := range pairs {
			if p.as == "activity" {
				f.seeActivity(p, l)
			} else {
				p.see(f.o.Names, l)
			}
		}
	}
	w.done = func() {
		for _, p := range pairs {
			if p.rows == 0 {
				continue
			}
			u.ask(p.code, "trust", fmt.Sprintf(
				"%s another in %q than in %q, as row %d: %s; say that the codes are right, or correct them",
				plural(p.rows, "row names", "rows name"), f.called(p.code), f.called(p.name), p.first, p.why,
			), "yes")
			return
		}
	}
	return w
}

// taskHeads are heads of the names of activities, beside those that end with a word for names.
var taskHeads = wordsOf("task activity vorgang oppgave aktivitet tache activite tarea actividad attivita taak activiteit uppgift")

// namedActivities gives the columns of what activities are called, beside those of their codes.
func (f *finder) namedActivities() (out []*twoNames) {
	code := f.u.column("activity")
	if code < 0 || f.o.Activity == nil || f.o.Coded == nil || f.t.Name != "progress" || f.m.Match != "" {
		return nil
	}
	for i, x := range f.u.Uses {
		if h := f.u.Columns[i].Head; i != code && x.As == AsExtra && (endsAsName(h) || nameTails[Normal(h)] || taskHeads[Normal(h)]) {
			out = append(out, &twoNames{as: "activity", code: code, name: i})
		}
	}
	return out
}

// seeActivity compares the code of an activity with the one that is called as the row says.
func (f *finder) seeActivity(p *twoNames, l *Line) {
	project := f.u.Fixed["project"]
	if at := f.u.column("project"); at >= 0 {
		if found := f.o.Names.Find("project", l.At(at).Text); len(found) == 1 {
			project = found[0]
		}
	}
	code, name := strings.TrimFunc(l.At(p.code).Text, isSpace), strings.TrimFunc(l.At(p.name).Text, isSpace)
	if project == "" || code == "" || name == "" || !f.o.Coded(project, code) {
		return
	}
	if other := f.o.Activity(project, name); other != "" && LooseCode(other) != LooseCode(code) {
		if p.rows++; p.rows == 1 {
			p.first = l.N
			p.why = fmt.Sprintf("%q of %s is another than %q, which is %s", code, project, name, other)
		}
	}
}

// namedOther asks about rows that are all of one project where the name of the file or the
// sheet names another.
func (f *finder) namedOther() (w watcher) {
	u := f.u
	at := u.column("project")
	if f.o.Names == nil || u.Trusted || at < 0 || f.t.Name == "projects" {
		return w
	}
	named := f.o.Names.Mentioned(f.s.title() + ", " + fileTitle(f.s.File))
	const short = 3 // a file may be called a.csv
	if len(named) != 1 || len(named[0]) < short {
		return w
	}
	found := make(map[string]bool)
	w.row = func(l *Line) {
		if text := strings.TrimFunc(l.At(at).Text, isSpace); text != "" && len(found) < 3 {
			if codes := f.o.Names.Find("project", text); len(codes) == 1 {
				found[codes[0]] = true
			}
		}
	}
	w.done = func() {
		if len(found) != 1 || found[named[0]] {
			return
		}
		for code := range found {
			u.ask(at, "trust", fmt.Sprintf(
				"the name of the file or sheet speaks of %s, and every row is of %s; say that the rows are right, or correct them",
				f.o.Names.calls("project", named), f.o.Names.calls("project", []string{code}),
			), "yes")
		}
	}
	return w
}

// twoNames are two columns that tell the same thing by its code and by its name, and the
// rows in which they are two.
type twoNames struct {
	as         string
	code, name int // columns
	rows       int
	first      int // of the rows, and why
	why        string
}

func (p *twoNames) see(names *Names, l *Line) {
	code, name := l.At(p.code).Text, l.At(p.name).Text
	a, b := names.Find(p.as, code), names.Find(p.as, name)
	if len(a) != 1 || len(b) != 1 || a[0] == b[0] {
		return
	}
	if p.rows++; p.rows == 1 {
		p.first = l.N
		p.why = fmt.Sprintf("%q is %s, and %q is %s",
			strings.TrimSpace(code), names.calls(p.as, a), strings.TrimSpace(name), names.calls(p.as, b))
	}
}
