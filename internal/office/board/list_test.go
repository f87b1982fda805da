package board_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/check"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/trail"
)

func listed(t *testing.T, o *office.Office, ask office.Ask, order board.Order) (string, *board.List) {
	t.Helper()
	l, err := board.In(o).List(context.Background(), officetest.Operator, officetest.Moment(t, o, ask), order)
	require.NoError(t, err)
	var got []string
	for _, r := range l.Rows {
		mark := ""
		if r.Group {
			mark = ":"
		}
		if r.Folded {
			mark += "…"
		}
		name := r.Now.Code
		if r.Group && r.Now.Code == "*" {
			name = r.Key
		}
		got = append(got, fmt.Sprintf("%d%s%s", r.Depth, name, mark))
	}
	return strings.Join(got, " "), l
}

// TestListIsArranged: each programme with its projects and the programmes below
// it, and every other way to arrange the same projects.
func TestListIsArranged(t *testing.T) {
	o := officetest.Example(t)
	at := office.Ask{At: "2026-11"}
	all, l := listed(t, o, at, board.Order{})
	flat, _ := listed(t, o, at, board.Order{Group: "none"})
	require.Equal(t, l.All, len(l.Codes))
	require.Equal(t, len(l.Codes), len(strings.Fields(flat)))
	sum := 0
	for _, n := range l.Counts {
		sum += n
	}
	require.Equal(t, l.All, sum)
	var group string
	for _, r := range l.Rows {
		if r.Group && group == "" {
			group = r.Key
		}
	}
	require.NotEmpty(t, group)
	folded, f := listed(t, o, at, board.Order{Fold: []string{group}})
	require.Contains(t, folded, group+":…")
	require.Less(t, len(folded), len(all))
	require.ElementsMatch(t, l.Codes, f.Codes, "folding hides rows, and keeps the order to step through")
	_, one := listed(t, o, office.Ask{At: "2026-11", Scope: group}, board.Order{})
	require.Less(t, one.All, l.All)
	require.Equal(t, group, one.Total.Scope)
	for _, by := range []string{"lead", "stage"} {
		text, g := listed(t, o, at, board.Order{Group: by})
		require.Contains(t, text, ":", by)
		require.Len(t, g.Codes, l.All, by)
	}
}

// TestListIsSorted: by every figure, rising and falling, what is not known last.
func TestListIsSorted(t *testing.T) {
	o := officetest.Example(t)
	for i := range figure.Len() {
		id := figure.ID(i)
		for _, falling := range []bool{false, true} {
			by := figure.Get(id).Name
			if falling {
				by = "-" + by
			}
			require.True(t, board.Sortable(by))
			_, l := listed(t, o, office.Ask{At: "2026-11"}, board.Order{Group: "none", Sort: by})
			for k := 1; k < len(l.Rows); k++ {
				a, b := l.Rows[k-1].Now.Value(id), l.Rows[k].Now.Value(id)
				require.False(t, !a.Known && b.Known, "%s: what is not known comes last", by)
				if a.Known && b.Known {
					c := a.Rat().Cmp(b.Rat())
					require.False(t, falling && c < 0 || !falling && c > 0, by)
				}
			}
		}
	}
	for _, by := range []string{"project", "name", "lead", "sponsor", "stage", "state", "milestone", "currency", "stated", "-stated", "overall", "-cost"} {
		require.True(t, board.Sortable(by), by)
		_, l := listed(t, o, office.Ask{At: "2026-11", In: "project"}, board.Order{Group: "none", Sort: by})
		require.Len(t, l.Rows, l.All)
		for k := 1; k < len(l.Rows); k++ { // without a milestone, or a word of the lead, last
			a, b := l.Rows[k-1].Now, l.Rows[k].Now
			if by == "milestone" {
				require.False(t, a.Next.Date == 0 && b.Next.Date != 0, "%s before %s", a.Code, b.Code)
				require.False(t, b.Next.Date != 0 && a.Next.Date > b.Next.Date, "%s before %s", a.Code, b.Code)
			}
			if by == "stated" || by == "-stated" {
				require.False(t, !a.HasSaid && b.HasSaid, "%s before %s", a.Code, b.Code)
			}
		}
	}
	require.False(t, board.Sortable("nope"))
}

