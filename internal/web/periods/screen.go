package periods

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Work:  true,
		Style: Style,
		Setup: []shell.Entry{
			{Path: "/setup/periods", Name: "Periods", Order: 10},
			{Path: "/setup/calendars", Name: "Calendars", Order: 20},
			{Path: "/setup/rates", Name: "Rates", Order: 30},
		},
		Routes: []shell.Route{
			{Path: "/setup/periods", Get: Get(site), Post: Post(site)},
			{Path: "/setup/calendars", Get: GetCalendars(site), Post: PostCalendars(site)},
			{Path: "/setup/rates", Get: GetRates(site), Post: PostRates(site)},
		},
	}
}
