package record

// Programmes are the tree of programmes.
var Programmes = func() *programmesKind {
	k := &programmesKind{Kind: records("programmes", "programme", "programme", "the tree of programmes")}
	k.Programme = k.code("programme", "code", Key)
	k.NameCol = k.text("name", "name")
	k.Parent = k.ref("parent", ProgrammeRef, "the programme above, if any")
	k.Owner = k.text("owner", "who answers for it")
	k.Form = &Form{
		Title: "Programmes",
		Says:  "Projects belong to them, and they to each other.",
		Needs: founding,
	}
	return k
}()

type programmesKind struct {
	*Kind
	Parent                    RefCol
	Programme, NameCol, Owner TextCol
}

// founding is what those must be allowed to do who set up what the office holds.
const founding = "set up the office, its programmes and projects"
