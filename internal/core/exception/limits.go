package exception

import (
	"fmt"
	"math/big"
	"strings"
)

// Limit is a number that the reader of exceptions sets.
type Limit struct {
	Name   string
	Title  string
	Unit   string // what it is counted in
	Usual  string
	Whole  bool   // it is a number of periods
	Lowest string // it is no less, and no more than Most
	Most   string
}

// AllLimits lists the limits.
var AllLimits = []Limit{
	{Name: "over", Title: "Over plan by", Unit: "%", Usual: "5", Lowest: "0", Most: "1000"},
	{Name: "under", Title: "Under plan by", Unit: "%", Usual: "5", Lowest: "0", Most: "100"},
	{Name: "least", Title: "Over or under by at least", Unit: "thousand", Usual: "0", Lowest: "0", Most: "1000000000"},
	{Name: "period_index", Title: "Index of the period below", Usual: "0.90", Lowest: "0", Most: "10"},
	{Name: "whole_index", Title: "Index of all at least", Usual: "0.95", Lowest: "0", Most: "10"},
	{Name: "running", Title: "Worse for", Unit: "periods", Usual: "3", Whole: true, Lowest: "1", Most: "12"},
	{Name: "worse", Title: "Worse by at least", Unit: "points", Usual: "2", Lowest: "0", Most: "1000"},
	{Name: "idle", Title: "Spent in", Unit: "periods", Usual: "2", Whole: true, Lowest: "1", Most: "12"},
	{Name: "idle_spent", Title: "Spent of the plan, at least", Unit: "%", Usual: "1", Lowest: "0", Most: "100"},
	{Name: "idle_earned", Title: "Earned of that, below", Unit: "%", Usual: "10", Lowest: "0", Most: "100"},
	{Name: "unmoved", Title: "Unmoved for", Unit: "periods", Usual: "4", Whole: true, Lowest: "1", Most: "12"},
	{Name: "moved", Title: "While the computed moved by", Unit: "%", Usual: "2", Lowest: "0", Most: "1000"},
	{Name: "after", Title: "After the fact for", Unit: "periods", Usual: "3", Whole: true, Lowest: "1", Most: "12"},
}

// Limits are the limits that count, by name.
type Limits map[string]*big.Rat

// NewLimits gives the limits, each the usual one where none is asked for. What
// is asked and is no such number is told, and the usual one counts.
func NewLimits(asked map[string]string) (out Limits, wrong []string) {
	out = make(Limits, len(AllLimits))
	for _, x := range AllLimits {
		out[x.Name] = rat(x.Usual)
		text := strings.TrimSpace(asked[x.Name])
		if text == "" {
			continue
		}
		n, why := x.parse(text)
		if why != "" {
			wrong = append(wrong, why)
			continue
		}
		out[x.Name] = n
	}
	return out, wrong
}

func (x *Limit) parse(text string) (n *big.Rat, why string) {
	ok := len(text) <= 20 && strings.Trim(text, "0123456789.") == ""
	if ok {
		n, ok = new(big.Rat).SetString(text)
	}
	if !ok || n.Cmp(rat(x.Lowest)) < 0 || n.Cmp(rat(x.Most)) > 0 || x.Whole && !n.IsInt() {
		number := "a number"
		if x.Whole {
			number = "a whole number"
		}
		return nil, fmt.Sprintf(
			"The limit %q is %s from %s to %s, not %q; %s counts.",
			strings.ToLower(x.Title),
			number,
			x.Lowest,
			x.Most,
			text,
			x.Usual,
		)
	}
	return n, ""
}

func rat(text string) *big.Rat {
	n, ok := new(big.Rat).SetString(text)
	if !ok {
		panic(text) // it is written above
	}
	return n
}

// Periods gives a limit that is a number of periods.
func (l Limits) Periods(name string) int { return int(l[name].Num().Int64()) }

// Back is the number of earlier periods that the limits look at.
func (l Limits) Back() int {
	n := 0
	for _, x := range AllLimits {
		if x.Whole {
			n = max(n, l.Periods(x.Name))
		}
	}
	return n
}
