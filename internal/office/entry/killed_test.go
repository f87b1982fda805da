package entry_test

import (
	"bufio"
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/judge"
	"turret/internal/office/officetest"
)

// kills is how often the writing process is killed.
const kills = 100

// whole are the files of state k: each project spends 2 × k, half of it in a
// total and half in a posting, and is called after it.
func whole(k int) []entry.File {
	names, costs, postings := "project,name,currency\n", "project,cost_code,kind,period,amount\n", "posting,date,period,project,cost_code,amount\n"
	for p := range 4 {
		names += fmt.Sprintf("P%d,State %d,EUR\n", p, k)
		costs += fmt.Sprintf("P%d,10,actual,2026-02,%d.00\n", p, k)
		postings += fmt.Sprintf("L%d,2026-02-03,2026-02,P%d,20,%d.00\n", p, p, k)
	}
	return []entry.File{
		officetest.File("projects.csv", names),
		officetest.File("costs.csv", costs),
		officetest.File("postings.csv", postings),
	}
}

// TestKilledWriter writes without end where TestKilled asks it to: it gathers
// state after state, undoes some, closes and opens the period between, corrects
// a standing as a screen does, and says what it is at, and what is acknowledged.
func TestKilledWriter(t *testing.T) {
	path := os.Getenv("TURRET_TEST_WRITE")
	if path == "" {
		t.Skip("it is started by TestKilled")
	}
	var k int
	_, err := fmt.Sscan(os.Getenv("TURRET_TEST_STATE"), &k)
	require.NoError(t, err)
	ctx := context.Background()
	o, err := office.Open(ctx, officetest.Operator, path, false)
	require.NoError(t, err)
	february, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	if err := closing.In(o).ReopenPeriod(ctx, officetest.Operator, february, "begun again"); err == nil {
		fmt.Println("open")
	}
	for ; ; k++ {
		fmt.Println("at", k+1)
		r, err := entry.In(o).Gather(ctx, officetest.Operator, whole(k+1), nil, entry.Options{})
		require.NoError(t, err)
		require.Empty(t, r.Refusals)
		fmt.Println("done", k+1, r.Revision)
		switch k % 3 {
		case 0:
			_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, february)
			require.NoError(t, err)
			fmt.Println("closed")
			require.NoError(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, february, "once more"))
			fmt.Println("open")
		case 1:
			fmt.Println("at", k)
			undone, err := history.In(o).Undo(ctx, officetest.Operator, r.Revision, false)
			require.NoError(t, err)
			fmt.Println("done", k, undone)
			fmt.Println("at", k+1)
			r, err = entry.In(o).Gather(ctx, officetest.Operator, whole(k+1), nil, entry.Options{})
			require.NoError(t, err)
			fmt.Println("done", k+1, r.Revision)
		case 2:
			m, err := o.Moment(ctx, officetest.Operator, office.Ask{At: "2026-02"})
			require.NoError(t, err)
			fmt.Println("saying", k)
			require.NoError(
				t,
				judge.In(o).
					Override(ctx, officetest.Operator, m, change.Unseen, "P0", "overall", "watch", "2026-03", fmt.Sprint(k)),
			)
			fmt.Println("said", k)
		}
	}
}

