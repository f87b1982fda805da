// Package schedule has the screens of Weigh about dates: the timeline, the roadmap, the
// calendar, lists of what is due, what projects give each other, where dates have gone, and
// backlogs.
package schedule

import (
	_ "embed"

	"turret/internal/web/shell"
)

//go:embed schedule.css
var style string

//go:embed timeline.js
var script string

// Screen is the place of these pages in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Style:   style,
		Scripts: map[string]string{"timeline.js": script},
		Weigh:   []shell.Entry{{Path: "/timeline", Name: "Dates", Order: 12, With: paths()}},
		Routes: []shell.Route{
			{Of: shell.Anyone, Path: "/timeline", Get: GetLine(site), Post: PostLine(site)},
			{Of: shell.Anyone, Path: "/timeline/push", Get: GetPush(site), Post: PostPush(site)},
			{Of: shell.Anyone, Path: "/timeline/link", Get: GetLink(site), Post: PostLink(site)},
			{Of: shell.Anyone, Path: "/roadmap", Get: GetRoadmap(site)},
			{Of: shell.Anyone, Path: "/calendar", Get: GetMonth(site), Post: PostMonth(site)},
			{Of: shell.Anyone, Path: "/calendar.ics", Get: GetFile(site)},
			{Of: shell.Anyone, Path: "/dates", Get: GetLists(site)},
			{Of: shell.Anyone, Path: "/interfaces", Get: GetInterfaces(site), Post: PostInterfaces(site)},
			{Of: shell.Anyone, Path: "/dates/gone", Get: GetWent(site)},
			{Of: shell.Anyone, Path: "/backlog", Get: GetBacklog(site)},
		},
	}
}
