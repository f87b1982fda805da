package claim_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
)

// facts: CPI 0.904, SPI(t) 0.97; 62.4% earned, 71% spent; a plan of 1,234,567.89 EUR, spent
// 764,200.00 and an outlook of 1,365,000.00, 10.6% or 130,432.11 above it; it finishes on
// 12 August 2027, 31 working days late; its cost stands at Act, its progress at Steady.
func facts() claim.Facts {
	known := map[figure.ID]figure.Value{
		figure.CPI:          figure.Exact(figure.Ratio, exact.Of(904, 1000)),
		figure.SPIT:         figure.Exact(figure.Ratio, exact.Of(97, 100)),
		figure.EarnedShare:  figure.Exact(figure.Ratio, exact.Of(624, 1000)),
		figure.SpentShare:   figure.Exact(figure.Ratio, exact.Of(71, 100)),
		figure.ComputedOver: figure.Exact(figure.Ratio, exact.Of(106, 1000)),
		figure.StatedOver:   figure.Exact(figure.Ratio, exact.Of(8, 100)),
		figure.BAC:          figure.Whole(figure.Money, 123456789),
		figure.AC:           figure.Whole(figure.Money, 76420000),
		figure.EACComputed:  figure.Whole(figure.Money, 136500000),
		figure.VAC:          figure.Whole(figure.Money, -13043211),
		figure.SV:           figure.Whole(figure.Money, -4512300),
		figure.FinishStated: figure.Whole(figure.Day, int64(calendar.DateOf(2027, 8, 12))),
		figure.FinishSlip:   figure.Whole(figure.Workdays, 31),
	}
	return claim.Facts{
		Value: func(id figure.ID) figure.Value {
			v, ok := known[id]
			if !ok {
				return figure.Unknown(figure.Get(id).Unit, "not here")
			}
			return v
		},
		Currency: "EUR", Standing: standing.Table{standing.Overall: standing.Watch, standing.Cost: standing.Act, standing.Dates: standing.Watch, standing.Progress: standing.Steady},
		Milestones: []claim.Milestone{{Name: "Hull painted", Days: []calendar.Date{calendar.DateOf(2027, 2, 1), calendar.DateOf(2027, 3, 1)}}},
		Sums:       []int64{9900000},
	}
}

func doubts(text string, f claim.Facts) string {
	var got []string
	for _, d := range claim.Check(text, f) {
		got = append(got, string(d.Kind)+": "+text[d.From:d.To])
	}
	return strings.Join(got, "|")
}

