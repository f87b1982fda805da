package shell

import (
	"cmp"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
)

// Screen is what a folder of pages adds to the application: where it answers, and
// its places in the navigation. Beside it lies sweep.txt, with the addresses of its
// pages that browser tests look at.
type Screen struct {
	Routes  []Route
	Style   string            // what it adds to the style sheet
	Scripts map[string]string // modules by name
	Setup   []Entry           // places in Setup
	Weigh   []Entry           // places in the line under the rail
	Work    bool              // its pages prepare a period, so they show the open one though nothing is stated for it
}

// Route is an address and who answers there.
type Route struct {
	Path      string
	Get, Post fiber.Handler // nil: nobody
	Of        string        // the parameter that names the one project that it is about; Anyone; "": the whole office
}

// Anyone is what a route is of that shows each reader no more than what is theirs.
const Anyone = "anyone"

// Entry is a place in a navigation.
type Entry struct {
	Path, Name string
	Order      int
	May        func(office.Actor) bool // who finds it there; nil: everyone
	Scoped     bool                    // who administers some projects finds it there, of those
	Apart      bool                    // it keeps the moment and the scope, not what is listed
	With       []string                // paths of pages that belong to it
}

// Navigation is where people find the screens.
type Navigation struct{ Setup, Weigh []Entry }

// Register adds the places of screens, in their order.
func (n *Navigation) Register(screens []Screen) {
	for _, s := range screens {
		n.Setup, n.Weigh = append(n.Setup, s.Setup...), append(n.Weigh, s.Weigh...)
	}
	for _, list := range [...][]Entry{n.Setup, n.Weigh} {
		slices.SortStableFunc(list, func(a, b Entry) int { return cmp.Compare(a.Order, b.Order) })
	}
}

// SetupPlaces are the pages of Setup that the actor finds.
func (p Page) SetupPlaces() (out []Place) {
	for _, e := range p.Site.Navigation.Setup {
		if p.Limited() && !(e.Scoped && p.Administers()) {
			continue
		}
		if e.May == nil || e.May(p.Actor) {
			out = append(
				out,
				Place{e.Name, e.Path, p.Path == e.Path || e.May != nil && strings.HasPrefix(p.Path, e.Path)},
			)
		}
	}
	return out
}
