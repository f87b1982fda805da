package figure_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
)

// web is the network of the one project.
func (b *built) web(month int, e *figure.Eval) *figure.Web {
	v := portfolio.At(b.office, b.project, b.jan+calendar.Period(month), portfolio.Latest)
	net := network.Of([]*portfolio.View{v})
	by := []exact.Ratio{e.Stretch()}
	return &figure.Web{Told: net.Tell(5, net.StretchedFinishes(by))[0], Net: func() *network.Portfolio { return net }, Near: 5, By: by}
}

// TestStretch: at the end of April four of ten months are planned and 30% is earned, so
// SPI(t) is 3 ÷ 4, and what is left takes 4 ÷ 3 times as long: of the 132 working days from
// 1 May to 30 October, 176. It stays within 0.5 and 2.
func TestStretch(t *testing.T) {
	for _, c := range []struct {
		percent int64
		want    exact.Ratio
	}{{30, exact.Of(4, 3)}, {10, exact.Whole(2)}, {0, exact.Whole(2)}, {90, exact.Of(1, 2)}, {40, exact.Whole(1)}} {
		e := build().percents(0, 0, 0, c.percent).at(3)
		require.Equal(t, 0, e.Stretch().Cmp(c.want), "%d%%", c.percent)
	}
	require.False(t, build().percents(5).at(0).Stretch().Is(), "January is too early")

	b := build().percents(10, 15, 24, 30)
	b.project.Activities[0].Start, b.project.Activities[0].Finish = calendar.DateOf(2026, 1, 1), calendar.DateOf(2026, 10, 30)
	e := b.at(3)
	judged := e.Judge(figure.Found{}, b.web(3, e))
	require.Equal(t, "2026-10-30", judged.Get(figure.FinishNetwork).Text("EUR"))
	stretched := calendar.Date(judged.Get(figure.FinishStretched).N)
	cal := b.office.CalendarOf("")
	left := cal.Duration(calendar.DateOf(2026, 5, 1), calendar.DateOf(2026, 10, 30))
	require.Equal(t, (left*4+2)/3, cal.Duration(calendar.DateOf(2026, 5, 1), stretched), "days rounded up")
	require.Equal(t, "0", judged.Get(figure.FloatLeast).Text("EUR"))
	require.Equal(t, "1", judged.Get(figure.Critical).Text("EUR"))
	require.Equal(t, "0", judged.Get(figure.LinksBroken).Text("EUR"))
	spread := judged.Get(figure.FinishSpread)
	require.True(t, spread.Known)
	computed := calendar.Date(judged.Get(figure.FinishComputed).N)
	require.Equal(t, int64(cal.Slip(calendar.DateOf(2026, 10, 30), max(stretched, computed))), spread.N)

	facts := judged.Subject.Facts(judged, figure.FinishNetwork, b.jan+3)
	require.Len(t, facts, 1)
	require.Equal(t, "its stated dates", facts[0].Detail)
}

// TestUnwoven: without a network, and for a project that does not run, nothing is told.
func TestUnwoven(t *testing.T) {
	b := build().percents(10)
	require.Equal(t, "the network was not computed", b.at(0).Judge(figure.Found{}, nil).Get(figure.FloatLeast).Why)
	b.project.State = portfolio.Cancelled
	e := b.at(0)
	require.Contains(t, e.Judge(figure.Found{}, b.web(0, e)).Get(figure.LinksBroken).Why, "cancelled stands outside the network")
	early := build().percents(10)
	e = early.at(0)
	require.Equal(t, "too early: known from 16 Feb 2026 on", e.Judge(figure.Found{}, early.web(0, e)).Get(figure.FinishStretched).Why)
}

// TestSpeaksOn: 15% of the 217 working days from January to October are 32.55, so the 33rd,
// and January has 22 of them.
func TestSpeaksOn(t *testing.T) {
	b := build()
	v := portfolio.At(b.office, b.project, b.jan, portfolio.Latest)
	require.Equal(t, "2026-02-16", figure.SpeaksOn(v).String())
	b.project.TooEarly = 10 * portfolio.Quantity // 21.7: the 22nd
	require.Equal(t, "2026-01-30", figure.SpeaksOn(v).String())
	b.project.Baselines = nil
	require.Zero(t, figure.SpeaksOn(portfolio.At(b.office, b.project, b.jan, portfolio.Latest)))
}

// TestBacklogFigures: 3 of 10 points are accepted in three months, 2 were added in April.
func TestBacklogFigures(t *testing.T) {
	b := build()
	day := func(m, d int) calendar.Date { return calendar.DateOf(2026, m, d) }
	item := func(points int64, created, accepted calendar.Date) portfolio.Item {
		return portfolio.Item{Activity: -1, Size: points * portfolio.Quantity, Created: created, Accepted: accepted}
	}
	b.project.Items = []portfolio.Item{item(3, day(1, 1), day(2, 10)), item(5, day(1, 1), 0), item(2, day(4, 6), 0)}
	b.project.Items[1].Blocked = day(4, 27)
	e := b.at(3)
	for id, want := range map[figure.ID]string{
		figure.Scope: "10", figure.Accepted: "3", figure.AddedShare: "0.200000", figure.Pace: "1", figure.NetPace: "0.333333",
		figure.FinishPace:    "2026-11-30", // 7 left at 1 a month: seven months after April
		figure.FinishNetPace: "2028-01-31", // at a third, 21 months
		figure.NotReady:      "0.100000",   // six months to October: 7 − 6 of 10
		figure.Blocked:       "1", figure.BlockedAge: "3",
		figure.SlipPace: "21", // the working days of November
	} {
		require.Equal(t, want, e.Get(id).Text("EUR"), figure.Get(id).Name)
	}
	for i := range figure.Len() {
		if v := e.Get(figure.ID(i)); v.Known {
			require.Empty(t, v.Why, "%s is known, and has no reason why not", figure.Get(figure.ID(i)).Name)
		} else {
			require.NotEmpty(t, v.Why, figure.Get(figure.ID(i)).Name)
		}
	}
	require.True(t, strings.HasPrefix(b.at(0).Get(figure.Pace).Why, "too early"))
	require.True(t, b.at(0).Get(figure.Scope).Known, "what there is is no matter of performance")
	require.Equal(t, figure.NoItems, build().at(3).Get(figure.Pace).Why)
	require.Equal(t, figure.NoItems, build().at(3).Get(figure.SlipPace).Why)
	require.Len(t, e.Subject.Facts(e, figure.Pace, b.jan+3), 1)
	require.Len(t, e.Subject.Facts(e, figure.Scope, b.jan+3), 3)
	require.Len(t, e.Subject.Facts(e, figure.AddedShare, b.jan+3), 1)
	require.Len(t, e.Subject.Facts(e, figure.FinishPace, b.jan+3), 2)
}
