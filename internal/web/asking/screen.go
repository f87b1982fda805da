package asking

import (
	"embed"

	"turret/internal/web/shell"
)

//go:embed questions.html question.html ask.html contacts.html asking.css
var files embed.FS

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/questions", Get: Get(site)},
			{Of: shell.Anyone, Path: "/contacts", Get: GetContacts(site)},
			{Of: "project", Path: "/question/:project/:question", Get: GetOne(site), Post: PostOne(site)},
			{Of: "project", Path: "/ask/:project", Get: GetAsk(site), Post: PostAsk(site)},
		},
		Style: shell.File(files, "asking.css"),
	}
}
