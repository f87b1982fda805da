package network

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// TestPushByHand: a task that ends two days later pushes its successor and the end of its
// project, and not what has days to spare.
func TestPushByHand(t *testing.T) {
	n := Solve(november, []Activity{
		task("2026-12-01", "2026-12-03"), task("2026-12-04", "2026-12-08"), task("2026-12-09", "2026-12-09"), point("2026-12-09"),
	}, []Link{{0, 1, FinishStart, 0}, {0, 2, FinishStart, 0}, {1, 3, FinishStart, 0}})
	moved, ends := n.Push([]Change{{0, on("2026-12-01"), on("2026-12-07")}})
	var got []string
	for _, p := range moved {
		got = append(got, p.Is[0].String()+" "+p.Is[1].String())
	}
	// Until Mon 7; then three days from Tue 8 to Thu 10, and the milestone on that day.
	require.Equal(t, []string{"2026-12-01 2026-12-07", "2026-12-08 2026-12-10", "2026-12-10 2026-12-10"}, got)
	require.Equal(t, []int{2, 2, 1}, []int{moved[0].Days, moved[1].Days, moved[2].Days})
	require.Equal(t, []End{{0, on("2026-12-09"), on("2026-12-10")}}, ends)

	moved, ends = n.Push([]Change{{0, on("2026-12-01"), on("2026-12-03")}})
	require.Empty(t, moved, "nothing changes")
	require.Empty(t, ends)
	moved, _ = n.Push([]Change{{1, on("2026-12-02"), on("2026-12-04")}})
	require.Empty(t, moved, "its link holds it where it is")
	done := Solve(november, []Activity{task("2026-11-02", "2026-11-03").is(Finished)}, nil)
	moved, _ = done.Push([]Change{{0, on("2026-12-01"), on("2026-12-03")}})
	require.Empty(t, moved, "what is finished stays")
	begun := Solve(november, []Activity{task("2026-11-02", "2026-12-03").is(Started)}, nil)
	moved, _ = begun.Push([]Change{{0, on("2026-12-02"), on("2026-12-04")}})
	require.Equal(t, on("2026-11-02"), moved[0].Is[0], "its start is a fact")
	require.Equal(t, on("2026-12-04"), moved[0].Is[1])
}

// TestPushIsTheNetworkWithTheChange: on random networks, what a push moves is what differs
// between the network with the change and that without it.
func TestPushIsTheNetworkWithTheChange(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 21))
	cals := []*calendar.Calendar{five, six, quiet}
	for range 400 {
		var activities []Activity
		for range 2 + r.IntN(14) {
			start := november + calendar.Date(r.IntN(40)) - 12
			a := Activity{Project: int32(r.IntN(3)), Calendar: cals[r.IntN(3)], Start: start, Finish: start + calendar.Date(r.IntN(9)), Progress: Progress(r.IntN(8) / 6)}
			if r.IntN(5) == 0 {
				a.Milestone, a.Progress, a.Start = true, Waiting, a.Finish
			}
			if r.IntN(9) == 0 {
				a.Progress = Finished
			}
			if r.IntN(6) == 0 {
				a.Constraint, a.Bound = Constraint(r.IntN(4)), november+calendar.Date(r.IntN(30))
			}
			activities = append(activities, a)
		}
		var links []Link
		for range r.IntN(2 * len(activities)) {
			from, to := r.IntN(len(activities)), r.IntN(len(activities))
			if from != to {
				links = append(links, Link{int32(from), int32(to), Type(r.IntN(4)), int32(r.IntN(5) - 1)})
			}
		}
		n := Solve(november, activities, links)
		i := int32(r.IntN(len(activities)))
		start := november + calendar.Date(r.IntN(40)) - 5
		c := Change{i, start, start + calendar.Date(r.IntN(12))}
		with := slices.Clone(activities)
		if a := &with[i]; a.Progress != Finished {
			if a.Progress == Waiting {
				a.Start = c.Start
			}
			if a.Finish = c.Finish; a.Milestone {
				a.Start = a.Finish
			}
		}
		m := Solve(november, with, links)
		want := make(map[int32][2]calendar.Date)
		for k := range activities {
			was, is := &n.Dates[k], &m.Dates[k]
			if !was.Outside && (was.EarlyStart != is.EarlyStart || was.EarlyFinish != is.EarlyFinish) {
				want[int32(k)] = [2]calendar.Date{is.EarlyStart, is.EarlyFinish}
			}
		}
		moved, ends := n.Push([]Change{c})
		got := make(map[int32][2]calendar.Date)
		for _, p := range moved {
			if p.Was != p.Is {
				got[p.Activity] = p.Is
			}
		}
		require.Equal(t, want, got)
		for _, e := range ends {
			require.Equal(t, m.End(e.Project), e.Is)
			require.Equal(t, n.End(e.Project), e.Was)
		}
		for p := range 3 {
			if n.End(p) != m.End(p) {
				require.True(t, slices.ContainsFunc(ends, func(e End) bool { return e.Project == p }))
			}
		}
	}
}

// TestRelinkByHand: a link that is put in pushes what follows, one that is taken out gives
// back what it held; a loop is named.
func TestRelinkByHand(t *testing.T) {
	n := Solve(november, []Activity{
		task("2026-12-01", "2026-12-03"), task("2026-12-02", "2026-12-04"), point("2026-12-04"),
	}, []Link{{1, 2, FinishStart, 0}})
	moved, ends, loops := n.Relink(append(slices.Clone(n.Links), Link{0, 1, FinishStart, 1}))
	require.Empty(t, loops)
	var got []string
	for _, p := range moved {
		got = append(got, p.Was[1].String()+" "+p.Is[1].String())
	}
	// Until Thu 3, a day on, so from Mon 7 to Wed 9; the milestone with it.
	require.Equal(t, []string{"2026-12-04 2026-12-09", "2026-12-04 2026-12-09"}, got)
	require.Equal(t, []int{3, 3}, []int{moved[0].Days, moved[1].Days})
	require.Equal(t, []End{{0, on("2026-12-04"), on("2026-12-09")}}, ends)

	held := Solve(november, n.Activities, []Link{{0, 1, FinishStart, 1}, {1, 2, FinishStart, 0}})
	moved, ends, _ = held.Relink(held.Links[1:])
	require.Equal(t, []int{-3, -3}, []int{moved[0].Days, moved[1].Days})
	require.Equal(t, []End{{0, on("2026-12-09"), on("2026-12-04")}}, ends)

	moved, _, loops = n.Relink(append(slices.Clone(n.Links), Link{2, 1, FinishStart, 0}))
	require.Empty(t, moved, "what waits for itself has no dates")
	require.Len(t, loops, 1)
	moved, ends, _ = n.Relink(n.Links)
	require.Empty(t, moved)
	require.Empty(t, ends)
}

// TestLoopBesideALongChain: a loop is found beside a chain of so many activities that each
// must be looked at once.
func TestLoopBesideALongChain(t *testing.T) {
	const many = 200_000
	activities, links := make([]Activity, many+2), make([]Link, 0, many+2)
	for i := range activities {
		activities[i] = task("2026-12-01", "2026-12-01")
		if i > 0 && i < many {
			links = append(links, Link{int32(i - 1), int32(i), StartStart, 0})
		}
	}
	links = append(links, Link{many, many + 1, FinishStart, 0}, Link{many + 1, many, FinishStart, 0})
	n := Solve(november, activities, links)
	require.Equal(t, [][]int32{{many, many + 1}}, n.Loops)
	require.Equal(t, on("2026-12-01"), n.Dates[many-1].EarlyStart)
}
