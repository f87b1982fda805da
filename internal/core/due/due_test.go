package due

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// day is a day of November 2026, the 15th being that on which is looked.
func day(n int) calendar.Date { return calendar.DateOf(2026, 11, n) }

const november = calendar.Period(100)

// TestReasons: each reason at its limit and a day beside it.
func TestReasons(t *testing.T) {
	on := day(15)
	span := func(a, b calendar.Date) [2]calendar.Date { return [2]calendar.Date{a, b} }
	for name, x := range map[string]struct {
		a    Activity
		want []Reason
	}{
		"finish has come":             {Activity{Current: span(day(2), day(15)), Begun: true, SaidIn: november}, []Reason{Overdue}},
		"finish comes tomorrow":       {Activity{Current: span(day(2), day(16)), Begun: true, SaidIn: november}, []Reason{Finish}},
		"finish in 31 days":           {Activity{Current: span(day(2), day(15)+31), Begun: true, SaidIn: november}, []Reason{Finish}},
		"finish in 32 days":           {Activity{Current: span(day(2), day(15)+32), Begun: true, SaidIn: november}, nil},
		"no dates":                    {Activity{SaidIn: november}, nil},
		"start has come":              {Activity{Current: span(day(15), day(15)+60), SaidIn: november}, []Reason{ToBegin}},
		"start has come, and it did":  {Activity{Current: span(day(15), day(15)+60), Begun: true, SaidIn: november}, nil},
		"start tomorrow":              {Activity{Current: span(day(16), day(15)+60), SaidIn: november}, []Reason{Start}},
		"start in 31 days":            {Activity{Current: span(day(15)+31, day(15)+60), SaidIn: november}, []Reason{Start}},
		"start in 32 days":            {Activity{Current: span(day(15)+32, day(15)+60), SaidIn: november}, nil},
		"milestone on its new day":    {Activity{Milestone: true, Planned: span(day(10), day(10)), Current: span(day(20), day(20)), SaidIn: november}, []Reason{Finish}},
		"milestone missed":            {Activity{Milestone: true, Planned: span(day(10), day(10)), Current: span(day(10), day(10)), SaidIn: november}, []Reason{Missed}},
		"milestone missed today":      {Activity{Milestone: true, Planned: span(day(15), day(15)), Current: span(day(15), day(15)), SaidIn: november}, []Reason{Missed}},
		"milestone overdue":           {Activity{Milestone: true, Planned: span(day(20), day(20)), Current: span(day(12), day(12)), SaidIn: november}, []Reason{Overdue}},
		"125 % of 20 days":            {Activity{Current: span(day(1), day(15)+90), Begun: true, Running: 25, Days: 20, SaidIn: november}, nil},
		"more than 125 % of 20 days":  {Activity{Current: span(day(1), day(15)+90), Begun: true, Running: 26, Days: 20, SaidIn: november}, []Reason{Long}},
		"running, of no baseline":     {Activity{Current: span(day(1), day(15)+90), Begun: true, Running: 900, SaidIn: november}, nil},
		"running, silent for one":     {Activity{Current: span(day(1), day(15)+90), Begun: true, Running: 5, SaidIn: november - 1}, nil},
		"running, silent for two":     {Activity{Current: span(day(1), day(15)+90), Begun: true, Running: 5, SaidIn: november - 2}, []Reason{Silent}},
		"to have begun, never spoken": {Activity{Planned: span(day(15), day(15)+60), Current: span(day(15)+40, day(15)+60)}, []Reason{Silent}},
		"still to come, not spoken":   {Activity{Planned: span(day(16), day(15)+60), Current: span(day(15)+40, day(15)+60)}, nil},
	} {
		var got []Reason
		for _, r := range []Reason{Overdue, Missed, ToBegin, Long, Finish, Start, Silent, "else"} {
			if x.a.For(r, on, november) {
				got = append(got, r)
			}
		}
		require.Equal(t, x.want, got, name)
	}
}

// TestHandings: what became of a deliverable by the 15th.
func TestHandings(t *testing.T) {
	for name, x := range map[string]struct {
		d      portfolio.Deliverable
		finish calendar.Date
		want   Handing
	}{
		"nothing, due tomorrow":          {portfolio.Deliverable{}, day(16), ToCome},
		"nothing, due today":             {portfolio.Deliverable{}, day(15), Late},
		"nothing, no day":                {portfolio.Deliverable{}, 0, ToCome},
		"handed over today":              {portfolio.Deliverable{HandedOver: day(15)}, day(10), HandedOver},
		"to be handed over tomorrow":     {portfolio.Deliverable{HandedOver: day(16)}, day(10), Late},
		"accepted":                       {portfolio.Deliverable{HandedOver: day(10), Accepted: day(12)}, day(10), Accepted},
		"sent back":                      {portfolio.Deliverable{HandedOver: day(10), SentBack: day(12)}, day(10), SentBack},
		"sent back on the same day":      {portfolio.Deliverable{HandedOver: day(12), SentBack: day(12)}, day(10), SentBack},
		"sent back, and over again":      {portfolio.Deliverable{HandedOver: day(13), SentBack: day(12)}, day(10), HandedOver},
		"sent back, and then accepted":   {portfolio.Deliverable{HandedOver: day(10), SentBack: day(12), Accepted: day(12)}, day(10), Accepted},
		"accepted, and then sent back":   {portfolio.Deliverable{HandedOver: day(10), Accepted: day(11), SentBack: day(12)}, day(10), SentBack},
		"to be sent back tomorrow":       {portfolio.Deliverable{HandedOver: day(10), SentBack: day(16)}, day(10), HandedOver},
		"sent back, accepted tomorrow":   {portfolio.Deliverable{HandedOver: day(10), SentBack: day(12), Accepted: day(16)}, day(10), SentBack},
		"sent back, over again tomorrow": {portfolio.Deliverable{HandedOver: day(16), SentBack: day(12)}, day(10), SentBack},
	} {
		require.Equal(t, x.want, Of(&x.d, x.finish, day(15)), name)
	}
}
