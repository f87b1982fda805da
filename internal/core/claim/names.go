package claim

import (
	"math/big"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// name is how texts call a figure, before its number or behind it.
type name struct {
	before, behind *regexp.Regexp
	ids            []figure.ID // that it may mean, the usual one first
	units          []unit      // that its number has
	loose          bool        // any known sum may be meant
	turned         bool        // what the figure has above zero is said below it
	sided          bool        // the name says on which side of zero it is
}

// called finds a name with what stands between it and its number, after one that follows its
// number.
func called(words string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)(?:^|[^\w{])(?:` + words + `)((?:\W|\w)*)$`)
}

func after(words string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)^\W{0,2}(?:` + words + `)(?:\W|$)`)
}

var (
	ofIndex  = []unit{plain}
	ofMoney  = []unit{amount, plain}
	ofShare  = []unit{share}
	outlooks = []figure.ID{figure.EACComputed, figure.EACStated, figure.EACCPI, figure.EACCPI3, figure.EACPlan, figure.EACCPISPI, figure.YearOutlook}
	plans    = []figure.ID{figure.BAC, figure.PV, figure.Funded, figure.YearPlan, figure.PVPeriod}
	overs    = []figure.ID{figure.ComputedOver, figure.StatedOver}
)

// What is told of a cost above its plan, as a share or an amount.
var (
	overBefore = called(`overruns?(?: its| the)?(?: plan| budget)?|over (?:plan|budget)`)
	overBehind = after(`(?:(?:over|above|beyond) (?:(?:the|its|our) )?(?:plan|planned|budget|estimate)|overrun)`)
)

// names are tried in this order: those of more words before those that are a part of them.
var names = []name{
	{before: called(`SPI\(t\)|schedule performance index, time|time-based SPI`), ids: []figure.ID{figure.SPIT}, units: ofIndex},
	{before: called(`TCPI|to-complete index`), ids: []figure.ID{figure.TCPIBAC, figure.TCPIEAC}, units: ofIndex},
	{before: called(`CPI|cost performance(?: index)?|cost index`), ids: []figure.ID{figure.CPI}, units: ofIndex},
	{before: called(`SPI|schedule performance(?: index)?`), ids: []figure.ID{figure.SPI}, units: ofIndex},
	{before: overBefore, behind: overBehind, ids: overs, units: ofShare, sided: true},
	{
		before: called(`under(?:run|spend)s?|under (?:plan|budget)`), behind: after(`(?:(?:under|below) (?:(?:the|its|our) )?(?:plan|planned|budget|estimate)|under(?:run|spend))`),
		ids: overs, units: ofShare, turned: true, sided: true,
	},
	{before: overBefore, behind: overBehind, ids: []figure.ID{figure.VAC, figure.CV}, units: []unit{amount}, turned: true, sided: true, loose: true},
	{behind: after(`(?:of (?:(?:the|all) )?(?:works?|scope|plan|project) )?(?:(?:is|are|was|has been) )?(?:complete|completed|done|earned|finished)`), ids: []figure.ID{figure.EarnedShare}, units: ofShare},
	{before: called(`earned share|progress|percent complete|completion`), ids: []figure.ID{figure.EarnedShare}, units: ofShare},
	{
		before: called(`spent share`), behind: after(`(?:of (?:(?:the|its|our) )?(?:plan|budget|money) )?(?:(?:is|are|was|has been) )?spent`),
		ids: []figure.ID{figure.SpentShare}, units: ofShare,
	},
	{before: called(`late share`), behind: after(`(?:of (?:(?:the|all) )?(?:works?|plan|activities) )?(?:(?:is|are) )?late`), ids: []figure.ID{figure.LateShare}, units: ofShare},
	{before: called(`VAC|variance at completion`), ids: []figure.ID{figure.VAC}, units: ofMoney},
	{before: called(`cost variance|CV`), ids: []figure.ID{figure.CV}, units: ofMoney},
	{before: called(`schedule variance|SV`), ids: []figure.ID{figure.SV}, units: ofMoney},
	{before: called(`planned value|PV`), ids: []figure.ID{figure.PV, figure.PVPeriod}, units: ofMoney},
	{before: called(`earned value|EV`), ids: []figure.ID{figure.EV, figure.EVPeriod}, units: ofMoney},
	{before: called(`actual costs?|actuals|costs? to date|spend to date|AC`), ids: []figure.ID{figure.AC, figure.ACPeriod}, units: ofMoney},
	{before: called(`EAC|estimate at completion|(?:computed |stated )?outlook|costs? at completion`), ids: outlooks, units: ofMoney},
	{before: called(`BAC|(?:budget|plan) at completion`), ids: plans[:1], units: ofMoney},
	{before: called(`budget|approved plan`), ids: plans, units: []unit{amount}, loose: true},
	{before: called(`at stake`), ids: []figure.ID{figure.AtStake}, units: ofMoney},
}

// beside tells whether a quantity has the name, and from where to where the two stand.
func (n *name) beside(q *quantity, begin int, before, after string) (from, to int, ok bool) {
	if !slices.Contains(n.units, q.unit) {
		return 0, 0, false
	}
	if n.behind != nil {
		if m := n.behind.FindStringIndex(after); m != nil {
			to := q.to + len(strings.TrimRightFunc(after[:m[1]], func(r rune) bool { return !unicode.IsLetter(r) }))
			return q.from, to, true
		}
	}
	if n.before != nil {
		if m := n.before.FindStringSubmatchIndex(before); m != nil && fillers.MatchString(before[m[2]:m[3]]) {
			from := m[0]
			for !unicode.IsLetter(rune(before[from])) { // what stands before the name
				from++
			}
			return begin + from, q.to, true
		}
	}
	return 0, 0, false
}

// takes tells whether a number can be of the name: an index has a decimal, and money alone, with
// neither currency nor scale, is more than a count.
func (n *name) takes(q *quantity) bool {
	if q.unit != plain {
		return true
	}
	if slices.Contains(n.units, amount) {
		return q.most().Cmp(least) >= 0
	}
	return !q.readings[0].n.IsInt() || len(q.readings) == 1 && q.most().Num().IsInt64() && q.most().Num().Int64() < 10
}

// is tells whether a quantity is a figure, which is in a currency, as the name counts it.
func (n *name) is(q *quantity, v figure.Value, in money.Currency) bool {
	x := v.Rat()
	switch {
	case v.Unit == figure.Money:
		x = new(big.Rat).Quo(x, power(in.Exponent()))
	case q.unit == share:
		x = new(big.Rat).Mul(x, big.NewRat(100, 1))
	}
	if n.turned {
		x = new(big.Rat).Neg(x)
	}
	if n.sided && !q.signs && x.Sign() < 0 {
		return false // above is said of what is below
	}
	return q.fits(x)
}
