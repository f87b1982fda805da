// Package claim holds words against figures: what a text says of an index, a share, an amount,
// a day, a delay or a standing, and what is so. It changes nothing and guesses nothing: what it
// does not recognise it leaves alone.
package claim

import (
	"cmp"
	"math/big"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
)

// Facts are what a text is held against: figures of its subject in a currency, and how it
// stands.
type Facts struct {
	Value      func(figure.ID) figure.Value
	Currency   money.Currency
	Standing   standing.Table
	Milestones []Milestone
	Sums       []int64 // other amounts that are known, in minor units, such as changes and sums of cost codes
	// The same figures in another currency, in which amounts may be written too; or nil.
	Shown   func(figure.ID) figure.Value
	ShownIn money.Currency
}

// Milestone is one that a text may name, with every day that it has or had, the current one last.
type Milestone struct {
	Name string
	Days []calendar.Date
}

// Kind is what a doubt is about.
type Kind string

// The kinds.
const (
	Number   Kind = "number"    // a figure is another
	Amount   Kind = "amount"    // no figure is that amount
	Finish   Kind = "finish"    // no finish and no milestone is on that day
	Met      Kind = "milestone" // the milestone that is named is on another day
	OnTime   Kind = "on time"   // the finish slips, or does not
	InBudget Kind = "budget"    // the outlook is above the plan, or is not
	Standing Kind = "standing"  // it stands otherwise
)

// Doubt is a place of a text that says otherwise than the figures: from one byte to before
// another. ID and Is are the figure that it is held against, In its currency; of Amount there is none. Of Met,
// Name is the milestone, and Is its current day. Of Standing, Of is the dimension, and Stands
// how it is.
type Doubt struct {
	From, To int
	Kind     Kind
	ID       figure.ID
	Is       figure.Value
	In       money.Currency
	Name     string
	Of       standing.Dimension
	Stands   standing.Standing
}

// Check finds what a text says otherwise than the facts, in the order of the text.
func Check(text string, f Facts) []Doubt {
	c := check{text: text, f: f, found: quantities(text, [2]money.Currency{f.Currency, f.ShownIn})}
	c.clauses()
	for i := range c.found {
		c.quantity(i)
	}
	c.words()
	slices.SortStableFunc(c.out, func(a, b Doubt) int { return cmp.Compare(a.From, b.From) })
	return slices.CompactFunc(c.out, func(next, is Doubt) bool { return next.From < is.To }) // one of a place
}

type check struct {
	text  string
	f     Facts
	found []quantity
	cuts  []int // where clauses end
	out   []Doubt
}

// clauses parts the text where a sentence or a thought ends, but not within a quantity.
func (c *check) clauses() {
	for i, r := range c.text {
		switch r {
		case '.', ',':
			if next := i + 1; next < len(c.text) && !unicode.IsSpace(rune(c.text[next])) {
				continue
			}
		case '(':
			if i > 0 && !unicode.IsSpace(rune(c.text[i-1])) {
				continue // SPI(t)
			}
		case ';', '!', '?', '\n', '|', '•':
		default:
			continue
		}
		if n := c.before(i + 1); n == 0 || c.found[n-1].to <= i {
			c.cuts = append(c.cuts, i)
		}
	}
	c.cuts = append(c.cuts, len(c.text))
}

// before counts the quantities that begin before a place.
func (c *check) before(at int) int {
	n, _ := slices.BinarySearchFunc(c.found, at, func(q quantity, at int) int { return cmp.Compare(q.from, at) })
	return n
}

// clause gives where the clause of a place begins and ends.
func (c *check) clause(at int) (from, to int) {
	i, _ := slices.BinarySearch(c.cuts, at)
	if i > 0 {
		from = c.cuts[i-1] + 1
	}
	return from, c.cuts[min(i, len(c.cuts)-1)]
}

func (c *check) doubt(from, to int, d Doubt) {
	d.From, d.To = from, to
	c.out = append(c.out, d)
}

// What stands before a claim takes it out of the present: it is wished for, supposed, denied, or
// told of another time.
var (
	otherwise = regexp.MustCompile(`(?i)(?:\b(?:if|unless|wants?|wish(?:es)?|targets?|targeted|aims?|goals?|limits?|should|would|could|until|threshold|last|previous(?:ly)?|former|earlier|before|originally|initial(?:ly)?|was|were|had|from|to be|never|no longer|back|instead|rather|hop(?:e|es|ing)|worst|best|case|in ` + month + `|` + month + `(?:'s)?)\b|\bnot\b|n't\b)`)
	// what follows tells of another time, supposes, or tells that it becomes another
	since = regexp.MustCompile(`(?i)^\W{0,3}(?:if\b|unless\b|provided\b|once\b|last\b|a (?:month|year|week) ago|in the last|in ` + month + `|before\b|previously|then\b|→|->|(?:to|and is now) [€$£]?[-−+]?\d)`)
	// words that may stand between a name and its number
	fillers = regexp.MustCompile(`(?i)^(?:[\s:=(~≈]|\b(?:is|are|at|of|to|now|about|some|around|approximately|roughly|only|just|already|currently|the|a|an|stands?|stays?|remains?|reache[sd]|comes?|amounts?|expected|planned|will|be|has|have|been|by|on|in|for|today|up|down|still|risen|fallen|rises|falls|rose|fell|dropped|improved|increased|it|we|project(?:ed)?|estimated|scheduled|shall|index|out|moves?|slips?|slipped|moved|passed|achieved|met|due)\b)*$`)
)

