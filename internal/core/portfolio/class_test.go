package portfolio

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestClassOfAnAmount(t *testing.T) {
	line := func(code int64, class string, cells ...Cell) Line {
		return Line{CodeID: code, Flow: Cost, Class: class, Cells: cells}
	}
	one := Cell{Period: 1, Amount: 1}
	plan := []Line{
		line(1, "capex", one),
		line(1, "capex", one), // of another centre
		line(2, "capex", one), line(2, "opex", one), line(2, "opex", one),
		line(3, "", one),
		line(4, "capex"), // no amount of it is left
		line(5, "", one), line(5, "capex", one),
		line(6, "opex", one),
	}
	for _, c := range []struct {
		name   string
		line   Line
		class  string
		stated bool
	}{
		{"what the row states", line(1, "opex"), "opex", true},
		{"what the plan states", line(1, ""), "capex", true},
		{"the plan states opex", line(6, ""), "opex", true},
		{"the plan states both", line(2, ""), "opex", false},
		{"the plan states none", line(3, ""), "opex", false},
		{"the plan has no amount there", line(4, ""), "opex", false},
		{"the plan states one beside none", line(5, ""), "capex", true},
		{"the plan has not the code", line(9, ""), "opex", false},
	} {
		v := &View{Plan: &Version{Number: 1, Lines: plan}}
		class, stated := v.Class(&c.line)
		require.Equal(t, c.class, class, c.name)
		require.Equal(t, c.stated, stated, c.name)
	}
	class, stated := (&View{}).Class(&Line{CodeID: 1})
	require.Equal(t, "opex", class, "no plan")
	require.False(t, stated, "no plan")
	require.Equal(t, []string{"capex", "opex"}, (&View{Plan: &Version{Lines: plan}}).PlannedClasses(2))
}
