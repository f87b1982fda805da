// Package thread tells whose turn it is in a question and its answers.
package thread

// Whom a question can be put to beside one person: whoever leads the project, and the
// portfolio office.
const (
	Leads  = ""
	Office = "office"
)

// Thread is a question with who said something to it since, by sign-in name.
type Thread struct {
	By, To string // who asked; whom: a sign-in name, Leads or Office
	Closed bool
	Spoke  []string // who answered, the first answer first
}

// Turn is whom a thread waits for.
type Turn uint8

// Nobody where it is closed, the asker once somebody else spoke last, and else those whom
// it was put to.
const (
	Nobody Turn = iota
	Asker
	Asked
)

// Turn tells whom the thread waits for. It is the one whom the question was put to until
// somebody else than the asker answers, and again when the asker asks on.
func (t Thread) Turn() Turn {
	switch {
	case t.Closed:
		return Nobody
	case len(t.Spoke) == 0 || t.Spoke[len(t.Spoke)-1] == t.By:
		return Asked
	}
	return Asker
}

// Person is who looks at a thread.
type Person struct {
	Login  string
	Leads  bool // states for the project
	Office bool // is of the portfolio office
}

// Mine tells whether a thread waits for a person. Nobody waits for themselves: a lead who
// asked is not among the leads that are asked.
func (t Thread) Mine(p Person) bool {
	switch t.Turn() {
	case Asker:
		return p.Login == t.By
	case Asked:
		switch t.To {
		case Leads:
			return p.Leads && p.Login != t.By
		case Office:
			return p.Office && p.Login != t.By
		}
		return p.Login == t.To
	}
	return false
}

// MayClose tells whether a person may close a thread, or open it again: who asked, and the
// office, since people leave.
func (t Thread) MayClose(p Person) bool { return p.Login == t.By || p.Office }
