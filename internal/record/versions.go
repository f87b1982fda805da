package record

// Versions are names and notes of versions that money is compared with.
var Versions = func() *versionsKind {
	k := &versionsKind{
		Kind: records(
			"versions",
			"version_name",
			"name of a version",
			"names and notes of versions that money is compared with",
		),
	}
	k.KindCol = k.choice("kind", []string{"statement", "baseline", "cut"}, "what it is", Key)
	k.Project = k.ref("project", ProjectRef, "of a baseline", Key, Blank)
	k.VersionCol = k.text("version", "the period of a statement, the number of a baseline, or a cut", Key)
	k.NameCol = k.text("name", "what it is called")
	k.Note = k.text("note", "note")
	k.Touches = Names
	return k
}()

type versionsKind struct {
	*Kind
	Project                            RefCol
	KindCol, VersionCol, NameCol, Note TextCol
}
