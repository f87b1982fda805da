package amounts

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math/big"
	"strings"
	"time"

	"turret/internal/core/expression"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// Typed is a cell of a draft.
type Typed = office.Typed

const (
	added       = "+"     // a line that a draft adds: the text of its field without a period
	noted       = "#note" // ends the name of the field of a cell's note
	longestText = 400     // of what is typed into a cell
	mostTyped   = 20_000  // cells of a draft
)

// kindOf is what the store calls the draft of a kind.
func kindOf(k *Kind) string { return "amounts-" + k.Name }

// draft is what an account has typed of a kind of a project, and since when.
func (o Room) draft(ctx context.Context, a right.Actor, s *subject) (map[string]Typed, time.Time, error) {
	list, err := o.Store().UnsentOf(ctx, a.Account)
	if err != nil {
		return nil, time.Time{}, err
	}
	for _, d := range list {
		if d.Project == s.project.ID && d.Kind == kindOf(s.Kind) && d.Period == int64(s.at) {
			typed, err := readTyped(d.Body)
			return typed, time.UnixMilli(d.Begun).UTC(), err
		}
	}
	return nil, time.Time{}, nil
}

func readTyped(body string) (map[string]Typed, error) {
	out := make(map[string]Typed)
	if body == "" {
		return out, nil
	}
	if err := json.Unmarshal([]byte(body), &out); err != nil {
		return nil, fmt.Errorf("read a draft: %w", err)
	}
	return out, nil
}

// change changes what is kept of a draft, at once with what is kept by then.
func (o Room) change(ctx context.Context, a right.Actor, s *subject, change func(map[string]Typed) error) error {
	if a.Account == 0 {
		return office.Refusef("Nobody is signed in, so there is nobody to keep a draft for.")
	}
	d := store.Unsent{Account: a.Account, Project: s.project.ID, Kind: kindOf(s.Kind), Period: int64(s.at), At: o.Now()}
	return o.Store().ChangeUnsent(ctx, d, func(body string) (string, error) {
		kept, err := readTyped(body)
		if err != nil {
			return "", err
		}
		if err := change(kept); err != nil {
			return "", err
		}
		switch {
		case len(kept) > mostTyped:
			return "", office.Refusef("A draft holds %d cells at most; send what is typed, and go on then.", mostTyped)
		case len(kept) == 0:
			return "", nil
		}
		b, err := json.Marshal(kept)
		return string(b), err
	})
}

// Keep keeps what someone has typed: by field, the text and what the field showed. A text that
// begins with an equals sign is computed, and its note says so. Where there is another amount
// than was typed it is told, by field.
func (o Room) Keep(ctx context.Context, a right.Actor, m *office.Moment, project, kind string, typed map[string]Typed) error {
	s, err := o.subject(ctx, a, m.Snapshot(), o.at(m), project, kind)
	if err != nil {
		return err
	}
	for name, t := range typed {
		if len(t.Text) > longestText || len(name) > longestText {
			return office.Refusef("What is typed in %s is longer than %d characters; shorten it.", name, longestText)
		}
	}
	return o.change(ctx, a, s, func(kept map[string]Typed) error {
		for name, t := range typed {
			put(kept, name, t)
		}
		return nil
	})
}

// put keeps one field of a draft as it was typed: amounts in canonical form where they can be
// read. What is as it was shown is not kept.
func put(kept map[string]Typed, name string, t Typed) {
	t.Text = strings.TrimSpace(t.Text)
	if strings.HasSuffix(name, noted) {
		if t.Text == t.Was {
			delete(kept, name)
		} else {
			kept[name] = t
		}
		return
	}
	line, _, _ := cutField(name)
	c := currencyOf(line)
	if formula, ok := strings.CutPrefix(t.Text, "="); ok {
		if n, err := Compute(formula, c); err == nil {
			kept[name+noted] = Typed{Was: kept[name+noted].Was, Text: "=" + strings.TrimSpace(formula)}
			t.Text = short(n, c)
		}
	} else if n, err := money.Parse(plain(t.Text), c); err == nil && t.Text != "" {
		t.Text = short(n, c)
	}
	if t.Text == t.Was {
		delete(kept, name)
		return
	}
	kept[name] = t
}

// currencyOf is the currency of a line, by its key.
func currencyOf(line string) money.Currency {
	return money.Currency(line[strings.LastIndex(line, "~")+1:])
}

// plain leaves out what people put between thousands.
func plain(text string) string {
	return strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "").Replace(text)
}

// Compute gives what a formula comes to in minor units of a currency, rounded half to even:
// numbers, the four operations and brackets.
func Compute(formula string, c money.Currency) (int64, error) {
	x, err := expression.Parse(formula, nil)
	if err != nil {
		return 0, err
	}
	v := x.Eval(nil)
	if !v.Known || v.R == nil {
		return 0, fmt.Errorf("%q comes to no number", formula)
	}
	scale := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(c.Exponent())), nil)
	return money.Round(new(big.Rat).Mul(v.R, new(big.Rat).SetInt(scale)))
}

