package board

import (
	"turret/internal/office/board"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say says where the listed projects stand, each figure with its trail.
func (p *Page) say() []shell.Phrase {
	var out []shell.Phrase
	for _, x := range board.Tell(p.Moment, p.List).Say() {
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
