package schedule

import (
	"cmp"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Push is the page of what a move would do.
type Push struct {
	Dates
	Found      *schedule.Push
	Of         string // PROJECT/ACTIVITY
	Name       string
	Rows       []PushRow
	Effects    []PushEffect
	Back       string
	May        int // rows that the reader may state
	More       int // rows after those that are listed, taken together
	Rest       string
	RestTicked bool
}

// PushRow is an activity whose dates would change.
type PushRow struct {
	Key, Project, Name, Link, Was, Is, Days, Class string
	Own, May, Hidden, Raised, Ticked               bool
}

// PushEffect is what the statement would do to a project.
type PushEffect struct {
	Code, Name, Link string
	shell.Effect
	Brings []string
}

// moveOf reads what an address, or a form, moves.
func moveOf(get func(string) string) schedule.Move {
	project, activity, _ := strings.Cut(get("of"), "/")
	by, _ := strconv.Atoi(get("by"))
	return schedule.Move{
		Project: project, Activity: activity, Start: strings.TrimSpace(get("start")), Finish: strings.TrimSpace(get("finish")),
		By: by, Stretch: get("only") == "finish",
	}
}

// GetPush answers /timeline/push: what other dates of an activity would do.
func GetPush(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Move")
		if err != nil {
			return err
		}
		p := &Push{Dates: d, Of: d.State.Get("of"), Back: "/timeline?" + d.State.With("start", "").With("finish", "").With("by", "").With("only", "").With("trail", "").Query()}
		if p.Moment.Empty || p.Of == "" {
			return shell.Render(c, PushTemplate, p)
		}
		move := moveOf(func(name string) string { return p.Field(name, p.State.Get(name)) })
		p.Found, err = schedule.In(site.Office).Push(c.Context(), p.Actor, p.Moment, move)
		var wrong *office.Misfit
		switch {
		case errors.As(err, &wrong):
			p.Wrong = cmp.Or(p.Wrong, tell.Capital(wrong.Error()))
			c.Status(fiber.StatusUnprocessableEntity)
		case err != nil:
			return err
		default:
			if err := p.fill(c, site, move); err != nil {
				return err
			}
		}
		return shell.Render(c, PushTemplate, p)
	}
}

func (p *Push) fill(c fiber.Ctx, site *shell.Site, move schedule.Move) error {
	all := p.list()
	p.speak()
	if len(all) == 0 {
		return nil
	}
	report, err := schedule.In(site.Office).Keep(c.Context(), p.Actor, p.Moment, move, all, p.Moment.Revision(), true)
	if errors.Is(err, office.ErrRefused) {
		p.Wrong = cmp.Or(p.Wrong, err.Error())
		return nil
	}
	if err != nil {
		return err
	}
	p.effects(report)
	return nil
}

// list lists the rows that change, and gives the keys of those that the reader may state.
func (p *Push) list() []string {
	var all []string
	ticked := make(map[string]bool)
	for _, k := range p.Kept["take"] {
		ticked[k] = true
	}
	for i := range p.Found.Rows[:min(len(p.Found.Rows), schedule.MostListed)] {
		x := &p.Found.Rows[i]
		if x.Own {
			p.Name = x.Code + " " + x.Activity
		}
		if x.Hidden {
			continue
		}
		row := PushRow{
			Key: x.Key(), Project: x.Project, Name: x.Code + " " + x.Activity, Was: pair(x.Was), Is: pair(x.Is), Days: days(x.Days),
			Own: x.Own, May: x.May, Raised: x.Raised, Link: "/timeline?" + p.State.Moment().With("open", x.Project).With("of", x.Project+"/"+x.Code).Query(),
		}
		row.Ticked = x.May && (len(ticked) == 0 || ticked[row.Key])
		if x.Days > 0 {
			row.Class = "watch"
		}
		if x.May {
			p.May++
			all = append(all, row.Key)
		}
		p.Rows = append(p.Rows, row)
	}
	if p.More = len(p.Found.Rows) - schedule.MostListed; p.More > 0 {
		if p.Rest = p.Found.Rest(); p.Rest != "" {
			all = append(all, p.Rest)
		}
		p.RestTicked = len(ticked) == 0 || ticked[p.Rest]
	}
	return all
}

