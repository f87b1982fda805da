package expression

import (
	"fmt"
	"slices"
	"strings"

	"github.com/expr-lang/expr/ast"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
)

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
	return 0, t.wrong(
		n,
		"loops, lists, ranges and fields within fields are not known here, only figures, numbers, texts and comparisons; look",
	)
}

// like offers a name that begins alike.
func (t *typing) like(name string) string {
	var best []string
	for n := range t.names {
		if len(name) >= 2 &&
			(strings.HasPrefix(n, strings.ToLower(name[:2])) || strings.Contains(n, strings.ToLower(name))) {
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
	if truth := n.Operator == "not" || n.Operator == "!"; truth != (u == Truth) || u == Text ||
		!truth && u == Of(figure.Day) {
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
		return 0, t.wrong(
			n,
			"%q cannot be called: there are abs, min, max, known and date, and nothing that loops; look",
			name,
		)
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
