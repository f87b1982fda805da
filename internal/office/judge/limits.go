package judge

import (
	"context"
	"fmt"
	"math/big"
	"strings"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/tell"
)

// ReadLimit reads a limit as people write it, into a plain decimal: 8%, 8 % and 0.08 are
// the same. Of a reading that is written in percent a number of one or more without a
// percent sign can be meant either way, and is asked about. "" and "-" stay.
func ReadLimit(text string, share bool) (string, error) {
	plain, percent := number(text)
	if plain == "" || plain == "-" {
		return plain, nil
	}
	n, ok := new(big.Rat).SetString(plain)
	if !ok || strings.ContainsAny(plain, "/eE") {
		return "", fmt.Errorf("%q is not a number; write it like 8%% or 0.08", strings.TrimSpace(text))
	}
	switch {
	case percent:
		n.Quo(n, big.NewRat(100, 1))
	case share && new(big.Rat).Abs(n).Cmp(big.NewRat(1, 1)) >= 0:
		hundredth := new(big.Rat).Quo(n, big.NewRat(100, 1))
		return "", fmt.Errorf(
			"%s can be %s%% or %s%%; write %s%% or %s",
			plain, plain, standing.LimitText(new(big.Rat).Mul(n, big.NewRat(100, 1))), plain, standing.LimitText(hundredth),
		)
	}
	return standing.LimitText(n), nil
}

// ReadPercent reads a share that a table keeps in percent: 30 and 30% are the same, and
// less than one without a sign can be meant either way.
func ReadPercent(text string) (string, error) {
	plain, percent := number(text)
	n, ok := new(big.Rat).SetString(plain)
	if plain == "" || plain == "-" || !ok {
		return plain, nil // the table says what is wrong with it
	}
	if !percent && n.Sign() > 0 && n.Cmp(big.NewRat(1, 1)) < 0 {
		return "", fmt.Errorf(
			"%s can be %s%% or %s%%; write it with the sign",
			plain, standing.LimitText(new(big.Rat).Mul(n, big.NewRat(100, 1))), plain,
		)
	}
	return plain, nil
}

// number takes the sign of a percent off a number, and writes it with a decimal point.
func number(text string) (plain string, percent bool) {
	plain = strings.ReplaceAll(strings.TrimSpace(text), "−", "-")
	plain, percent = strings.CutSuffix(plain, "%")
	plain = strings.TrimSpace(plain)
	if strings.Count(plain, ",") == 1 && !strings.Contains(plain, ".") {
		plain = strings.Replace(plain, ",", ".", 1)
	}
	return plain, percent
}

// WriteLimit writes a limit as people do: shares in percent.
func WriteLimit(reading, text string) string {
	n, ok := new(big.Rat).SetString(text)
	if id, known := figure.Lookup(reading); !ok || !known || !tell.InPercent(id) {
		return text
	}
	return standing.LimitText(n.Mul(n, big.NewRat(100, 1))) + "%"
}

// asWritten puts the limits and shares of a form's row in canonical form.
func asWritten(table string, row map[string]string) (map[string]string, error) {
	out := make(map[string]string, len(row))
	for k, v := range row {
		out[k] = v
	}
	id, known := figure.Lookup(strings.TrimSpace(row["reading"]))
	read := func(column string, how func(string) (string, error)) error {
		text, ok := row[column]
		if !ok {
			return nil
		}
		plain, err := how(text)
		if err != nil {
			return &office.Misfit{Column: column, Why: err.Error()}
		}
		out[column] = plain
		return nil
	}
	limit := func(text string) (string, error) {
		return ReadLimit(text, table == "rules" && known && tell.InPercent(id))
	}
	for _, x := range []struct {
		table, column string
		how           func(string) (string, error)
	}{
		{"rules", "watch", limit},
		{"rules", "act", limit},
		{"checks", "limit", limit},
		{"policies", "act_share", ReadPercent},
		{"policies", "watch_share", ReadPercent},
		{"projects", "too_early", ReadPercent},
	} {
		if x.table == table {
			if err := read(x.column, x.how); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}

// says tells a rule in words, with how many projects it would judge in the open period:
// those in its scope that run and whose reading is known.
func (o Room) says(ctx context.Context, s *book.Snapshot, row map[string]string) (string, error) {
	scope := row["scope"]
	ask := office.Ask{Own: true, In: "project"}
	if s.Project(scope) == nil {
		ask.Scope = scope
	}
	m, err := o.MomentOf(ctx, s, ask)
	if err != nil || m.Empty {
		return "", err
	}
	id, known := figure.Lookup(row["reading"])
	n := 0
	for _, r := range m.Readings().Rows {
		one := s.Project(scope) != nil && r.Code != scope
		if r.Group || one || !m.InScope(r) || !office.Active(r) || known && !r.Value(id).Known {
			continue
		}
		n++
	}
	title := row["title"]
	if known {
		title = figure.Get(id).Title
	}
	watch, act := row["watch"], row["act"]
	if watch == "-" { // it is cleared
		watch = ""
	}
	if act == "-" {
		act = ""
	}
	if watch == "" && act == "" {
		return "Without limits the rule is off.", nil
	}
	reason := standing.Reason{Reading: id, Direction: standing.Direction(row["direction"]), Watch: watch, Act: act}
	if !known {
		reason.Own = title
	}
	return fmt.Sprintf("%s: %s. It judges %s.", tell.Capital(title), tell.Limits(reason), tell.Plural(n, "project", "projects")), nil
}
