package portfolio

// Section is a part of the words on a project, as the office wants it.
type Section struct {
	Code, Title string
	Note        string // what belongs there
	Most        int    // words; zero: as many as it takes
	Place       int    // in the order of sections
	Wanted      Need
	Stages      []string // of projects, where it is wanted; none: all
}

// Need tells where a section must not be missing.
type Need string

// Needs, by how a project stands.
const (
	Never   Need = "no"
	Always  Need = "always"
	AtWatch Need = "watch" // or worse
	AtAct   Need = "act"
)
