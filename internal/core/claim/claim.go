// Package claim holds words against figures: what a text says of an index, a share, an amount,
// a finish or a standing, and what is so. It changes nothing and guesses nothing: what it does
// not recognise it leaves alone.
package claim

import (
	"cmp"
	"math/big"
	"regexp"
	"slices"
	"strings"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
)

// Facts are what a text is held against: figures of its subject in a currency, and how it
// stands overall.
type Facts struct {
	Value    func(figure.ID) figure.Value
	Currency money.Currency
	Overall  standing.Standing
	Days     []calendar.Date // others that are known, such as those of milestones
	Sums     []int64         // other amounts that are known, in minor units, such as changes and sums of cost codes
}

// Kind is what a doubt is about.
type Kind string

// The kinds.
const (
	Number   Kind = "number"   // a figure is another
	Amount   Kind = "amount"   // no figure is that amount
	Finish   Kind = "finish"   // no finish and no milestone is on that day
	OnTime   Kind = "on time"  // the finish slips
	InBudget Kind = "budget"   // the outlook is above the plan
	Standing Kind = "standing" // it stands otherwise
)

// Doubt is a place of a text that says otherwise than the figures: from one byte to before
// another. ID and Is are the figure that it is held against; of Amount there is none, and of
// Standing Stands is how it is.
type Doubt struct {
	From, To int
	Kind     Kind
	ID       figure.ID
	Is       figure.Value
	Stands   standing.Standing
}

// Check finds what a text says otherwise than the facts, in the order of the text.
func Check(text string, f Facts) (out []Doubt) {
	out = append(out, indices(text, f)...)
	out = append(out, shares(text, f)...)
	out = append(out, overs(text, f)...)
	out = append(out, amounts(text, f)...)
	out = append(out, words(text, f)...)
	out = append(out, finishes(text, f)...)
	slices.SortStableFunc(out, func(a, b Doubt) int { return cmp.Compare(a.From, b.From) })
	return out
}

// decimal reads a plain number with a point or a comma, and how many decimals it has.
func decimal(text string) (r *big.Rat, decimals int, ok bool) {
	text = strings.Replace(text, ",", ".", 1)
	if _, after, found := strings.Cut(text, "."); found {
		decimals = len(after)
	}
	r, ok = new(big.Rat).SetString(text)
	return r, decimals, ok
}

// rounds tells whether a number, rounded to so many decimals as someone wrote it, is what they
// wrote; a cut-off one counts too. Decimals below zero are whole tens, hundreds and so on.
func rounds(is, said *big.Rat, decimals int) bool {
	ten := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(max(decimals, -decimals))), nil)
	unit := new(big.Rat).SetInt(ten)
	if decimals > 0 {
		unit.Inv(unit)
	}
	off := new(big.Rat).Sub(is, said)
	return off.Abs(off).Cmp(unit) < 0
}

var indexed = regexp.MustCompile(`\b(CPI|SPI\(t\)|SPI|TCPI)([^\d\n.;]{0,16}?)(\d+[.,]\d+)`)

var byIndex = map[string]figure.ID{"CPI": figure.CPI, "SPI": figure.SPI, "SPI(t)": figure.SPIT, "TCPI": figure.TCPIBAC}

// indices holds indices that are named with a number against what they are.
func indices(text string, f Facts) (out []Doubt) {
	for _, m := range indexed.FindAllStringSubmatchIndex(text, -1) {
		id := byIndex[text[m[2]:m[3]]]
		said, decimals, ok := decimal(text[m[6]:m[7]])
		is := f.Value(id)
		between := strings.ToLower(text[m[4]:m[5]])
		if !ok || !is.Known || strings.Contains(between, "was") || strings.Contains(between, "from") || strings.Contains(between, "below") || strings.Contains(between, "above") {
			continue
		}
		if !rounds(is.Rat(), said, decimals) {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: Number, ID: id, Is: is})
		}
	}
	return out
}

var beyond = regexp.MustCompile(`(?i)\b(\d+(?:[.,]\d+)?) ?% (?:above|over|beyond) (?:the )?(?:estimate|plan|budget)\b`)

