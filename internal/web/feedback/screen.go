package feedback

import "turret/internal/web/shell"

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Routes: []shell.Route{{Of: shell.Anyone, Path: "/feedback", Get: Get(site), Post: Post(site)}},
	}
}
