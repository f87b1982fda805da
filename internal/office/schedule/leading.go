package schedule

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/network"
	"turret/internal/office"
	"turret/internal/right"
)

// Lead is an unfinished activity that a milestone waits for.
type Lead struct {
	End
	Finish calendar.Date // by the network
	Float  int           // working days that its finish may move without moving the milestone's
}

// Leading lists what an unfinished milestone waits for, near or far, what moves it soonest
// first. Hidden counts activities of projects that the reader does not see.
func (o Room) Leading(ctx context.Context, a right.Actor, m *office.Moment, project, milestone string) (list []Lead, hidden int, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, 0, err
	}
	s := m.Snapshot()
	w, err := s.Web(ctx, project, m.Period.Number)
	if err != nil || w == nil || s.Project(project) == nil {
		return nil, 0, err
	}
	net := w.Net()
	at, err := placeOf(net, project, milestone)
	if err != nil || net.Activities[at].Progress == network.Finished {
		return nil, 0, nil //nolint:nilerr // it stands outside, so it waits for nothing
	}
	float, leads := net.FloatTo(int(at))
	shown := &Schedule{inputs: s}
	for i := range leads {
		if !leads[i] || i == int(at) {
			continue
		}
		if s.Project(net.Views[net.Places[i].View].Code) == nil {
			hidden++
			continue
		}
		list = append(list, Lead{shown.end(net, net.Places[i]), net.Dates[i].EarlyFinish, float[i]})
	}
	slices.SortStableFunc(list, func(a, b Lead) int {
		return cmp.Or(cmp.Compare(a.Float, b.Float), -cmp.Compare(a.Finish, b.Finish), cmp.Compare(a.Project, b.Project), cmp.Compare(a.Code, b.Code))
	})
	return list, hidden, nil
}
