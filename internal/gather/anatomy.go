package gather

import (
	"fmt"
	"strings"
)

// What a row of a sheet was taken for.
const (
	PartTitle   = "title"
	PartBand    = "head above"
	PartHead    = "heads"
	PartRow     = "row"
	PartSum     = "sum"
	PartHeading = "heading"
	PartAgain   = "heads again"
	PartWords   = "words"
	PartLeft    = "left out"
	PartBroken  = "broken"
)

// Part is a row as it was sent, with what it was taken for and why.
type Part struct {
	Row    int      `json:"row"`
	As     string   `json:"as"`
	Why    string   `json:"why"`
	Cells  []string `json:"cells"`
	Hidden bool     `json:"hidden,omitempty"`
}

// Anatomy gives the first rows of a sheet as they were sent, each with what it was taken
// for; and how many rows of each part the whole sheet has. A sheet that nothing was found
// in is all words.
func (u *Understanding) Anatomy(o *Options, most int) (parts []Part, counts map[string]int) {
	counts = make(map[string]int)
	r := &reader{Layout: &u.Layout, o: o}
	u.sheet.Each(func(l *Line) bool {
		if l.Blank() {
			return true
		}
		as, why := u.partOf(r, l)
		counts[as]++
		if len(parts) < most {
			p := Part{Row: l.N, As: as, Why: why, Hidden: l.Hidden, Cells: make([]string, len(l.Cells))}
			for i, c := range l.Cells {
				p.Cells[i] = shorten(strings.TrimFunc(u.shown(l.N, i, c), isSpace), 60)
			}
			parts = append(parts, p)
		}
		return true
	})
	return parts, counts
}

// shown is a cell as people see it: a day of a spreadsheet is a number in it.
func (u *Understanding) shown(row, i int, c Cell) string {
	s := u.sheet
	if shown := s.shown[row]; c.Kind == Number && i < len(shown) && showsDay(shown[i]) || c.Kind == Number && s.dates[i] {
		if d := serialDay(c.Text, s.from1904); d != 0 {
			return d.String()
		}
	}
	return strings.Clone(c.Text)
}

func (u *Understanding) partOf(r *reader, l *Line) (as, why string) {
	switch {
	case l.Wrong != "":
		return PartBroken, l.Wrong
	case u.Table == "" || u.NoTable:
		return PartWords, "no table was found in the sheet"
	case l.N == u.Head:
		return PartHead, u.Why
	case l.N < u.Head && u.Head-l.N <= 2 && filled(l) > 1:
		return PartBand, "it stands right above the heads"
	case l.N < u.Head:
		r.section(l)
		return PartTitle, "it stands above the heads"
	case u.leaves(l):
		return PartLeft, "someone left it out"
	case u.repeatsHead(l):
		return PartAgain, "it says again what the heads say, or on which page it is"
	case r.section(l):
		if why := u.headingWhy(r); why != "" {
			return PartHeading, why
		}
		return PartWords, "it names nothing that is known; rows after it are refused"
	case u.lone(l):
		return PartWords, "it says nothing but a few words"
	case u.totalRow(l):
		return PartSum, u.sumWhy(l.N)
	}
	return PartRow, "it states what the heads name"
}

// headsRows begins why a row is a heading, and HeadsProject why it is one of a project.
const (
	headsRows    = "the rows after it are of "
	HeadsProject = headsRows + "project "
)

// headingWhy says whose rows come after a heading; "" where it names nothing.
func (u *Understanding) headingWhy(r *reader) string {
	var of []string
	if r.under != "" {
		of = append(of, "project "+r.under)
	}
	if r.code != "" {
		of = append(of, "cost code "+r.code)
	}
	if r.kind != "" {
		of = append(of, r.kind)
	}
	if len(of) == 0 {
		return ""
	}
	return headsRows + strings.Join(of, ", ")
}

// sumWhy says whether a row of sums agrees with what it sums.
func (u *Understanding) sumWhy(row int) string {
	agree, all := 0, 0
	for _, s := range u.Sums {
		if s.Row == row && !s.side {
			all++
			if s.Agrees {
				agree++
			}
		}
	}
	switch {
	case all == 0:
		return "its first word says that it sums others"
	case agree == all:
		return "its first word says that it sums others, and it does"
	}
	return fmt.Sprintf("its first word says that it sums others; %d of its %d sums do not agree", all-agree, all)
}
