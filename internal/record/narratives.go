package record

// Narratives are the lead's own words.
var Narratives = func() *narrativesKind {
	k := &narrativesKind{Kind: parts("narratives", "period", "text", "the lead's own words")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Period = k.period("period", "stated in", Key)
	k.Section = k.choice("section", UsualSections, "section, or one of the office's own", Key)
	k.Section.Column().Open = true
	k.Text = k.text("text", "text")
	k.StatedStanding = k.choice(
		"stated_standing",
		[]string{"steady", "watch", "act", "unrated"},
		"the lead's own standing, on the summary",
	)
	return k
}()

type narrativesKind struct {
	*Kind
	Project                       RefCol
	Section, Text, StatedStanding TextCol
	Period                        PeriodCol
}
