package record

// Links are dependencies.
var Links = func() *linksKind {
	k := &linksKind{Kind: parts("links", "", "link", "dependencies")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.From = k.ref("from", EndRef, "an activity, or PROJECT/ACTIVITY", Key)
	k.To = k.ref("to", EndRef, "an activity, or PROJECT/ACTIVITY", Key)
	k.Type = k.choice(
		"type",
		[]string{"FS", "SS", "FF", "SF"},
		"finish-start, start-start, finish-finish, start-finish",
		Default("FS"),
	)
	k.Lag = k.whole("lag", "working days", Within(-9999, 9999), Default("0"))
	k.What = k.text("what", "what is handed over, where it is more than the first activity's name")
	k.AgreedBy = k.text("agreed_by", "who agreed to it")
	k.State = k.choice("state", []string{"on", "off"}, "off: the link was taken out, and holds nothing", Default("on"))
	return k
}()

type linksKind struct {
	*Kind
	Project, From, To           RefCol
	Type, What, AgreedBy, State TextCol
	Lag                         NumberCol
}
