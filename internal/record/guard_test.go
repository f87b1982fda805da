package record

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestGuard(t *testing.T) {
	for text, want := range map[string]string{
		"": "", "-": "-", "plain": "plain", "a=b": "a=b", "'quoted'": "'quoted'", "'": "'", "''": "''",
		"=1+1": "'=1+1", "+44 1": "'+44 1", "-5 %": "'-5 %", "--": "'--", "@x": "'@x", "\tx": "'\tx", "\rx": "'\rx", "\nx": "'\nx",
		"'=1": "''=1", "''-": "'''-", "'-5 % off', she said": "''-5 % off', she said",
	} {
		require.Equal(t, want, Guard(text), "%q", text)
		require.Equal(t, text, Unguard(Guard(text)), "%q", text)
		if want != "" && want != "-" {
			require.NotContains(t, formulas, want[:1], "%q", text)
		}
	}
}

func FuzzGuard(f *testing.F) {
	for _, s := range []string{"=", "'=", "-", "x", "''"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if s != "-" {
			require.Equal(t, s, Unguard(Guard(s)))
		}
	})
}
