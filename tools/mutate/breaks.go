package main

import (
	"fmt"
	"go/ast"
	"go/token"
	"go/types"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/tools/go/packages"
)

// mutant is one small break: a piece of a file, from byte lo up to hi, and how it reads
// behind a switch.
type mutant struct {
	number int // of its switch, from 1
	file   string
	line   int
	what   string
	span
	form func(text func(span) string, number int) string
}

// span is a piece of a file, in bytes.
type span struct{ lo, hi int }

// sample draws n breaks from the rooms, by the seed.
func sample(rooms []string, n int, seed uint64) ([]*mutant, error) {
	here, err := os.Getwd()
	if err != nil {
		return nil, err
	}
	var patterns []string
	for _, r := range rooms {
		patterns = append(patterns, "./internal/"+r+"/...")
	}
	list, err := packages.Load(&packages.Config{
		Mode: packages.NeedName | packages.NeedFiles | packages.NeedCompiledGoFiles | packages.NeedSyntax |
			packages.NeedTypes | packages.NeedTypesInfo | packages.NeedImports | packages.NeedDeps,
	}, patterns...)
	if err != nil {
		return nil, err
	}
	if packages.PrintErrors(list) > 0 {
		return nil, fmt.Errorf("the tree does not build")
	}
	slices.SortFunc(list, func(a, b *packages.Package) int { return strings.Compare(a.PkgPath, b.PkgPath) })
	var all []*mutant
	for _, p := range list {
		if strings.Contains(p.PkgPath, "officetest") {
			continue
		}
		for _, f := range p.Syntax {
			path, err := filepath.Rel(here, p.Fset.Position(f.Pos()).Filename)
			if err != nil {
				return nil, err
			}
			all = append(all, mutants(p, f, path)...)
		}
	}
	draw := rand.New(rand.NewPCG(seed, seed))
	draw.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	all = all[:min(n, len(all))]
	for i, m := range all {
		m.number = i + 1
	}
	return all, nil
}

// turned are operators and what they become.
var turned = map[token.Token]token.Token{
	token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR,
	token.EQL: token.NEQ, token.NEQ: token.EQL, token.LAND: token.LOR, token.LOR: token.LAND,
	token.ADD: token.SUB, token.SUB: token.ADD, token.MUL: token.QUO,
}

// mutants lists every break of a file.
func mutants(p *packages.Package, f *ast.File, path string) []*mutant {
	var out []*mutant
	at := func(n ast.Node) span {
		return span{p.Fset.Position(n.Pos()).Offset, p.Fset.Position(n.End()).Offset}
	}
	note := func(n ast.Node, what string, form func(text func(span) string, k int) string) {
		out = append(out, &mutant{
			file: path, line: p.Fset.Position(n.Pos()).Line, what: what, span: at(n), form: form,
		})
	}
	ast.Inspect(f, func(n ast.Node) bool {
		switch x := n.(type) {
		case *ast.GenDecl:
			return x.Tok != token.IMPORT && x.Tok != token.CONST
		case *ast.BinaryExpr:
			if to, ok := turned[x.Op]; ok && !isText(p, x) {
				note(x, x.Op.String()+" for "+to.String(), operation(at(x.X), at(x.Y), x.Op, to, typeName(p, f, x)))
			}
		case *ast.IfStmt:
			note(x.Cond, "an if turned round", func(text func(span) string, k int) string {
				return fmt.Sprintf("(mutant.On(%d) != (%s))", k, text(at(x.Cond)))
			})
		case *ast.BasicLit:
			if v, err := strconv.ParseInt(x.Value, 0, 64); x.Kind == token.INT && err == nil {
				note(x, fmt.Sprintf("%s for %d", x.Value, v+1), func(_ func(span) string, k int) string {
					return fmt.Sprintf("mutant.Pick[%s](%d, %s, %d)", typeName(p, f, x), k, x.Value, v+1)
				})
			}
		case *ast.CallExpr:
			to := map[string]string{"max": "min", "min": "max"}
			if g, ok := x.Fun.(*ast.Ident); ok && to[g.Name] != "" {
				note(x, g.Name+" for "+to[g.Name], func(text func(span) string, k int) string {
					var args []string
					for _, a := range x.Args {
						args = append(args, text(at(a)))
					}
					list := strings.Join(args, ", ")
					return either(k, typeName(p, f, x), g.Name+"("+list+")", to[g.Name]+"("+list+")")
				})
			}
		}
		return true
	})
	return out
}

// operation is one with another operator.
func operation(x, y span, op, to token.Token, typ string) func(func(span) string, int) string {
	return func(text func(span) string, k int) string {
		whole := fmt.Sprintf("(%s) %s (%s)", text(x), op, text(y))
		broken := fmt.Sprintf("(%s) %s (%s)", text(x), to, text(y))
		switch op {
		case token.ADD, token.SUB, token.MUL:
			return either(k, typ, whole, broken)
		default:
			return fmt.Sprintf("(mutant.On(%d) && (%s) || !mutant.On(%d) && (%s))", k, broken, k, whole)
		}
	}
}

// either computes one of two expressions, and not the other.
func either(k int, typ, whole, broken string) string {
	return fmt.Sprintf("func() %s { if mutant.On(%d) { return %s }; return %s }()", typ, k, broken, whole)
}

// isText tells whether an addition is of texts, which cannot be subtracted.
func isText(p *packages.Package, x *ast.BinaryExpr) bool {
	t := p.TypesInfo.TypeOf(x)
	if t == nil || x.Op != token.ADD {
		return false
	}
	b, ok := t.Underlying().(*types.Basic)
	return ok && b.Info()&types.IsString != 0
}

// typeName is how a file calls the type of an expression.
func typeName(p *packages.Package, f *ast.File, x ast.Expr) string {
	t := p.TypesInfo.TypeOf(x)
	if t == nil {
		return "int"
	}
	return types.TypeString(types.Default(t), func(of *types.Package) string {
		if of == p.Types {
			return ""
		}
		for _, i := range f.Imports {
			if path, err := strconv.Unquote(i.Path.Value); err == nil && path == of.Path() && i.Name != nil {
				return i.Name.Name
			}
		}
		return of.Name()
	})
}

// switched is the text of a file with the breaks in it behind their switches.
// name is where the name of its package ends.
func switched(src []byte, name int, list []*mutant) string {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b *mutant) int {
		if a.lo != b.lo {
			return a.lo - b.lo
		}
		return b.hi - a.hi
	})
	return string(src[:name]) + `; import mutant "turret/internal/mutant"` + between(src, span{name, len(src)}, list)
}

// between is the text of a piece, with the breaks there, the outer ones first.
func between(src []byte, in span, list []*mutant) string {
	lo, hi := in.lo, in.hi
	var out strings.Builder
	for len(list) > 0 {
		m := list[0]
		if m.lo < lo || m.hi > hi {
			list = list[1:]
			continue
		}
		n := 1
		for n < len(list) && list[n].lo < m.hi {
			n++
		}
		inner := list[1:n]
		out.Write(src[lo:m.lo])
		out.WriteString(m.form(func(part span) string {
			return between(src, part, inner)
		}, m.number))
		lo, list = m.hi, list[n:]
	}
	out.Write(src[lo:hi])
	return out.String()
}
