package exceptions

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Weigh: []shell.Entry{{Path: "/exceptions", Name: "Exceptions", Order: 20}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/exceptions", Get: Get(site)},
		},
	}
}
