package drivers

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Weigh: []shell.Entry{{Path: "/drivers", Name: "Drivers", Order: 40}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/drivers", Get: Get(site)},
		},
	}
}
