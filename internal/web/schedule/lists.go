package schedule

import (
	"fmt"
	"maps"
	"slices"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Lists is the page of what is due.
type Lists struct {
	Dates
	Found  *schedule.Lists
	Chips  []Tab
	List   *schedule.List
	Rows   []Due
	People []PersonRow
	Heads  []string
	Who    string
	More   int // activities beyond those that are shown
	KeptBy []Kept
}

// mostListed is how many activities of a list are shown at once.
const mostListed = 200

// Due is an activity on a list.
type Due struct {
	Project, ProjectName, Code, Name, Who, Link, ProjectLink string
	Start, Finish, Planned, Slip, Said, Class                string
}

// PersonRow is a person with counts.
type PersonRow struct {
	Name, Link string
	Counts     []string
	On         bool
}

// Kept is how many were done in time, by period.
type Kept struct{ Period, Due, OnTime, Share string }

// GetLists answers /dates.
func GetLists(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "What is due")
		if err != nil {
			return err
		}
		p := &Lists{Dates: d, Who: d.State.Get("by")}
		if p.Found, err = schedule.In(site.Office).Lists(c.Context(), p.Actor, p.Moment, p.Who); err != nil {
			return err
		}
		if !p.Moment.Empty {
			p.fill()
		}
		return shell.Render(c, ListsTemplate, p)
	}
}

func (p *Lists) fill() {
	asked := p.State.Get("show")
	for i := range p.Found.Lists {
		l := &p.Found.Lists[i]
		p.Heads = append(p.Heads, l.Title)
		p.Chips = append(p.Chips, Tab{fmt.Sprintf("%s %d", l.Title, len(l.Rows)), p.Turn("show", string(l.Key)), string(l.Key) == asked})
		if string(l.Key) == asked || asked == "" && p.List == nil && len(l.Rows) > 0 {
			p.List = l
		}
	}
	if p.List == nil {
		p.List = &p.Found.Lists[0]
		if asked != "" && string(p.List.Key) != asked {
			p.Moment.Notes = append(p.Moment.Notes, fmt.Sprintf("There is no list called %q; this is the first.", asked))
		}
	}
	for i := range p.Chips {
		p.Chips[i].On = p.Found.Lists[i].Key == p.List.Key
	}
	for i, a := range p.List.Rows {
		if i == mostListed && p.State.Get("leaf") != "all" {
			p.More = len(p.List.Rows) - i
			break
		}
		x := Due{
			Project: a.Of.Code, ProjectName: a.Of.Name, Code: a.Code, Name: a.Name, Who: a.Who(), ProjectLink: p.State.Project(a.Of.Code),
			Link:  "/timeline?" + p.State.Moment().With("open", a.Of.Code).With("of", a.Of.Code+"/"+a.Code).Query(),
			Start: tell.Date(a.Current[0]), Finish: tell.Date(a.Current[1]), Planned: tell.Date(a.Planned[1]), Slip: tell.Dash, Said: "never",
		}
		if a.Milestone() {
			x.Start = tell.Dash
		}
		if slip, ok := a.Slip(); ok {
			if x.Slip = days(slip); slip > 0 {
				x.Class = "watch"
			}
		}
		if a.SaidIn != 0 {
			x.Said = p.Moment.PeriodName(a.SaidIn)
		}
		p.Rows = append(p.Rows, x)
	}
	for _, person := range p.Found.People {
		r := PersonRow{Name: person.Name, Link: p.Turn("by", person.Name), On: person.Name == p.Who}
		if r.Name == "" {
			r.Name, r.Link = "Nobody", ""
		}
		for _, n := range person.Counts {
			r.Counts = append(r.Counts, count(n))
		}
		p.People = append(p.People, r)
	}
	p.kept()
	p.speak()
}

// count writes a number of things, and nothing for none.
func count(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprint(n)
}

func (p *Lists) speak() {
	p.say("%s", asOf(p.Found.Schedule, p.Moment.Period.Name))
	if p.Who != "" {
		p.say("Of %s ", p.Who)
	}
	n := func(key string) int {
		for i := range p.Found.Lists {
			if string(p.Found.Lists[i].Key) == key {
				return len(p.Found.Lists[i].Rows)
			}
		}
		return 0
	}
	over := n("overdue") + n("missed")
	if over == 0 {
		p.say("nothing is overdue")
	} else {
		p.tone("act", p.Turn("show", "overdue"), "%s overdue", tell.Plural(over, "is", "are"))
	}
	if x := n("begin"); x > 0 {
		p.say(", ")
		p.tone("watch", p.Turn("show", "begin"), "%d should have started", x)
	}
	p.say(", and %s to be finished within 31 days.", tell.Plural(n("due"), "is", "are"))
	if len(p.Found.Kept) > 0 {
		last := p.Found.Kept[len(p.Found.Kept)-1]
		if last.Due > 0 {
			p.say(" Of %d that were due in %s, %d were done in time.", last.Due, last.Period, last.OnTime)
		}
	}
	if p.Sentence[0].Text == "" {
		p.Sentence = p.Sentence[1:]
	}
	p.Sentence[0].Text = tell.Capital(p.Sentence[0].Text)
}

// kept draws how much was done in time, by period.
func (p *Lists) kept() {
	for _, k := range p.Found.Kept {
		x := Kept{Period: k.Period, Due: fmt.Sprint(k.Due), OnTime: fmt.Sprint(k.OnTime), Share: tell.Dash}
		if k.Due > 0 {
			x.Share = fmt.Sprintf("%.0f%%", 100*float64(k.OnTime)/float64(k.Due))
		}
		p.KeptBy = append(p.KeptBy, x)
	}
}

func sorted(set map[string]bool) []string {
	delete(set, "")
	return slices.Sorted(maps.Keys(set))
}
