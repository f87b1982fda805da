package mappings

import (
	"turret/internal/office"
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Setup: []shell.Entry{{Path: "/setup/mappings", Name: "Mappings", Order: 90, May: office.MayMap}},
		Routes: []shell.Route{
			{Path: "/setup/mappings", Get: Get(site), Post: Post(site)},
			{Path: "/setup/mappings/:id", Get: GetOne(site), Post: Post(site)},
		},
	}
}
