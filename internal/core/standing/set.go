package standing

import (
	"crypto/sha256"
	"fmt"
	"math/big"
	"math/bits"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
)

// How standings combine. Share: the weight at Act, or at Watch and Act, of all
// weight; Worst: the worst of them; Larger: where the larger part stands, the
// worse at a tie. The default of overall is Usual.
type How string

// The ways to combine.
const (
	Usual  How = "usual"  // Act when dates or cost is Act, or two dimensions are
	Share  How = "share"  // by weight, or by money
	Worst  How = "worst"  // worst of
	Larger How = "larger" // where the larger part stands
)

// Policy says how standings combine, of dimensions to overall or of parts to
// groups. The shares are in percent.
type Policy struct {
	How        How
	Act, Watch int64
	From       calendar.Period
}

// Needed is the share, in percent, that makes a group stand with its parts.
const Needed = 30

// The policies of an office that has set none.
var (
	UsualOverall = Policy{How: Usual, Act: Needed, Watch: Needed}
	UsualGroups  = Policy{How: Share, Act: Needed, Watch: Needed}
)

// Own is a dimension of the office's own.
type Own struct {
	Code, Title string
	Apart       bool  // it does not count toward overall
	Weight      int64 // where overall goes by weight
}

// Book is everything that an office has said about standings, of all periods.
type Book struct {
	Rules           []Rule
	Overall, Groups []Policy
	Own             []Own
	Weights         map[Dimension]int64 // of the dimensions that every office has; 1 unless set
}

// Dimensions lists all dimensions, overall first.
func (b *Book) Dimensions() []Dimension {
	out := slices.Clone(Dimensions)
	for i := range b.Own {
		out = append(out, builtIn+Dimension(i))
	}
	return out
}

// Code gives the name of a dimension as files have it.
func (b *Book) Code(d Dimension) string {
	if i := int(d) - int(builtIn); i >= 0 && i < len(b.Own) {
		return b.Own[i].Code
	}
	return d.String()
}

// Title gives the name of a dimension as screens have it.
func (b *Book) Title(d Dimension) string {
	if i := int(d) - int(builtIn); i >= 0 && i < len(b.Own) && b.Own[i].Title != "" {
		return b.Own[i].Title
	}
	return b.Code(d)
}

// Dimension reads the name of a dimension.
func (b *Book) Dimension(code string) (Dimension, bool) {
	for _, d := range b.Dimensions() {
		if b.Code(d) == code {
			return d, true
		}
	}
	return 0, false
}

// Set is what holds in one period: the rules, and how standings combine.
type Set struct {
	*Book
	At      calendar.Period
	Overall Policy
	Groups  Policy
	Version string // tells sets apart: a short hash over all that is in force
	rules   []Rule // candidates, in the order in which later ones win
	plain   []Rule // for projects that no scope names
	scoped  bool
	noData  bool
}

// At gives what is in force in a period.
func (b *Book) At(p calendar.Period) *Set {
	s := &Set{
		Book:    b,
		At:      p,
		Overall: inForce(UsualOverall, b.Overall, p),
		Groups:  inForce(UsualGroups, b.Groups, p),
		rules:   slices.Clone(Defaults),
	}
	for _, r := range b.Rules {
		if r.From <= p {
			s.rules = append(s.rules, r)
			s.scoped = s.scoped || r.Scope != ""
		}
	}
	slices.SortStableFunc(s.rules, func(x, y Rule) int { return int(x.From - y.From) })
	for i := range s.rules {
		s.rules[i].watchText, s.rules[i].actText = LimitText(s.rules[i].Watch), LimitText(s.rules[i].Act)
	}
	s.plain = s.resolve(func(scope string) int { return 0 })
	s.Version = s.hash()
	return s
}

func inForce(usual Policy, list []Policy, p calendar.Period) Policy {
	out := usual
	for _, x := range list {
		if x.From <= p && x.From >= out.From {
			out = x
		}
	}
	return out
}

// resolve picks of each dimension and reading the rule of the nearest scope,
// and of those the latest; near gives 0 for scopes that do not hold.
func (s *Set) resolve(near func(scope string) int) []Rule {
	var out []Rule
	at := make(map[string]int)
	rank := make(map[string]int)
	for _, r := range s.rules {
		n := 0
		if r.Scope != "" {
			if n = near(r.Scope); n == 0 {
				continue
			}
		}
		k := r.key()
		i, ok := at[k]
		switch {
		case !ok:
			at[k], rank[k] = len(out), n
			out = append(out, r)
		case n >= rank[k]:
			out[i], rank[k] = r, n
		}
	}
	return out
}

// Rules gives the rules for a project in its programme; chain lists its
// programme and those above, the nearest first.
func (s *Set) Rules(project string, chain []string) []Rule {
	if !s.scoped {
		return s.plain
	}
	return s.resolve(func(scope string) int {
		if scope == project {
			return len(chain) + 2
		}
		if i := slices.Index(chain, scope); i >= 0 {
			return len(chain) - i + 1
		}
		return 0
	})
}

// All gives every rule in force, whatever its scope: of each dimension, reading
// and scope the latest.
func (s *Set) All() []Rule {
	var out []Rule
	at := make(map[string]int)
	for _, r := range s.rules {
		k := r.key() + "|" + r.Scope
		if i, ok := at[k]; ok {
			out[i] = r
			continue
		}
		at[k] = len(out)
		out = append(out, r)
	}
	return out
}

