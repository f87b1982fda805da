package pages

import "turret/internal/web/shell"

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Weigh:   []shell.Entry{{Path: "/page", Name: "Page", Order: 11}},
		Scripts: map[string]string{"blocks.js": shell.File(files, "page.js")},
		Routes:  []shell.Route{{Of: shell.Anyone, Path: "/page", Get: Get(site), Post: Post(site)}},
	}
}
