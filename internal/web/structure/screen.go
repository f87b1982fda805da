package structure

import (
	"turret/internal/web/shell"
)

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	s := shell.Screen{
		Setup: []shell.Entry{
			{Path: foundingPath, Name: "Office", Order: 5},
			{Path: "/setup/codes", Name: "Cost codes", Order: 61},
			{Path: "/setup/centres", Name: "Cost centres", Order: 62},
			{Path: "/setup/shares", Name: "Shares", Order: 63},
		},
	}
	s.Routes = append(s.Routes, shell.Route{Path: foundingPath, Get: GetFounding(site), Post: PostFounding(site)})
	for _, path := range Paths {
		s.Routes = append(s.Routes, shell.Route{Path: path, Get: Get(site, path), Post: Post(site, path)})
	}
	return s
}