// overs holds what is said of the cost above the plan against both outlooks: it is in doubt
// where neither is that far above it.
func overs(text string, f Facts) (out []Doubt) {
	for _, m := range beyond.FindAllStringSubmatchIndex(text, -1) {
		said, decimals, ok := decimal(text[m[2]:m[3]])
		same := !ok
		for _, id := range [...]figure.ID{figure.ComputedOver, figure.StatedOver} {
			is := f.Value(id)
			same = same || is.Known && rounds(new(big.Rat).Mul(is.Rat(), big.NewRat(100, 1)), said, decimals)
		}
		if is := f.Value(figure.ComputedOver); !same && is.Known {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: Number, ID: figure.ComputedOver, Is: is})
		}
	}
	return out
}

var shared = regexp.MustCompile(`(?i)\b(\d+(?:[.,]\d+)?) ?% (?:of (?:the )?(?:work|plan|budget) (?:is |was )?)?(complete|completed|done|earned|spent|late)\b`)

var byShare = map[string]figure.ID{
	"complete": figure.EarnedShare, "completed": figure.EarnedShare, "done": figure.EarnedShare, "earned": figure.EarnedShare,
	"spent": figure.SpentShare, "late": figure.LateShare,
}

// shares holds percents of what is done, spent or late against what they are.
func shares(text string, f Facts) (out []Doubt) {
	hundred := big.NewRat(100, 1)
	for _, m := range shared.FindAllStringSubmatchIndex(text, -1) {
		id := byShare[strings.ToLower(text[m[4]:m[5]])]
		said, decimals, ok := decimal(text[m[2]:m[3]])
		is := f.Value(id)
		if !ok || !is.Known {
			continue
		}
		if !rounds(new(big.Rat).Mul(is.Rat(), hundred), said, decimals) {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: Number, ID: id, Is: is})
		}
	}
	return out
}

var (
	amounted = regexp.MustCompile(`(?:\b([A-Z]{3})|€) ?(\d{1,3}(?:[,' ]\d{3})+(?:\.\d+)?|\d+(?:\.\d+)?)(?: ?(million|thousand|m|k)\b)?`)
	scales   = map[string]int{"": 0, "thousand": 3, "k": 3, "million": 6, "m": 6}
)

// held are the amounts that a text may name.
var held = []figure.ID{
	figure.BAC, figure.PV, figure.EV, figure.AC, figure.SV, figure.CV, figure.EACStated, figure.EACComputed, figure.EACPlan, figure.EACCPI,
	figure.EACCPI3, figure.ETCStated, figure.ETCComputed, figure.VAC, figure.AtStake, figure.OnOrder, figure.BeyondOrders, figure.PVPeriod,
	figure.EVPeriod, figure.ACPeriod, figure.Burn, figure.Funded, figure.FundingGap, figure.YearPlan, figure.YearOutlook, figure.CarryOver,
	figure.IncomePlan, figure.Income, figure.IncomeStated, figure.Margin, figure.MarginPlan, figure.MarginBooked,
}

// amounts finds those in the facts' currency that no figure is, as they are rounded. What is
// below ten thousand is of too small a matter to be a figure of the whole.
func amounts(text string, f Facts) (out []Doubt) {
	least := big.NewRat(10_000, 1)
	for _, m := range amounted.FindAllStringSubmatchIndex(text, -1) {
		code := "EUR"
		if m[2] >= 0 {
			code = text[m[2]:m[3]]
		}
		scale := 0
		if m[6] >= 0 {
			scale = scales[text[m[6]:m[7]]]
		}
		said, decimals, ok := decimal(strings.NewReplacer(",", "", "'", "", " ", "").Replace(text[m[4]:m[5]]))
		if !ok || code != string(f.Currency) {
			continue
		}
		by := new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(scale)), nil))
		if new(big.Rat).Mul(said, by).Cmp(least) < 0 {
			continue
		}
		minor := new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(f.Currency.Exponent())), nil))
		if scale == 0 && decimals == 0 { // such as 120,000: its zeros may be rounded
			for digits := text[m[4]:m[5]]; strings.HasSuffix(digits, "0") && decimals > -6; digits = strings.TrimRight(digits[:len(digits)-1], ",' ") {
				decimals--
			}
		}
		by.Mul(by, minor)
		is := func(n *big.Rat) bool {
			n = new(big.Rat).Quo(n, by)
			return rounds(n.Abs(n), said, decimals)
		}
		known := slices.ContainsFunc(held, func(id figure.ID) bool {
			v := f.Value(id)
			return v.Known && is(v.Rat())
		}) || slices.ContainsFunc(f.Sums, func(n int64) bool { return is(new(big.Rat).SetInt64(n)) })
		if !known {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: Amount})
		}
	}
	return out
}

