package gather

import (
	"fmt"
	"strings"
)

// otherNames asks about rows whose code and name, in columns of their own, are those of
// two projects or cost codes: one of them is wrong.
func (f *finder) otherNames() {
	u := f.u
	if f.o.Names == nil || u.Trusted || f.t.Name == "projects" || f.t.Name == "cost_codes" {
		return
	}
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
			rows, first, why := 0, 0, ""
			u.data(f.s, func(l *Line) bool {
				a := f.o.Names.Find(x.As, l.At(code).Text)
				b := f.o.Names.Find(x.As, l.At(name).Text)
				if len(a) != 1 || len(b) != 1 || a[0] == b[0] {
					return true
				}
				if rows++; rows == 1 {
					first = l.N
					why = fmt.Sprintf("%q is %s, and %q is %s", strings.TrimSpace(l.At(code).Text), f.o.Names.calls(x.As, a), strings.TrimSpace(l.At(name).Text), f.o.Names.calls(x.As, b))
				}
				return true
			})
			if rows > 0 {
				u.ask(code, "trust", fmt.Sprintf(
					"%s another in %q than in %q, as row %d: %s; say that the codes are right, or correct them",
					plural(rows, "row names", "rows name"), f.called(code), f.called(name), first, why,
				), "yes")
				return
			}
		}
	}
}
