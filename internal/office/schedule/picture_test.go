package schedule_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/officetest"
	"turret/internal/office/schedule"
	"turret/internal/tell"
)

// TestRoadmapAsDrawn: a row for each project below its group, phases and milestones in it,
// and a red line from what is given too late.
func TestRoadmapAsDrawn(t *testing.T) {
	o := harbour(t)
	road, err := schedule.In(o).Roadmap(t.Context(), officetest.Ines, november(t, o), "")
	require.NoError(t, err)
	x := road.Timeline(schedule.Drawn{Grouped: true, Between: true})
	var rows []string
	for _, r := range x.Rows {
		rows = append(rows, fmt.Sprintf("%s %d bars %d marks %v", r.Label, len(r.Bars), len(r.Marks), r.Head))
	}
	require.Equal(t, []string{"Harbour 0 bars 0 marks true", "GONE Gone 0 bars 0 marks false", "PIER Pier 1 bars 1 marks false", "YARD Yard 1 bars 1 marks false"}, rows)
	require.Len(t, x.Ties, 1)
	require.Equal(t, "broken", x.Ties[0].Class)
	require.Contains(t, x.Ties[0].Title, "late by 9 working days")
	require.Equal(t, []int{3, 2}, []int{x.Ties[0].From, x.Ties[0].To})
	require.Equal(t, "watch", x.Rows[3].Marks[0].Class, "ten days late")

	plain := road.Timeline(schedule.Drawn{Years: 1})
	require.Empty(t, plain.Ties)
	require.Len(t, plain.Rows, 3)
	require.Equal(t, 365.0, plain.To-plain.From+1)
	require.Equal(t, road.FirstOfYear(), calendar.Date(plain.From))

	var says []string
	for _, p := range road.Say("November") {
		says = append(says, p.Text)
	}
	require.Equal(t, "3 projects; next is Opening of PIER on 15 Dec 2026.", strings.Join(says, ""))
}

// TestRoadmapInABrief: the page shows what the screen shows, and refuses what is not there.
func TestRoadmapInABrief(t *testing.T) {
	o := harbour(t)
	page := brief.RoadmapPart(map[string]string{"group": "none", "per": "1"})
	b, err := brief.In(o).Brief(t.Context(), officetest.Ines, brief.Spec{At: "2026-11", Parts: []string{page}})
	require.NoError(t, err)
	require.Equal(t, "Roadmap", b.Pack.Pages[0].Title)
	require.True(t, b.Pack.Pages[0].Wide)
	pdf, err := b.Write("pdf")
	require.NoError(t, err)
	require.Equal(t, "%PDF", string(pdf[:4]))
	_, err = brief.In(o).Brief(t.Context(), officetest.Ines, brief.Spec{At: "2026-11", Parts: []string{brief.RoadmapPart(map[string]string{"vs": "1999-01"})}})
	require.ErrorIs(t, err, office.ErrRefused)
	none, err := brief.In(o).Brief(t.Context(), officetest.Ines, brief.Spec{At: "2026-11", Parts: []string{brief.RoadmapPart(map[string]string{"q": "nobody"})}})
	require.NoError(t, err)
	require.Len(t, none.Pack.Pages, 1)
}

// TestOwn: a project's own line has its activities and links; none where its dates are not
// looked at.
func TestOwn(t *testing.T) {
	o := harbour(t)
	own, err := schedule.In(o).Own(t.Context(), officetest.Ines, moment(t, o, office.Ask{At: "2026-11", Filter: office.Filter{Text: "YARD"}}), "PIER")
	require.NoError(t, err)
	require.Len(t, own.By["PIER"], 4, "whatever is listed")
	require.Len(t, own.Links, 2, "those within: fit to test, test to open")
	none, err := schedule.In(o).Own(t.Context(), officetest.Ines, november(t, o), "NONE")
	require.NoError(t, err)
	require.Empty(t, none.By)
}

// TestPair writes spans.
func TestPair(t *testing.T) {
	a, b := calendar.DateOf(2027, 3, 1), calendar.DateOf(2027, 4, 4)
	for want, x := range map[string][2]calendar.Date{
		tell.Dash: {}, "1 Mar 2027": {a, a}, "4 Apr 2027": {0, b}, "1 Mar 2027 to 4 Apr 2027": {a, b},
	} {
		require.Equal(t, want, schedule.Pair(x))
	}
}
