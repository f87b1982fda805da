package gather

import (
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A cell may say the code and what kind of amount its row holds: "110 Civil works - actual".

// kindApart parts a text into what it says and the kind of amount named first or last in
// it, beside a sign or in brackets; "" where none is.
func kindApart(text string) (rest, kind string) {
	words := strings.FieldsFunc(text, func(r rune) bool { return isSpace(r) || strings.ContainsRune("()[]:–—,;", r) })
	kept := words[:0:0]
	for _, w := range words {
		if strings.Trim(w, "-/|") != "" {
			kept = append(kept, w)
		}
	}
	const few = 2
	if len(kept) < few {
		return text, ""
	}
	last := len(kept) - 1
	for _, x := range [...]struct {
		word string
		rest []string
	}{{kept[last], kept[:last]}, {kept[0], kept[1:]}} {
		if k := kinds[Normal(x.word)]; k != "" {
			return strings.Join(x.rest, " "), k
		}
	}
	return text, ""
}

// kindsBeside finds the column of cost codes whose cells each name the kind of the row's
// amounts too.
func (f *finder) kindsBeside() {
	u := f.u
	if f.t != record.Costs.Kind || f.o.Names == nil || !f.lacks("kind") || f.kindsAbove() {
		return
	}
	for i, x := range u.Uses {
		if x.As != "cost_code" && x.As != AsExtra || x.As == AsExtra && !f.lacks("cost_code") || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		said, all := 0, 0
		u.data(f.s, func(l *Line) bool {
			text := strings.TrimFunc(l.At(i).Text, isSpace)
			if text == "" {
				return true
			}
			all++
			if rest, kind := kindApart(text); kind != "" && len(f.o.Names.Find("cost_code", rest)) == 1 {
				said++
			}
			return all < sampled && said == all
		})
		const few = 2
		if said < few || said < all {
			continue
		}
		u.Uses[i].As, u.Uses[i].Kinds = "cost_code", true
		u.Columns[i].As, u.Columns[i].Certainty, u.Columns[i].Why = "cost_code", Sure, "its cells are cost codes, each with the kind of its amounts"
		u.note("%s: its cells say the kind of the amounts beside the code.", f.called(i))
		return
	}
}

// kindBeside takes the kind of amount that a cell of a code says, and leaves the code.
func (r *reader) kindBeside(c *Cell) {
	rest, kind := kindApart(strings.TrimFunc(c.Text, isSpace))
	if kind == "" {
		return
	}
	c.Text = rest
	r.out.Fields[r.t.Index("kind")] = portfolio.Field{Said: portfolio.Value, Text: kind}
}
