package planning

import (
	"embed"

	"turret/internal/web/shell"
)

//go:embed begin.html sheet.html planning.css
var files embed.FS

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Routes: []shell.Route{
			{Path: "/begin", Get: GetBegin(site), Post: PostBegin(site)},
			{Path: "/plan/:project/:part", Get: Get(site), Post: Post(site)},
		},
		Style: shell.File(files, "planning.css"),
	}
}
