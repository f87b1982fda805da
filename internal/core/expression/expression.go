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
	"strconv"
	"strings"

	"github.com/expr-lang/expr/ast"
	"github.com/expr-lang/expr/conf"
	"github.com/expr-lang/expr/file"
	"github.com/expr-lang/expr/parser"

	"turret/internal/core/calendar"
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
	return [...]string{"money", "a ratio", "periods", "a date", "working days", "a count"}[u]
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

// typing finds the units of nodes.
type typing struct {
	names  map[string]Unit
	used   map[string]bool
	source string
}

func (t *typing) wrong(n ast.Node, format string, args ...any) error {
	return fmt.Errorf(format+"%s", append(args, near(t.source, n.Location().From))...)
}

func (t *typing) of(n ast.Node) (Unit, error) {
	switch n := n.(type) {
	case *ast.IntegerNode, *ast.FloatNode:
		return Number, nil
	case *ast.BoolNode:
		return Truth, nil
	case *ast.StringNode:
		return Text, nil
	case *ast.IdentifierNode:
		u, ok := t.names[n.Value]
		if !ok {
			return 0, t.wrong(n, "%q is not known here%s; the names are listed beside, the place is", n.Value, t.like(n.Value))
		}
		t.used[n.Value] = true
		return u, nil
	case *ast.UnaryNode:
		return t.unary(n)
	case *ast.BinaryNode:
		return t.binary(n)
	case *ast.ConditionalNode:
		c, err := t.of(n.Cond)
		if err != nil {
			return 0, err
		}
		if c != Truth {
			return 0, t.wrong(n, "what stands before ? must be yes or no, not %s,", c)
		}
		return t.alike(n, "chooses between", n.Exp1, n.Exp2)
	}
	if name, args, ok := called(n); ok {
		return t.call(n, name, args)
	}
	return 0, t.wrong(n, "loops, lists, ranges and fields within fields are not known here, only figures, numbers, texts and comparisons; look")
}

// like offers a name that begins alike.
func (t *typing) like(name string) string {
	var best []string
	for n := range t.names {
		if len(name) >= 2 && (strings.HasPrefix(n, strings.ToLower(name[:2])) || strings.Contains(n, strings.ToLower(name))) {
			best = append(best, n)
		}
	}
	if len(best) == 0 {
		return ""
	}
	slices.Sort(best)
	return ", like " + strings.Join(best[:min(len(best), 4)], ", ")
}

func (t *typing) unary(n *ast.UnaryNode) (Unit, error) {
	u, err := t.of(n.Node)
	if err != nil {
		return 0, err
	}
	if truth := n.Operator == "not" || n.Operator == "!"; truth != (u == Truth) || u == Text || !truth && u == Of(figure.Day) {
		return 0, t.wrong(n, "%s does not go with %s", n.Operator, u)
	}
	return u, nil
}

func (t *typing) binary(n *ast.BinaryNode) (Unit, error) {
	switch n.Operator {
	case "and", "or", "&&", "||":
		for _, x := range [...]ast.Node{n.Left, n.Right} {
			u, err := t.of(x)
			if err != nil {
				return 0, err
			}
			if u != Truth {
				return 0, t.wrong(x, "%s joins what holds or does not, and this is %s", n.Operator, u)
			}
		}
		return Truth, nil
	case "==", "!=", "<", "<=", ">", ">=":
		u, err := t.alike(n, "compares", n.Left, n.Right)
		if err != nil {
			return 0, err
		}
		if (u == Truth || u == Text) && n.Operator != "==" && n.Operator != "!=" {
			return 0, t.wrong(n, "%s does not go with %s", n.Operator, u)
		}
		return Truth, nil
	case "contains", "startsWith", "endsWith":
		u, err := t.alike(n, "looks for", n.Left, n.Right)
		if err == nil && u != Text {
			err = t.wrong(n, "%s looks in texts, and this is %s", n.Operator, u)
		}
		return Truth, err
	case "in":
		list, ok := n.Right.(*ast.ArrayNode)
		if !ok {
			return 0, t.wrong(n, "in looks in a list, such as [\"build\", \"run\"]")
		}
		for _, x := range list.Nodes {
			if _, err := t.alike(n, "compares", n.Left, x); err != nil {
				return 0, err
			}
		}
		return Truth, nil
	case "+", "-":
		return t.sum(n)
	case "*", "/":
		return t.product(n)
	}
	return 0, t.wrong(n, "%q is not known here; there are + - * / < <= > >= == != and or not in contains", n.Operator)
}