// TestCheck: what a text says otherwise than the figures, marked at its place; all else is left
// alone.
func TestCheck(t *testing.T) {
	for text, want := range map[string]string{
		// Indices.
		"CPI 0.90":                             "",
		"CPI 0.91, as rounded up by someone":   "number: CPI 0.91",
		"CPI 0.9, SPI(t) 1.0":                  "",
		"CPI 0.8":                              "number: CPI 0.8",
		"CPI is 0.95 now":                      "number: CPI is 0.95",
		"The CPI of 0,95 is fine":              "number: CPI of 0,95",
		"CPI = .84":                            "number: CPI = .84",
		"Our cost performance index is 0.8":    "number: cost performance index is 0.8",
		"cpi at 1":                             "",
		"cpi at 2":                             "number: cpi at 2",
		"CPI was 0.95 last month":              "",
		"CPI 0.95 last month":                  "",
		"Last month's CPI was lower; CPI 0.70": "number: CPI 0.70",
		"CPI stays below 0.95":                 "",
		"If CPI is 0.95 we stop":               "",
		"The target is a CPI of 1.05":          "",
		"CPI 0.95 → 0.90":                      "",
		"CPI fell from 0.95 to 0.90":           "",
		"CPI fell to 0.80":                     "number: CPI fell to 0.80",
		"CPI of the yard's third package: 0.7": "",
		"SPI(t) 0.97, TCPI 1.40":               "",
		"SPI(t) at 0.90":                       "number: SPI(t) at 0.90",
		"CPI 9":                                "number: CPI 9",
		"CPI 10":                               "",
		"(CPI 0.95)":                           "number: CPI 0.95",
		"SPI(t) (0.80)":                        "",
		"CPI 3 pumps":                          "number: CPI 3",
		// Shares.
		"62% complete":                             "",
		"62.4 % of the work is done":               "",
		"62 percent done":                          "",
		"53 percent done":                          "number: 53 percent done",
		"70% complete, 71% spent":                  "number: 70% complete",
		"71% of the budget is spent":               "",
		"80% of the budget is spent":               "number: 80% of the budget is spent",
		"Progress is 45%":                          "number: Progress is 45%",
		"we keep 70% of the crew":                  "",
		"Costs run 3% above estimate":              "number: 3% above estimate",
		"Costs run 10.6 % over the budget":         "",
		"Costs run 8% above plan":                  "",
		"An overrun of 14% is expected":            "number: overrun of 14%",
		"5% under budget":                          "number: 5% under budget",
		"We are 10.6% under plan":                  "number: 10.6% under plan",
		"A contingency of 10% over three quarters": "",
		// Money.
		"The plan is EUR 1,234,567.89":          "",
		"The plan is EUR 1.23 million":          "",
		"The plan is EUR 1.6m":                  "amount: EUR 1.6m",
		"an outlook of €1,365,000":              "",
		"an outlook of €1,370,000":              "",
		"an outlook of €1,400,000":              "",
		"an outlook of €1,390,000":              "number: outlook of €1,390,000",
		"an outlook of 1.365.000 €":             "",
		"The outlook is 1.4 MEUR":               "",
		"The outlook is 2.3 MEUR":               "number: outlook is 2.3 MEUR",
		"EAC 1,365 k":                           "",
		"EAC 2.9 M":                             "number: EAC 2.9 M",
		"BAC is 2 500 000 EUR":                  "number: BAC is 2 500 000 EUR",
		"BAC is 1 234 568 EUR":                  "",
		"VAC -130 k":                            "",
		"VAC −200 k":                            "number: VAC −200 k",
		"VAC +130 k":                            "number: VAC +130 k",
		"Actual cost is EUR 1.4 million":        "number: Actual cost is EUR 1.4 million",
		"Spent 764.200 €.":                      "",
		"Spent 1.250.000 €.":                    "amount: 1.250.000 €",
		"Spent 1,25 Mio EUR.":                   "amount: 1,25 Mio EUR",
		"We expect an overrun of 200 k€":        "number: overrun of 200 k€",
		"We expect an overrun of 130 k€":        "",
		"The contract costs 45,678 EUR":         "amount: 45,678 EUR",
		"The contract costs 99,000 EUR":         "",
		"EUR 45k behind the plan":               "",
		"up EUR 99,000 since October":           "",
		"a pump of EUR 10,000":                  "amount: EUR 10,000",
		"a pump of EUR 9,999":                   "",
		"A1B€2.0m X_€2.0m É€2.0m":               "",
		"€2.0m, and EUR 3.0m":                   "amount: €2.0m|amount: EUR 3.0m",
		"€2.0m CPI":                             "amount: €2.0m",
		"a pump of EUR 4,000":                   "",
		"EUR 12.500 for a pump":                 "amount: EUR 12.500",
		"NOK 5,000,000 for the yard":            "",
		"outlook NOK 5,000,000":                 "",
		"The budget of the yard is closed":      "",
		"€10 million in all":                    "amount: €10 million",
		"outlook 2026 and after":                "",
		"QS-07 costs R1 3rd 2x v1.5 M8 and EUR": "",
		"We spent £400,000":                     "",
		"Budget EUR 765,000":                    "number: Budget EUR 765,000",
		"Budget EUR 764,200":                    "",
		// Time.
		"All is on time.":                                    "on time: on time",
		"The supplier is on time.":                           "",
		"No delays are expected at customs; we are on time":  "on time: on time",
		"A delay of two weeks at the yard was made good":     "",
		"We are on time if the crane comes":                  "",
		"We are on budget, unless the claim holds":           "",
		"We will be on budget once it is settled":            "",
		"It will not be on time.":                            "",
		"We want to be on time.":                             "",
		"No delay, and within budget":                        "on time: No delay|budget: within budget",
		"We are ahead of schedule":                           "on time: ahead of schedule",
		"No slip":                                            "on time: No slip",
		"Work is running late.":                              "",
		"It is back on schedule next year":                   "",
		"We expect to finish as planned":                     "on time: finish as planned",
		"We are two weeks late":                              "on time: two weeks late",
		"We are six weeks late":                              "",
		"We are 31 days late":                                "",
		"A delay of 45 days":                                 "",
		"A delay of 3 weeks":                                 "on time: delay of 3 weeks",
		"Finish slips by 11 days.":                           "on time: slips by 11 days",
		"6 weeks early":                                      "on time: 6 weeks early",
		"The pumps are 3 weeks late":                         "",
		"Two months late, says the yard":                     "",
		"We are 5 weeks late":                                "on time: 5 weeks late",
		"We are 7 weeks late":                                "",
		"We are 8 weeks late":                                "on time: 8 weeks late",
		"We are one month late":                              "",
		"We are two months late":                             "",
		"We are three months late":                           "on time: three months late",
		"We are 30 days late":                                "on time: 30 days late",
		"We are 46 days late":                                "",
		"We are 47 days late":                                "on time: 47 days late",
		"The slip is 0 days":                                 "on time: slip is 0 days",
		"It finishes on 12 August 2027":                      "",
		"It finishes in August 2027":                         "",
		"It finishes on 12.8.2027":                           "",
		"It finishes on 12/08/2027":                          "",
		"It finishes on 08/12/2027":                          "",
		"It finishes on 12/03/2027":                          "finish: finishes on 12/03/2027",
		"It finishes Aug 12, 2027":                           "",
		"It finishes August 13th, 2027":                      "finish: finishes August 13th, 2027",
		"It finishes in Q3 2027":                             "",
		"It finishes in Q4 2027":                             "finish: finishes in Q4 2027",
		"Handover is now planned for 1 May 2027":             "finish: Handover is now planned for 1 May 2027",
		"It opens on 2027-03-01":                             "",
		"It finishes on 30 Jun 2027":                         "finish: finishes on 30 Jun 2027",
		"It should finish on 30 Jun 2027":                    "",
		"ready by May 2027":                                  "finish: ready by May 2027",
		"We will finish in March 2027":                       "finish: finish in March 2027",
		"The hull will be completed in March 2027":           "",
		"The board meets on 30 June 2027":                    "",
		"Hull painted on 1 March 2027":                       "",
		"The hull painted is expected on 4 May 2027":         "milestone: hull painted is expected on 4 May 2027",
		"İİİİİİ hull painted on 4 May 2027":                  "milestone: hull painted on 4 May 2027",
		"Hull painted moved from 1 Feb 2027 to 1 March 2027": "",
		// Standings.
		"It stands at Watch":                    "",
		"It stands at Steady":                   "standing: stands at Steady",
		"Status: green.":                        "standing: Status: green",
		"Status amber":                          "",
		"Red.":                                  "standing: Red",
		"We are red on cost but green on dates": "standing: green on dates",
		"Cost is Steady, progress is green":     "standing: Cost is Steady",
		"Progress: red":                         "standing: Progress: red",
		"Risks are green":                       "",
		"We should be green":                    "",
		"The red paint is dry, and green lights are on": "",
		"keep a steady hand":                            "",
		"We act on the risk":                            "",
		// Nothing.
		"":                                    "",
		"CPI":                                 "",
		"In 2026 we bought 12 pumps":          "",
		"Phase 2 starts in week 14":           "",
		"{cpi} and {eac":                      "",
		"CPI 0.95 and it is on time at €2.0m": "number: CPI 0.95|on time: on time|amount: €2.0m",
	} {
		assert.Equal(t, want, doubts(text, facts()), text)
	}
	for _, d := range claim.Check("It stands at Act with CPI 0.80. Progress is red. Hull painted on 4 May 2027.", facts()) {
		switch {
		case d.Kind == claim.Standing && d.Of == standing.Progress:
			require.Equal(t, standing.Steady, d.Stands)
		case d.Kind == claim.Standing:
			require.Equal(t, standing.Watch, d.Stands)
		case d.Kind == claim.Met:
			require.Equal(t, "Hull painted", d.Name)
			require.Equal(t, calendar.DateOf(2027, 3, 1), calendar.Date(d.Is.N))
		default:
			require.Equal(t, figure.CPI, d.ID)
			require.True(t, d.Is.Known)
		}
	}
}

