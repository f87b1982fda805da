package web

import (
	"html"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/closing"
)

var tags = regexp.MustCompile(`<[^>]*>`)

// sentenceOf gives the sentence of a page as people read it.
func sentenceOf(t *testing.T, body string) string {
	t.Helper()
	_, rest, ok := strings.Cut(body, `<p class="sentence">`)
	require.True(t, ok, "the page has a sentence")
	said, _, _ := strings.Cut(rest, "</p>")
	return html.UnescapeString(tags.ReplaceAllString(said, ""))
}

// A project of these files earns and spends as its row says, of a plan of 1,000
// over January to April 2026, half of it planned by the end of February.
const (
	codesCSV      = "cost_code,name\n10,Labour\n"
	activitiesRow = ",1,One,2026-01-05,2026-04-30\n"
)

func plan(code string) string {
	var b strings.Builder
	for _, m := range []string{"01", "02", "03", "04"} {
		b.WriteString(code + ",10,plan,2026-" + m + ",1,250000\n")
	}
	return b.String()
}

// TestSentenceReadsWell in every case that a portfolio can be in.
func TestSentenceReadsWell(t *testing.T) {
	const projects, activities, costs, progress = "project,name,currency,state\n", "project,activity,name,baseline_start,baseline_finish\n", "project,cost_code,kind,period,version,amount\n", "project,activity,period,percent\n"
	type files = map[string]string
	base := func(p, a, c, g string) files {
		return files{
			"cost_codes.csv": codesCSV,
			"projects.csv":   projects + p,
			"activities.csv": activities + a,
			"costs.csv":      costs + c,
			"progress.csv":   progress + g,
		}
	}
	for name, c := range map[string]struct {
		files files
		path  string
		close []string
		more  files // gathered after the close
		says  string
	}{
		"one, steady": {
			base("A,Alpha,EUR,active\n", "A"+activitiesRow, plan("A")+"A,10,actual,2026-02,,500000\n", "A,1,2026-02,51\n"), "/board", nil, nil,
			"1 project stands against a plan of €1.00 M. Computed outlook is €0.98 M, 2.0% under; its lead states none yet. It needs no action.",
		},
		"one at Act": {
			base("A,Alpha,EUR,active\n", "A"+activitiesRow, plan("A")+"A,10,actual,2026-02,,600000\nA,10,forecast,2026-03,2026-02,500000\n", "A,1,2026-02,40\n"), "/board", nil, nil,
			"1 project stands against a plan of €1.0 M. Computed outlook is €1.5 M, 50.0% over; its lead states €1.1 M. It needs action.",
		},
		"two, all at Act, and one of them new": {
			base("A,Alpha,EUR,active\nB,Beta,EUR,active\n", "A"+activitiesRow+"B"+activitiesRow, plan("A")+plan("B")+"A,10,actual,2026-02,,600000\nB,10,actual,2026-02,,500000\nA,10,forecast,2026-03,2026-02,500000\nB,10,forecast,2026-03,2026-02,500000\n", "A,1,2026-02,40\nB,1,2026-02,51\n"),
			"/board",
			[]string{"2026-02"},
			files{"costs.csv": costs + "A,10,actual,2026-03,,200000\nB,10,actual,2026-03,,700000\n", "progress.csv": progress + "A,1,2026-03,45\nB,1,2026-03,60\n"},
			"2 projects stand against a plan of €2.0 M. Computed outlook is €3.8 M, 88.9% over; the stated one is €2.0 M, by none of 2 for Mar 2026. All need action, one of them new since Feb 2026.",
		},
		"none rated": {
			base("A,Alpha,EUR,on hold\nB,Beta,EUR,on hold\n", "A"+activitiesRow, plan("A")+plan("B")+"A,10,actual,2026-01,,1\n", ""), "/board", nil, nil,
			"2 projects stand against a plan of €2,000,000. Computed outlook is €2,000,001, less than 0.1% over; no lead states one yet. None is rated yet.",
		},
		"nothing counts": {
			base("A,Alpha,EUR,cancelled\nB,Beta,EUR,proposed\n", "A"+activitiesRow, plan("A")+"A,10,actual,2026-01,,1\n", ""), "/board", nil, nil,
			"None of the 2 projects here counts toward the sums in Jan 2026.",
		},
		"one that does not count": {
			base("A,Alpha,NOK,active\n", "A"+activitiesRow, plan("A")+"A,10,actual,2026-01,,1\n", ""), "/board", nil, nil,
			"The one project here does not count toward the sums in Jan 2026.",
		},
		"filtered to none": {
			base("A,Alpha,EUR,active\nB,Beta,EUR,active\n", "A"+activitiesRow, plan("A")+"A,10,actual,2026-01,,1\n", ""), "/board?q=zebra", nil, nil,
			"None of the 2 projects is like this in Jan 2026.",
		},
	} {
		t.Run(name, func(t *testing.T) {
			o := newOffice(t, c.files)
			for _, code := range c.close {
				closePeriod(t, o, code)
			}
			if c.more != nil {
				gatherFiles(t, o, c.more)
			}
			b := signedIn(t, newApp(o), office.Executive)
			status, body, _ := b.get(c.path)
			require.Equal(t, 200, status)
			require.Equal(t, c.says, sentenceOf(t, body))
		})
	}
}

func closePeriod(t *testing.T, o *office.Office, code string) calendar.Period {
	t.Helper()
	p, err := o.ParsePeriod(t.Context(), operator, code)
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(t.Context(), operator, p)
	require.NoError(t, err)
	return p
}
