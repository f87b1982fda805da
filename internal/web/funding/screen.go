package funding

import "turret/internal/web/shell"

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Weigh: []shell.Entry{{Path: "/funding", Name: "Funding", Order: 62}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/funding", Get: Get(site), Post: Post(site)},
		},
	}
}