// alike gives the unit that two nodes share.
func (t *typing) alike(at ast.Node, does string, a, b ast.Node) (Unit, error) {
	u, err := t.of(a)
	if err != nil {
		return 0, err
	}
	v, err := t.of(b)
	if err != nil {
		return 0, err
	}
	switch {
	case u == v:
		return u, nil
	case u == Number && v < Number && v != Of(figure.Day):
		return v, nil
	case v == Number && u < Number && u != Of(figure.Day):
		return u, nil
	}
	return 0, t.wrong(at, "it %s %s with %s, which say nothing about each other,", does, u, v)
}

func (t *typing) sum(n *ast.BinaryNode) (Unit, error) {
	u, err := t.of(n.Left)
	if err != nil {
		return 0, err
	}
	v, err := t.of(n.Right)
	if err != nil {
		return 0, err
	}
	day := Of(figure.Day)
	switch {
	case u == day && v == day && n.Operator == "-":
		return Number, nil // calendar days
	case u == day && v == Number:
		return day, nil
	case u == Text || u == Truth || u == day:
		return 0, t.wrong(n, "%s does not go with %s", n.Operator, u)
	}
	verb := "adds"
	if n.Operator == "-" {
		verb = "subtracts"
	}
	return t.alike(n, verb, n.Left, n.Right)
}

// product: like units divide to a ratio; a ratio, count or number scales.
func (t *typing) product(n *ast.BinaryNode) (Unit, error) {
	u, err := t.of(n.Left)
	if err != nil {
		return 0, err
	}
	v, err := t.of(n.Right)
	if err != nil {
		return 0, err
	}
	plain := func(x Unit) bool { return x == Number || x == Of(figure.Ratio) || x == Of(figure.Count) }
	number := func(x Unit) bool { return x != Text && x != Truth && x != Of(figure.Day) }
	switch {
	case !number(u) || !number(v):
	case n.Operator == "/" && u == v:
		return Of(figure.Ratio), nil
	case v == Number:
		return u, nil
	case n.Operator == "*" && u == Number:
		return v, nil
	case plain(v) && !plain(u):
		return u, nil
	case n.Operator == "*" && plain(u):
		if plain(v) && u != v {
			return Of(figure.Ratio), nil
		}
		return v, nil
	case plain(u) && plain(v), n.Operator == "/" && v == Of(figure.Periods):
		if plain(u) {
			return Of(figure.Ratio), nil
		}
		return u, nil
	}
	return 0, t.wrong(n, "%s %s %s makes no figure,", u, n.Operator, v)
}

// functions and how many arguments they take.
var functions = map[string][2]int{"abs": {1, 1}, "min": {2, 8}, "max": {2, 8}, "known": {1, 1}, "date": {1, 1}}

// called gives the name and arguments of a call. Some names are known to the
// grammar; one with a predicate, which would loop, is no call here.
func called(n ast.Node) (name string, args []ast.Node, ok bool) {
	switch n := n.(type) {
	case *ast.CallNode:
		if id, is := n.Callee.(*ast.IdentifierNode); is {
			return id.Value, n.Arguments, true
		}
	case *ast.BuiltinNode:
		return n.Name, n.Arguments, true
	}
	return "", nil, false
}

func (t *typing) call(n ast.Node, name string, args []ast.Node) (Unit, error) {
	count, ok := functions[name]
	switch {
	case !ok:
		return 0, t.wrong(n, "%q cannot be called: there are abs, min, max, known and date, and nothing that loops; look", name)
	case len(args) < count[0] || len(args) > count[1]:
		return 0, t.wrong(n, "%s takes %d to %d values, and has %d", name, count[0], count[1], len(args))
	}
	u, err := t.of(args[0])
	if err != nil {
		return 0, err
	}
	switch name {
	case "known":
		return Truth, nil
	case "date":
		s, ok := args[0].(*ast.StringNode)
		if !ok {
			return 0, t.wrong(n, "date takes a day such as date(\"2026-11-30\")")
		}
		if _, err := calendar.ParseDate(s.Value); err != nil {
			return 0, t.wrong(n, "%q is no day such as 2026-11-30", s.Value)
		}
		return Of(figure.Day), nil
	}
	for _, x := range args[1:] {
		v, err := t.alike(n, "compares", args[0], x)
		if err != nil {
			return 0, err
		}
		if u == Number {
			u = v
		}
	}
	if u == Text || u == Truth {
		return 0, t.wrong(n, "%s does not go with %s", name, u)
	}
	return u, nil
}

