package entry_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/gather"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

// movedOffice has one project whose forecast of October has 100 to come in each of ten
// codes in December: 1000 in all, and 500 in November, which is over once November states.
func movedOffice(t *testing.T) entry.Room {
	o := officetest.NewOffice(t)
	codes, costs := "cost_code,name\n", "project,cost_code,kind,period,version,amount,currency\n"
	for i := range 10 {
		codes += fmt.Sprintf("%d,Code %d\n", 110+i, i)
		costs += fmt.Sprintf("P1,%d,forecast,2026-12,2026-10,100,EUR\nP1,%d,forecast,2026-11,2026-10,50,EUR\n", 110+i, 110+i)
	}
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv":   "project,name,state,currency\nP1,Pier,active,EUR\n",
		"cost_codes.csv": codes, "costs.csv": costs,
	})
	return entry.In(o)
}

// TestForecastsThatMove: what is to come after the period that a file states is compared
// with what was to come after it before: 1000. The limit is five times either way.
func TestForecastsThatMove(t *testing.T) {
	ctx := context.Background()
	for _, c := range []struct {
		name string
		rows []string // code and amount of December
		why  string
	}{
		{"as before", []string{"110;1000"}, "names 1 cost codes where it named 10"},
		{"as before, in three codes", []string{"110;400", "111;300", "112;300"}, ""},
		{"a fifth and one", []string{"110;67", "111;67", "112;67"}, ""},                              // 201
		{"a fifth", []string{"110;66", "111;67", "112;67"}, "goes from 1,000 to 200 EUR"},            // 200
		{"not quite five times", []string{"110;4000", "111;500", "112;499"}, ""},                     // 4999
		{"five times", []string{"110;4000", "111;500", "112;500"}, "goes from 1,000 to 5,000 EUR"},   // 5000
		{"turned", []string{"110;-400", "111;-300", "112;-300"}, "the amounts have the other sign"},  // -1000
		{"two of ten codes", []string{"110;500", "111;500"}, "names 2 cost codes where it named 10"}, // 2 × 5 = 10
		{"nothing to come", []string{"110;0", "111;0", "112;0"}, ""},                                 // no code has any
	} {
		t.Run(c.name, func(t *testing.T) {
			room := movedOffice(t)
			body := "Project;Cost code;Dec 2026\n"
			for _, r := range c.rows {
				body += "P1;" + r + "\n"
			}
			take := func(opts entry.Options) *entry.Report {
				r, err := room.Gather(ctx, officetest.Operator, []entry.File{officetest.File("Forecast Nov 2026.csv", body)}, nil, opts)
				require.NoError(t, err)
				return r
			}
			r := take(entry.Options{DryRun: true})
			if c.why == "" {
				require.Empty(t, r.Refusals)
				return
			}
			require.Len(t, r.Refusals, 1)
			require.Contains(t, r.Refusals[0].Reason, c.why)
			require.Empty(t, take(entry.Options{DryRun: true, Trust: true}).Refusals, "someone said that it is right")
		})
	}
}

