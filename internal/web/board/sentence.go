package board

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say says where the listed projects stand, each figure with its trail.
func (p *Page) say() []shell.Phrase {
	var out []shell.Phrase
	for _, x := range p.Moment.Tell(p.List).Say() {
		ph := shell.Phrase{Text: x.Text, Tone: x.Tone}
		switch {
		case x.States:
			ph.Link = p.trail(p.List.Total, x.Figure)
		case x.To == tell.ToMoved:
			ph.Link = "#moved"
		case x.To != "":
			ph.Link = p.Turn("standing", x.To)
		}
		out = append(out, ph)
	}
	return out
}

// notCounted says which projects of the list stand outside the sums, and why.
func (p *Page) notCounted() string {
	why := make(map[string]string)
	for _, l := range p.List.Total.Now.LeftOut {
		why[l.Code] = l.Why
	}
	var out []string
	for _, code := range p.List.Codes {
		r, _ := p.Moment.Find(code)
		if r.State == portfolio.Proposed || r.State == portfolio.Cancelled {
			out = append(out, code+" is "+string(r.State))
		} else if w := why[code]; w != "" {
			out = append(out, code+": "+w)
		}
	}
	const most = 6
	if n := len(out) - most; n > 0 {
		out = append(out[:most], fmt.Sprintf("and %d more", n))
	}
	return strings.Join(out, "; ")
}
