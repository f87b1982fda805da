package money

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Weigh: []shell.Entry{{Path: "/money", Name: "Money", Order: 60, Apart: true}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/money", Get: Get(site)},
			{Of: shell.Anyone, Path: "/money/cell", Get: GetCell(site)},
			{Of: shell.Anyone, Path: "/money/bridge", Get: GetBridge(site)},
			{Of: shell.Anyone, Path: "/money.:form", Get: File(site)},
		},
	}
}
