package entry_test

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// TestManySave: fifty people save at once while a large file is gathered; none
// is refused, and nothing is lost.
func TestManySave(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	const people, saves = 50, 3
	names := "project,name,currency\n"
	for p := range people {
		names += fmt.Sprintf("P%d,Project,EUR\n", p)
	}
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", names),
		officetest.File("cost_codes.csv", "cost_code,name\n10,Works\n"),
	)
	var large strings.Builder
	large.WriteString("posting,date,period,project,cost_code,amount,text\n")
	const rows = 15_000
	for i := range rows {
		fmt.Fprintf(&large, "L%d,2026-02-03,2026-02,P%d,10,1.00,%s\n", i, i%people, strings.Repeat("x", 60))
	}
	var all sync.WaitGroup
	errs := make(chan error, people*saves+1)
	all.Go(func() {
		_, err := entry.In(o).
			Gather(ctx, officetest.Operator, []entry.File{officetest.File("large.csv", large.String())}, nil, entry.Options{})
		errs <- err
	})
	for p := range people {
		all.Go(func() {
			for n := range saves {
				_, err := entry.In(o).
					Gather(ctx, officetest.Operator, []entry.File{officetest.File("costs.csv", fmt.Sprintf("project,cost_code,kind,period,amount\nP%d,10,actual,2026-02,%d.00\n", p, n+1))}, nil, entry.Options{})
				errs <- err
			}
		})
	}
	all.Wait()
	close(errs)
	for err := range errs {
		require.NoError(t, err)
	}
	m := officetest.Moment(t, o, office.Ask{At: "2026-02"})
	for p := range people {
		require.Equal(
			t,
			int64(100*(saves+rows/people)),
			officetest.ReadingOf(m, fmt.Sprintf("P%d", p)).Value(figure.AC).N,
		)
	}
}

// TestCancelledGather: one that nobody waits for any more stops amid its rows, and
// nothing of it is there.
func TestCancelledGather(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name,currency\nP,Project,EUR\n"),
		officetest.File("cost_codes.csv", "cost_code,name\n10,Works\n"),
	)
	var large strings.Builder
	large.WriteString("posting,date,period,project,cost_code,amount,text\n")
	const rows = 120_000
	for i := range rows {
		fmt.Fprintf(&large, "L%d,2026-02-03,2026-02,P,10,1.00,x\n", i)
	}
	ctx, cancel := context.WithCancel(context.Background())
	read := 0
	_, err := entry.In(o).
		Gather(ctx, officetest.Operator, []entry.File{officetest.File("large.csv", large.String())}, nil, entry.Options{Watch: entry.Watch{Tick: func(_ string, n int) { read = n; cancel() }}})
	require.ErrorIs(t, err, context.Canceled)
	require.Equal(t, 50_000, read, "the rest was not read")
	before := officetest.LastBatch(t, o)
	require.Equal(t, int64(2), before, "nothing was written")
}
