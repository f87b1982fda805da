package expression

import (
	"math/big"
	"strconv"
	"strings"

	"github.com/expr-lang/expr/ast"

	"turret/internal/core/calendar"
)

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