// TestTwoCurrencies: amounts are held against the figures in the currency in which they are
// written, if they are known in it.
func TestTwoCurrencies(t *testing.T) {
	f := facts()
	in := f.Value
	f.Shown, f.ShownIn = func(id figure.ID) figure.Value {
		v := in(id)
		v.N *= 11
		return v
	}, "NOK"
	for text, want := range map[string]string{
		"The outlook is EUR 1.37 million":  "",
		"The outlook is NOK 15.0 million":  "",
		"The outlook is NOK 14.0 million":  "number: outlook is NOK 14.0 million",
		"The outlook is EUR 15.0 million":  "number: outlook is EUR 15.0 million",
		"15,015,000 kr in all":             "",
		"16,000,000 kr in all":             "amount: 16,000,000 kr",
		"A contract of NOK 99,000":         "amount: NOK 99,000",
		"The outlook is USD 1.0 million":   "",
		"Outlook 1,365 k, VAC -1,435k NOK": "",
	} {
		assert.Equal(t, want, doubts(text, f), text)
	}
	f.ShownIn = "SEK"
	require.Equal(t, "amount: 16,000,000 kr", doubts("16,000,000 kr, and NOK 16,000,000", f))
	f.ShownIn = "NOK"
	d := claim.Check("The outlook is NOK 14.0 million", f)[0]
	require.Equal(t, "NOK", string(d.In))
	require.EqualValues(t, 11*136500000, d.Is.N)
}

