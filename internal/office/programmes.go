package office

// Programmes lists the tree of programmes, each with its depth.
func (m *Moment) Programmes() []ProgrammeNode {
	var out []ProgrammeNode
	var walk func(parent string, depth int)
	walk = func(parent string, depth int) {
		for _, g := range m.snap.Office.Groups {
			top := parent == "" && m.now.Group(g.Parent) == nil
			if g.Parent == parent && g.Code != parent || top && g.Parent != "" {
				out = append(out, ProgrammeNode{g.Code, g.Name, depth})
				walk(g.Code, depth+1)
			}
		}
	}
	walk("", 0)
	return out
}

// ProgrammeNode is a programme in the tree.
type ProgrammeNode struct {
	Code, Name string
	Depth      int
}
