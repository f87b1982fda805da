package office

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// aReading is one of a project that runs, with the age of its statements, or -1.
func aReading(code string, age int64) *Reading {
	r := &Reading{Code: code, State: portfolio.Active, Currency: "EUR", Values: make([]figure.Value, figure.Len())}
	if age >= 0 {
		r.Values[figure.StatementAge] = figure.Whole(figure.Count, age)
	}
	return r
}

// TestOwing: who stated this period owes and has stated; who stated two periods ago, or
// never, owes and has not; a project that is finished and never stated owes nothing.
func TestOwing(t *testing.T) {
	finished := aReading("F", -1)
	finished.State = portfolio.Finished
	for _, c := range []struct {
		r            *Reading
		owes, stated bool
	}{
		{aReading("A", 0), true, true},
		{aReading("B", 2), true, false},
		{aReading("C", -1), true, false},
		{finished, false, false},
	} {
		owes, stated := Owing(c.r)
		require.Equal(t, c.owes, owes, c.r.Code)
		require.Equal(t, c.stated, stated, c.r.Code)
	}
	m := &Moment{owes: true, now: &book.Readings{Rows: []*Reading{{Group: true, Code: "*"}, aReading("A", 0), aReading("B", 2), finished}}}
	stated, owes := m.Owing()
	require.Equal(t, [2]int{1, 2}, [2]int{stated, owes})
}

// TestWaiting counts errors and warnings that are open or came back; a note waits for
// nobody, nor does what was explained.
func TestWaiting(t *testing.T) {
	r := aReading("A", 0)
	r.Findings = []finding.Finding{
		{State: finding.Open, Severity: finding.Error},
		{State: finding.Back, Severity: finding.Warning},
		{State: finding.Open, Severity: finding.Note},
		{State: finding.Accepted, Severity: finding.Error},
	}
	m := &Moment{owes: true, now: &book.Readings{Rows: []*Reading{r, {Group: true, Code: "*", Findings: r.Findings}}}}
	require.Equal(t, 2, m.Waiting())
	require.Zero(t, (&Moment{}).Waiting())
	m.owes = false
	require.Zero(t, m.Waiting())
}

// TestLines: what changed is told by dimension; overall is told only where nothing else
// changed.
func TestLines(t *testing.T) {
	now, before := aReading("A", 0), aReading("A", 0)
	now.Why = "too early"
	overall := Change{Dimension: standing.Overall, Was: standing.Watch, Is: standing.Unrated, Name: "overall"}
	cost := Change{Dimension: standing.Cost, Was: standing.Steady, Is: standing.Watch, Name: "cost"}
	for _, c := range []struct {
		x    Moved
		want []string
	}{
		{Moved{now, before, []Change{overall}}, []string{"Unrated: too early"}},
		{Moved{before, now, []Change{overall}}, []string{"no longer Unrated: too early"}},
		{Moved{before, before, []Change{overall}}, nil},
		{Moved{now, before, []Change{overall, cost}}, []string{"Cost: Steady → Watch"}},
	} {
		require.Equal(t, c.want, c.x.Lines())
	}
}
