package record

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

// TestKinds: the declarations are complete.
func TestKinds(t *testing.T) {
	seen := map[string]bool{}
	for _, table := range Kinds() {
		require.False(t, seen[table.Name], table.Name)
		seen[table.Name] = true
		require.Same(t, table, Named(table.Name))
		keys := 0
		for i, c := range table.Columns {
			require.Equal(t, i, table.Index(c.Name), "%s.%s stands twice", table.Name, c.Name)
			require.NotEmpty(t, c.About)
			if c.Key {
				keys++
			}
			if c.Type == Choice {
				require.NotEmpty(t, c.Domain)
				require.True(t, c.Default == "" || slices.Contains(c.Domain, c.Default), c.Name)
			}
		}
		require.Positive(t, keys, table.Name)
	}
	for k := portfolio.ActivityPart; k <= portfolio.NarrativePart; k++ {
		got, ok := portfolio.PartKindNamed(k.String())
		require.True(t, ok)
		require.Equal(t, k, got)
		require.Equal(t, !k.Lines(), OfPart(k) != nil, k)
	}
}
