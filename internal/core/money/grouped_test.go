package money

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestGrouped(t *testing.T) {
	for plain, want := range map[string]string{
		"0": "0", "12": "12", "999": "999", "1000": "1,000", "-999": "-999", "-1000": "-1,000",
		"52900": "52,900", "123456": "123,456", "1234567.5": "1,234,567.5", "-1234567.1234": "-1,234,567.1234", "": "",
	} {
		require.Equal(t, want, Grouped(plain), plain)
	}
}
