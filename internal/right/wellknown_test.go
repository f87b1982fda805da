package right_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/right"
)

func TestWellKnownPasswords(t *testing.T) {
	for _, bad := range []string{
		"password123", "P@ssw0rd2026!", "1234567890", "qwertyuiop", "aaaaaaaaaa", "abababababab", "iloveyou123", "Iloveyou!!!!", "letmein2026",
		"Welcome2026!", "Sommer2026!!", "summer-summer", "qwertz1234567", "1q2w3e4r5t6z", "0987654321", "30.11.2026 1", "asdfghjkl123", "correct horse battery",
		"Skerrow Sound", "skerrow-sound 26", "Ines Marlow 1",
	} {
		require.ErrorIs(t, right.CheckPassword("ines", bad, "Ines Marlow", "Skerrow Sound"), right.ErrWeak, bad)
	}
	for _, good := range []string{
		"tide tables 26", "slack water 26", "leading lights 26", "harbour master 26", "a much better one 1", "Xk7#qPz!m2Lw", "grandmother's blue kettle", "quite long enough 3",
		"mein altes Fahrrad quietscht", "дом у старой реки",
	} {
		require.NoError(t, right.CheckPassword("ines", good, "Ines Marlow", "Skerrow Sound", "", "Al"), good)
	}
}
