package board

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/book/cache"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// Kind is what a find result is.
type Kind uint8

// The kinds of results, in the order in which equals are listed.
const (
	FoundProject Kind = iota
	FoundProgramme
	FoundFigure
	FoundPerson
	FoundMilestone
)

func (k Kind) String() string {
	return [...]string{"project", "programme", "figure", "person", "milestone"}[k]
}

// Found is something whose code or name holds what was looked for.
type Found struct {
	Kind    Kind
	Code    string // of a project or programme; of a milestone its project; the name of a figure
	Name    string
	Detail  string
	Leads   bool // a person who leads projects
	folded  string
	quality int
}

// Find gives what holds all words of a text, the best first and at most so
// many, and how many there are in all.
func (o Room) Find(ctx context.Context, a right.Actor, text string, most int) (found []Found, all int, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, 0, err
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return nil, 0, err
	}
	list, err := cache.Get(
		ctx,
		o.Kept(),
		indexed{s.Revision, s.Sight().Key()},
		func(ctx context.Context) ([]Found, error) { return index(ctx, s) },
	)
	if err != nil {
		return nil, 0, err
	}
	words := strings.Fields(office.Fold(text))
	if len(words) == 0 {
		return nil, 0, nil
	}
	whole := strings.Join(words, " ")
	for _, x := range list {
		if x.quality = quality(x.folded, whole, words); x.quality > 0 {
			found = append(found, x)
		}
	}
	slices.SortStableFunc(found, func(a, b Found) int {
		return cmp.Or(cmp.Compare(b.quality, a.quality), cmp.Compare(a.Kind, b.Kind))
	})
	return found[:min(most, len(found))], len(found), nil
}

// quality is zero where a word is missing; it rises from a match inside a word
// over the beginning of one to the beginning of all, and to all.
func quality(in, whole string, words []string) int {
	q := 0
	for _, w := range words {
		i := strings.Index(in, w)
		if i < 0 {
			return 0
		}
		if i == 0 || strings.Contains(in, " "+w) {
			q = 1
		}
	}
	switch {
	case strings.HasPrefix(in, whole+" ") || in == whole:
		return 5
	case strings.HasPrefix(in, whole):
		return 4
	case strings.Contains(in, " "+whole):
		return 3
	}
	return 1 + q
}

// indexed is what is looked through at a revision, by who sees so much.
type indexed struct {
	revision int64
	sight    string
}

// index lists all that can be found.
func index(ctx context.Context, s *book.Snapshot) ([]Found, error) {
	projects, err := s.Filled(ctx)
	if err != nil {
		return nil, err
	}
	var list []Found
	people := make(map[string]*Found)
	person := func(name, as string, leads bool) {
		if name == "" {
			return
		}
		p := people[name]
		if p == nil {
			p = &Found{Kind: FoundPerson, Name: name, folded: office.Fold(name)}
			people[name] = p
		}
		p.Leads = p.Leads || leads
		if !strings.Contains(p.Detail, as) {
			p.Detail = strings.TrimPrefix(p.Detail+", "+as, ", ")
		}
	}
	for _, g := range s.Office.Groups {
		list = append(
			list,
			Found{Kind: FoundProgramme, Code: g.Code, Name: g.Name, folded: office.Fold(g.Code + " " + g.Name)},
		)
		person(g.Owner, "owner of "+g.Code, false)
	}
	for _, p := range projects {
		list = append(
			list,
			Found{
				Kind:   FoundProject,
				Code:   p.Code,
				Name:   p.Name,
				Detail: p.Lead,
				folded: office.Fold(p.Code + " " + p.Name),
			},
		)
		person(p.Lead, "lead", true)
		person(p.Sponsor, "sponsor", false)
		for i := range p.Activities {
			if m := &p.Activities[i]; m.Kind == portfolio.Milestone {
				list = append(
					list,
					Found{
						Kind:   FoundMilestone,
						Code:   p.Code,
						Name:   m.Name,
						Detail: p.Code + " " + p.Name,
						folded: office.Fold(m.Name + " " + m.Code),
					},
				)
			}
		}
	}
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		list = append(
			list,
			Found{
				Kind:   FoundFigure,
				Code:   e.Name,
				Name:   e.Title,
				Detail: e.Symbol,
				folded: office.Fold(e.Symbol + " " + e.Title + " " + e.Name),
			},
		)
	}
	for _, name := range slices.Sorted(maps.Keys(people)) {
		list = append(list, *people[name])
	}
	return list, nil
}
