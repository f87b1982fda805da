package explain

import (
	"embed"

	"turret/internal/web/shell"
)

//go:embed list.html one.html explain.js
var files embed.FS

// Templates of the pages.
var (
	ListTemplate = shell.Parse(files, "list.html")
	OneTemplate  = shell.Parse(files, "one.html")
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/explain", Get: GetList(site)},
			{Of: shell.Anyone, Path: "/words/:group", Get: GetGroup(site), Post: PostGroup(site)},
			{Of: "project", Path: "/explain/:project", Get: GetOne(site), Post: PostOne(site)},
		},
		Scripts: map[string]string{"explain.js": shell.File(files, "explain.js")},
	}
}
