package gather

import (
	"fmt"
	"strings"

	"turret/internal/record"
)

// AsUnit is a column whose cells say in which unit, and currency, the amounts of their row
// are: kEUR.
const AsUnit = "unit of amount"

// unitColumn takes a column whose cells are nothing but units, one of thousands or millions
// at least, where no other says so.
func (f *finder) unitColumn() {
	u := f.u
	if f.t != record.Costs.Kind && f.t != record.Postings.Kind || f.uses(AsUnit) || f.m.Places != nil {
		return
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone && x.As != "currency" || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		all, scaled, fits := 0, "", true
		u.data(f.s, func(l *Line) bool {
			text := strings.TrimFunc(l.At(i).Text, isSpace)
			if text == "" {
				return true
			}
			said, ok := wholeUnit(text)
			fits = ok && l.At(i).Kind == Words
			if all++; said.scaled {
				scaled = strings.Clone(text)
			}
			return fits && all < sampled
		})
		if !fits || scaled == "" {
			continue
		}
		u.Uses[i].As, u.Columns[i].As = AsUnit, AsUnit
		u.Columns[i].Certainty, u.Columns[i].Why = Likely, "its cells are units, as "+scaled
		u.note("The amounts of each row are in the unit that %s says, as %s.", f.called(i), scaled)
		return
	}
}

// united reads the unit of a row for its amounts.
func (r *reader) united(line *Line) (column, value, why string) {
	r.scaled, r.stands = r.Places, ""
	if r.unit < 0 {
		return "", "", ""
	}
	text := strings.TrimFunc(line.At(r.unit).Text, isSpace)
	if text == "" {
		return "", "", ""
	}
	said, ok := wholeUnit(text)
	if !ok {
		return r.head(r.unit), strings.Clone(text), fmt.Sprintf("%q is no unit of money; write one such as kEUR", text)
	}
	r.scaled, r.stands = said.places, said.currency
	return "", "", ""
}
