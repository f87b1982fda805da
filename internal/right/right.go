// Package right says who may do what. Nothing is allowed unless it is granted
// here.
package right

import (
	"fmt"
	"slices"

	"turret/internal/core/portfolio"
)

// Role is what a person is for the office.
type Role string

// The roles. The operator is whoever has the database file in hand and works
// on the command line; no account has this role.
const (
	Analyst       Role = "analyst"
	Lead          Role = "lead"
	Executive     Role = "executive"
	Administrator Role = "administrator"
	Operator      Role = "operator"
)

// Roles lists the roles that an account may have.
var Roles = []Role{Analyst, Lead, Executive, Administrator}

// Actor is who does something. Account is zero on the command line.
type Actor struct {
	Name        string
	Role        Role
	Account     int64
	Login       string          // the sign-in name; "" on the command line
	Projects    []int64         // those that a lead states for
	States      []Statement     // what else they may state
	Sight       portfolio.Sight // what they read; nil: everything
	Approves    []int64         // the projects whose baselines they approve; nil: what their role does
	Administers []string        // the projects and programmes, by code, whose rights they give
	Lacks       bool            // their role is asked for a second factor, and they have none
	From        string          // where they ask from: an address, or the machine's user
}

// Statement lets someone state some kinds for a project, for some periods, as its deputy
// or as one who owes a part of it.
type Statement struct {
	Project     int64
	Kinds       []string // none: all
	From, Until int      // ordinals of periods; Until is zero without an end
}

// Concerns tells whether a project is one that a lead, or a deputy, states for.
func (a Actor) Concerns(project int64) bool {
	return slices.Contains(a.Projects, project) ||
		slices.ContainsFunc(a.States, func(x Statement) bool { return x.Project == project })
}

// Reads tells whether an actor reads a project.
func (a Actor) Reads(project int64) bool { return a.Sight.Reads(project) }

// Action is something that can be done.
type Action string

// The actions.
const (
	Read    Action = "read the portfolio"
	State   Action = "state for this project"
	Gather  Action = "gather files"
	Map     Action = "say how files are read"
	Brief   Action = "make and withdraw briefs"
	Answer  Action = "answer findings and set standings"
	Propose Action = "propose baselines"
	Approve Action = "approve baselines"
	Rule    Action = "change rules and checks"
	Close   Action = "close and reopen periods"
	Draw    Action = "draw periods and calendars"
	Found   Action = "set up the office, its programmes and projects"
	Export  Action = "export everything"
	Install Action = "set up, back up and restore"
	Admit   Action = "administer accounts"
	Keep    Action = "keep an account, its password and its views"
	Share   Action = "share views"
	Ask     Action = "ask and answer questions"
	Explain Action = "write words on programmes and agree to words"
)

// Actions lists every action.
var Actions = []Action{
	Read, State, Gather, Map, Brief, Answer, Propose, Approve, Rule, Close, Draw, Found, Export, Install, Admit, Keep, Share, Ask, Explain,
}

var granted = map[Role][]Action{
	Analyst:       {Read, State, Gather, Map, Brief, Answer, Propose, Approve, Rule, Close, Draw, Found, Export, Keep, Share, Ask, Explain},
	Lead:          {Read, Keep, Ask},
	Executive:     {Read, Approve, Keep, Ask},
	Administrator: {Read, Map, Draw, Found, Export, Install, Admit, Keep, Share, Ask},
	Operator:      {Read, State, Gather, Map, Brief, Answer, Propose, Approve, Rule, Close, Draw, Found, Export, Install, Admit, Ask, Explain},
}

// Denied is the error of doing what is not granted.
type Denied struct {
	Actor  Actor
	Action Action
}

func (d *Denied) Error() string {
	if d.Actor.Role == "" {
		return "Nobody is signed in, so nobody may " + string(d.Action)
	}
	return fmt.Sprintf("%s may not %s (role: %s)", d.Actor.Name, d.Action, d.Actor.Role)
}

// May tells whether an actor may do something.
func May(a Actor, do Action) bool {
	if do == Approve && a.Approves != nil {
		return len(a.Approves) > 0 // of what: CheckApprove
	}
	return slices.Contains(granted[a.Role], do)
}

// Check gives nil where an actor may do something, else a *Denied.
func Check(a Actor, do Action) error {
	if May(a, do) {
		return nil
	}
	return &Denied{a, do}
}

// CheckApprove gives nil where an actor may approve baselines of a project: by their role,
// or, where they are let approve some, of those alone.
func CheckApprove(a Actor, project int64) error {
	if a.Approves == nil {
		return Check(a, Approve)
	}
	if slices.Contains(a.Approves, project) {
		return nil
	}
	return &Denied{a, Approve}
}

// CheckState gives nil where an actor may state a kind for a project and a period: a
// lead for their own projects, and for others what they were let.
func CheckState(a Actor, project int64, kind string, period int) error {
	if May(a, State) {
		return nil
	}
	if a.Role == Lead {
		if slices.Contains(a.Projects, project) {
			return nil
		}
		for _, x := range a.States {
			if x.Project == project && (len(x.Kinds) == 0 || slices.Contains(x.Kinds, kind)) && x.From <= period &&
				(x.Until == 0 || period <= x.Until) {
				return nil
			}
		}
	}
	return &Denied{a, State}
}
