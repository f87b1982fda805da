package maps

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style:   Style,
		Scripts: Scripts,
		Weigh:   []shell.Entry{{Path: "/map", Name: "Map", Order: 30}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/map", Get: Get(site)},
		},
	}
}
