package check

import (
	"fmt"

	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say tells what was found: how much is open, how it changed, and what nobody
// has explained.
func (p *Page) say() []shell.Phrase {
	s := &speech{Page: p}
	c := p.Checking
	open := c.Counts.Open()
	switch {
	case !c.Kept:
		s.text("%s was closed before findings were kept.", p.Moment.Period.Name)
	case open == 0 && c.Counts[3] == 0:
		s.text("Nothing was found in the data of %s.", p.Moment.Period.Name)
	case open == 0:
		s.text("Nothing is open for %s; ", p.Moment.Period.Name)
		s.link(p.all("said", "accepted"), "", tell.Plural(c.Counts[3], "finding is accepted", "findings are accepted"))
		s.text(".")
	default:
		s.open(open)
		s.waiting()
		s.worth()
	}
	s.refused()
	return s.out
}

// speech is the sentence as it grows.
type speech struct {
	*Page
	out []shell.Phrase
}

func (s *speech) text(format string, args ...any) {
	s.out = append(s.out, shell.Phrase{Text: fmt.Sprintf(format, args...)})
}

func (s *speech) link(to, tone, words string) {
	s.out = append(s.out, shell.Phrase{Text: words, Link: to, Tone: tone})
}

// all leads to all findings of a kind, whatever their cause.
func (p *Page) all(part, value string) string {
	return p.With(p.State.With(part, value).With("cause", "").With("show", "all"))
}

// open tells how much is open, and whether that is more than before.
func (s *speech) open(n int) {
	c := s.Checking
	s.text("For %s ", s.Moment.Period.Name)
	s.link(s.all("severity", ""), "", counted(c.Counts))
	s.text(" %s open", map[bool]string{true: "is", false: "are"}[n == 1])
	if c.Since.Code != "" {
		switch by := n - c.Was.Open(); {
		case by > 0:
			s.text(", %d more than in %s", by, c.Since.Name)
		case by < 0:
			s.text(", %d fewer than in %s", -by, c.Since.Name)
		default:
			s.text(", as many as in %s", c.Since.Name)
		}
	}
	s.text(". ")
}

// waiting tells how many of them have no answer.
func (s *speech) waiting() {
	n := s.Checking.Waits
	if n == 0 {
		s.text("All errors and warnings have an answer. ")
		return
	}
	verb := map[bool]string{true: "has", false: "have"}[n == 1]
	s.link(s.all("said", "unexplained"), "watch", tell.Capital(tell.Number(n))+" "+verb+" no answer yet")
	s.text(". ")
}

// worth names the cause that touches most money.
func (s *speech) worth() {
	list := s.Checking.Causes
	if len(list) == 0 {
		return
	}
	first := list[0]
	for _, x := range list {
		if x.Worth > first.Worth {
			first = x
		}
	}
	if first.Worth > 0 {
		s.text("Most money hangs on ")
		s.link(s.Turn("cause", first.Check), "", tell.Lower(first.Title))
		s.text(": %s.", worth(first.Worth, s.Moment.Reporting))
	}
}

// refused tells how many rows stay out, and which codes keep them out.
func (s *speech) refused() {
	c := s.Checking
	if c.Rows == 0 {
		return
	}
	stay := map[bool]string{true: "stays", false: "stay"}[c.Rows == 1]
	s.text(" ")
	s.link(s.State.To("/gather/refused"), "watch", tell.Plural(c.Rows, "refused row", "refused rows"))
	if len(c.Codes) == 0 {
		s.text(" %s out.", stay)
		return
	}
	s.text(" %s out, ", stay)
	codes := tell.Plural(len(c.Codes), "code that nothing matches", "codes that nothing matches")
	s.link(s.State.To("/gather/codes"), "", codes)
	s.text(".")
}