// present tells whether what stands from one place to another is said of now: neither what comes
// before it in its clause nor what follows takes it elsewhere.
func (c *check) present(from, to int) bool {
	begin, _ := c.clause(from)
	before := c.text[max(begin, from-48):from]
	return !otherwise.MatchString(before) && !since.MatchString(c.text[to:])
}

// quantity holds a number against the figure that is named beside it; an amount that is of none
// against all of them.
func (c *check) quantity(i int) {
	q := &c.found[i]
	begin, end := c.clause(q.from)
	if i > 0 { // a name belongs to the number that is nearest
		begin = max(begin, c.found[i-1].to)
	}
	if i+1 < len(c.found) {
		end = min(end, c.found[i+1].from)
	}
	before, after := c.text[begin:q.from], c.text[q.to:end]
	switch q.unit {
	case day:
		c.day(q, begin, before)
		return
	case length:
		c.length(q, begin, before, after)
		return
	}
	for i := range names {
		n := &names[i]
		from, to, ok := n.beside(q, begin, before, after)
		if !ok {
			continue
		}
		if n.takes(q) && c.present(from, to) {
			c.named(n, q, from, to)
		}
		return
	}
	if q.unit == amount && q.code != "" && c.present(q.from, q.to) {
		c.amount(q)
	}
}

// values are the figures in the currency of an amount; nil where they are not known in it.
func (c *check) values(q *quantity) (value func(figure.ID) figure.Value, in money.Currency) {
	switch q.code {
	case "", c.f.Currency:
		return c.f.Value, c.f.Currency
	case c.f.ShownIn:
		return c.f.Shown, c.f.ShownIn
	}
	return nil, ""
}

// named holds a number against the figures that a name may mean.
func (c *check) named(n *name, q *quantity, from, to int) {
	value, in := c.values(q)
	if value == nil {
		return
	}
	var first *Doubt
	for _, id := range n.ids {
		v := value(id)
		if !v.Known {
			continue
		}
		if n.is(q, v, in) {
			return
		}
		if first == nil {
			first = &Doubt{Kind: Number, ID: id, Is: v, In: in}
		}
	}
	if first != nil && !(n.loose && c.known(q)) {
		c.doubt(from, to, *first)
	}
}

// least is the amount below which a sum is too small to be a figure of the whole.
var least = big.NewRat(10_000, 1)

// amount finds one that no figure is.
func (c *check) amount(q *quantity) {
	value, _ := c.values(q)
	if value != nil && q.most().Cmp(least) >= 0 && !c.known(q) && slices.ContainsFunc(held, func(id figure.ID) bool { return value(id).Known }) {
		c.doubt(q.from, q.to, Doubt{Kind: Amount})
	}
}

// known tells whether an amount is any figure, or another sum that is known.
func (c *check) known(q *quantity) bool {
	value, in := c.values(q)
	minor := power(in.Exponent())
	return slices.ContainsFunc(held, func(id figure.ID) bool {
		v := value(id)
		return v.Known && q.fits(new(big.Rat).Quo(v.Rat(), minor))
	}) || in == c.f.Currency && slices.ContainsFunc(c.f.Sums, func(n int64) bool {
		return q.fits(new(big.Rat).Quo(new(big.Rat).SetInt64(n), minor))
	})
}

var finishing = regexp.MustCompile(`(?i)\b(?:finish(?:es|ed)?|completes?|completed|completion|opens?|opened|opening|ready|handover|hand(?:ed|s)? over|go(?:es)? live|in (?:use|service|operation))((?:\W|\w)*)$`)

var ending = regexp.MustCompile(`(?i)^(?:finish|complet)`)

var ends = []figure.ID{figure.FinishStated, figure.FinishPlanned, figure.FinishComputed, figure.FinishPace, figure.FinishNetPace, figure.FinishNetwork, figure.FinishStretched}