// TestFiltersAddUp: the parts of any filter sum to its total, filters that share
// out all projects sum to the whole, and the trail of a filtered group says the
// same figure.
func TestFiltersAddUp(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	_, all := listed(t, o, office.Ask{At: "2026-11"}, board.Order{})
	want := all.Total.Now.Value(figure.BAC).N
	var by int64
	for _, st := range []string{"act", "watch", "steady", "unrated"} {
		ask := office.Ask{At: "2026-11", Filter: office.Filter{Standing: st}}
		_, l := listed(t, o, ask, board.Order{})
		for _, r := range l.Rows {
			if !r.Group {
				require.Equal(t, st, r.Now.Standing[standing.Overall].Code())
			}
		}
		v := l.Total.Now.Value(figure.BAC)
		if !v.Known {
			continue
		}
		by += v.N
		tr, err := trail.In(o).Trail(ctx, officetest.Operator, officetest.Moment(t, o, ask), false, "*", figure.BAC)
		require.NoError(t, err)
		require.True(t, tr.Value.Equal(v), st)
		require.True(t, tr.Some)
		require.Empty(t, tr.Drift)
		var facts int64
		for _, f := range tr.Facts {
			if f.Value.Known {
				facts, _ = money.Add(facts, f.Value.N)
			}
		}
		require.Equal(t, v.N, facts, st)
	}
	require.Equal(t, want, by)
	for _, lead := range append(all.Leads, "-") {
		_, l := listed(t, o, office.Ask{At: "2026-11", Filter: office.Filter{Lead: lead}}, board.Order{Group: "none"})
		for _, r := range l.Rows {
			require.Equal(t, strings.TrimPrefix(lead, "-"), r.Now.Lead)
		}
	}
	_, none := listed(t, o, office.Ask{At: "2026-11", Filter: office.Filter{Text: "no such thing"}}, board.Order{})
	require.Empty(t, none.Rows)
	_, some := listed(
		t,
		o,
		office.Ask{At: "2026-11", Filter: office.Filter{Text: strings.ToLower(all.Codes[0])}},
		board.Order{},
	)
	require.NotEmpty(t, some.Codes)
}

// TestMoved: what moved is what differs, worst first, and says the rule.
func TestMoved(t *testing.T) {
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-05"})
	moved := m.Moved()
	require.NotEmpty(t, moved)
	seen := make(map[string]bool)
	for _, x := range moved {
		seen[x.Now.Code] = true
		for _, c := range x.Changes {
			require.Equal(t, x.Now.Standing[c.Dimension], c.Is)
			require.Equal(t, x.Before.Standing[c.Dimension], c.Was)
			require.NotEqual(t, c.Is, c.Was)
			if c.Rule {
				require.True(t, c.At.Equal(asRead(x.Now, c)))
				require.True(t, c.Then.Equal(asRead(x.Before, c)))
			}
		}
	}
	_, l := listed(t, o, office.Ask{At: "2026-11", Vs: "2026-05"}, board.Order{Group: "none"})
	for _, r := range l.Rows {
		if r.Before != nil && r.Before.Standing[standing.Cost] != r.Now.Standing[standing.Cost] {
			require.True(t, seen[r.Now.Code])
		}
	}
	require.Nil(t, officetest.Moment(t, o, office.Ask{At: "2026-11"}).Moved(), "nothing is closed to compare with")
}

// asRead is what a rule read, in the project's own currency.
func asRead(r *office.Reading, c office.Change) figure.Value {
	for _, q := range r.Reasons {
		if q.Dimension == c.Dimension && q.Reading == c.Reason.Reading {
			return q.Value
		}
	}
	return r.Value(c.Reason.Reading) // no rule was asked, as the project was not running
}

// TestRailAndStrips show closed periods as their cuts say, and the one asked
// for.
// TestStripsEndWithTheMoment: the periods of a strip are named in order, and the last
// is the moment's.
func TestStripsEndWithTheMoment(t *testing.T) {
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	names := board.StripPeriods(m)
	require.Equal(t, m.Period.Name, names[board.StripLength-1])
	require.Equal(t, m.PeriodName(m.Period.Number-1), names[board.StripLength-2])
	require.Equal(t, m.PeriodName(m.Period.Number-board.StripLength+1), names[0])
}

// TestNotCounted: projects that are proposed or cancelled are named with what they
// are, others with why they cannot be counted, and no list is longer than six.
func TestNotCounted(t *testing.T) {
	o := officetest.NewOffice(t)
	files := map[string]string{
		"projects.csv": "project,name,currency,state\nA,One,EUR,active\nB,Two,EUR,proposed\nC,Three,EUR,cancelled\nD,Four,NOK,active\n",
		"costs.csv":    "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,100.00\nD,10,plan,2026-01,1,100.00\nA,10,actual,2026-01,,50.00\n",

		"cost_codes.csv": "cost_code,name\n10,Works\n",
	}
	officetest.GatherMap(t, o, files)
	m := officetest.Moment(t, o, office.Ask{At: "2026-01"})
	l, err := board.In(o).List(t.Context(), officetest.Operator, m, board.Order{})
	require.NoError(t, err)
	said := board.NotCounted(m, l)
	require.Contains(t, said, "B is proposed; C is cancelled; D: ")
	require.NotContains(t, said, "A")
}

