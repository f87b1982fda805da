package stating

import (
	"embed"

	"turret/internal/web/shell"
)

//go:embed stating.html desk.html stating.css stating.js
var files embed.FS

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/desk", Get: GetDesk(site), Post: PostDesk(site)},
			{Of: "project", Path: "/state/:project/:part", Get: Get(site), Post: Post(site)},
		},
		Style:   shell.File(files, "stating.css"),
		Scripts: map[string]string{"stating.js": shell.File(files, "stating.js")},
	}
}