// Drop forgets what someone has typed of a kind.
func (o Room) Drop(ctx context.Context, a right.Actor, m *office.Moment, project, kind string) error {
	s, err := o.subject(ctx, a, m.Snapshot(), o.at(m), project, kind)
	if err != nil {
		return err
	}
	return o.change(ctx, a, s, func(kept map[string]Typed) error {
		clear(kept)
		return nil
	})
}

// Choose settles a field that someone else made another meanwhile: own keeps what was typed,
// else what they made of it holds.
func (o Room) Choose(ctx context.Context, a right.Actor, m *office.Moment, project, kind, field string, own bool) error {
	t, err := o.Table(ctx, a, m, project, kind, "")
	if err != nil {
		return err
	}
	_, c := t.Cell(field)
	return o.change(ctx, a, t.subject, func(kept map[string]Typed) error {
		x, there := kept[field]
		switch {
		case !there || c == nil:
		case own:
			kept[field] = Typed{Was: c.Is, Text: x.Text}
		default:
			delete(kept, field)
		}
		return nil
	})
}

// Added is a line that is to be added.
type Added struct{ Code, Flow, Class, Centre, Activity, Currency string }

// Add adds a line to a draft. The error names the field that is wrong.
func (o Room) Add(ctx context.Context, a right.Actor, m *office.Moment, project, kind string, x Added) (key string, err error) {
	t, err := o.Table(ctx, a, m, project, kind, "")
	if err != nil {
		return "", err
	}
	if key, err = t.newLine(x); err != nil {
		return "", err
	}
	return key, o.change(ctx, a, t.subject, func(kept map[string]Typed) error {
		kept[fieldOf(key, "")] = Typed{Text: added}
		return nil
	})
}

// newLine gives the key of a line that a table does not have yet.
func (t *Table) newLine(x Added) (string, error) {
	if t.Shut != "" {
		return "", office.Refusef("%s", t.Shut)
	}
	trim := strings.TrimSpace
	code, ok := t.codeNamed(trim(x.Code))
	if !ok {
		return "", &office.Misfit{Column: "cost_code", Why: fmt.Sprintf("no cost code is %q; choose one of the list", trim(x.Code))}
	}
	if why := t.tooDeep(code); why != "" {
		return "", &office.Misfit{Column: "cost_code", Why: why}
	}
	flow := trim(x.Flow)
	if flow == "" {
		flow = "cost"
	}
	if _, ok := flows[flow]; !ok {
		return "", &office.Misfit{Column: "flow", Why: "a line is cost, income or benefit"}
	}
	class := trim(x.Class)
	if class != "" && class != "capex" && class != "opex" {
		return "", &office.Misfit{Column: "class", Why: "a class is capex or opex"}
	}
	currency := t.Currency
	if text := trim(x.Currency); text != "" {
		if currency, ok = money.ParseCurrency(text); !ok {
			return "", &office.Misfit{Column: "currency", Why: fmt.Sprintf("%q is no currency", text)}
		}
	}
	activity := trim(x.Activity)
	if activity != "" {
		found := false
		for i := range t.subject.view.Activities {
			found = found || t.subject.view.Activities[i].Code == activity
		}
		if !found {
			return "", &office.Misfit{Column: "activity", Why: fmt.Sprintf("the project has no activity %q", activity)}
		}
	}
	key := lineKey(code, flow, class, trim(x.Centre), activity, string(currency))
	for i := range t.Lines {
		if t.Lines[i].Key == key {
			return "", &office.Misfit{Column: "cost_code", Why: "this line is there already; type into it, or tell the new one from it by class, centre, activity or currency"}
		}
	}
	return key, nil
}

// codeNamed finds a cost code by its code, or by its name where one alone has it.
func (t *Table) codeNamed(text string) (string, bool) {
	var named []string
	for _, c := range t.subject.snap.Office.Codes {
		if strings.EqualFold(c.Code, text) {
			return c.Code, true
		}
		if text != "" && (strings.EqualFold(c.Name, text) || strings.EqualFold(c.Code+" "+c.Name, text)) {
			named = append(named, c.Code)
		}
	}
	if len(named) == 1 {
		return named[0], true
	}
	return "", false
}

// forget takes what was sent out of a draft; what was typed meanwhile stays.
func (o Room) forget(ctx context.Context, a right.Actor, s *subject, sent map[string]Typed) error {
	return o.change(ctx, a, s, func(kept map[string]Typed) error {
		maps.DeleteFunc(kept, func(field string, t Typed) bool { return sent[field] == t })
		return nil
	})
}
