package packs

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"turret/internal/core/figure"
	"turret/internal/core/pack"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/asking"
	"turret/internal/office/brief"
	"turret/internal/office/feedback"
	"turret/internal/right"
	"turret/internal/store"
)

// Shared is a brief that is read by its link.
type Shared struct {
	Title, Reader string
	Forms         []string
	Until         time.Time
	Withdrawn     string      // why it no longer holds, or ""
	Asks          bool        // its reader can ask about it
	Project       string      // the code of the one project that it is of, or ""
	Figures       [][2]string // name and title, of what can be asked about of a project
	projects      []string    // codes of those that it is of, as far as its reader sees them
	brief         int64
	by            string // the reader's sign-in name, or mail address
	moment        *office.Moment
}

// Open gives the brief of a link, to whoever has it, and counts that it was opened; nil where the
// link opens nothing: there is none, it has ended, or it was revoked.
func (o Room) Open(ctx context.Context, token string) (*Shared, error) {
	x, s, err := o.shared(ctx, token)
	if err != nil || s == nil {
		return nil, err
	}
	return s, o.Store().Opened(ctx, x.ID, o.Now())
}

// Form gives the brief of a link in a form that it offers; nil where there is none.
func (o Room) Form(ctx context.Context, token, form string) (title string, body []byte, err error) {
	_, s, err := o.shared(ctx, token)
	if err != nil || s == nil || !slices.Contains(s.Forms, form) {
		return "", nil, err
	}
	body, err = o.Store().BriefForm(ctx, s.brief, form)
	return s.Title, body, err
}

func (o Room) shared(ctx context.Context, token string) (*store.Sending, *Shared, error) {
	x, err := o.Store().SendingOf(ctx, 0, right.CodeHash(token))
	if err != nil || x == nil || x.Revoked != 0 || x.Until < o.Now() {
		return nil, nil, err
	}
	b, err := o.Store().BriefOf(ctx, x.Brief)
	if err != nil || b == nil {
		return nil, nil, err
	}
	s := &Shared{
		Title: b.Title, Reader: x.Reader, Forms: strings.Split(x.Forms, ","), Until: time.UnixMilli(x.Until).UTC(), Withdrawn: b.Withdrawn.String, brief: b.ID,
	}
	return x, s, o.askable(ctx, x, b, s)
}

// pointed are the figures that a reader can point at.
var pointed = []figure.ID{figure.BAC, figure.AC, figure.EACComputed, figure.EACStated, figure.CPI, figure.SPIT, figure.FinishStated, figure.FinishSlip, figure.RiskExposure}

// askable tells what a reader can ask about: the projects of the brief, as far as they see them.
// They are not listed: the brief may name fewer.
func (o Room) askable(ctx context.Context, x *store.Sending, b *store.Brief, s *Shared) error {
	var spec brief.Spec
	if err := json.Unmarshal([]byte(b.Spec), &spec); err != nil {
		return fmt.Errorf("brief %d: %w", b.ID, err)
	}
	actor := right.Actor{Name: x.Reader, Role: right.Executive}
	s.by = x.Address
	if x.Account != 0 {
		var err error
		var ok bool
		if actor, ok, err = account.In(o.Office).ActorOf(ctx, x.Account); err != nil || !ok {
			return err // who is no more let in asks nothing
		}
		s.by = actor.Login
	}
	m, err := o.Moment(ctx, actor, office.Ask{At: spec.At, Scope: spec.Scope})
	if err != nil || m.Empty {
		return err
	}
	s.moment, s.Asks = m, true
	for _, r := range m.Readings().Rows {
		if !r.Group && (r.Code == spec.Scope || spec.Scope == "" || spec.Scope == pack.Everything || office.Within(m.Readings(), r, spec.Scope)) {
			s.projects = append(s.projects, r.Code)
		}
	}
	if len(s.projects) == 1 {
		s.Project = s.projects[0]
	}
	for _, id := range pointed {
		s.Figures = append(s.Figures, [2]string{figure.Get(id).Name, figure.Get(id).Title})
	}
	return nil
}

// Comment takes what a reader says of a brief: on a figure of a project, or on the project where
// figure is "", it becomes a question to the office; on the whole where project is "" too, it is
// feedback. It tells what became of it; "" where the link opens nothing.
func (o Room) Comment(ctx context.Context, token, project, name, text string) (done string, err error) {
	project = strings.TrimSpace(project)
	_, s, err := o.shared(ctx, token)
	if err != nil || s == nil || s.moment == nil {
		return "", err
	}
	if project == "" && name != "" {
		return "", &office.Misfit{Column: "project", Why: "name the project whose figure you mean"}
	}
	if project == "" {
		return "The office has what you say.", feedback.In(o.Office).GiveAs(ctx, s.by, s.Title, text)
	}
	if i := slices.IndexFunc(s.projects, func(p string) bool { return strings.EqualFold(p, project) }); i >= 0 {
		project = s.projects[i]
	} else {
		return "", office.Refusef("The brief is not of a project %q; write its code as the brief has it, or leave it empty.", project)
	}
	about := "project"
	if name != "" {
		about = "figure " + name
	}
	code, err := asking.In(o.Office).Comment(ctx, s.by, s.moment, asking.Question{Project: project, About: about, Text: text})
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("The office is asked: it is question %s of %s.", code, project), nil
}
