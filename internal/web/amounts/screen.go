package amounts

import (
	"embed"

	"turret/internal/web/shell"
)

//go:embed amounts.html amounts.css amounts.js model.js
var files embed.FS

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Routes: []shell.Route{
			{Of: "project", Path: "/amounts/:project/:kind", Get: Get(site), Post: Post(site)},
		},
		Style:   shell.File(files, "amounts.css"),
		Scripts: map[string]string{"amounts.js": shell.Module(files, "model.js", "amounts.js")},
	}
}
