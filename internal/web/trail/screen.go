package trail

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/trail/:scope/:figure", Get: Get(site)},
		},
	}
}
