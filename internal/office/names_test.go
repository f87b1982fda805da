package office_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/officetest"
)

// TestNamesAreKnownAtOnce: what clients are called, and how deep plans go, is known as soon as it
// is said, though no figure rests on it.
func TestNamesAreKnownAtOnce(t *testing.T) {
	o := officetest.NewOffice(t)
	for _, name := range []string{"Harbour board", "Harbour trust"} {
		officetest.GatherMap(t, o, map[string]string{"clients.csv": "client,name\nHB," + name + "\n"})
		s, err := o.Book().Snapshot(t.Context())
		require.NoError(t, err)
		require.Equal(t, name, s.Office.Clients["HB"])
	}
	for level, text := range map[int]string{1: "1", 2: "2"} {
		officetest.GatherMap(t, o, map[string]string{"depths.csv": "stage,level\ndesign," + text + "\n"})
		s, err := o.Book().Snapshot(t.Context())
		require.NoError(t, err)
		require.Equal(t, level, s.Office.Depths["design"])
	}
}
