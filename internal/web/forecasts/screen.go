package forecasts

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Weigh: []shell.Entry{{Path: "/forecasts", Name: "Forecasts", Order: 50}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/forecasts", Get: Get(site)},
		},
	}
}
