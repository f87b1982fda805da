package brief

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Routes: []shell.Route{
			{Path: "/brief", Get: Get(site), Post: Post(site)},
			{Of: shell.Anyone, Path: "/brief/now.:form", Get: Now(site)},
			{Path: "/brief/:id.:form", Get: Old(site)},
		},
	}
}
