package money

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/tell"
)

// Bridge leads from a sum in one version to the same in another by causes, which
// add up to the cent.
type Bridge struct {
	Who      string // whose sum it is
	What     string // verb of the sentence: will have spent
	Span     string // the end of it: in FY27
	Ends     [2]string
	Currency money.Currency
	Worse    bool // more is worse
	From, To int64
	Steps    []BridgeStep
	Cause    string // whose parts are listed; "": all
	By       string // project, code or line
	Parts    []BridgePart
	More     int // parts that are not listed
	Rest     int64
}

// BridgeStep is a cause with what it adds.
type BridgeStep struct {
	Code, Title string
	Amount      int64
}

// BridgePart is what a project, cost code or line adds.
type BridgePart struct {
	Project, Code, Name string
	Amount              int64
}

// BridgeBys are the ways in which the parts of a cause are listed.
var BridgeBys = []string{"project", "code", "line"}

// mostParts bounds the parts that a screen lists.
const mostParts = 60

// keep lists parts, the largest first, and sums those that are too many.
func (b *Bridge) keep(parts []BridgePart) {
	parts = slices.DeleteFunc(parts, func(p BridgePart) bool { return p.Amount == 0 })
	slices.SortStableFunc(parts, func(x, y BridgePart) int {
		return cmp.Or(
			cmp.Compare(magnitude(y.Amount), magnitude(x.Amount)),
			cmp.Compare(x.Project+x.Code, y.Project+y.Code),
		)
	})
	if len(parts) > mostParts {
		b.More = len(parts) - mostParts
		for _, p := range parts[mostParts:] {
			b.Rest += p.Amount
		}
		parts = parts[:mostParts]
	}
	b.Parts = parts
}

func magnitude(n int64) int64 { return max(n, -n) }

// CauseTitle is what the cause whose parts are listed is called, or "".
func (b *Bridge) CauseTitle() string {
	for _, x := range b.Steps {
		if x.Code == b.Cause {
			return tell.Capital(x.Title)
		}
	}
	return ""
}

// Bad tells whether a change is for the worse, as a scale shows it.
func (b *Bridge) Bad(n int64, s tell.Scale) bool { return b.Worse && s.Round(n, b.Currency) > 0 }

// Say tells the change and its three largest causes. A phrase about a cause leads
// to its code.
func (b *Bridge) Say() []tell.Phrase {
	all := []figure.Value{figure.Whole(figure.Money, b.To), figure.Whole(figure.Money, magnitude(b.To-b.From))}
	for _, x := range b.Steps {
		all = append(all, figure.Whole(figure.Money, x.Amount))
	}
	money := tell.AmountsOf(b.Currency, all...).Of
	out := []tell.Phrase{{Text: b.Who + " " + b.What + " "}, {Text: money(b.To), Tone: "ink"}, {Text: b.Span}}
	text := func(format string, args ...any) { out = append(out, tell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	d := b.To - b.From
	if d == 0 {
		text(", as %s.", inSentence(b.Ends[1]))
		return out
	}
	tone := ""
	if b.Worse && d > 0 {
		tone = "act"
	}
	text(", ")
	out = append(out, tell.Phrase{Text: money(magnitude(d)), Tone: tone})
	text(" %s than %s", map[bool]string{true: "more", false: "less"}[d > 0], inSentence(b.Ends[1]))
	steps := slices.Clone(b.Steps)
	slices.SortStableFunc(
		steps,
		func(x, y BridgeStep) int { return cmp.Compare(magnitude(y.Amount), magnitude(x.Amount)) },
	)
	sep := ": "
	for _, x := range steps[:min(3, len(steps))] {
		if x.Amount == 0 {
			break
		}
		text("%s%s ", sep, x.Title)
		out = append(
			out,
			tell.Phrase{Text: map[bool]string{true: "+", false: ""}[x.Amount > 0] + money(x.Amount), To: x.Code},
		)
		sep = ", "
	}
	text(".")
	return out
}

// inSentence begins a name within a sentence: months keep their capital.
func inSentence(s string) string {
	if rest, ok := strings.CutPrefix(s, "The "); ok {
		return "the " + rest
	}
	return s
}

// Draw gives the bridge as a drawing, each step leading to where link says.
func (b *Bridge) Draw(s tell.Scale, link func(code string) string) chart.Bridge {
	out := chart.Bridge{
		Title: "Bridge from " + b.Ends[1] + " to " + b.Ends[0],
		Desc:  "each cause with what it adds; the ends begin at the left edge, which is not zero",
	}
	million := func(n int64) float64 {
		v, _ := tell.InMillions(figure.Whole(figure.Money, n), b.Currency)
		return v
	}
	end := func(i int, n int64) {
		out.Steps = append(
			out.Steps,
			chart.Step{Name: b.Ends[i], Text: s.Write(n, b.Currency), Value: million(n), End: true},
		)
	}
	end(1, b.From)
	for _, x := range b.Steps {
		if x.Amount == 0 {
			continue
		}
		step := chart.Step{
			Name:  tell.Capital(x.Title),
			Text:  s.Change(x.Amount, b.Currency),
			Value: million(x.Amount),
			Link:  link(x.Code),
		}
		if b.Bad(x.Amount, s) {
			step.Class = "act"
		}
		out.Steps = append(out.Steps, step)
	}
	end(0, b.To)
	return out
}
