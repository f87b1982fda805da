package tell

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestCountingSaysFromWhen(t *testing.T) {
	for _, c := range []struct {
		c    Counting
		want string
	}{
		{Counting{From: "Nov 2026", Period: "Nov 2026", Last: "30 Nov 2026", Kept: 2, Now: true}, "From that day it counts from Nov 2026 on: what Nov 2026 then reads stands beside. Earlier periods keep the plan that they have."},
		{Counting{From: "Oct 2026", Period: "Nov 2026", Last: "30 Nov 2026", Kept: 2, Now: true}, "From that day it counts from Oct 2026 on, and so in Nov 2026: what it then reads stands beside. Earlier periods keep the plan that they have."},
		{Counting{From: "Dec 2026", Period: "Nov 2026", Last: "30 Nov 2026", Kept: 2}, "From that day it counts from Dec 2026 on: Nov 2026 keeps baseline 2, and nothing in it changes. For Nov 2026 to read as beside, take a day up to 30 Nov 2026."},
		{Counting{From: "Dec 2026", Period: "Oct 2026", Last: "31 Oct 2026", Kept: 1, Closed: true}, "From that day it counts from Dec 2026 on. Oct 2026 is closed and keeps baseline 1, whatever day is taken."},
	} {
		require.Equal(t, c.want, c.c.String())
	}
}
