package record

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Dimensions are dimensions of the office's own, and the weights of all.
var Dimensions = func() *dimensionsKind {
	k := &dimensionsKind{
		Kind: records("dimensions", "dimension", "dimension", "dimensions of the office's own, and the weights of all"),
	}
	k.Dimension = k.text("dimension", "code; dates, cost, progress, risk and crew have a weight only", Key)
	k.Title = k.text("title", "name on screens")
	k.Apart = k.choice("apart", []string{"no", "yes"}, "yes: it does not count toward overall", Default("no"))
	k.Weight = k.whole("weight", "where overall goes by weight; 1 unless said", Within(0, 1000))
	k.Refuse = k.refuse
	k.Touches = Judgement
	k.Own = true
	return k
}()

type dimensionsKind struct {
	*Kind
	Dimension, Title, Apart TextCol
	Weight                  NumberCol
}

func (k *dimensionsKind) refuse(r Run, x *Change) (column, why string) {
	code := k.Dimension.Of(x.After)
	if code == standing.Overall.String() || code == standing.Data.String() {
		return "dimension", code + " does not count toward overall, so it has no weight"
	}
	if strings.ContainsAny(code, " ,/") || code == "" {
		return "dimension", "a dimension's code has no spaces, commas or slashes"
	}
	if _, usual := standing.ParseDimension(code); usual || x.Before != nil {
		return "", ""
	}
	n := 0
	r.Each(k.Kind, func(row *portfolio.Row) {
		if _, usual := standing.ParseDimension(k.Dimension.Of(row)); !usual {
			n++
		}
	})
	if most := standing.Most - len(standing.Dimensions); n > most {
		return "dimension", fmt.Sprintf("there are at most %d dimensions of the office's own", most)
	}
	return "", ""
}

// known tells whether a text names a dimension of the house or of the office.
func (k *dimensionsKind) known(r Run, code string) bool {
	_, usual := standing.ParseDimension(code)
	return usual || r.Known(k.Kind, code)
}

// unknown says which dimensions there are.
func (k *dimensionsKind) unknown(r Run, code string) string {
	names := []string{"dates", "cost", "progress", "risk", "crew", "data"}
	r.Each(k.Kind, func(row *portfolio.Row) {
		if c := k.Dimension.Of(row); !slices.Contains(names, c) {
			names = append(names, c)
		}
	})
	return fmt.Sprintf("%q is not a dimension; there are %s", code, strings.Join(names, ", "))
}
