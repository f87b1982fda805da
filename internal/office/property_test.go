package office_test

import (
	"context"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/officetest"
)

const seeds = 25

const bac = figure.BAC

var sums = []figure.ID{
	figure.BAC,
	figure.PV,
	figure.EV,
	figure.AC,
	figure.EACComputed,
	figure.AtStake,
	figure.OnOrder,
	figure.BACEarned,
	figure.PVEarned,
	figure.ACEarned,
}

// TestAnyOrder: any order of rows and files gives the same readings; a second
// gather changes nothing; export and gather into an empty database change
// nothing either.
func TestAnyOrder(t *testing.T) {
	for seed := range officetest.Fewer(uint64(seeds)) {
		r := rand.New(rand.NewPCG(seed, 1))
		tables := officetest.Random(r)
		one, two := officetest.NewOffice(t), officetest.NewOffice(t)
		require.Empty(t, officetest.Take(t, one, entry.Options{}, officetest.FilesOf(tables)...).Refusals, seed)
		mixed := officetest.Shuffled(r, tables)
		require.Empty(t, officetest.Take(t, two, entry.Options{}, mixed...).Refusals, seed)
		for _, period := range []string{"2026-01", "2026-03", "2026-05"} {
			require.Equal(
				t,
				officetest.Readings(t, one, period, portfolio.Latest, true),
				officetest.Readings(t, two, period, portfolio.Latest, true),
				"seed %d",
				seed,
			)
		}
		again := officetest.Take(t, two, entry.Options{}, mixed...)
		require.Zero(t, again.Changes(), "seed %d: %+v", seed, again.Tallies)
		require.Zero(t, officetest.Take(t, one, entry.Options{}, mixed...).Changes())

		zip := filepath.Join(t.TempDir(), "all.zip")
		require.NoError(t, export.In(one).Export(context.Background(), officetest.Operator, zip))
		three := officetest.NewOffice(t)
		require.Empty(t, officetest.GatherPaths(t, three, entry.Options{}, zip).Refusals)
		require.Equal(
			t,
			officetest.Readings(t, one, "2026-04", portfolio.Latest, false),
			officetest.Readings(t, three, "2026-04", portfolio.Latest, false),
		)
		require.Equal(
			t,
			officetest.Readings(t, one, "2026-04", portfolio.Original, true),
			officetest.Readings(t, three, "2026-04", portfolio.Original, true),
		)
	}
}

// TestNothingFromLater: no figure of a period depends on what is stated after.
func TestNothingFromLater(t *testing.T) {
	later := func(name, row string) bool { // rows stated in April
		cells := strings.Split(row, ",")
		switch name {
		case "progress.csv":
			return cells[2] == "2026-04"
		case "postings.csv":
			return strings.HasPrefix(cells[1], "2026-04")
		case "risks.csv":
			return cells[5] == "2026-04"
		case "costs.csv":
			return cells[5] == "2026-04" || cells[2] == "accrual" && cells[4] == "2026-04"
		case "rates.csv":
			return cells[1] == "2026-04"
		}
		return false
	}
	for seed := range officetest.Fewer(uint64(seeds)) {
		r := rand.New(rand.NewPCG(seed, 2))
		tables := officetest.Random(r)
		tables["rates.csv"] = append(tables["rates.csv"], "GBP,2026-04,period,1.35", "JPY,2026-04,period,0.009")
		early, rest := make(map[string][]string), make(map[string][]string)
		n := 0
		for name, rows := range tables {
			early[name], rest[name] = rows[:1:1], rows[:1:1]
			for _, row := range rows[1:] {
				if later(name, row) {
					rest[name] = append(rest[name], row)
					n++
				} else {
					early[name] = append(early[name], row)
				}
			}
		}
		require.Positive(t, n)
		o := officetest.NewOffice(t)
		officetest.Take(t, o, entry.Options{}, officetest.FilesOf(early)...)
		own, reporting := officetest.Readings(
			t,
			o,
			"2026-03",
			portfolio.Latest,
			false,
		), officetest.Readings(
			t,
			o,
			"2026-03",
			portfolio.Latest,
			true,
		)
		require.Empty(t, officetest.Take(t, o, entry.Options{}, officetest.FilesOf(rest)...).Refusals)
		require.Equal(t, own, officetest.Readings(t, o, "2026-03", portfolio.Latest, false), "seed %d", seed)
		require.Equal(t, reporting, officetest.Readings(t, o, "2026-03", portfolio.Latest, true), "seed %d", seed)
	}
}

// TestGroupsEqualTheirParts in every figure that is a sum, to the cent.
func TestGroupsEqualTheirParts(t *testing.T) {
	below := map[string][]string{"P1": {"P1", "P2"}, "P2": {"P2"}, "P3": {"P3"}, "*": {"P1", "P2", "P3"}}
	for seed := range officetest.Fewer(uint64(seeds)) {
		r := rand.New(rand.NewPCG(seed, 3))
		o := officetest.NewOffice(t)
		officetest.Take(t, o, entry.Options{}, officetest.FilesOf(officetest.Random(r))...)
		ctx := context.Background()
		p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-04")
		require.NoError(t, err)
		rows, err := export.In(o).Readings(ctx, officetest.Operator, export.Query{Period: p, Reporting: true})
		require.NoError(t, err)
		for _, g := range rows {
			if !g.Group {
				continue
			}
			for _, id := range sums {
				var want int64
				known := 0
				for _, x := range rows {
					if x.Group || !slices.Contains(below[g.Code], x.Parent) || x.State == portfolio.Cancelled ||
						x.State == portfolio.Proposed ||
						!x.Value(bac).Known {
						continue
					}
					if v := x.Value(id); v.Known {
						want += v.N
						known++
					}
				}
				v := g.Value(id)
				require.Equal(t, known > 0, v.Known, "seed %d, %s, %d: %s", seed, g.Code, id, v.Why)
				if v.Known {
					require.Equal(t, want, v.N, "seed %d, %s, %d", seed, g.Code, id)
				}
			}
		}
	}
}