// TestShortNames: a milestone whose name is hardly one is not looked for; and one without days
// says nothing.
func TestShortNames(t *testing.T) {
	f := facts()
	f.Milestones = []claim.Milestone{{Name: "in", Days: []calendar.Date{calendar.DateOf(2027, 3, 1)}}, {Name: "Hull painted"}}
	require.Empty(t, doubts("Frost in May 2027, hull painted on 2 May 2027", f))
	f.Milestones[0].Name = "Gate"
	require.Equal(t, "milestone: Gate in May 2027", doubts("Gate in May 2027", f))
}

// TestAsPlanned: what is exactly as planned is neither late nor dear.
func TestAsPlanned(t *testing.T) {
	f := facts()
	f.Value = func(id figure.ID) figure.Value {
		switch id {
		case figure.FinishSlip:
			return figure.Whole(figure.Workdays, 0)
		case figure.ComputedOver, figure.StatedOver:
			return figure.Exact(figure.Ratio, exact.Of(0, 1))
		}
		return figure.Unknown(figure.Get(id).Unit, "not here")
	}
	require.Empty(t, doubts("We are on time and within budget, no slip, 0% over budget.", f))
	require.Equal(t, "on time: behind schedule|on time: 2 days late|budget: over budget", doubts("We are behind schedule. We are 2 days late. We are over budget.", f))
}

// TestEarlyAndCheap: what is said to be late or dear is held against the figures too.
func TestEarlyAndCheap(t *testing.T) {
	f := facts()
	known := map[figure.ID]figure.Value{
		figure.FinishSlip: figure.Whole(figure.Workdays, -10), figure.ComputedOver: figure.Exact(figure.Ratio, exact.Of(-4, 100)),
		figure.CPI: figure.Exact(figure.Ratio, exact.Of(104, 100)), figure.SPIT: figure.Exact(figure.Ratio, exact.Of(1, 1)),
	}
	f.Value = func(id figure.ID) figure.Value { return known[id] }
	for text, want := range map[string]string{
		"We are on time and in budget": "",
		"We are two weeks ahead":       "",
		"We are 10 days early":         "",
		"We are 4 weeks early":         "on time: 4 weeks early",
		"We are two weeks late":        "on time: two weeks late",
		"We are behind schedule":       "on time: behind schedule",
		"The pumps are delayed":        "",
		"4% under budget":              "",
		"4% over budget":               "number: 4% over budget",
		"We are over budget":           "budget: over budget",
		"The yard is over budget":      "",
	} {
		require.Equal(t, want, doubts(text, f), text)
	}
	known[figure.SPIT] = figure.Exact(figure.Ratio, exact.Of(9, 10))
	require.Empty(t, doubts("We are behind schedule", f), "what is earned is")
}

// TestNothingKnown: where no figure is known nothing is doubted.
func TestNothingKnown(t *testing.T) {
	f := claim.Facts{Value: func(id figure.ID) figure.Value { return figure.Unknown(figure.Get(id).Unit, "no") }, Currency: "EUR"}
	require.Empty(t, claim.Check("CPI 0.80, 50% done, on time and on budget, finishes on 30 Jun 2027, two weeks late, EUR 2m, EAC 3 M, red on cost. Green.", f))
}

// FuzzCheck: any text is taken, and every doubt is a place of it.
func FuzzCheck(f *testing.F) {
	f.Add("CPI 0.95, 62% complete, EUR 1.3m, on time, finishes on 30 Jun 2027")
	f.Add("€ 99999999999999999999999999 million 1.000.000 SPI(t) ,5")
	f.Add("İİİİİİİİİİ hull painted on 4 May 2027")
	f.Add("outlook 1 234 567,8 k€ at Q3/2027; 12th of Sept. 2027 a week late; status: red on cost")
	f.Fuzz(func(t *testing.T, text string) {
		for _, d := range claim.Check(text, facts()) {
			require.True(t, 0 <= d.From && d.From < d.To && d.To <= len(text))
		}
	})
}

func BenchmarkCheck(b *testing.B) {
	for _, piece := range []string{"1 ", "1, ", "CPI 0.95. ", "€2.0m ", "on time ", "x"} {
		b.Run(piece, func(b *testing.B) {
			text := strings.Repeat(piece, 4000/len(piece))
			for b.Loop() {
				claim.Check(text, facts())
			}
		})
	}
}
