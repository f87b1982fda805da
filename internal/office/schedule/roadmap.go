package schedule

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/right"
)

// Road is a roadmap: projects with their phases and raised milestones, group by group, and
// what they give each other.
type Road struct {
	*Schedule
	Groups     []RoadGroup
	Interfaces []Interface
}

// RoadGroup is projects that stand together.
type RoadGroup struct {
	Code, Name string
	Projects   []*office.Reading
}

// Roadmap reads the moment's projects as rows of a roadmap, by programme, lead or stage, or
// in one group where by is "none".
func (o Room) Roadmap(ctx context.Context, a right.Actor, m *office.Moment, by string) (*Road, error) {
	between, err := o.Interfaces(ctx, a, m)
	if err != nil {
		return nil, err
	}
	out := &Road{Schedule: between.Schedule, Interfaces: between.List}
	at := make(map[string]int)
	for _, r := range out.Projects {
		code := map[string]string{"lead": r.Lead, "stage": r.Stage, "none": ""}[by]
		if by == "" || by == "programme" {
			code = r.Parent
		}
		i, ok := at[code]
		if !ok {
			i = len(out.Groups)
			at[code] = i
			g := RoadGroup{Code: code, Name: code}
			if x := m.Readings().Group(code); x != nil {
				g.Name = x.Name
			}
			out.Groups = append(out.Groups, g)
		}
		out.Groups[i].Projects = append(out.Groups[i].Projects, r)
	}
	slices.SortStableFunc(out.Groups, func(a, b RoadGroup) int { return cmp.Compare(a.Code, b.Code) })
	return out, nil
}

// Ordered puts the projects of each group in an order: by code, start, finish or slip.
func (r *Road) Ordered(by string) {
	key := func(x *office.Reading) int64 {
		_, current, _ := r.Whole(x.Code)
		switch by {
		case "start":
			return int64(current[0])
		case "finish":
			return int64(current[1])
		case "slip":
			return -x.Value(figure.FinishSlip).N
		}
		return 0
	}
	for _, g := range r.Groups {
		slices.SortStableFunc(g.Projects, func(a, b *office.Reading) int {
			return cmp.Or(cmp.Compare(key(a), key(b)), cmp.Compare(a.Code, b.Code))
		})
	}
}
