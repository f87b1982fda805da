package record

import (
	"fmt"
	"strings"

	"turret/internal/core/expression"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Rules are the rules of standing, where the office has its own.
var Rules = func() *rulesKind {
	k := &rulesKind{Kind: records("rules", "rule", "rule", "the rules of standing, where the office has its own")}
	k.Dimension = k.text("dimension", "dimension", Key)
	k.Reading = k.text("reading", "a figure of the catalogue, or an expression over it", Key)
	k.From = k.period("from", "in force from this period", Key, As("from_period"))
	k.Direction = k.choice(
		"direction",
		[]string{"above", "below", "at least"},
		"when a value breaks the limit",
		Default("above"),
	)
	k.Watch = k.text("watch", "limit for Watch, a decimal number")
	k.Act = k.text("act", "limit for Act, a decimal number; without both the rule is off")
	k.Scope = k.text("scope", "a programme or project; empty: all", Key, Blank)
	k.Title = k.text("title", "what an expression is called")
	k.Refuse = k.refuse
	k.Touches = Judgement
	k.Own = true
	return k
}()

type rulesKind struct {
	*Kind
	Dimension, Reading, Direction, Watch, Act, Scope, Title TextCol
	From                                                    PeriodCol
}

func (k *rulesKind) refuse(r Run, x *Change) (column, why string) {
	row := x.After
	if d := k.Dimension.Of(row); !Dimensions.known(r, d) || d == standing.Overall.String() {
		return "dimension", Dimensions.unknown(r, d)
	}
	if column, why := k.refuseReading(row); why != "" {
		return column, why
	}
	if c, why := effective(r, x, k.From, "rule"); why != "" {
		return c, why
	}
	if scope := k.Scope.Of(row); scope != "" && !r.Known(Programmes.Kind, scope) && !r.Known(Projects.Kind, scope) {
		return "scope", fmt.Sprintf("%q is neither a programme nor a project", scope)
	}
	watch, err := standing.ParseLimit(k.Watch.Of(row))
	if err != nil {
		return "watch", err.Error()
	}
	act, err := standing.ParseLimit(k.Act.Of(row))
	if err != nil {
		return "act", err.Error()
	}
	if standing.Crossed(standing.Direction(k.Direction.Or(row)), watch, act) {
		return "act", "the limit for Act is reached before that for Watch; swap them"
	}
	return "", ""
}

// refuseReading refuses what is neither a figure with limits nor an expression
// with a title.
func (k *rulesKind) refuseReading(row *portfolio.Row) (column, why string) {
	reading, unit := k.Reading.Of(row), figure.Ratio
	if id, ok := figure.Lookup(reading); ok {
		unit = figure.Get(id).Unit
	} else {
		x, err := expression.Parse(reading, standing.Names())
		switch {
		case err != nil:
			return "reading", fmt.Sprintf("%q is not a figure of the catalogue, and as an expression %s", reading, err)
		case x.Unit == expression.Text:
			return "reading", "it gives a text, and limits are numbers"
		case strings.TrimSpace(k.Title.Of(row)) == "":
			return "title", "an expression needs a title that screens can show"
		}
		unit = x.Unit.Figure()
	}
	if unit == figure.Money || unit == figure.Day {
		return "reading", fmt.Sprintf(
			"%s is %s, and limits are for shares, quotients, working days and counts",
			reading,
			unit,
		)
	}
	return "", ""
}
