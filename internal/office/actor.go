package office

import (
	"turret/internal/right"
)

// Who asks.
type (
	Actor  = right.Actor
	Role   = right.Role
	Denied = right.Denied
)

// The roles: the operator is whoever has the database file in hand and works on
// the command line; the others sign in.
const (
	Operator      = right.Operator
	Analyst       = right.Analyst
	Lead          = right.Lead
	Executive     = right.Executive
	Administrator = right.Administrator
)

// Roles lists the roles that an account may have.
var Roles = right.Roles

// MayAdmit tells whether an actor administers accounts, and MayShare whether
// they may share views: screens leave out what would be refused.
func MayAdmit(a Actor) bool { return right.May(a, right.Admit) }

// MayGather tells whether an actor may gather files.
func MayGather(a Actor) bool { return right.May(a, right.Gather) }

// MayMap tells whether an actor may say how files are read.
func MayMap(a Actor) bool { return right.May(a, right.Map) }

// MayBrief tells whether an actor may make briefs.
func MayBrief(a Actor) bool { return right.May(a, right.Brief) }

// MayClose tells whether an actor closes and reopens periods.
func MayClose(a Actor) bool { return right.May(a, right.Close) }

// MayAnswer tells whether an actor may answer findings and set standings.
func MayAnswer(a Actor) bool { return right.May(a, right.Answer) }

// MayPropose tells whether an actor may propose baselines.
func MayPropose(a Actor) bool { return right.May(a, right.Propose) }

// MayRule tells whether an actor may change rules and checks.
func MayRule(a Actor) bool { return right.May(a, right.Rule) }

// MayDraw tells whether an actor draws periods and calendars.
func MayDraw(a Actor) bool { return right.May(a, right.Draw) }

// MayBrief gives the error of one who may not make briefs, or nil.
func (o *Office) MayBrief(a Actor) error { return right.Check(a, right.Brief) }

// MayShare tells whether an actor may share views.
func MayShare(a Actor) bool { return right.May(a, right.Share) }

// MayAsk tells whether an actor may ask and answer questions.
func MayAsk(a Actor) bool { return right.May(a, right.Ask) }

// MayFound tells whether an actor may set up the office, its programmes and projects.
func MayFound(a Actor) bool { return right.May(a, right.Found) }

// MayExplain tells whether an actor writes words on programmes, and agrees to words.
func MayExplain(a Actor) bool { return right.May(a, right.Explain) }
