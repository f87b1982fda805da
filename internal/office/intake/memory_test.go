package intake_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/office/officetest"
)

// TestWhatWasSaidIsRemembered: what someone said about a sheet holds for the next of the
// same look from the same place; what the next says itself counts, and other places are
// asked again.
func TestWhatWasSaidIsRemembered(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	preview := func(name, body string) (*intake.Draft, *entry.Report) {
		d := sent(t, o, officetest.File(name, body))
		r, err := intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
		require.NoError(t, err)
		return d, r
	}
	say := func(d *intake.Draft, label string, set func(*entry.Answer)) {
		a := d.Answer(label)
		set(&a)
		require.NoError(t, intake.In(o).SayOf(ctx, officetest.Operator, d, label, a))
	}
	const body = "Project,Cost code,Feb 2026,Total fees\nA,10,5.00,1.00\n"
	d, r := preview("Quay Jan 2026.csv", body)
	require.Equal(t, "fixed.kind", r.Sheets[0].Questions[0].About)
	say(d, "Quay Jan 2026.csv", func(a *entry.Answer) {
		a.Fixed = map[string]string{"kind": "actual", "version": "2026-01"}
	})
	_, err := intake.In(o).Accept(ctx, officetest.Operator, d, nil)
	require.NoError(t, err)

	// The next month of the same place: nothing is asked.
	_, r = preview("Quay Feb 2026.csv", "Project,Cost code,Mar 2026,Total fees\nA,10,6.00,1.00\n")
	require.Empty(t, r.Sheets[0].Questions)
	require.Equal(t, "actual", r.Sheets[0].Fixed["kind"])
	require.Equal(t, "2026-02", r.Sheets[0].Fixed["version"], "of its own name, and not of the other")
	require.Contains(t, r.Sheets[0].From, "As said: quay")

	// Its own words count.
	_, r = preview("Quay Feb 2026.csv", "Forecast February 2026,,,\nProject,Cost code,Mar 2026,Total fees\nA,10,6.00,1.00\n")
	require.Equal(t, "forecast", r.Sheets[0].Fixed["kind"])

	// Another place is asked.
	_, r = preview("Ferry Feb 2026.csv", "Project,Cost code,Mar 2026,Total fees\nA,10,6.00,1.00\n")
	require.NotEmpty(t, r.Sheets[0].Questions)
}

// TestATotalPutBack: a row that begins like a sum and is none is put back by its label, for
// the next month too.
func TestATotalPutBack(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	body := func(month string) string {
		return "Actual cost\nItem,Project,Cost code," + month + "\nStaff,A,10,5.00\nTotal care fee,A,10,7.00\n"
	}
	take := func(name, month string, keep bool) *entry.Report {
		d := sent(t, o, officetest.File(name, body(month)))
		if keep {
			a := d.Answer(name)
			a.Keep = []int{4}
			require.NoError(t, intake.In(o).SayOf(ctx, officetest.Operator, d, name, a))
		}
		r, err := intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
		require.NoError(t, err)
		_, err = intake.In(o).Accept(ctx, officetest.Operator, d, nil)
		require.NoError(t, err)
		return r
	}
	r := take("Care Jan 2026.csv", "Jan 2026", true)
	require.Equal(t, "12.00 EUR", r.Sheets[0].Changes[0].Is, "5.00 + 7.00")
	r = take("Care Feb 2026.csv", "Feb 2026", false)
	require.Equal(t, "12.00 EUR", r.Sheets[0].Changes[0].Is)
}

// TestWordsFromThePreview: what someone says of the columns of one sheet can be made to hold
// in every file; what is no column of a table is no word.
func TestWordsFromThePreview(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	room := entry.In(o)
	require.NoError(t, room.KeepWords(ctx, officetest.Operator, map[string]string{
		"project": "project", "hanke": "project", "laji": "cost_code", "toteuma": "amount", "muuta": "ignore", "kuukausi": "month",
	}))
	words, err := room.Words(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, words, 3)
	d := sent(t, o, officetest.File("Actuals Jan 2026.csv", "Hanke,Laji,Toteuma\nA,10,5.00\n"))
	r, err := intake.In(o).Preview(ctx, officetest.Operator, d, entry.Watch{})
	require.NoError(t, err)
	require.Empty(t, r.Sheets[0].Questions)
	require.Equal(t, 1, r.Sheets[0].Sum().New)
}
