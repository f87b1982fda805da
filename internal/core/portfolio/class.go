package portfolio

// UnstatedClass is the class of amounts of which neither the row nor the plan states one.
const UnstatedClass = "opex"

// Class gives the class that an amount counts as: the one that its row states, else
// the one that the plan in force states on the cost code, where it states one alone;
// else UnstatedClass. Stated tells whether the row or the plan said it.
func (v *View) Class(l *Line) (class string, stated bool) {
	if l.Class != "" {
		return l.Class, true
	}
	if v.Plan == nil {
		return UnstatedClass, false
	}
	for i := range v.Plan.Lines {
		p := &v.Plan.Lines[i]
		switch {
		case p.CodeID != l.CodeID || p.Class == "" || len(p.Cells) == 0:
		case class == "":
			class = p.Class
		case class != p.Class:
			return UnstatedClass, false
		}
	}
	if class == "" {
		return UnstatedClass, false
	}
	return class, true
}

// PlannedClasses lists the classes that the plan in force states on a cost code, in its
// order; none where there is no plan, or it states none there.
func (v *View) PlannedClasses(code int64) (out []string) {
	if v.Plan == nil {
		return nil
	}
	for i := range v.Plan.Lines {
		l := &v.Plan.Lines[i]
		if l.CodeID != code || l.Class == "" || len(l.Cells) == 0 {
			continue
		}
		if len(out) == 0 || out[0] != l.Class && (len(out) < 2 || out[1] != l.Class) {
			out = append(out, l.Class)
		}
	}
	return out
}
