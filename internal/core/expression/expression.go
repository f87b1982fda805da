// Package expression reads the expressions that an office writes for its own
// rules and checks, such as
//
//	cpi < 0.9 and eac_stated <= bac * 1.02
//
// Their grammar is that of expr-lang/expr; what they may say is a part of it
// without loops, so that each ends, and quickly. Every name has a unit, and
// what compares or adds unlike units is refused before it is ever computed.
// Numbers are exact. What rests on a value that is not known is not known
// either, unless the rest decides: "a or b" holds where one of them does.
package expression

import (
	"errors"
	"fmt"
	"math/big"
	"slices"
	"strings"

	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/conf"
	"github.com/expr-lang/expr/file"
	"github.com/expr-lang/expr/parser"

	"turret/internal/core/figure"
)

// Unit is what a value is counted in: those of figures, and four more.
type Unit uint8

// The units beside those of figures: a plain number, which goes with any; text;
// and what holds or does not.
const (
	Number Unit = iota + 32
	Text
	Truth
)

// Of gives the unit of a figure.
func Of(u figure.Unit) Unit { return Unit(u) }

// Figure gives the unit as figures have it; a plain number is a ratio.
func (u Unit) Figure() figure.Unit {
	if u >= Number {
		return figure.Ratio
	}
	return figure.Unit(u)
}

func (u Unit) String() string {
	switch u {
	case Number:
		return "a number"
	case Text:
		return "text"
	case Truth:
		return "yes or no"
	}
	return [...]string{"money", "a ratio", "periods", "a date", "working days", "a count", "a size"}[u]
}

// Value is a value of any unit, or the reason why it is not known.
type Value struct {
	Known bool
	R     *big.Rat // numbers; dates as day numbers, money in major units
	S     string
	B     bool
	Why   string
}

// Num, Str and Unknown make values.
func Num(r *big.Rat) Value { return Value{Known: true, R: r} }

// Str makes a text.
func Str(s string) Value { return Value{Known: true, S: s} }

// Unknown makes a value that is not known, with the reason.
func Unknown(why string) Value { return Value{Why: why} }

// The limits of what can be written.
const (
	Longest  = 1000 // characters
	maxNodes = 200
)

// Expr is an expression that was read and fits its names.
type Expr struct {
	Source string
	Unit   Unit
	Names  []string // that it uses, sorted
	root   ast.Node
}

// Parse reads an expression over names with their units. Its errors are
// sentences with the place.
func Parse(source string, names map[string]Unit) (*Expr, error) {
	source = strings.TrimSpace(source)
	if source == "" {
		return nil, errors.New("it says nothing; write something like cpi < 0.9")
	}
	if len(source) > Longest {
		return nil, fmt.Errorf("it is longer than %d characters; split it into two", Longest)
	}
	config := conf.CreateNew()
	clear(config.Builtins)
	config.MaxNodes, config.DisableIfOperator = maxNodes, true
	tree, err := parser.ParseWithConfig(source, config)
	if err != nil {
		return nil, placed(err, source)
	}
	x := &Expr{Source: source, root: tree.Node}
	t := typing{names: names, used: make(map[string]bool), source: source}
	if x.Unit, err = t.of(tree.Node); err != nil {
		return nil, err
	}
	for n := range t.used {
		x.Names = append(x.Names, n)
	}
	slices.Sort(x.Names)
	return x, nil
}

// placed makes a sentence of an error of the grammar.
func placed(err error, source string) error {
	var fe *file.Error
	if !errors.As(err, &fe) {
		return fmt.Errorf("it cannot be read: %s", err)
	}
	what := fe.Message
	if strings.Contains(what, "exceeds maximum allowed nodes") {
		return fmt.Errorf("it has more than %d parts; split it into two", maxNodes)
	}
	return fmt.Errorf("it cannot be read%s: %s", near(source, fe.From), what)
}

// near tells the place in a source.
func near(source string, at int) string {
	r := []rune(source)
	if at < 0 || at >= len(r) {
		return " at its end"
	}
	return fmt.Sprintf(" at %q", string(r[at:min(at+12, len(r))]))
}
