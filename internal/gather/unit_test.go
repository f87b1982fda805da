package gather

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/money"
)

// TestUnits: a unit counts where it is one, and nowhere else.
func TestUnits(t *testing.T) {
	for text, want := range map[string]struct {
		places   int
		currency money.Currency
	}{
		"EUR '000":                 {3, "EUR"},
		"k€":                       {3, "EUR"},
		"TEUR":                     {3, "EUR"},
		"kNOK":                     {3, "NOK"},
		"£m":                       {6, "GBP"},
		"EUR k":                    {3, "EUR"},
		"in 1000 EUR":              {3, "EUR"},
		"in 1000 NOK":              {3, "NOK"},
		"1 000 SEK":                {3, "SEK"},
		"amounts in thousands":     {3, ""},
		"Alle Beträge in Tsd. EUR": {3, "EUR"},
		"All figures in EUR":       {0, "EUR"},
		"Amounts are stated in thousands of EUR.": {3, "EUR"},
		"Forecast November 2026 (EUR)":            {0, "EUR"},
		"Forecast November 2026, EUR '000":        {3, "EUR"},
		"Kostenbericht in TEUR":                   {3, "EUR"},
		"Cost report - in NOK thousands":          {3, "NOK"},
		"MNOK":                                    {6, "NOK"},
		"Beløp i 1000 NOK":                        {3, "NOK"},
		"Montants en milliers d'EUR":              {-1, ""}, // not understood, and nothing is made of it
		"Comment any variance above 50k.":         {-1, ""},
		"not in thousands":                        {-1, ""},
		"Enter full amounts in EUR, not in thousands. Thousand separators do no harm.": {-1, ""},
		"rate rise of 2k a month":  {-1, ""},
		"above 5 thousand":         {-1, ""},
		"5 million":                {-1, ""},
		"m":                        {-1, ""},
		"A thousand thanks to all": {-1, ""},
		"Period 1 000":             {-1, ""},
		"Project 10 000 plans":     {-1, ""},
		"in t":                     {-1, ""}, "Mill": {-1, ""}, "NOK mill": {6, "NOK"}, "ALL": {-1, ""}, "k": {3, ""}, "ALL PROJECTS": {-1, ""},
		"nicht in TEUR": {-1, ""},
	} {
		u, ok := unitIn(text)
		require.Equal(t, want.places >= 0, ok, "%q gives %v", text, u)
		if ok {
			require.Equal(t, want.places, u.places, text)
			require.Equal(t, want.currency, u.currency, text)
		}
	}
	for head, want := range map[string][2]string{
		"Amount (kEUR)":      {"Amount", "kEUR"},
		"Betrag EUR":         {"Betrag", "EUR"},
		"Amount in NOK":      {"Amount", "NOK"},
		"Betrag TEUR":        {"Betrag", "TEUR"},
		"Amount EUR '000":    {"Amount", "EUR '000"},
		"Percent complete":   {"Percent complete", ""},
		"Cost in all":        {"Cost in all", ""},
		"Booked in November": {"Booked in November", ""},
		"Start":              {"Start", ""},
	} {
		label, unit := unitOf(head)
		require.Equal(t, want, [2]string{label, unit}, head)
	}
}
