package claim_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
)

// facts: CPI 0.904, SPI(t) 0.97; 62.4% earned, 71% spent; a plan of 1,234,567.89 EUR and an
// outlook of 1,365,000.00, 10.6% above it; it finishes on 12 August 2027, 31 days late.
func facts() claim.Facts {
	known := map[figure.ID]figure.Value{
		figure.CPI:          figure.Exact(figure.Ratio, exact.Of(904, 1000)),
		figure.SPIT:         figure.Exact(figure.Ratio, exact.Of(97, 100)),
		figure.EarnedShare:  figure.Exact(figure.Ratio, exact.Of(624, 1000)),
		figure.SpentShare:   figure.Exact(figure.Ratio, exact.Of(71, 100)),
		figure.ComputedOver: figure.Exact(figure.Ratio, exact.Of(106, 1000)),
		figure.StatedOver:   figure.Exact(figure.Ratio, exact.Of(8, 100)),
		figure.BAC:          figure.Whole(figure.Money, 123456789),
		figure.EACComputed:  figure.Whole(figure.Money, 136500000),
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
		Currency: "EUR", Overall: standing.Watch,
		Days: []calendar.Date{calendar.DateOf(2027, 3, 1)}, Sums: []int64{9900000},
	}
}

// TestCheck: what a text says otherwise than the figures, marked at its place; all else is left
// alone.
func TestCheck(t *testing.T) {
	for text, want := range map[string]string{
		"CPI 0.90":                            "",
		"CPI 0.91, as rounded up by someone":  "",
		"CPI is 0.95 now":                     "number: CPI is 0.95",
		"The CPI of 0,95 is fine":             "number: CPI of 0,95",
		"CPI was 0.95 last month":             "",
		"CPI stays below 0.95":                "",
		"SPI(t) 0.97, TCPI 1.40":              "",
		"SPI(t) at 0.90":                      "number: SPI(t) at 0.90",
		"62% complete":                        "",
		"62.4 % of the work is done":          "",
		"70% complete, 71% spent":             "number: 70% complete",
		"we keep 70% of the crew":             "",
		"The plan is EUR 1,234,567.89":        "",
		"The plan is EUR 1.23 million":        "",
		"The plan is EUR 1.6m":                "amount: EUR 1.6m",
		"an outlook of €1,365,000":            "",
		"an outlook of €1,370,000":            "",
		"an outlook of €1,400,000":            "",
		"an outlook of €1,390,000":            "amount: €1,390,000",
		"EUR 45k behind the plan":             "",
		"up EUR 99,000 since October":         "",
		"a pump of EUR 4,000":                 "",
		"NOK 5,000,000 for the yard":          "",
		"All is on time.":                     "on time: on time",
		"It will not be on time.":             "",
		"We want to be on time.":              "",
		"No delay, and within budget":         "on time: No delay|budget: within budget",
		"It is back on schedule next year":    "",
		"It stands at Watch":                  "",
		"It stands at Steady":                 "standing: stands at Steady",
		"We expect to finish as planned":      "on time: finish as planned",
		"Costs run 3% above estimate":         "number: 3% above estimate",
		"Costs run 10.6 % over the budget":    "",
		"Costs run 8% above plan":             "",
		"keep a steady hand":                  "",
		"It finishes on 12 August 2027":       "",
		"It finishes in August 2027":          "",
		"It opens on 2027-03-01":              "",
		"It finishes on 30 Jun 2027":          "finish: finishes on 30 Jun 2027",
		"ready by May 2027":                   "finish: ready by May 2027",
		"The board meets on 30 June 2027":     "",
		"":                                    "",
		"CPI":                                 "",
		"CPI 0.95 and it is on time at €2.0m": "number: CPI 0.95|on time: on time|amount: €2.0m",
	} {
		var got []string
		for _, d := range claim.Check(text, facts()) {
			got = append(got, string(d.Kind)+": "+text[d.From:d.To])
		}
		require.Equal(t, want, strings.Join(got, "|"), text)
	}
	for _, d := range claim.Check("It stands at Act with CPI 0.80", facts()) {
		if d.Kind == claim.Standing {
			require.Equal(t, standing.Watch, d.Stands)
		} else {
			require.Equal(t, figure.CPI, d.ID)
			require.True(t, d.Is.Known)
		}
	}
}

// TestNothingKnown: where no figure is known nothing is doubted.
func TestNothingKnown(t *testing.T) {
	f := claim.Facts{Value: func(id figure.ID) figure.Value { return figure.Unknown(figure.Get(id).Unit, "no") }, Currency: "EUR"}
	require.Empty(t, claim.Check("CPI 0.80, 50% done, on time and on budget, finishes on 30 Jun 2027", f))
}

// FuzzCheck: any text is taken, and every doubt is a place of it.
func FuzzCheck(f *testing.F) {
	f.Add("CPI 0.95, 62% complete, EUR 1.3m, on time, finishes on 30 Jun 2027")
	f.Add("€ 99999999999999999999999999 million 1.000.000 SPI(t) ,5")
	f.Fuzz(func(t *testing.T, text string) {
		for _, d := range claim.Check(text, facts()) {
			require.True(t, 0 <= d.From && d.From < d.To && d.To <= len(text))
		}
	})
}
