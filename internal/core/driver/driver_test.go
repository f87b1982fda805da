package driver_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/driver"
)

func observations(by map[string][]float64) (out []driver.Observation) {
	for value, list := range by {
		for _, x := range list {
			out = append(out, driver.Observation{Value: value, Money: 10, Outcome: x})
		}
	}
	return out
}

// TestExplain: A has 1, 2, 3 and B 5, 6, 7. The mean of all is 4; the squares
// around it are 9 + 4 + 1 + 1 + 4 + 9 = 28, those within 2 + 2 = 4. With two more
// at each mean nothing changes within: 28 + 4·2² = 44 and 4, of ten and two.
func TestExplain(t *testing.T) {
	r := driver.Explain(observations(map[string][]float64{"A": {1, 2, 3, 2, 2}, "B": {5, 6, 7, 6, 6}}))
	require.Equal(t, []string{"B", "A"}, []string{r.Groups[0].Value, r.Groups[1].Value}, "the larger mean first")
	require.Equal(
		t,
		driver.Group{Value: "B", Count: 5, Money: 50, Mean: 6, Spread: math.Sqrt(0.5)},
		r.Groups[0],
		"2 ÷ 4",
	)
	require.Equal(t, 10, r.Count)
	require.InDelta(t, 4, r.Mean, 1e-12)
	require.InDelta(t, 1-(4.0/8)/(44.0/9), r.Explained, 1e-12)
	require.Equal(t, driver.Clear, r.Word)
	require.Less(t, r.Luck, 0.001, "F is 40 ÷ 0.5 = 80")
}

func TestHonestWords(t *testing.T) {
	for _, c := range []struct {
		name string
		by   map[string][]float64
		want driver.Word
	}{
		{"nothing", nil, driver.Few},
		{"one value", map[string][]float64{"A": {1, 2, 3, 4, 5, 6, 7, 8, 9}}, driver.Same},
		{"seven are too few", map[string][]float64{"A": {1, 1, 1}, "B": {9, 9, 9, 9}}, driver.Few},
		{"nearly as many values as projects", map[string][]float64{"A": {1}, "B": {9}, "C": {3}, "D": {7}, "E": {5}, "F": {4, 4, 4}}, driver.Few},
		{"no spread to explain", map[string][]float64{"A": {2, 2, 2, 2}, "B": {2, 2, 2, 2}}, driver.Few},
		{"the same in both", map[string][]float64{"A": {1, 2, 3, 4}, "B": {1, 2, 3, 4}}, driver.Chance},
		{"without a spread within", map[string][]float64{"A": {1, 1, 1, 1}, "B": {2, 2, 2, 2}}, driver.Clear},
	} {
		r := driver.Explain(observations(c.by))
		require.Equal(t, c.want, r.Word, c.name)
		if c.want != driver.Clear {
			require.Zero(t, r.Explained, c.name)
		}
	}
	require.Equal(
		t,
		1.0,
		driver.Explain(observations(map[string][]float64{"A": {1, 1, 1, 1}, "B": {2, 2, 2, 2}})).Explained,
	)
}

// TestDrawnByLot: of attributes drawn by lot about one in twenty looks clear, and
// what they explain is near nothing on average, however many values there are.
func TestDrawnByLot(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for _, values := range []int{2, 5, 12} {
		clear, explained := 0, 0.0
		const times = 2000
		for range times {
			var list []driver.Observation
			for range 60 {
				list = append(list, driver.Observation{Value: fmt.Sprint(r.IntN(values)), Outcome: r.NormFloat64()})
			}
			x := driver.Explain(list)
			explained += x.Explained
			if x.Word == driver.Clear {
				clear++
			}
		}
		require.InDelta(t, 0.05, float64(clear)/times, 0.02, values)
		require.Less(t, explained/times, 0.05, values)
	}
}

// TestMeansOfParts: groups hold every observation once, and their means make the
// mean of all.
func TestMeansOfParts(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	for range 300 {
		var list []driver.Observation
		var money int64
		for range 1 + r.IntN(50) {
			o := driver.Observation{Value: fmt.Sprint(r.IntN(6)), Money: r.Int64N(1000), Outcome: r.NormFloat64()}
			list, money = append(list, o), money+o.Money
		}
		x := driver.Explain(list)
		count, sum := 0, 0.0
		for _, g := range x.Groups {
			count, sum, money = count+g.Count, sum+g.Mean*float64(g.Count), money-g.Money
		}
		require.Equal(t, len(list), count)
		require.Zero(t, money)
		require.InDelta(t, x.Mean, sum/float64(count), 1e-9)
		require.True(t, x.Explained >= 0 && x.Explained <= 1)
	}
}
