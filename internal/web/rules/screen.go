package rules

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Setup: []shell.Entry{
			{Path: "/setup/rules", Name: "Rules", Order: 70},
			{Path: "/setup/checks", Name: "Checks", Order: 80},
		},
		Routes: []shell.Route{
			{Path: "/setup/rules", Get: Get(site), Post: Post(site)},
			{Path: "/setup/checks", Get: GetChecks(site), Post: PostChecks(site)},
		},
	}
}