func TestRailAndStrips(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, code := range []string{"2026-09", "2026-10"} {
		p, err := o.ParsePeriod(ctx, officetest.Operator, code)
		require.NoError(t, err)
		_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
		require.NoError(t, err)
	}
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	require.Equal(t, "2026-10", m.Since.Code, "the last closed period is what it is compared with")
	rail, err := board.In(o).Rail(ctx, officetest.Operator, m, "*")
	require.NoError(t, err)
	rated := 0
	for _, p := range rail {
		require.Equal(t, p.Closed || p.Selected, p.Rated, p.Code)
		if !p.Rated {
			continue
		}
		rated++
		at := officetest.Moment(t, o, office.Ask{At: p.Code})
		now, _ := at.Find("*")
		require.Equal(t, now.Counts, p.Counts, p.Code)
	}
	require.Equal(t, 3, rated)
	require.True(t, rail[len(rail)-1].Ahead())
	one, err := board.In(o).Rail(ctx, officetest.Operator, m, "K1")
	require.NoError(t, err)
	for _, p := range one {
		if p.Rated {
			require.Equal(t, 1, p.Counts[0]+p.Counts[1]+p.Counts[2]+p.Counts[3])
		}
	}
	strips, err := board.In(o).Strips(ctx, officetest.Operator, m)
	require.NoError(t, err)
	strip := strips("K1")
	for i, name := range board.StripPeriods(m) {
		require.Equal(t, i >= board.StripLength-3, strip[i].Known, name)
	}
	require.False(t, strips("nobody")[11].Known)
}

func TestTrust(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	tr, err := check.In(o).Trust(ctx, officetest.Operator, m)
	require.NoError(t, err)
	require.NotZero(t, tr.Owing)
	require.NotZero(t, tr.Postings)
	require.True(t, tr.Agrees())
	require.NotEmpty(t, tr.Ledger)
	require.Zero(t, tr.Refused)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("postings.csv", "posting,date,project,cost_code,amount,currency\nX,2026-11-02,NOPE,11,1,EUR\n"),
	)
	tr, err = check.In(o).Trust(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-11"}))
	require.NoError(t, err)
	require.Equal(t, 1, tr.Refused)
	bad := check.Trust{Ledger: []check.LedgerSum{{Currency: "EUR", Posted: 1, Counted: 2}}}
	require.False(t, bad.Agrees())
}

func TestFind(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, c := range []struct{ text, kind, code string }{
		{"K1", "project", "K1"},
		{"k1", "project", "K1"},
		{"cpi", "figure", "cpi"},
		{"Cost performance", "figure", "cpi"},
		{"at stake", "figure", "at_stake"},
		{"performance  COST", "figure", "cpi"},
	} {
		found, all, err := board.In(o).Find(ctx, officetest.Operator, c.text, 5)
		require.NoError(t, err)
		require.NotEmpty(t, found, c.text)
		require.GreaterOrEqual(t, all, len(found))
		require.LessOrEqual(t, len(found), 5)
		require.Equal(t, c.kind, found[0].Kind.String(), c.text)
		require.Equal(t, c.code, found[0].Code, c.text)
	}
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,lead,sponsor\nK1,Ámbar Oxley,Ole\n"),
	)
	found, _, err := board.In(o).Find(ctx, officetest.Operator, "ambar", 5)
	require.NoError(t, err)
	require.True(t, found[0].Leads, "accents do not matter, and a change is found at once")
	kinds := make(map[string]bool)
	for _, letter := range "aeiou" {
		found, _, err := board.In(o).Find(ctx, officetest.Operator, string(letter), 1000)
		require.NoError(t, err)
		for _, f := range found {
			kinds[f.Kind.String()] = true
		}
	}
	require.Len(t, kinds, 5, "%v", kinds)
	for _, text := range []string{"", "  ", "no such thing at all"} {
		found, _, err := board.In(o).Find(ctx, officetest.Operator, text, 5)
		require.NoError(t, err)
		require.Empty(t, found)
	}
}
