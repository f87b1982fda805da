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

// TestAfter: a group that begins with the sums of the one before says the same as
// one that is added up anew, whatever changed of few parts, and however often.
func TestAfter(t *testing.T) {
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
			for range 1 + r.IntN(3) {
				i := r.IntN(len(parts))
				parts[i] = part(o, anyProject(r, i))
			}
			now, anew := make(), make()
			now.After(was)
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
			now.Settle()
			was = now
		}
	}
}

// TestAfterBeginsWithTheSumsBefore: what did not change is not asked again.
func TestAfterBeginsWithTheSumsBefore(t *testing.T) {
	o := newOffice()
	a, b := part(o, project("A", 800, 50, 400)), part(o, project("B", 1600, 50, 700))
	was := New(o, standing.UsualGroups, end, []Part{a, b})
	was.Eval(apr).All()
	k := sumKey{figure.AC, apr, all}
	require.Equal(t, sum{1100, 2}, was.sums[k])
	was.sums[k] = sum{5000, 2} // what nobody would add up
	b = part(o, project("B", 1600, 50, 900))
	now := New(o, standing.UsualGroups, end, []Part{a, b})
	now.After(was)
	require.Equal(t, int64(5200), now.Eval(apr).Get(figure.AC).N, "5,000 − 700 + 900")
	now.Settle()

	other := New(o, standing.UsualGroups, end, []Part{a})
	other.After(was)
	require.Equal(t, int64(400), other.Eval(apr).Get(figure.AC).N, "another number of parts is added up anew")
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
