package registers

import (
	"turret/internal/office/structure"
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application: behind Setup, after those
// of a make of their own.
func Screen(site *shell.Site) shell.Screen {
	var entries []shell.Entry
	for i, k := range structure.Registers() {
		entries = append(entries, shell.Entry{Path: "/setup/records/" + k.Name, Name: k.Form.Title, Order: 31 + i, Scoped: k.Form.Scope != ""})
	}
	return shell.Screen{
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/setup/records/:table", Get: Get(site), Post: Post(site)},
		},
		Setup: entries,
	}
}
