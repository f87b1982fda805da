package amounts

import (
	"crypto/sha256"
	"fmt"
	"math/big"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// steps writes what the block has become, as cells that change and as sums of lines.
func (b *block) steps(p *Preview) error {
	var keys []string
	for key := range b.is {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	h := sha256.New()
	for _, key := range keys {
		l := b.line(key)
		before, after := new(big.Int), new(big.Int)
		var at []calendar.Period
		for q := range b.is[key] {
			at = append(at, q)
		}
		slices.Sort(at)
		changed := false
		for _, q := range at {
			was, is := b.now(l, q), b.is[key][q]
			before.Add(before, big.NewInt(was))
			after.Add(after, big.NewInt(is))
			if was == is {
				continue
			}
			changed = true
			x := Step{Line: key, Title: l.Title(), Period: b.t.periods.Name(q), field: fieldOf(key, b.t.periods.Code(q))}
			if was != 0 {
				x.Was = short(was, l.currency)
			}
			x.Is = short(is, l.currency)
			if is == 0 && (p.Do == "clear" || b.blank(l, q)) {
				x.Is = ""
			}
			p.Steps = append(p.Steps, x)
			fmt.Fprintf(h, "%s=%s>%s\n", x.field, x.Was, x.Is)
		}
		if changed {
			p.Sums = append(p.Sums, [3]string{l.Title(), amountText(before, l.currency), amountText(after, l.currency)})
		}
	}
	p.Seen = fmt.Sprintf("%x", h.Sum(nil))[:16]
	return nil
}

// blank tells that nothing at all holds in a cell, so that emptying it says nothing either.
func (b *block) blank(l *Line, q calendar.Period) bool {
	if k := int(q - b.t.first()); k >= 0 && k < len(l.Cells) {
		return l.Cells[k].Is == ""
	}
	return true
}

// line is the line of a key, an empty one where it is new.
func (b *block) line(key string) *Line {
	for i := range b.t.Lines {
		if b.t.Lines[i].Key == key {
			return &b.t.Lines[i]
		}
	}
	l := b.t.line(key)
	return &l
}

func amountText(n *big.Int, c money.Currency) string {
	if !n.IsInt64() {
		return "more than 64 bits hold"
	}
	return short(n.Int64(), c)
}