// day holds a day or month against the milestone that is named before it; or, where something is
// said to finish then, against every finish and milestone.
func (c *check) day(q *quantity, begin int, before string) {
	for _, m := range c.f.Milestones {
		at := lastOf(before, m.Name)
		if len(m.Name) < 4 || at < 0 || len(m.Days) == 0 || !fillers.MatchString(before[at+len(m.Name):]) {
			continue
		}
		if !q.holds(m.Days) && !since.MatchString(c.text[q.to:]) {
			c.doubt(begin+at, q.to, Doubt{Kind: Met, Name: m.Name, Is: figure.Whole(figure.Day, int64(m.Days[len(m.Days)-1]))})
		}
		return
	}
	m := finishing.FindStringSubmatchIndex(before)
	if m == nil || !fillers.MatchString(before[m[2]:m[3]]) || !c.present(begin+m[0], q.to) {
		return
	}
	var known []calendar.Date
	for _, id := range ends {
		if v := c.f.Value(id); v.Known {
			known = append(known, calendar.Date(v.N))
		}
	}
	if !ending.MatchString(before[m[0]:m[2]]) || !ofTheWhole.MatchString(before[:m[0]]) { // not the end of the whole: it may be of a milestone
		for _, x := range c.f.Milestones {
			known = append(known, x.Days...)
		}
	}
	if stated := c.f.Value(figure.FinishStated); stated.Known && !q.holds(known) {
		c.doubt(begin+m[0], q.to, Doubt{Kind: Finish, ID: figure.FinishStated, Is: stated})
	}
}

// lastOf gives where a name stands last in a text, in capitals or small; -1 where it does not.
func lastOf(text, name string) int {
	for i := len(text) - len(name); i >= 0; i-- {
		if strings.EqualFold(text[i:i+len(name)], name) {
			return i
		}
	}
	return -1
}

var (
	lateAfter   = regexp.MustCompile(`(?i)^ (?:late|behind(?: schedule| plan)?|delay(?:ed)?|of (?:delay|slip)|slip|overdue)\b`)
	earlyAfter  = regexp.MustCompile(`(?i)^ (?:early|ahead(?: of (?:schedule|plan|time))?)\b`)
	delayBefore = regexp.MustCompile(`(?i)\b(?:delay(?:ed)?|slip(?:s|ped)?|slippage|late)(?: is| are| now)*(?: of| by|:)? (?:about |some |around |roughly )?$`)
	// words of someone who speaks of the whole
	ofTheWhole = regexp.MustCompile(`(?i)^(?:\W|\b(?:we|it|its|the|this|project|programme|portfolio|works?|is|are|now|still|currently|about|some|around|roughly|running|runs?|expect(?:s|ed)?|to|finish(?:es)?|completion|handover|opening|will|be|by|of|a|an|overall|all|whole|with|remains?|stays?|has|have|there|that|so|and|but|means|as|our|at)\b)*$`)
)

// others are of whom words may speak beside their subject.
var others = regexp.MustCompile(`(?i)\b(?:(?:sub)?contractors?|suppliers?|vendors?|consultants?|yards?|customs|ports?|county|authorit(?:y|ies)|permits?|deliver(?:y|ies))\b`)

// ofOthers tells whether a place stands in a clause that speaks of others.
func (c *check) ofOthers(at int) bool {
	from, to := c.clause(at)
	return others.MatchString(c.text[from:to])
}

// length holds a delay of the whole against the slip of its finish, in working days or as people
// count: days of the calendar, weeks, months.
func (c *check) length(q *quantity, begin int, before, after string) {
	from, to, early := q.from, q.to, false
	rest := before
	if m := lateAfter.FindStringIndex(after); m != nil {
		to += m[1]
	} else if m := earlyAfter.FindStringIndex(after); m != nil {
		to, early = to+m[1], true
	} else if m := delayBefore.FindStringIndex(before); m != nil {
		from, rest = begin+m[0], before[:m[0]]
	} else {
		return
	}
	slip := c.f.Value(figure.FinishSlip)
	if start, _ := c.clause(from); start < begin || !slip.Known || !ofTheWhole.MatchString(rest) || c.ofOthers(from) || !c.present(from, to) {
		return
	}
	is, said := slip.N, q.readings[0].n.Num().Int64()
	if early {
		is = -is
	}
	fits := false
	switch q.per {
	case 'd':
		fits = said >= is && said <= (is*7+4)/5+2 && is > 0
	case 'w':
		fits = is > 0 && said*5 > is-5 && said*5 < is+5
	case 'm':
		fits = is > 0 && said*21 > is-21 && said*21 < is+21
	}
	if !fits {
		c.doubt(from, to, Doubt{Kind: OnTime, ID: figure.FinishSlip, Is: slip})
	}
}

// held are the amounts that a text may name.
var held = []figure.ID{
	figure.BAC, figure.PV, figure.EV, figure.AC, figure.SV, figure.CV, figure.EACStated, figure.EACComputed, figure.EACPlan, figure.EACCPI,
	figure.EACCPI3, figure.ETCStated, figure.ETCComputed, figure.VAC, figure.AtStake, figure.OnOrder, figure.BeyondOrders, figure.PVPeriod,
	figure.EVPeriod, figure.ACPeriod, figure.Burn, figure.Funded, figure.FundingGap, figure.YearPlan, figure.YearOutlook, figure.CarryOver,
	figure.IncomePlan, figure.Income, figure.IncomeStated, figure.Margin, figure.MarginPlan, figure.MarginBooked,
}

var one = big.NewRat(1, 1)
