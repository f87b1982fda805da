package main

import (
	"context"
	"math/rand/v2"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/network"
)

// networkStep solves a network of 100,000 activities of 1,000 projects, each with a calendar
// of its own, and 150,000 links, a tenth of them across projects.
func networkStep(context.Context, string) (result, error) {
	const projects, each, linked = 1000, 100, 150_000
	r := rand.New(rand.NewPCG(3, 9))
	day := calendar.DateOf(2026, 11, 30)
	calendars := make([]*calendar.Calendar, projects)
	for i := range calendars {
		var off []calendar.Date
		for range 100 {
			off = append(off, day+calendar.Date(r.IntN(4000)-1000))
		}
		calendars[i] = calendar.New("c", calendar.MondayToFriday, off)
	}
	activities := make([]network.Activity, projects*each)
	for i := range activities {
		p, k := i/each, i%each
		start := day + calendar.Date(7*(k-30)+r.IntN(9))
		a := network.Activity{Project: int32(p), Calendar: calendars[p], Milestone: k%10 == 9, Start: start, Finish: start + calendar.Date(r.IntN(30))}
		switch {
		case a.Finish < day-20:
			a.Progress = network.Finished
		case a.Start < day && !a.Milestone:
			a.Progress = network.Started
		}
		activities[i] = a
	}
	links := make([]network.Link, 0, linked)
	for len(links) < linked {
		from := r.IntN(len(activities))
		k := from % each
		if k == each-1 {
			continue
		}
		to := from + 1 + r.IntN(min(8, each-1-k))
		if r.IntN(10) == 0 {
			to = r.IntN(projects)*each + to%each
		}
		links = append(links, network.Link{From: int32(from), To: int32(to), Type: network.Type(r.IntN(4)), Lag: int32(r.IntN(5))})
	}
	var took []time.Duration
	for range 7 {
		begun := time.Now()
		network.Solve(day, activities, links)
		took = append(took, time.Since(begun))
	}
	n := network.Solve(day, activities, links)
	var push []time.Duration
	for i := range 15 {
		at := int32(r.IntN(len(activities)/each)*each + i) // early in its project, so that much follows
		a := activities[at]
		begun := time.Now()
		n.Push([]network.Change{{Activity: at, Start: a.Start + 20, Finish: a.Finish + 20}})
		push = append(push, time.Since(begun))
	}
	return result{"network of 100,000 activities: both passes": median(took), "the same: a push": median(push)}, nil
}
