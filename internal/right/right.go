// Package right says who may do what. Nothing is allowed unless it is granted
// here.
package right

import (
	"fmt"
	"slices"
)

// Role is what a person is for the office.
type Role string

// The roles. The operator is whoever has the database file in hand and works
// on the command line.
const (
	Analyst       Role = "analyst"
	Lead          Role = "lead"
	Executive     Role = "executive"
	Administrator Role = "administrator"
	Operator      Role = "operator"
)

// Actor is who does something.
type Actor struct {
	Name string
	Role Role
}

// Action is something that can be done.
type Action string

// The actions.
const (
	Read    Action = "read the portfolio"
	Gather  Action = "gather files"
	Close   Action = "close and reopen periods"
	Export  Action = "export everything"
	Install Action = "set up, back up and restore"
)

var granted = map[Role][]Action{
	Analyst:       {Read, Gather, Close, Export},
	Lead:          {Read},
	Executive:     {Read},
	Administrator: {Read, Export, Install},
	Operator:      {Read, Gather, Close, Export, Install},
}

// Denied is the error of doing what is not granted.
type Denied struct {
	Actor  Actor
	Action Action
}

func (d *Denied) Error() string {
	return fmt.Sprintf("%s may not %s (role: %s)", d.Actor.Name, d.Action, d.Actor.Role)
}

// Check gives nil where an actor may do something, else a *Denied.
func Check(a Actor, do Action) error {
	if slices.Contains(granted[a.Role], do) {
		return nil
	}
	return &Denied{a, do}
}
