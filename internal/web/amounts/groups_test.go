package amounts

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/amounts"
	"turret/internal/web/shell"
)

// grouped is a page of seven lines, with the heads that an address asks for.
func grouped(by string) *Page {
	p := &Page{Code: "P", Kind: "plan", Table: &amounts.Table{}}
	p.Path = "/amounts/P/plan"
	p.State = shell.State{}.With("by", by)
	for _, x := range [][4]string{
		{"110", "100 Labour", "opex", "cost"},
		{"120", "100 Labour", "opex", "cost"},
		{"210", "200 Works", "capex", "cost"},
		{"220", "200 Works", "opex", "cost"},
		{"900", "", "", "cost"},
		{"700", "", "opex", "income"},
		{"710", "", "capex", "income"},
	} {
		p.Table.Lines = append(p.Table.Lines, amounts.Line{Key: x[0], Code: x[0], Above: x[1], Class: x[2], Flow: x[3], Money: "EUR"})
	}
	return p
}

func outline(p *Page) (out []string) {
	for _, g := range p.Groups() {
		text := g.Title + ":"
		if g.Level > 0 {
			text = " " + text
		}
		for _, l := range g.Lines {
			text += " " + l.Code
		}
		out = append(out, text)
	}
	return out
}

// TestGroups: lines stand below the heads that are asked for, costs before income, what has
// none last; within one head another.
func TestGroups(t *testing.T) {
	require.Equal(t, []string{": 110 120 210 220 900 700 710"}, outline(grouped("")))
	require.Equal(t, []string{": 110 120 210 220 900 700 710"}, outline(grouped("none")), "no such head")
	require.Equal(t, []string{"capex: 210", "opex: 110 120 220", "no class: 900", "capex, income: 710", "opex, income: 700"}, outline(grouped("class")))
	require.Equal(t, []string{
		"100 Labour:", " opex: 110 120", "200 Works:", " capex: 210", " opex: 220", "other codes:", " no class: 900", "other codes, income:", " capex: 710", " opex: 700",
	}, outline(grouped("above,class")))
}

// TestHeads: those that part the lines are offered; the key goes from one to the next and out,
// a click takes another in below, or out.
func TestHeads(t *testing.T) {
	told := func(by string) (out []string) {
		for _, h := range grouped(by).Heads() {
			text := h.Title + " " + h.Link
			if h.On {
				text += " on"
			}
			if h.Next != "" {
				text += " key " + h.Next
			}
			out = append(out, text)
		}
		return out
	}
	require.Equal(t, []string{"code above /amounts/P/plan?by=above key /amounts/P/plan?by=above", "class /amounts/P/plan?by=class"}, told(""))
	require.Equal(t, []string{"code above /amounts/P/plan on", "class /amounts/P/plan?by=above%2Cclass key /amounts/P/plan?by=class", "no heads /amounts/P/plan"}, told("above"))
	require.Equal(t, []string{"code above /amounts/P/plan?by=class%2Cabove", "class /amounts/P/plan on", "no heads /amounts/P/plan key /amounts/P/plan"}, told("class"))
	require.Equal(t, []string{"code above /amounts/P/plan?by=class on", "class /amounts/P/plan?by=above on", "no heads /amounts/P/plan key /amounts/P/plan"}, told("above,class"))
	one := grouped("")
	one.Table.Lines = one.Table.Lines[:1]
	require.Empty(t, one.Heads(), "one line is parted by nothing")
}
