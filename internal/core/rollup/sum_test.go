package rollup

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// anyProject is a project of some make: with or without progress, a stated outlook
// and income.
func anyProject(r *rand.Rand, i int) *portfolio.Project {
	p := project(fmt.Sprintf("P%02d", i), 8*r.Int64N(1000)+8, r.Int64N(101), r.Int64N(9000))
	p.ID = int64(i + 1)
	if r.IntN(4) == 0 {
		p.EarnedOff = true
	}
	if r.IntN(3) == 0 {
		p.Forecast = []portfolio.Version{{Number: int(apr), Lines: []portfolio.Line{
			{
				CodeID:   1,
				Flow:     portfolio.Cost,
				Currency: "EUR",
				Cells:    []portfolio.Cell{{Period: apr + 1, Amount: r.Int64N(9000)}},
			},
		}}}
	}
	if r.IntN(3) == 0 {
		income(p, r.Int64N(5000), r.Int64N(5000), r.Int64N(500))
	}
	return p
}

// TestFollow: a group that begins with the sums of the one before says the same as
// one that is added up anew, whatever changed of few parts, and however often.
func TestFollow(t *testing.T) {
	followed := 0
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 1))
		o := newOffice()
		var parts []Part
		for i := range 12 {
			parts = append(parts, part(o, anyProject(r, i)))
		}
		make := func() *Group { return New(o, standing.UsualGroups, end, append([]Part(nil), parts...)) }
		was := make()
		was.Eval(apr).All()
		for step := range 6 {
			var changes []Change
			for _, i := range r.Perm(len(parts))[:1+r.IntN(3)] {
				was := parts[i]
				parts[i] = part(o, anyProject(r, i))
				for d := range parts[i].Result.Standing {
					parts[i].Result.Standing[d] = standing.Standing(r.IntN(4))
				}
				changes = append(changes, Change{was, parts[i]})
			}
			anew := make()
			now := was.Follow(changes)
			if now == nil {
				was = anew
				was.Eval(apr).All()
				continue
			}
			require.Equal(t, anew.Parts, now.Parts)
			require.Equal(t, anew.LeftOut, now.LeftOut)
			followed++
			e, f := now.Eval(apr), anew.Eval(apr)
			e.All()
			f.All()
			for id := range figure.Len() {
				x, y := e.Get(figure.ID(id)), f.Get(figure.ID(id))
				name := fmt.Sprintf("seed %d, step %d: %s", seed, step, figure.Get(figure.ID(id)).Name)
				require.Equal(t, y.Known, x.Known, name)
				require.Equal(t, y.Why, x.Why, name)
				require.True(t, x.Equal(y), "%s: %v, anew %v", name, x, y)
			}
			for d := range standing.Dimension(len(parts[0].Result.Standing)) {
				require.Equal(t, anew.Standing(d), now.Standing(d), "seed %d, step %d", seed, step)
				require.Equal(t, anew.Count(d), now.Count(d), "seed %d, step %d", seed, step)
			}
			now.Settle()
			was = now
		}
	}
	require.Greater(t, followed, 100, "of 240")
}

// TestFollowBeginsWithTheSumsBefore: what did not change is not asked again.
func TestFollowBeginsWithTheSumsBefore(t *testing.T) {
	o := newOffice()
	a, b := part(o, project("A", 800, 50, 400)), part(o, project("B", 1600, 50, 700))
	was := New(o, standing.UsualGroups, end, []Part{a, b})
	was.Eval(apr).All()
	k := sumKey{figure.AC, apr, all}
	require.Equal(t, sum{1100, 2}, was.sums[k])
	was.sums[k] = sum{5000, 2} // what nobody would add up
	changed := part(o, project("B", 1600, 50, 900))
	now := was.Follow([]Change{{b, changed}})
	require.Equal(t, int64(5200), now.Eval(apr).Get(figure.AC).N, "5,000 − 700 + 900")
	now.Settle()

	gone := project("B", 1600, 50, 900)
	gone.State, gone.Since = portfolio.Cancelled, 1
	require.Nil(t, was.Follow([]Change{{b, part(o, gone)}}), "a part that does not count any more")
	require.Nil(t, was.Follow([]Change{{changed, b}}), "one that never did")
}

// TestNothingToAdd: a group without parts, and one whose parts have none of a figure,
// say so.
func TestNothingToAdd(t *testing.T) {
	o := newOffice()
	e := New(o, standing.UsualGroups, end, nil).Eval(apr)
	require.Equal(t, "it has no parts", e.Get(figure.EACStated).Why)
	require.False(t, e.Get(figure.EACStated).Known)
	require.Equal(t, "none of its parts has BAC", e.Get(figure.BAC).Why)
	off := project("A", 800, 50, 400)
	off.EarnedOff = true
	g := New(o, standing.UsualGroups, end, []Part{part(o, off)})
	require.Equal(t, "none of its parts has EV", g.Eval(apr).Get(figure.EV).Why)
	require.Equal(t, int64(800), g.Eval(apr).Get(figure.BAC).N)
}

// TestHighest: the largest value that is known, and how many have it.
func TestHighest(t *testing.T) {
	h := highest{value: figure.Value{Why: "nobody knows"}}
	h.take(figure.Value{})
	require.Equal(t, highest{value: figure.Value{Why: "nobody knows"}}, h)
	for _, c := range []struct {
		take, value int64
		n           int
	}{{3, 3, 1}, {2, 3, 1}, {3, 3, 2}, {4, 4, 1}, {3, 4, 1}, {4, 4, 2}} {
		h.take(figure.Whole(figure.Count, c.take))
		require.Equal(t, c.value, h.value.N, "after %d", c.take)
		require.Equal(t, c.n, h.n, "after %d", c.take)
	}
}
