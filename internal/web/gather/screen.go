package gather

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work:    true,
		Style:   Style,
		Scripts: Scripts,
		Routes: []shell.Route{
			{Path: "/gather", Get: Get(site), Post: Post(site)},
			{Path: "/gather/draft/:id", Get: GetPreview(site), Post: PostPreview(site)},
			{Path: "/gather/run/:batch", Get: GetRun(site), Post: PostRun(site)},
			{Path: "/gather/refused", Get: GetRefused(site), Post: PostRefused(site)},
			{Path: "/gather/refused.xlsx", Get: Download(site)},
			{Path: "/gather/codes", Get: GetCodes(site), Post: PostCodes(site)},
		},
	}
}