// Weight is what a dimension counts where overall goes by weight; zero: it
// does not count toward overall.
func (s *Set) Weight(d Dimension) int64 {
	if i := int(d) - int(builtIn); i >= 0 {
		if i >= len(s.Own) || s.Own[i].Apart {
			return 0
		}
		return max(s.Own[i].Weight, 1)
	}
	if d == Overall || d == Data {
		return 0
	}
	if w, ok := s.Weights[d]; ok {
		return w
	}
	return 1
}

// WithoutData gives the set without what is made of findings, so that a check
// can ask it.
func (s *Set) WithoutData() *Set {
	out := *s
	out.noData = true
	return &out
}

// hash is over what is in force, whatever its place in the database.
func (s *Set) hash() string {
	var lines []string
	for _, r := range s.rules {
		lines = append(
			lines,
			fmt.Sprint(
				s.Code(r.Dimension),
				r.ReadingText(),
				r.Direction,
				LimitText(r.Watch),
				LimitText(r.Act),
				r.From,
				r.Scope,
			),
		)
	}
	slices.Sort(lines)
	for _, o := range s.Own {
		lines = append(lines, fmt.Sprint(o))
	}
	for _, d := range Dimensions {
		if w, ok := s.Weights[d]; ok {
			lines = append(lines, fmt.Sprint(d, w))
		}
	}
	lines = append(lines, fmt.Sprint(s.Overall, s.Groups))
	return fmt.Sprintf("%x", sha256.Sum256([]byte(strings.Join(lines, "\n"))))[:8]
}

// Weights tell how much stands at each standing, Unrated included, and whether
// anything does, as a part may weigh nothing.
type Weights struct {
	at    [4]sum
	count [4]int
}

// sum is a whole number of 128 bits: a thousand plans of 64 bits fit.
type sum struct {
	high int64
	low  uint64
}

func (s *sum) add(n int64) {
	var carry uint64
	s.low, carry = bits.Add64(s.low, uint64(n), 0)
	s.high += n>>63 + int64(carry)
}

func (s *sum) big() *big.Int {
	n := new(big.Int).Lsh(big.NewInt(s.high), 64)
	return n.Add(n, new(big.Int).SetUint64(s.low))
}

// Add counts a part.
func (w *Weights) Add(st Standing, weight int64) {
	w.at[st].add(weight)
	w.count[st]++
}

// Take takes away a part that was counted.
func (w *Weights) Take(st Standing, weight int64) {
	w.at[st].add(-weight)
	w.count[st]--
}

// Count tells how many parts stand at each standing.
func (w *Weights) Count() [4]int { return w.count }

// Combine makes one standing of many.
func (p Policy) Combine(w *Weights) Standing {
	switch p.How {
	case Worst:
		for st := Act; st > Unrated; st-- {
			if w.count[st] > 0 {
				return st
			}
		}
		return Unrated
	case Larger:
		best := Unrated
		for st := Act; st > Unrated; st-- {
			if w.count[st] > 0 && (best == Unrated || w.at[st].big().Cmp(w.at[best].big()) > 0) {
				best = st
			}
		}
		return best
	}
	var at [4]*big.Int
	all := new(big.Int)
	for st := range at {
		at[st] = w.at[st].big()
		all.Add(all, at[st])
	}
	reaches := func(n *big.Int, share int64) bool { // n ÷ all ≥ share, nothing being no share of anything
		return n.Sign() > 0 && new(big.Int).Mul(n, big.NewInt(100)).Cmp(new(big.Int).Mul(all, big.NewInt(share))) >= 0
	}
	both := new(big.Int).Add(at[Act], at[Watch])
	switch {
	case reaches(at[Act], p.Act):
		return Act
	case w.count[Act] > 0 || reaches(both, p.Watch):
		return Watch
	case w.count[Watch] > 0 || w.count[Steady] > 0:
		return Steady
	}
	return Unrated
}

// Rate computes the standing of a project from an evaluation in its own
// currency.
func (s *Set) Rate(e *figure.Eval) *Result {
	p := e.Subject.(*figure.Project)
	f := Facts{
		Period:    e.Period,
		Rules:     s.Rules(p.Code, p.Office.Chain(p.Programme)),
		State:     p.StateAt(p.Day),
		TooEarly:  p.TooEarly,
		Exponent:  p.Project.Currency.Exponent(),
		Overrides: p.Overrides,
	}
	f.stated(p.Narratives)
	return s.Judge(e.Get, f)
}

// Facts are what a rating needs beside the readings.
type Facts struct {
	Period    calendar.Period
	Rules     []Rule
	State     portfolio.State
	TooEarly  int64 // millionths of a percent; below zero: the default
	Exponent  int   // of the project's currency
	Overrides []portfolio.Override
	Stated    Standing
	HasStated bool
	StatedIn  calendar.Period
}

func (f *Facts) stated(list []portfolio.Narrative) {
	for i := range list {
		n := &list[i]
		if n.Period <= f.Period && n.Section == "summary" && n.Stated != "" && n.Period >= f.StatedIn {
			if st, ok := Parse(n.Stated); ok {
				f.Stated, f.HasStated, f.StatedIn = st, true, n.Period
			}
		}
	}
}
