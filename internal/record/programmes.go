package record

// Programmes are the tree of programmes.
var Programmes = func() *programmesKind {
	k := &programmesKind{Kind: records("programmes", "programme", "programme", "the tree of programmes")}
	k.Programme = k.code("programme", "code", Key)
	k.NameCol = k.text("name", "name")
	k.Parent = k.ref("parent", ProgrammeRef, "the programme above, if any")
	k.Owner = k.text("owner", "who answers for it")
	return k
}()

type programmesKind struct {
	*Kind
	Parent                    RefCol
	Programme, NameCol, Owner TextCol
}
