package history

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Routes: []shell.Route{
			{Of: "project", Path: "/history", Get: Get(site)},
			{Of: "project", Path: "/history/:batch", Get: GetBatch(site), Post: Post(site)},
		},
	}
}
