package brief

import (
	"cmp"
	"context"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"turret/internal/brief"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// Spec says which brief is wanted. Scope is a programme or a project; ""
// is the whole portfolio.
type Spec struct {
	Scope  string   `json:"scope,omitempty"`
	At     string   `json:"at"`
	Vs     string   `json:"vs,omitempty"`
	Letter bool     `json:"letter,omitempty"`
	Parts  []string `json:"parts,omitempty"` // in order; a "+" behind one makes it landscape, a "-" portrait; empty: all
}

// Part is a kind of page that briefs have.
type Part struct {
	Name, Title string
	Wide        bool // landscape, unless said
}

// groupParts are the pages of a portfolio or programme brief, in their usual
// order; projectParts those of a project's.
var (
	groupParts = []Part{
		{"first", "First page", false},
		{"board", "The board", true},
		{"moved", "What moved", false},
		{"exceptions", "Exceptions", false},
		{"milestones", "Milestones", false},
		{"trust", "How far the figures can be trusted", false},
		{"projects", "A page for each project at Watch or Act", false},
	}
	projectParts = []Part{
		{"project", "The project", false},
		{"codes", "Money by cost code", false},
		{"activities", "Activities", true},
	}
)

// Parts lists the pages that a brief of a scope can have.
func Parts(m *office.Moment, scope string) []Part {
	if projectIn(m, scope) {
		return projectParts
	}
	return groupParts
}

// project tells whether a scope is a project.
func projectIn(m *office.Moment, scope string) bool {
	if m.Empty || scope == "" {
		return false
	}
	r, _ := m.Find(scope)
	return r != nil && !r.Group
}

// parts reads the pages of a spec.
func (s Spec) parts(all []Part) ([]Part, error) {
	if len(s.Parts) == 0 {
		return all, nil
	}
	var out []Part
	for _, name := range s.Parts {
		bare := strings.TrimRight(name, "+-")
		p, ok := PartNamed(all, bare)
		if !ok {
			var names []string
			for _, p := range all {
				names = append(names, p.Name)
			}
			return nil, office.Refusef(
				"There is no page %q in such a brief; there are %s.",
				bare,
				strings.Join(names, ", "),
			)
		}
		switch {
		case strings.HasSuffix(name, "+"):
			p.Wide = true
		case strings.HasSuffix(name, "-"):
			p.Wide = false
		}
		if !slices.ContainsFunc(out, func(q Part) bool { return q.Name == p.Name }) {
			out = append(out, p)
		}
	}
	return out, nil
}

// Brief is a brief before it is written in a form.
type Brief struct {
	Title  string
	Hash   [32]byte // of all inputs
	Spec   Spec
	Pack   *brief.Pack
	Sheets []brief.Sheet

	m      *office.Moment
	tables []brief.Table
}

// Brief puts a brief together: the figures and words of the screens, at one
// period.
func (o Room) Brief(ctx context.Context, a right.Actor, spec Spec) (*Brief, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	m, err := o.Moment(ctx, a, office.Ask{At: spec.At, Vs: spec.Vs})
	if err != nil {
		return nil, err
	}
	if m.Empty {
		return nil, office.Refusef("Nothing is stated yet, so there is nothing to brief; gather first.")
	}
	if len(m.Notes) > 0 {
		return nil, office.Refusef("%s", m.Notes[0])
	}
	if m.Waits() {
		return nil, office.Refusef(
			"Nothing is stated for %s yet; the last period that can be briefed is %s.",
			m.Asked.Name,
			m.Period.Code,
		)
	}
	project := projectIn(m, spec.Scope)
	if spec.Scope != "" && spec.Scope != "*" && !project {
		if m, err = o.Moment(ctx, a, office.Ask{At: spec.At, Vs: spec.Vs, Scope: spec.Scope}); err != nil {
			return nil, err
		}
		if m.Scope.Code == "" {
			return nil, office.Refusef("There is no programme and no project %q; * is the whole portfolio.", spec.Scope)
		}
	}
	parts, err := spec.parts(Parts(m, spec.Scope))
	if err != nil {
		return nil, err
	}
	out := &Brief{Spec: spec, m: m}
	made, err := o.dateOf(ctx, m, out)
	if err != nil {
		return nil, err
	}
	w := &briefWriter{o: o, a: a, m: m, b: out, scope: spec.Scope}
	name := cmp.Or(m.Scope.Name, m.Name)
	kind := "Portfolio brief"
	switch {
	case project:
		r, _ := m.Find(spec.Scope)
		name, kind = r.Code+" "+r.Name, "Project brief"
	case m.Scope.Code != "":
		kind = "Programme brief"
	}
	out.Title = fmt.Sprintf("%s: %s, %s", kind, name, m.Period.Name)
	out.Pack = &brief.Pack{Title: out.Title, Office: m.Name, Made: made, Letter: spec.Letter, Foot: w.foot(kind, made, project)}
	if project {
		err = w.projectBrief(ctx, spec.Scope, parts)
	} else {
		err = w.groupBrief(ctx, kind, parts)
	}
	if err != nil {
		return nil, err
	}
	out.Sheets = brief.Lay(out.Pack)
	return out, nil
}

// Boxes names the scripts whose letters are boxes in its PDF.
func (b *Brief) Boxes() []string { return brief.Boxes(b.Sheets) }

// dateOf finds the moment that a brief is of, and the hash of what it is made
// from: the cut's where the period is closed, else those of the last batch. The
// same inputs give the same brief, whenever it is made.
func (o Room) dateOf(ctx context.Context, m *office.Moment, b *Brief) (time.Time, error) {
	if cut, closed := m.Snapshot().Cuts[m.Period.Number]; closed {
		b.Hash = cut.Hash
		return time.UnixMilli(cut.At).UTC(), nil
	}
	at, err := o.Store().BatchAt(ctx, m.Snapshot().Revision)
	if err != nil {
		return time.Time{}, err
	}
	if b.Hash, err = o.Book().InputsHash(ctx, m.Snapshot()); err != nil {
		return time.Time{}, err
	}
	return time.UnixMilli(at).UTC(), nil
}

// foot says what every page of a brief says of itself.
func (w *briefWriter) foot(kind string, made time.Time, project bool) string {
	m := w.m
	parts := []string{kind + " " + m.Period.Name}
	if m.Vs.Code != "" {
		parts = append(parts, "compared with "+m.Vs.Name)
	}
	if m.Period.Closed {
		parts = append(parts, "cut "+hex.EncodeToString(w.b.Hash[:4]))
	} else {
		parts = append(parts, "open period, as of "+made.Format("2 Jan 2006 15:04")+" UTC", "inputs "+hex.EncodeToString(w.b.Hash[:4]))
	}
	in := "in " + string(m.Reporting)
	if project {
		in = "in " + string(m.OwnCurrency(w.scope))
	} else if slices.ContainsFunc(m.Readings().Rows, func(r *office.Reading) bool {
		return !r.Group && m.OwnCurrency(r.Code) != m.Reporting
	}) {
		in += ", pages of projects in their own currency"
	}
	return strings.Join(append(parts, in, "latest baselines"), " · ")
}

// The forms that a brief is written in.
const (
	FormPDF  = "pdf"
	FormHTML = "html"
	FormXLSX = "xlsx"
	FormPPTX = "pptx"
	FormZIP  = "zip" // tables as CSV
)

// Forms lists them.
var Forms = []string{FormPDF, FormHTML, FormXLSX, FormPPTX, FormZIP}

// Write writes a brief in one form.
func (b *Brief) Write(form string) ([]byte, error) {
	switch form {
	case FormPDF:
		return brief.PDF(b.Pack, b.Sheets)
	case FormHTML:
		return brief.HTML(b.Pack)
	case FormXLSX:
		return brief.Workbook(b.Title, b.Pack.Made, b.tables)
	case FormPPTX:
		return brief.Slides(b.Pack)
	case FormZIP:
		return brief.CSV(b.Pack.Made, b.tables, record.Guard)
	}
	return nil, office.Refusef("A brief is written as pdf, html, xlsx, pptx or zip, not as %q.", form)
}

// FormOf tells the form by the name of a file.
func FormOf(name string) (string, error) {
	form := strings.ToLower(strings.TrimPrefix(path.Ext(name), "."))
	if !slices.Contains(Forms, form) {
		return "", office.Refusef("A brief is written to a file that ends in .pdf, .html, .xlsx, .pptx or .zip, not %q.", name)
	}
	return form, nil
}

// Made is a brief as the list of those made shows it.
type Made struct {
	ID          int64
	Title       string
	Spec        Spec
	Hash        string
	At          time.Time
	Actor       string
	Leaves      int
	Forms       []string // in which it was made
	Withdrawn   string   // the reason; "" where it stands
	WithdrawnBy string
}

// Make makes a brief and freezes it in every form.
func (o Room) Make(ctx context.Context, a right.Actor, spec Spec, tell func(string)) (int64, error) {
	return o.MakeFor(ctx, a, a, spec, Forms, tell)
}

// MakeFor makes one of what a reader sees, in some forms.
func (o Room) MakeFor(ctx context.Context, a, reader right.Actor, spec Spec, in []string, tell func(string)) (int64, error) {
	if err := right.Check(a, right.Brief); err != nil {
		return 0, err
	}
	if tell == nil {
		tell = func(string) {}
	}
	tell("Putting the pages together")
	b, err := o.Brief(ctx, reader, spec)
	if err != nil {
		return 0, err
	}
	spec.At = b.m.Period.Code
	forms := make(map[string][]byte)
	for _, form := range in {
		tell(fmt.Sprintf("Writing %d pages as %s", len(b.Sheets), form))
		if forms[form], err = b.Write(form); err != nil {
			return 0, err
		}
	}
	text, err := json.Marshal(spec)
	if err != nil {
		return 0, err
	}
	return o.Store().
		SaveBrief(ctx, store.Brief{Title: b.Title, Spec: string(text), Period: int64(b.m.Period.Number), Hash: b.Hash[:], At: o.Now(), Actor: a.Name, Leaves: len(b.Sheets)}, forms)
}

// List lists the briefs that were made, the last first.
func (o Room) List(ctx context.Context, a right.Actor) ([]Made, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	list, err := o.Store().Briefs(ctx)
	if err != nil {
		return nil, err
	}
	var out []Made
	for _, b := range list {
		x, err := madeBrief(&b)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
}

func madeBrief(b *store.Brief) (Made, error) {
	x := Made{
		ID:          b.ID,
		Title:       b.Title,
		Hash:        hex.EncodeToString(b.Hash),
		At:          time.UnixMilli(b.At).UTC(),
		Actor:       b.Actor,
		Leaves:      b.Leaves,
		Withdrawn:   b.Withdrawn.String,
		WithdrawnBy: b.WithdrawnBy.String,
	}
	of := strings.Split(b.Forms, ",")
	for _, form := range Forms {
		if slices.Contains(of, form) {
			x.Forms = append(x.Forms, form)
		}
	}
	if err := json.Unmarshal([]byte(b.Spec), &x.Spec); err != nil {
		return x, fmt.Errorf("brief %d: %w", b.ID, err)
	}
	return x, nil
}

// Form gives a brief that was made, with the bytes of then; nil where there
// is none of that form.
func (o Room) Form(ctx context.Context, a right.Actor, id int64, form string) (title string, body []byte, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return "", nil, err
	}
	b, err := o.Store().BriefOf(ctx, id)
	if err != nil || b == nil {
		return "", nil, err
	}
	body, err = o.Store().BriefForm(ctx, id, form)
	return b.Title, body, err
}

// Withdraw marks a brief as withdrawn, with a reason; it stays on record.
func (o Room) Withdraw(ctx context.Context, a right.Actor, id int64, why string) error {
	if err := right.Check(a, right.Brief); err != nil {
		return err
	}
	b, err := o.Store().BriefOf(ctx, id)
	switch why = strings.TrimSpace(why); {
	case err != nil:
		return err
	case b == nil:
		return office.Refusef("There is no such brief.")
	case b.Withdrawn.Valid:
		return office.Refusef("That brief is withdrawn already: %s.", b.Withdrawn.String)
	case why == "":
		return office.Refusef("A brief is only withdrawn with a reason; say why it no longer holds.")
	}
	return o.Store().WithdrawBrief(ctx, id, why, a.Name, o.Now())
}