// TestPartsOfAForecast: the files of one run are one statement, and what the version states
// already counts with them.
func TestPartsOfAForecast(t *testing.T) {
	ctx := context.Background()
	room := movedOffice(t)
	part := func(name, code, amount string) entry.File {
		return officetest.File(name+" Nov 2026.csv", "Project;Cost code;Dec 2026\nP1;"+code+";"+amount+"\n")
	}
	a, b, c := part("Forecast A", "110", "400"), part("Forecast B", "111", "300"), part("Forecast C", "112", "300")
	r, err := room.Gather(ctx, officetest.Operator, []entry.File{a}, nil, entry.Options{DryRun: true})
	require.NoError(t, err)
	require.Len(t, r.Refusals, 1, "one code of ten")
	r, err = room.Gather(ctx, officetest.Operator, []entry.File{a, b, c}, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	r, err = room.Gather(ctx, officetest.Operator, []entry.File{part("Forecast A", "110", "410")}, nil, entry.Options{DryRun: true})
	require.NoError(t, err)
	require.Empty(t, r.Refusals, "410 + 300 + 300, in three codes")
}

// TestTheLimitIsTheOffices: it is set on a page, counts at once, and is a number above one.
func TestTheLimitIsTheOffices(t *testing.T) {
	ctx := context.Background()
	room := movedOffice(t)
	text, at, err := room.MovedLimit(ctx)
	require.NoError(t, err)
	require.Equal(t, "5", text)
	for _, bad := range []string{"", "1", "0.5", "-3", "1001", "many"} {
		require.ErrorContains(t, room.SaveMovedLimit(ctx, officetest.Operator, at, bad), "write a number above 1", bad)
	}
	require.Error(t, room.SaveMovedLimit(ctx, right.Actor{Name: "Tor", Role: right.Executive}, at, "9"))
	require.NoError(t, room.SaveMovedLimit(ctx, officetest.Operator, at, "2,5"))
	text, _, err = room.MovedLimit(ctx)
	require.NoError(t, err)
	require.Equal(t, "2.5", text)
	body := "Project;Cost code;Dec 2026\n" + strings.Repeat("P1;110;130\nP1;111;130\nP1;112;130\nP1;113;5\nP1;114;5\n", 1) // 400 of 1000
	r, err := room.Gather(ctx, officetest.Operator, []entry.File{officetest.File("Forecast Nov 2026.csv", body)}, nil, entry.Options{DryRun: true})
	require.NoError(t, err)
	require.Len(t, r.Refusals, 1)
	require.Contains(t, r.Refusals[0].Reason, "goes from 1,000 to 400 EUR")
}

// TestATableBeginsHere: two tables of one look below each other, of which nothing tells that
// the second is another project's, are parted where someone says so.
func TestATableBeginsHere(t *testing.T) {
	ctx := context.Background()
	room := movedOffice(t)
	body := "Cost code;Dec 2026\n110;400\n111;300\n112;300\n113;70\n114;80\n"
	file := officetest.File("Forecast Nov 2026.csv", body)
	said := func(m gather.Mapping) entry.Answer { return entry.Answer{Mapping: m} }
	answers := map[string]entry.Answer{
		"Forecast Nov 2026.csv":              said(gather.Mapping{Split: []int{5}}),
		"Forecast Nov 2026.csv, rows 1 to 4": said(gather.Mapping{Fixed: map[string]string{"project": "P1"}}),
		"Forecast Nov 2026.csv, rows from 5": said(gather.Mapping{Without: true}),
	}
	r, err := room.Gather(ctx, officetest.Operator, []entry.File{file}, nil, entry.Options{DryRun: true, Answers: answers})
	require.NoError(t, err)
	require.Len(t, r.Sheets, 2)
	require.Equal(t, "Forecast Nov 2026.csv, rows 1 to 4", r.Sheets[0].Label())
	require.Equal(t, 3, r.Sheets[0].Rows)
	require.Empty(t, r.Sheets[0].Questions)
	require.Equal(t, "it is left out", r.Sheets[1].Skipped)
}

// TestManyThatMove: of more than three the first three are told, and how many more.
func TestManyThatMove(t *testing.T) {
	ctx := context.Background()
	for n, more := range map[int]string{3: "P3: ", 4: "; and so 1 more", 5: "; and so 2 more"} {
		room := movedOffice(t)
		var projects, last, now strings.Builder
		projects.WriteString("project,name,currency,state\n")
		last.WriteString("project,cost_code,kind,period,version,amount\n")
		now.WriteString("Project;Cost code;Dec 2026\n")
		for i := range n {
			fmt.Fprintf(&projects, "Q%d,Q,EUR,active\n", i)
			for c := 110; c < 120; c++ {
				fmt.Fprintf(&last, "Q%d,%d,forecast,2026-12,2026-10,100\n", i, c)
			}
			fmt.Fprintf(&now, "Q%d;110;30\n", i)
		}
		officetest.GatherMap(t, room.Office, map[string]string{"projects.csv": projects.String(), "costs.csv": last.String()})
		r, err := room.Gather(ctx, officetest.Operator, []entry.File{officetest.File("Forecast Nov 2026.csv", now.String())}, nil, entry.Options{DryRun: true})
		require.NoError(t, err)
		require.Len(t, r.Refusals, 1)
		reason := r.Refusals[0].Reason
		require.Equal(t, n > 3, strings.Contains(reason, "; and so"), reason)
		if n > 3 {
			require.Contains(t, reason, more)
		}
	}
}
