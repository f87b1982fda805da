package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestRateHeads: which way round a head says that rates are, with EUR reported in.
func TestRateHeads(t *testing.T) {
	for head, as := range map[string]string{
		"NOK per EUR": AsInverse, "per EUR": AsInverse, "Units per 1 EUR": AsInverse, "1 EUR =": AsInverse, "1 € =": AsInverse,
		"EUR per NOK": "rate", "EUR per 1 unit": "rate", "1 unit = EUR": "rate", "Rate in EUR": "rate", "Kurs in EUR": "rate",
		"EUR/NOK": "", "NOK/EUR": "", "Rate": "", "EUR": "", "NOK per GBP": "", "perEUR": "", "": "",
	} {
		require.Equal(t, as, rateHead(head, "EUR"), head)
	}
	require.Empty(t, rateHead("NOK per EUR", ""), "nothing is reported in")
}

// TestUnitsOfRates: powers of ten, however they are grouped.
func TestUnitsOfRates(t *testing.T) {
	for text, want := range map[string]string{
		"1": "1", "10": "10", "100": "100", "1,000": "1000", "1 000": "1000", "1'000": "1000", "100.0": "100",
		"": "", "2": "", "50": "", "1.5": "", "11": "", "x": "",
	} {
		n, ok := unitsIn(text)
		require.Equal(t, want != "", ok, text)
		if ok {
			require.Equal(t, want, n.RatString(), text)
		}
	}
}

// TestOnScale: ten steps by two, a hundred by twenty, and five from the top.
func TestOnScale(t *testing.T) {
	for _, c := range []struct{ n, scale, want string }{
		{"1", TenSteps, "1"},
		{"2", TenSteps, "1"},
		{"3", TenSteps, "2"},
		{"8", TenSteps, "4"},
		{"9", TenSteps, "5"},
		{"10", TenSteps, "5"},
		{"0", Hundred, "1"},
		{"20", Hundred, "1"},
		{"21%", Hundred, "2"},
		{"45%", Hundred, "3"},
		{"100", Hundred, "5"},
		{"1", FromTop, "5"},
		{"2", FromTop, "4"},
		{"5", FromTop, "1"},
		{"3", AsTheyAre, "3"},
		{"high", TenSteps, "high"},
	} {
		require.Equal(t, c.want, onScale(c.n, c.scale), "%s %s", c.n, c.scale)
	}
}

// TestDayMarks: signs behind days, and which of them says that a day is an actual one.
func TestDayMarks(t *testing.T) {
	for text, want := range map[string]struct {
		day    string
		actual bool
	}{
		"02-Feb-26 A": {"02-Feb-26", true}, "02-Feb-26*": {"02-Feb-26", false}, "2026-02-02 (act)": {"2026-02-02", true},
		"2026-02-02 actual": {"2026-02-02", true}, "2026-02-02": {"2026-02-02", false}, "2 Apr": {"2 Apr", false}, "": {"", false},
		"2026-02-02 Ist": {"2026-02-02", true}, "2026-02-02 #": {"2026-02-02", false},
	} {
		day, actual := dayMark(text)
		require.Equal(t, want.day, day, text)
		require.Equal(t, want.actual, actual, text)
	}
}
