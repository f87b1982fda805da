package office

import (
	"errors"
	"fmt"
	"strings"

	"turret/internal/store"
	"turret/internal/tell"
)

// Misfit is an entry that is refused, at its column. It is ErrRefused.
type Misfit struct {
	Column, Why string
}

func (m *Misfit) Error() string {
	why := tell.Capital(m.Why)
	if m.Column == "" {
		return why + "."
	}
	return tell.Capital(strings.ReplaceAll(m.Column, "_", " ")) + ": " + m.Why + "."
}

// Is tells that a misfit is a refusal.
func (m *Misfit) Is(target error) bool { return target == ErrRefused }

// Conflict is what someone else changed since a form was shown. It is ErrRefused:
// the form shows again, with both values, and sent again it holds.
type Conflict struct {
	Text string
	More int // records beside the one that is told
}

func (c *Conflict) Error() string { return c.Text }

// Is tells that a conflict is a refusal.
func (c *Conflict) Is(target error) bool { return target == ErrRefused }

// IsConflict tells whether a form was refused because someone else changed what it
// is about.
func IsConflict(err error) bool {
	var c *Conflict
	return errors.As(err, &c)
}

// Errors that the edges tell apart.
var (
	ErrUnknownPeriod = errors.New("unknown period")
	ErrUnknownScope  = errors.New("unknown scope")
	ErrRefused       = errors.New("refused")
)

// refusal is a sentence that says why something was not done. It is ErrRefused.
type refusal string

// Refusef makes the error of something that cannot be done as asked.
func Refusef(format string, args ...any) error { return refusal(fmt.Sprintf(format, args...)) }

func (r refusal) Error() string { return string(r) }

func (r refusal) Is(target error) bool { return target == ErrRefused }

// What a disk can refuse.
var (
	ErrFull     = store.ErrFull
	ErrReadOnly = store.ErrReadOnly
	ErrDamaged  = store.ErrDamaged
)

// Fault gives the sentence for people of a disk that is full or a database that
// cannot be written to; "" of any other error.
func Fault(err error) string {
	switch {
	case errors.Is(err, ErrFull):
		return "The disk is full: nothing was written, and all is as it was. Make room on it and try again."
	case errors.Is(err, ErrDamaged):
		return "The database file is damaged: what is asked for cannot be read as it was written. Nothing was changed. turret verify names what is damaged; whoever runs Turret restores the last sound backup, and turret verify tells whether one is."
	case errors.Is(err, ErrReadOnly):
		return "The database cannot be written to: nothing was written, and all is as it was. Check the rights of its file and directory, and try again."
	}
	return ""
}
