package structure

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

// TestLatestShares: the last set at or before a period counts, of that code alone.
func TestLatestShares(t *testing.T) {
	o := &portfolio.Office{Codes: map[int64]portfolio.CostCode{1: {Code: "A"}, 2: {Code: "B"}}}
	p := &portfolio.Project{Shares: []portfolio.Sharing{
		{CodeID: 1, From: 8, Centres: []string{"N"}},
		{CodeID: 1, From: 5, Centres: []string{"S"}},
		{CodeID: 1, From: 12, Centres: []string{"E"}},
		{CodeID: 2, From: 9, Centres: []string{"W"}},
	}}
	require.Equal(t, []string{"N"}, latestShares(o, p, "A", 10))
	require.Equal(t, []string{"S"}, latestShares(o, p, "A", 7))
	require.Equal(t, []string{"E"}, latestShares(o, p, "A", 12))
	require.Nil(t, latestShares(o, p, "A", 4))
	require.Equal(t, []string{"W"}, latestShares(o, p, "B", 10))
}
