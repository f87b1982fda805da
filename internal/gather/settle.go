package gather

import "strings"

// What questions of amounts can be answered with, beside the words of columns.
const (
	InWhole     = "whole"
	InThousands = "thousands"
	InMillions  = "millions"

	LeaveRows = "leave them out"
	CountRows = "count them"

	TurnSign = "turn"
	KeepSign = "keep"
)

// units are the places that amounts are moved by.
var units = map[string]int{InWhole: 0, InThousands: 3, InMillions: 6}

// UnitNames are the units that amounts can be said to be in.
var UnitNames = []string{InWhole, InThousands, InMillions}

// Settle takes the answer to a question about a column, or "" for none; false where there
// is no such answer.
func (m *Mapping) Settle(about, head, choice string) bool {
	fixed, isFixed := strings.CutPrefix(about, "fixed.")
	put := func(to *map[string]string, key string) {
		if *to == nil {
			*to = make(map[string]string)
		}
		(*to)[key] = choice
	}
	word, isSkip := strings.CutPrefix(about, "skip.")
	of, isCode := strings.CutPrefix(about, "codes.")
	switch {
	case isCode:
		column, from, ok := strings.Cut(of, ".")
		m.Codes = append(m.Codes, CodeRule{Column: column, Match: Exact, From: from, To: choice})
		return ok
	case isSkip && choice == LeaveRows:
		m.Skip = append(m.Skip, SkipRule{Head: head, Like: word})
	case isSkip:
		m.Trust = true
	case about == "scale":
		m.Scale = choice
	case isFixed:
		put(&m.Fixed, fixed)
	case about == "running":
		m.Running = choice
	case about == "dash":
		m.Dash = choice
	case about == "columns":
		put(&m.Columns, head)
	case about == "forms":
		put(&m.Forms, head)
	case about == "lines":
		m.Lines = choice
	case about == "match":
		m.Match = choice
	case about == "trust":
		m.Trust = true
	case about == "negate" && choice == TurnSign:
		m.Negate = true
	case about == "negate":
		m.Trust = true
	case about == "places":
		n, known := units[choice]
		m.Places = &n
		return known
	default:
		return false
	}
	return true
}

// unitName is the unit of places.
func unitName(places int) string {
	for _, name := range UnitNames {
		if units[name] == places {
			return name
		}
	}
	return InWhole
}
