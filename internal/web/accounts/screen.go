package accounts

import (
	"turret/internal/office"
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Setup: []shell.Entry{{Path: "/setup/accounts", Name: "Accounts", Order: 100, May: office.MayAdmit}},
		Routes: []shell.Route{
			{Path: "/setup/accounts", Get: Get(site), Post: Post(site)},
		},
	}
}