// TestKilled kills a process that gathers, undoes, closes and corrects at random
// moments:
// each time the database is sound, every acknowledged batch is there, and none
// is half there.
func TestKilled(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts a hundred processes")
	}
	ctx := context.Background()
	path := filepath.Join(t.TempDir(), "killed.db")
	o, err := office.Init(
		ctx,
		officetest.Operator,
		path,
		office.Settings{Name: "Killed", Reporting: "EUR", FiscalStart: 1},
	)
	require.NoError(t, err)
	_, err = entry.In(o).
		Gather(ctx, officetest.Operator, append(whole(1), officetest.File("cost_codes.csv", "cost_code,name\n10,Works\n20,Fees\n")), nil, entry.Options{})
	require.NoError(t, err)
	require.NoError(t, o.Close())
	r := rand.New(rand.NewPCG(6, 2026))
	at, acknowledged, said := 1, 0, 0
	for i := range kills {
		run := killed(t, path, at, time.Duration(r.IntN(90))*time.Millisecond)
		db, err := sqlx.Open("sqlite", path)
		require.NoError(t, err)
		var sound string
		require.NoError(t, db.Get(&sound, "PRAGMA integrity_check"))
		require.Equal(t, "ok", sound, "kill %d", i)
		var last, halves int
		require.NoError(t, db.Get(&last, "SELECT max(id) FROM batch"))
		require.GreaterOrEqual(t, last, run.batch, "kill %d", i)
		require.NoError(
			t,
			db.Get(
				&halves,
				`SELECT (SELECT count(*) FROM period WHERE state = 'closed') <> (SELECT count(*) FROM cut WHERE reopened IS NULL)`,
			),
		)
		require.Zero(t, halves, "kill %d: a period is closed where, and only where, its cut is in force", i)
		var kept int
		require.NoError(t, db.Get(&kept, "SELECT coalesce(max(CAST(reason AS INTEGER)), 0) FROM override"))
		said = max(said, run.said)
		require.Contains(
			t,
			[]int{said, max(said, run.saying)},
			kept,
			"kill %d: the standing that was acknowledged, or the one under way",
			i,
		)
		said = kept
		require.NoError(t, db.Close())
		at = stateOf(t, path)
		require.Contains(t, []int{run.done, run.going}, at, "kill %d: what was acknowledged, or what was under way", i)
		if run.batch > 0 {
			acknowledged++
		}
	}
	t.Logf("%d of %d wrote before they were killed; the last state is %d", acknowledged, kills, at)
	require.Positive(t, said, "no standing was ever set: the test proves nothing")
	require.Greater(t, acknowledged, kills/10, "most were killed before they wrote anything: the test proves nothing")
}

// killedRun is what a writer said before it was killed: the state that was
// acknowledged last and the one under way, the last acknowledged batch, and the
// same of the standing.
type killedRun struct{ done, going, batch, said, saying int }

// killed starts the writer and kills it some time after it has begun.
func killed(t *testing.T, path string, at int, after time.Duration) (run killedRun) {
	t.Helper()
	cmd := exec.Command(os.Args[0], "-test.run=^TestKilledWriter$")
	cmd.Env = append(os.Environ(), "TURRET_TEST_WRITE="+path, fmt.Sprintf("TURRET_TEST_STATE=%d", at))
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	run.done, run.going = at, at
	begun := false
	for lines := bufio.NewScanner(out); lines.Scan(); {
		text := lines.Text()
		require.NotContains(t, text, "FAIL")
		switch {
		case strings.HasPrefix(text, "at "):
			_, err = fmt.Sscan(text[3:], &run.going)
		case strings.HasPrefix(text, "done "):
			_, err = fmt.Sscan(text[5:], &run.done, &run.batch)
		case strings.HasPrefix(text, "saying "):
			_, err = fmt.Sscan(text[7:], &run.saying)
		case strings.HasPrefix(text, "said "):
			_, err = fmt.Sscan(text[5:], &run.said)
		}
		require.NoError(t, err)
		if !begun && strings.HasPrefix(text, "at ") {
			begun = true
			time.AfterFunc(after, func() { _ = cmd.Process.Kill() })
		}
	}
	require.Error(t, cmd.Wait(), "it ends by the kill alone")
	require.True(t, begun)
	return run
}

// stateOf opens the database and gives the state that it holds whole.
func stateOf(t *testing.T, path string) (k int) {
	t.Helper()
	ctx := context.Background()
	o, err := office.Open(ctx, officetest.Operator, path, false)
	require.NoError(t, err)
	defer o.Close()
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	rows, err := export.In(o).Readings(ctx, officetest.Operator, export.Query{Period: p})
	require.NoError(t, err)
	seen := 0
	for _, r := range rows {
		if r.Group {
			continue
		}
		var n int
		_, err := fmt.Sscanf(r.Name, "State %d", &n)
		require.NoError(t, err)
		if seen > 0 {
			require.Equal(t, k, n, "one project is at another state")
		}
		k = n
		require.Equal(t, int64(2*n*100), r.Value(figure.AC).N, "%s at state %d", r.Code, n)
		seen++
	}
	require.Equal(t, 4, seen)
	return k
}
