package record

import (
	"fmt"
	"slices"
	"strings"
)

// UsualSections are the parts of a lead's words that every office has, in their order.
var UsualSections = []string{"summary", "done", "next", "help"}

// Sections are the parts of a lead's words: what belongs into each, how long it should be, and
// where it must not be missing.
var Sections = func() *sectionsKind {
	k := &sectionsKind{Kind: records("sections", "section", "section of words", "the parts of a lead's words: what belongs there, how long it should be, and where it must not be missing")}
	k.Section = k.text("section", "summary, done, next, help, or a code of your choice", Key)
	k.Note = k.text("note", "what belongs there", Blank)
	k.Words = k.whole("words", "how many words it should have at most; empty: as many as it takes", Within(1, 2000), Blank)
	k.Title = k.text("title", "what it is called; empty: as usual, or its code", Blank)
	k.Place = k.whole("place", "in their order, where summary is 10, done 20, next 30 and help 40; 0: left out; empty: as usual, or last", Within(0, 99), Blank)
	k.Wanted = k.choice("wanted", []string{"no", "always", "watch", "act"}, "where it must not be missing: always, or where a project stands at Watch or worse, or at Act", Default("no"))
	k.Stages = k.text("stages", "in these stages of projects alone, with commas; empty: in all", Blank)
	k.Refuse = k.refuse
	k.Touches = Workings
	k.Form = &Form{
		Title: "Sections of words", Needs: founding,
		Says: "Who writes words reads beside each section what belongs there, and is told where it has become longer than wanted, or is missing. Words that miss a wanted section still count as wanted.",
	}
	k.Own = true
	return k
}()

type sectionsKind struct {
	*Kind
	Section, Note, Title, Wanted, Stages TextCol
	Words, Place                         NumberCol
}

func (k *sectionsKind) refuse(_ Run, x *Change) (column, why string) {
	code := k.Section.Of(x.After)
	if code == "" || code != strings.ToLower(code) || strings.ContainsAny(code, " ,/{}:") {
		return "section", fmt.Sprintf("%q is no code of a section: write it small, without spaces, commas, colons, slashes and braces", code)
	}
	if code == "summary" && k.Place.Said(x.After) && k.Place.Of(x.After) == 0 {
		return "place", "the summary cannot be left out: it holds the standing that a lead gives"
	}
	if !slices.Contains(UsualSections, code) && k.Title.Of(x.After) == "" {
		return "title", "say what a section of your own is called"
	}
	return "", ""
}
