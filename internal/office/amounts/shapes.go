package amounts

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/spread"
	"turret/internal/office"
)

// oneCurrency refuses lines of several currencies, of which a total would be of none.
func (b *block) oneCurrency() (money.Currency, error) {
	c := b.lines[0].currency
	for _, l := range b.lines {
		if l.currency != c {
			return "", &office.Misfit{Column: "total", Why: "the lines are in several currencies, so a total would be of none; choose those of one"}
		}
	}
	return c, nil
}

// total reads the total that someone typed.
func (b *block) total(text string) (int64, error) {
	c, err := b.oneCurrency()
	if err != nil {
		return 0, err
	}
	text = strings.TrimSpace(text)
	var n int64
	if formula, ok := strings.CutPrefix(text, "="); ok {
		n, err = Compute(formula, c)
	} else {
		n, err = money.Parse(plain(text), c)
	}
	if err != nil {
		return 0, &office.Misfit{Column: "total", Why: err.Error()}
	}
	return n, nil
}

// spread lays a total over the block: over its lines by what they hold, or alike, and over the
// periods of each in the way that is chosen.
func (b *block) spread(c Change) error {
	total, err := b.total(c.Total)
	if err != nil {
		return err
	}
	holds := make([]int64, len(b.lines))
	for i, l := range b.lines {
		_, amounts := b.cells(l)
		var ok bool
		if holds[i], ok = spread.Sum(amounts); !ok {
			return office.Refusef("What the lines hold is more than 64 bits of minor units.")
		}
	}
	parts, err := spread.By(total, holds)
	if errors.Is(err, spread.ErrNothing) {
		parts, err = spread.By(total, spread.Even(len(b.lines)))
	}
	if err != nil {
		return &office.Misfit{Column: "total", Why: err.Error()}
	}
	for i, l := range b.lines {
		at, _ := b.cells(l)
		if len(at) == 0 {
			continue
		}
		weights, err := b.weights(c, l, at)
		if err != nil {
			return err
		}
		amounts, err := spread.By(parts[i], weights)
		if err != nil {
			return &office.Misfit{Column: "how", Why: fmt.Sprintf("%s: %s", l.Title(), err)}
		}
		for k, q := range at {
			b.set(l.Key, q, amounts[k])
		}
	}
	return nil
}

// weights weigh the periods of a line for what is spread over them.
func (b *block) weights(c Change, l *Line, at []calendar.Period) ([]int64, error) {
	s := b.t.subject
	switch c.How {
	case "", "even":
		return spread.Even(len(at)), nil
	case "curve":
		return spread.Curve(len(at), cmp.Or(c.Steep, 2)), nil
	case "days":
		out := make([]int64, len(at))
		for i, q := range at {
			out[i] = spread.WorkingDays(s.view.Cal, b.t.periods, q, 1)[0]
		}
		return out, nil
	case "plan":
		return b.planned(l, at), nil
	}
	return nil, &office.Misfit{Column: "how", Why: fmt.Sprintf("%q is no way to spread", c.How)}
}

// planned is what the plan in force says of a line's cost code and flow in some periods.
func (b *block) planned(l *Line, at []calendar.Period) []int64 {
	out := make([]int64, len(at))
	v := b.t.subject.view
	if v.Plan == nil {
		return out
	}
	for i := range v.Plan.Lines {
		x := &v.Plan.Lines[i]
		if b.t.subject.snap.Office.Codes[x.CodeID].Code != l.Code || string(x.Flow) != l.Flow {
			continue
		}
		for _, c := range x.Cells {
			if k := slices.Index(at, c.Period); k >= 0 {
				out[k] += c.Amount
			}
		}
	}
	return out
}

// percent reads a percentage in hundredths of a percent.
func percent(text string) (int64, error) {
	text = strings.TrimSuffix(strings.TrimSpace(text), "%")
	n, err := money.ParseScaled(plain(text), 2)
	if err != nil {
		return 0, &office.Misfit{Column: "percent", Why: fmt.Sprintf("%q is no percentage with at most two decimals", text)}
	}
	return n, nil
}

// scale makes the block a percentage of what it is, each line to the minor unit.
func (b *block) scale(c Change) error {
	n, err := percent(c.Percent)
	if err != nil {
		return err
	}
	for _, l := range b.lines {
		at, amounts := b.cells(l)
		made, err := spread.Scale(amounts, n)
		if err != nil {
			return &office.Misfit{Column: "percent", Why: err.Error()}
		}
		for k, q := range at {
			b.set(l.Key, q, made[k])
		}
	}
	return nil
}

// toTotal scales the block so that it adds up to a total.
func (b *block) toTotal(c Change) error {
	total, err := b.total(c.Total)
	if err != nil {
		return err
	}
	var all []int64
	for _, l := range b.lines {
		_, amounts := b.cells(l)
		all = append(all, amounts...)
	}
	made, err := spread.By(total, all)
	if errors.Is(err, spread.ErrNothing) {
		return &office.Misfit{Column: "total", Why: "the cells add up to nothing, so there is nothing to scale; spread the total instead"}
	}
	if err != nil {
		return &office.Misfit{Column: "total", Why: err.Error()}
	}
	k := 0
	for _, l := range b.lines {
		at, _ := b.cells(l)
		for _, q := range at {
			b.set(l.Key, q, made[k])
			k++
		}
	}
	return nil
}

// shift moves the amounts of the block; what they land on is added to.
func (b *block) shift(by int) error {
	if by == 0 {
		return &office.Misfit{Column: "by", Why: "say by how many periods; below zero is earlier"}
	}
	for _, l := range b.lines {
		at, amounts := b.cells(l)
		moved := make(map[calendar.Period]int64)
		for k, q := range at {
			moved[q] += 0
			if amounts[k] == 0 {
				continue
			}
			to := q + calendar.Period(by)
			if !b.open(l, to) {
				return &office.Misfit{Column: "by", Why: fmt.Sprintf("%s of %s would move to %s, where nothing can be typed", short(amounts[k], l.currency), l.Title(), cmp.Or(b.t.periods.Name(to), "no period"))}
			}
			moved[to] += amounts[k]
		}
		for q, n := range moved {
			if q < b.from || q > b.to {
				var ok bool
				if n, ok = money.Add(n, b.now(l, q)); !ok {
					return office.Refusef("It is more than 64 bits of minor units hold.")
				}
			}
			b.set(l.Key, q, n)
		}
	}
	return nil
}

// repeat writes the amounts of the block into the same periods of the next fiscal years.
func (b *block) repeat(years int) error {
	if years < 1 || years > mostYears {
		return &office.Misfit{Column: "years", Why: fmt.Sprintf("say into how many years, 1 to %d", mostYears)}
	}
	ps := b.t.periods
	if ps.FiscalYear(b.from) != ps.FiscalYear(b.to) {
		return &office.Misfit{Column: "to", Why: "choose periods of one fiscal year, so that the next ones can be told from it"}
	}
	return b.each(func(l *Line, q calendar.Period) error {
		for y := 1; y <= years; y++ {
			to := ps.InYear(ps.FiscalYear(q)+y, ps.Number(q))
			if to == 0 || !b.open(l, to) {
				return &office.Misfit{Column: "years", Why: fmt.Sprintf("%s has no such period %d years on; draw the periods first", ps.Name(q), y)}
			}
			b.set(l.Key, to, b.now(l, q))
		}
		return nil
	})
}
