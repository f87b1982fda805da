package amounts

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/office/amounts"
)

// Group is some lines of the table below a head of their own, with its sums.
type Group struct {
	Title string // "" where lines are not grouped
	Level int    // of the head: 0 or, within another, 1
	Lines []amounts.Line
}

// head is what lines can be grouped by.
type head struct {
	name, title, none string
	of                func(*amounts.Line) string
}

var heads = []head{
	{"above", "code above", "other codes", func(l *amounts.Line) string { return l.Above }},
	{"class", "class", "no class", func(l *amounts.Line) string { return l.Class }},
	{"centre", "centre", "no centre", func(l *amounts.Line) string { return l.Centre }},
	{"activity", "activity", "no activity", func(l *amounts.Line) string { return l.Activity }},
	{"currency", "currency", "", func(l *amounts.Line) string { return l.Money }},
}

// mostHeads is how many heads can stand within each other.
const mostHeads = 2

// HeadTab is a head that lines can be grouped by: Link is of the table with it taken in, as the
// innermost, or out. Next is where the key of grouping leads, with it alone; "" where it leads
// elsewhere.
type HeadTab struct {
	Title, Link, Next string
	On                bool
}

// grouped are the heads that the address asks for, from outside in.
func (p *Page) grouped() (out []head) {
	for _, name := range p.State.Names("by") {
		if i := slices.IndexFunc(heads, func(h head) bool { return h.name == name }); i >= 0 && len(out) < mostHeads {
			out = append(out, heads[i])
		}
	}
	return out
}

// telling are the heads that part the lines of the table, or part them now.
func (p *Page) telling() (out []head) {
	on := p.grouped()
	for _, h := range heads {
		first := func(l amounts.Line) bool { return h.of(&l) != h.of(&p.Table.Lines[0]) }
		if slices.ContainsFunc(on, func(x head) bool { return x.name == h.name }) || slices.ContainsFunc(p.Table.Lines, first) {
			out = append(out, h)
		}
	}
	return out
}

// Heads are what lines can be grouped by; the key goes from one to the next, and out.
func (p *Page) Heads() (out []HeadTab) {
	on := p.grouped()
	var names []string
	for _, h := range on {
		names = append(names, h.name)
	}
	list, next := p.telling(), 0 // whose link has the key
	if len(on) > 0 {
		next = slices.IndexFunc(list, func(h head) bool { return h.name == names[len(names)-1] }) + 1
	}
	for i, h := range list {
		x := HeadTab{Title: h.title, On: slices.Contains(names, h.name)}
		if i == next {
			x.Next = p.Turn("by", h.name)
		}
		to := slices.DeleteFunc(slices.Clone(names), func(n string) bool { return n == h.name })
		if !x.On {
			to = append(to[:min(len(to), mostHeads-1)], h.name)
		}
		x.Link = p.Turn("by", strings.Join(to, ","))
		out = append(out, x)
	}
	if len(on) > 0 {
		x := HeadTab{Title: "no heads", Link: p.Turn("by", "")}
		if next == len(list) {
			x.Next = x.Link
		}
		out = append(out, x)
	}
	return out
}

// Groups are the lines of the table below the heads that are asked for; lines of costs, income
// and benefits never share one.
func (p *Page) Groups() (out []Group) {
	on := p.grouped()
	if len(on) == 0 {
		return []Group{{Lines: p.Table.Lines}}
	}
	titles := func(l *amounts.Line) []string {
		list := make([]string, len(on))
		for i, h := range on {
			list[i] = cmp.Or(h.of(l), h.none)
			if l.Flow != "cost" && i == 0 {
				list[i] += ", " + l.Flow
			}
		}
		return list
	}
	lines := slices.Clone(p.Table.Lines)
	flow := make(map[string]int) // in the order of the table
	for i := range lines {
		if _, ok := flow[lines[i].Flow]; !ok {
			flow[lines[i].Flow] = i
		}
	}
	slices.SortStableFunc(lines, func(a, b amounts.Line) int {
		by := cmp.Compare(flow[a.Flow], flow[b.Flow])
		for _, h := range on {
			x, y := h.of(&a), h.of(&b)
			if by == 0 && (x == "") != (y == "") { // what has none comes last
				return cmp.Compare(y, x)
			}
			by = cmp.Or(by, cmp.Compare(x, y))
		}
		return by
	})
	var last []string
	for i := range lines {
		now := titles(&lines[i])
		for level := range now {
			if last == nil || !slices.Equal(now[:level+1], last[:level+1]) {
				out = append(out, Group{Title: now[level], Level: level})
			}
		}
		last = now
		out[len(out)-1].Lines = append(out[len(out)-1].Lines, lines[i])
	}
	return out
}
