package board

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style: Style,
		Weigh: []shell.Entry{{Path: "/board", Name: "Board", Order: 10}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/board", Get: Get(site)},
			{Of: shell.Anyone, Path: "/board.xlsx", Get: Workbook(site)},
		},
	}
}
