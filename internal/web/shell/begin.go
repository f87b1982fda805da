package shell

import (
	"fmt"
	"time"

	"turret/internal/office/structure"
	"turret/internal/tell"
)

// Begin is a step of an office that begins: what is there so far, and where it is done.
// Link is empty where the actor cannot do it.
type Begin struct {
	Title, Says, Link string
	Done              bool
}

// Beginning tells the steps of an office that begins.
func Beginning(f *structure.Founding) (out []Begin) {
	const nothing = "nothing yet"
	for _, s := range f.Steps {
		counted := func(one, many string) string {
			if s.Count == 0 {
				return nothing
			}
			return tell.Plural(s.Count, one, many)
		}
		b := Begin{Done: s.Done}
		switch s.What {
		case "office":
			b.Title, b.Link, b.Says = "The office", "/setup/office", fmt.Sprintf("it has no name yet, and reports in %s", f.Reporting)
			if f.Name != "" {
				b.Says = fmt.Sprintf("%s, reporting in %s", f.Name, f.Reporting)
			}
		case "periods":
			b.Title, b.Link = "Reporting periods", "/setup/periods"
			b.Says = fmt.Sprintf("calendar months; fiscal years begin in %s", time.Month(f.Fiscal))
			if f.Drawn {
				b.Says = "drawn"
			}
		case "accounts":
			b.Title, b.Link, b.Says = "People", "/setup/accounts", "who gathers, states, reads and decides"
		case "codes":
			b.Title, b.Link, b.Says = "Cost codes", "/setup/codes", counted("cost code", "cost codes")
		case "programmes":
			b.Title, b.Link, b.Says = "Programmes", "/setup/records/programmes", counted("programme", "programmes")
		case "projects":
			b.Title, b.Link, b.Says = "Projects", "/setup/records/projects", counted("project", "projects")
		case "statements":
			b.Title, b.Link, b.Says = "Plans, costs and what is stated", "/gather", "nothing yet: gather files, or type the plan and the statement of a project"
			if f.Stated {
				b.Says = "stated"
			}
		}
		if !s.May {
			b.Link = ""
		}
		out = append(out, b)
	}
	return out
}
