package letters

import (
	"embed"

	"turret/internal/office"
	"turret/internal/web/shell"
)

//go:embed letters.html caught.html
var files embed.FS

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	out := shell.Screen{
		Routes: []shell.Route{{Path: "/setup/letters", Get: Get(site), Post: Post(site)}},
		Setup:  []shell.Entry{{Path: "/setup/letters", Name: "Letters", Order: 95, May: office.MayDraw}},
	}
	if site.Post.Caught != nil {
		out.Routes = append(out.Routes, shell.Route{Path: "/letters", Get: GetCaught(site)})
	}
	return out
}
