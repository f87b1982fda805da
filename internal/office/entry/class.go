package entry

import (
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// classOf gives the class by whose line an amount goes of which the row states none: that
// of the amount that the statement has there already, else none.
func (lp *linePlan) classOf(k lineKey, at calendar.Period) (class, why string) {
	k.class = ""
	if lp.unclassed(k, at) != nil {
		return "", ""
	}
	for _, known := range record.Costs.Class.Column().Domain {
		k.class = known
		switch {
		case lp.unclassed(k, at) == nil:
		case class != "":
			return "", "the statement has this amount as " + class + " and as " + known +
				"; say which of them the row is"
		default:
			class = known
		}
	}
	return class, ""
}

// unclassed is the cell of a line that a row without a class can speak of: what the
// statement had before this run, or what such a row of the run said; nil where there is
// none.
func (lp *linePlan) unclassed(k lineKey, at calendar.Period) *cellState {
	l := lp.lines[k]
	if l == nil {
		return nil
	}
	for i := range l.cells {
		if c := &l.cells[i]; c.period == at && (c.had && !c.touched || c.said&saidUnclassed != 0) {
			return c
		}
	}
	return nil
}

// giveWay takes out the amount that was stated without a class where a row now states
// the same with one, and the statement had none with that: it is one amount, not two.
// Where the run itself states one beside the other, they are two.
func (lp *linePlan) giveWay(k lineKey, at calendar.Period, by portfolio.Source) {
	k.class = ""
	c := lp.unclassed(k, at)
	if c == nil || c.touched {
		return
	}
	was := c.is
	c.was, c.has, c.touched, c.row, c.file = &was, false, true, by.Row, by.File
}
