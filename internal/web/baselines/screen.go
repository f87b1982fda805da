package baselines

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work: true,
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/baselines", Get: Get(site), Post: Post(site)},
			{Path: "/versions", Get: GetVersions(site), Post: PostVersions(site)},
			{Of: "of", Path: "/baseline", Get: GetChange(site), Post: PostChange(site)},
		},
	}
}
