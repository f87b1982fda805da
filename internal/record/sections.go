package record

// Sections tell what belongs into each part of a lead's words, and how long it is wanted.
var Sections = func() *sectionsKind {
	k := &sectionsKind{Kind: records("sections", "section", "section of words", "what belongs into each part of a lead's words, and how long it should be")}
	k.Section = k.choice("section", []string{"done", "help", "next", "summary"}, "of the words", Key)
	k.Note = k.text("note", "what belongs there", Blank)
	k.Words = k.whole("words", "how many words it should have at most; empty: as many as it takes", Within(1, 2000), Blank)
	k.Touches = Names
	k.Form = &Form{
		Title: "Sections of words", Needs: founding,
		Says: "Who writes words reads beside each section what belongs there, and is told where it has become longer than wanted.",
	}
	k.Own = true
	return k
}()

type sectionsKind struct {
	*Kind
	Section, Note TextCol
	Words         NumberCol
}
