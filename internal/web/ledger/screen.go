package ledger

import "turret/internal/web/shell"

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Routes: []shell.Route{
			{Path: "/ledger", Get: Get(site), Post: Post(site)},
		},
	}
}