// Eval computes the expression with the values of its names.
func (x *Expr) Eval(get func(name string) Value) Value { return eval(x.root, get) }

func eval(n ast.Node, get func(string) Value) Value {
	switch n := n.(type) {
	case *ast.IntegerNode:
		return Num(new(big.Rat).SetInt64(int64(n.Value)))
	case *ast.FloatNode: // as it was written: 0.95 is 95 ÷ 100
		r, ok := new(big.Rat).SetString(strconv.FormatFloat(n.Value, 'g', -1, 64))
		if !ok {
			return Unknown("a number in it is too large")
		}
		return Num(r)
	case *ast.BoolNode:
		return Value{Known: true, B: n.Value}
	case *ast.StringNode:
		return Str(n.Value)
	case *ast.IdentifierNode:
		return get(n.Value)
	case *ast.UnaryNode:
		v := eval(n.Node, get)
		switch {
		case !v.Known || n.Operator == "+":
		case v.R != nil:
			v.R = new(big.Rat).Neg(v.R)
		default:
			v.B = !v.B
		}
		return v
	case *ast.BinaryNode:
		return binary(n, get)
	case *ast.ConditionalNode:
		c := eval(n.Cond, get)
		switch {
		case !c.Known:
			return c
		case c.B:
			return eval(n.Exp1, get)
		}
		return eval(n.Exp2, get)
	}
	if name, args, ok := called(n); ok {
		return call(name, args, get)
	}
	return Unknown("it cannot be computed")
}

func binary(n *ast.BinaryNode, get func(string) Value) Value {
	a := eval(n.Left, get)
	switch n.Operator {
	case "and", "&&", "or", "||":
		decides := n.Operator == "or" || n.Operator == "||" // a side of this value decides
		if a.Known && a.B == decides {
			return a
		}
		b := eval(n.Right, get)
		if b.Known && b.B == decides || a.Known {
			return b
		}
		return a
	case "in":
		for _, x := range n.Right.(*ast.ArrayNode).Nodes {
			b := eval(x, get)
			if !a.Known || !b.Known {
				return Unknown(a.Why + b.Why)
			}
			if equal(a, b) {
				return Value{Known: true, B: true}
			}
		}
		return Value{Known: true}
	}
	b := eval(n.Right, get)
	if !a.Known {
		return a
	}
	if !b.Known {
		return b
	}
	truth := func(t bool) Value { return Value{Known: true, B: t} }
	switch n.Operator {
	case "==":
		return truth(equal(a, b))
	case "!=":
		return truth(!equal(a, b))
	case "contains":
		return truth(strings.Contains(strings.ToLower(a.S), strings.ToLower(b.S)))
	case "startsWith":
		return truth(strings.HasPrefix(a.S, b.S))
	case "endsWith":
		return truth(strings.HasSuffix(a.S, b.S))
	}
	c := a.R.Cmp(b.R)
	switch n.Operator {
	case "<":
		return truth(c < 0)
	case "<=":
		return truth(c <= 0)
	case ">":
		return truth(c > 0)
	case ">=":
		return truth(c >= 0)
	case "+":
		return Num(new(big.Rat).Add(a.R, b.R))
	case "-":
		return Num(new(big.Rat).Sub(a.R, b.R))
	case "*":
		return Num(new(big.Rat).Mul(a.R, b.R))
	}
	if b.R.Sign() == 0 {
		return Unknown("it divides by zero")
	}
	return Num(new(big.Rat).Quo(a.R, b.R))
}

func equal(a, b Value) bool {
	if a.R != nil && b.R != nil {
		return a.R.Cmp(b.R) == 0
	}
	return a.S == b.S && a.B == b.B
}

func call(name string, args []ast.Node, get func(string) Value) Value {
	first := eval(args[0], get)
	switch name {
	case "known":
		return Value{Known: true, B: first.Known}
	case "date":
		d, err := calendar.ParseDate(first.S)
		if err != nil {
			return Unknown(err.Error())
		}
		return Num(new(big.Rat).SetInt64(int64(d)))
	case "abs":
		if first.Known {
			first.R = new(big.Rat).Abs(first.R)
		}
		return first
	}
	best := first
	for _, x := range args[1:] {
		v := eval(x, get)
		if !best.Known {
			return best
		}
		if !v.Known {
			return v
		}
		if c := v.R.Cmp(best.R); name == "min" && c < 0 || name == "max" && c > 0 {
			best = v
		}
	}
	return best
}
