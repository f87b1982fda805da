package entry

import (
	"context"

	"turret/internal/book"
	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store/format"
)

// activityNames tells whether projects have activities of a name, by the statements in
// force, and by which codes they are known. Those of a project are read when first asked for; what cannot be read has none.
func (o Room) activityNames(ctx context.Context, s *book.Snapshot) (
	called, coded func(project, text string) bool, named func(project, name string) string, placed func(project, above, name string) string,
) {
	type names struct {
		codes  map[string]bool
		names  map[string]string    // to the code, "" of several
		places map[[2]string]string // by the name of what is above and its own, to the code, "" of several
	}
	known := make(map[string]names)
	kind := record.OfPart(portfolio.ActivityPart)
	code, name, parent := kind.Index("activity"), kind.Index("name"), kind.Index("parent")
	read := func(project string) names {
		out := names{make(map[string]bool), make(map[string]string), make(map[[2]string]string)}
		p := s.Project(project)
		if p == nil {
			return out
		}
		for _, part := range s.Stated[p.ID] {
			if part.Kind != portfolio.ActivityPart {
				continue
			}
			err := o.Store().Bodies(ctx, []int64{part.ID}, func(_ int64, body []byte) error {
				rows, err := format.DecodeRows(body, len(kind.Columns))
				nameOf := make(map[string]string, len(rows))
				for i := range rows {
					nameOf[rows[i].Fields[code].Text] = gather.Normal(rows[i].Fields[name].Text)
				}
				for i := range rows {
					place := [2]string{nameOf[rows[i].Fields[parent].Text], nameOf[rows[i].Fields[code].Text]}
					if _, twice := out.places[place]; twice {
						out.places[place] = ""
					} else {
						out.places[place] = rows[i].Fields[code].Text
					}
					out.codes[gather.LooseCode(rows[i].Fields[code].Text)] = true
					called := gather.Normal(rows[i].Fields[name].Text)
					if _, twice := out.names[called]; twice {
						out.names[called] = ""
					} else {
						out.names[called] = rows[i].Fields[code].Text
					}
				}
				return err
			})
			if err != nil {
				return names{}
			}
		}
		return out
	}
	of := func(project string) names {
		n, ok := known[project]
		if !ok {
			n = read(project)
			known[project] = n
		}
		return n
	}
	called = func(project, text string) bool {
		n := of(project)
		_, known := n.names[gather.Normal(text)]
		return known && !n.codes[gather.LooseCode(text)]
	}
	coded = func(project, code string) bool { return of(project).codes[gather.LooseCode(code)] }
	named = func(project, name string) string { return of(project).names[gather.Normal(name)] }
	return called, coded, named, func(project, above, name string) string {
		return of(project).places[[2]string{above, gather.Normal(name)}]
	}
}