var (
	timely   = regexp.MustCompile(`(?i)\b(?:on time|on schedule|no delays?|as scheduled|(?:finish(?:es)?|complete|open) as planned)\b`)
	thrifty  = regexp.MustCompile(`(?i)\b(?:(?:with)?in budget|on budget|no overrun)\b`)
	stands   = regexp.MustCompile(`(?i)\b(?:stands? at|stays? at|standing is|overall(?: is)?|rated) (Act|Watch|Steady)\b`)
	negative = regexp.MustCompile(`(?i)(?:\bnot|n't|\bno longer|\bnever|\bback|\bif|\bto be|\bwould)(?: \w+){0,2} $`)
)

// words holds what is said of time, money and standing without a number against the figures.
// What is denied, or wished for, says nothing.
func words(text string, f Facts) (out []Doubt) {
	said := func(re *regexp.Regexp, use func(m []int)) {
		for _, m := range re.FindAllStringSubmatchIndex(text, -1) {
			if !negative.MatchString(text[max(0, m[0]-40):m[0]]) {
				use(m)
			}
		}
	}
	said(timely, func(m []int) {
		if slip := f.Value(figure.FinishSlip); slip.Known && slip.N > 0 {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: OnTime, ID: figure.FinishSlip, Is: slip})
		}
	})
	said(thrifty, func(m []int) {
		if over := f.Value(figure.ComputedOver); over.Known && over.Rat().Sign() > 0 {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: InBudget, ID: figure.ComputedOver, Is: over})
		}
	})
	said(stands, func(m []int) {
		st, ok := standing.Parse(strings.ToLower(text[m[2]:m[3]]))
		if ok && st != f.Overall {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: Standing, Stands: f.Overall})
		}
	})
	return out
}

var dated = regexp.MustCompile(
	`(?i)\b(?:finish|finishes|finished|complete|completes|completed|open|opens|ready)(?: on| by| in)? ` +
		`(\d{4}-\d{2}-\d{2}|\d{1,2} (?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)[a-z]* \d{4}|(?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)[a-z]* \d{4})\b`)

var ends = []figure.ID{figure.FinishStated, figure.FinishPlanned, figure.FinishComputed, figure.FinishPace, figure.FinishNetPace, figure.FinishNetwork, figure.FinishStretched}

// finishes holds a day or month on which something is said to finish or open against the
// finishes and milestones that are known.
func finishes(text string, f Facts) (out []Doubt) {
	days := slices.Clone(f.Days)
	for _, id := range ends {
		if v := f.Value(id); v.Known {
			days = append(days, calendar.Date(v.N))
		}
	}
	stated := f.Value(figure.FinishStated)
	if len(days) == 0 || !stated.Known {
		return nil
	}
	for _, m := range dated.FindAllStringSubmatchIndex(text, -1) {
		first, last, ok := span(text[m[2]:m[3]])
		if ok && !slices.ContainsFunc(days, func(d calendar.Date) bool { return d >= first && d <= last }) {
			out = append(out, Doubt{From: m[0], To: m[1], Kind: Finish, ID: figure.FinishStated, Is: stated})
		}
	}
	return out
}

// span reads a day, or a month as its first and last.
func span(text string) (first, last calendar.Date, ok bool) {
	if d, err := calendar.ParseDate(text); err == nil {
		return d, d, true
	}
	parts := strings.Fields(text)
	parts[len(parts)-2] = parts[len(parts)-2][:3]
	text = strings.Join(parts, " ")
	if t, err := time.Parse("2 Jan 2006", text); err == nil {
		d := calendar.DateOf(t.Year(), int(t.Month()), t.Day())
		return d, d, true
	}
	t, err := time.Parse("Jan 2006", text)
	if err != nil {
		return 0, 0, false
	}
	next := t.AddDate(0, 1, 0)
	return calendar.DateOf(t.Year(), int(t.Month()), 1), calendar.DateOf(next.Year(), int(next.Month()), 1) - 1, true
}
