package shell

import (
	"cmp"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"turret/internal/office/brief"
)

// Place is a screen of a step, as the line under the rail lists it.
type Place struct {
	Name, Link string
	On         bool
}

// Places are the screens of Weigh about many projects; none elsewhere.
func (f Frame) Places() (out []Place) {
	if f.Step != "weigh" || f.Project != nil || f.Moment.Empty {
		return nil
	}
	list := f.State.List().With("sort", "").With("cols", "").With("group", "").With("fold", "").With("view", "").query()
	for _, e := range f.Site.Navigation.Weigh {
		if e.Apart {
			out = append(out, Place{e.Name, f.State.Scoped(e.Path), strings.HasPrefix(f.Path, e.Path)})
		} else {
			out = append(out, Place{e.Name, e.Path + list, f.Path == e.Path || slices.Contains(e.With, f.Path)})
		}
	}
	return out
}

// Forecasts is the address of a project's statements and what came, at a lead.
func (s State) Forecasts(project string, ahead int) string {
	return "/forecasts" + s.Moment().With("of", project).With("ahead", strconv.Itoa(ahead)).query() + "#pairs"
}

// Hidden are the parts of a state that a form must carry, but those that it asks
// for itself.
func (p Page) Hidden(s State, but ...string) (out [][2]string) {
	values, err := url.ParseQuery(s.Query())
	if err != nil {
		return nil // written by the state itself
	}
	for k := range values {
		if !slices.Contains(but, k) {
			out = append(out, [2]string{k, values.Get(k)})
		}
	}
	slices.SortFunc(out, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
	return out
}

// IntoBrief is the address of a brief with a page in it: of the brief that is
// being put together, which may be a project's, or of the scope's.
func (f Frame) IntoBrief(page, project string) string {
	s := f.State
	pages, of := s.Names("pages"), s.Get("scope")
	own := brief.Parts(f.Moment, project)
	if len(pages) > 0 &&
		slices.ContainsFunc(own, func(x brief.Part) bool { return strings.TrimRight(pages[0], "+-") == x.Name }) {
		of = cmp.Or(project, of)
	}
	if len(pages) == 0 {
		for _, x := range brief.Parts(f.Moment, "") {
			pages = append(pages, x.Name)
		}
	}
	if !slices.Contains(pages, page) {
		pages = slices.Insert(pages, min(1, len(pages)), page)
	}
	return "/brief?" + s.Moment().With("of", of).With("pages", strings.Join(pages, ",")).With("leaf", "2").Query()
}