// effects lists what the statement would do to projects.
func (p *Push) effects(report *entry.Report) {
	for i := range report.Effects {
		e := &report.Effects[i]
		p.Effects = append(p.Effects, PushEffect{e.Code, e.Name, p.State.Project(e.Code), shell.EffectOf(e, 3), e.Brings})
	}
}

// speak says what is pushed, where, and by how much.
func (p *Push) speak() {
	own := p.Found.Rows[0]
	p.say("With %s of %s until %s, %s, ", own.Activity, own.Project, tell.Date(own.Is[1]), days(own.Days))
	if len(p.Found.Rows) == 1 {
		p.say("nothing else moves.")
		return
	}
	p.pushes(p.Found.Rows[1:], own.Project)
}

// pushes says how many activities move, and in how many projects; home is the project of
// which that needs no saying.
func (p *Push) pushes(rows []schedule.Pushed, home string) {
	milestones, most, least := 0, 0, 0
	projects := make(map[string]bool)
	for _, x := range rows {
		projects[x.Project] = true
		if x.Raised && x.Milestone {
			milestones++
		}
		most, least = max(most, x.Days), min(least, x.Days)
	}
	tone := "watch"
	if most == 0 {
		tone = ""
	}
	p.tone(tone, "", "%s", tell.Plural(len(rows), "activity moves", "activities move"))
	if n := len(projects); n > 1 {
		p.say(" in %s", tell.Plural(n, "project", "projects"))
	} else if !projects[home] {
		p.say(" in %s", rows[0].Project)
	}
	switch {
	case most > 0:
		p.say(", by up to %s", tell.Plural(most, "working day", "working days"))
	case least < 0:
		p.say(", by up to %s earlier", tell.Plural(-least, "working day", "working days"))
	}
	if milestones > 0 {
		p.say(", %s among them", tell.Plural(milestones, "raised milestone", "raised milestones"))
	}
	for i, e := range p.Found.Ends {
		switch i {
		case 0:
			p.say("; %s then ends on %s, %s", e.Project, tell.Date(e.Is), days(e.Days))
		case 1:
			p.say(", and %s", tell.Plural(len(p.Found.Ends)-1, "other project ends", "other projects end")+" on another day")
		}
	}
	p.say(".")
}

// Start and Finish are the dates that are tried: as they were typed, else as a move by days
// gives them.
func (p *Push) Start() string { return p.tried("start", 0) }

// Finish is the other.
func (p *Push) Finish() string { return p.tried("finish", 1) }

func (p *Push) tried(name string, k int) string {
	text := p.Field(name, p.State.Get(name))
	if text == "" && p.State.Get("by") != "" && len(p.Rows) > 0 && !(k == 0 && p.Found.Rows[0].Milestone) {
		return p.Found.Rows[0].Is[k].String()
	}
	return text
}

// PostPush states what is taken of a move.
func PostPush(site *shell.Site) fiber.Handler {
	again := GetPush(site)
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Move")
		if err != nil {
			return err
		}
		move := moveOf(func(name string) string { return c.FormValue(name) })
		var taken []string
		for _, b := range c.Request().PostArgs().PeekMulti("take") {
			taken = append(taken, string(b))
		}
		own := c.FormValue("own")
		if c.FormValue("do") == "only" {
			taken = []string{own}
		}
		_, err = schedule.In(site.Office).Keep(c.Context(), d.Actor, d.Moment, move, taken, shell.Mark(c), false)
		of := move.Project + "/" + move.Activity
		to := "/timeline?" + d.State.Moment().With("of", of).With("open", opened(of, taken)).Query()
		said := fmt.Sprintf("%s stated, as one change.", tell.Plural(len(taken), "activity has other dates", "activities have other dates"))
		return shell.Settle(c, err, again, shell.WithDone(to, strings.Replace(said, " stated,", ",", 1)))
	}
}
