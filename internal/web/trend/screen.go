package trend

import "turret/internal/web/shell"

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Weigh:  []shell.Entry{{Path: "/trend", Name: "Trend", Order: 45}},
		Routes: []shell.Route{{Of: shell.Anyone, Path: "/trend", Get: Get(site)}},
	}
}
