package account

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Account is someone who may sign in.
type Account struct {
	ID          int64
	Login, Name string
	Role        right.Role
	Projects    []string // codes, of a lead
	Waiting     bool     // no password is set yet
	Disabled    bool
	Second      bool // it has a second factor
}

// Event is something that was done to an account.
type Event = store.AccountEvent

// Lasting of one-time codes.
const (
	inviteLasts = 7 * 24 * time.Hour
	firstLasts  = 24 * time.Hour
)

var loginForm = regexp.MustCompile(`^[a-z0-9][a-z0-9._@+-]{1,79}$`)

// badSignIn does not tell which of the two is wrong.
var badSignIn = office.Refusef("The name or the password is not right. After a few attempts you have to wait a minute.")

// SignIn gives the account of a name and password. It is ErrRefused where they
// do not belong together, or the account is disabled.
func (o Room) SignIn(ctx context.Context, login, password string) (int64, error) {
	a, err := o.Store().AccountBy(ctx, 0, strings.ToLower(strings.TrimSpace(login)))
	if err != nil {
		return 0, fmt.Errorf("sign in: %w", err)
	}
	hash := ""
	if a != nil {
		hash = a.Password
	}
	if !right.PasswordIs(password, hash) || a == nil || a.Disabled {
		return 0, badSignIn
	}
	return a.ID, nil
}

// Known tells whether a sign-in name is somebody's.
func (o Room) Known(ctx context.Context, login string) (bool, error) {
	a, err := o.Store().AccountBy(ctx, 0, login)
	return a != nil, err
}

// ActorOf gives who an account is; ok is false where there is none, or it is
// disabled.
func (o Room) ActorOf(ctx context.Context, account int64) (a right.Actor, ok bool, err error) {
	x, err := o.Store().AccountBy(ctx, account, "")
	if err != nil || x == nil || x.Disabled || account == 0 {
		return a, false, err
	}
	a = right.Actor{Name: x.Name, Role: right.Role(x.Role), Account: x.ID, Login: x.Login}
	if err = o.grant(ctx, &a); err != nil {
		return a, false, err
	}
	if err == nil {
		a.Lacks, err = o.lacks(ctx, a)
	}
	return a, err == nil, err
}

// lacks tells whether an actor's role is asked for a second factor that they do not have.
func (o Room) lacks(ctx context.Context, a right.Actor) (bool, error) {
	roles, _, err := o.Required(ctx)
	if err != nil || !slices.Contains(roles, string(a.Role)) {
		return false, err
	}
	has, err := o.HasSecond(ctx, a.Account)
	return !has, err
}

// grant fills in what an account may state, read and approve beside its role.
func (o Room) grant(ctx context.Context, a *right.Actor) (err error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return err
	}
	if a.Role == right.Lead {
		if a.Projects, err = o.Store().ProjectsOf(ctx, a.Account); err != nil {
			return err
		}
		a.States = statesOf(s, a.Login)
	}
	mine := func(g *portfolio.Grant) bool { return strings.EqualFold(g.Account, a.Login) }
	limited := s.Office.ReadOwn[string(a.Role)]
	for i := range s.Office.Grants {
		g := &s.Office.Grants[i]
		switch {
		case !mine(g):
		case g.Lets == portfolio.LetsRead:
			limited = true
		case g.Lets == portfolio.LetsAdminister:
			a.Administers = append(a.Administers, g.Scope)
		case a.Approves == nil:
			a.Approves = []int64{}
		}
	}
	if a.Role == right.Administrator { // whoever gives the rights reads what they are about
		limited = false
	}
	if limited {
		a.Sight = make(portfolio.Sight)
		for _, id := range a.Projects {
			a.Sight.Let(id, portfolio.AllKinds)
		}
		for _, x := range a.States {
			a.Sight.Let(x.Project, portfolio.AllKinds)
		}
	}
	for i := range s.Office.Grants {
		g := &s.Office.Grants[i]
		if !mine(g) && (g.Lets != portfolio.LetsRead || g.Account != record.Everybody) {
			continue
		}
		for _, p := range s.Everyone() {
			switch {
			case !s.Office.Covers(g, p):
			case g.Lets == portfolio.LetsApprove:
				a.Approves = append(a.Approves, p.ID)
			case limited && g.Lets == portfolio.LetsRead:
				a.Sight.Let(p.ID, g.Kinds)
			}
		}
	}
	return nil
}

// statesOf lists what an account may state for projects that are not its own.
func statesOf(s *book.Snapshot, login string) (out []right.Statement) {
	for _, x := range s.Office.Stating {
		if !strings.EqualFold(x.Account, login) {
			continue
		}
		st := right.Statement{Project: x.Project, From: int(x.From), Until: int(x.Until)}
		for _, k := range x.Kinds {
			st.Kinds = append(st.Kinds, k.String())
		}
		out = append(out, st)
	}
	return out
}

// HasAccounts tells whether anyone can sign in.
func (o Room) HasAccounts(ctx context.Context) (bool, error) {
	list, err := o.Store().Accounts(ctx)
	return len(list) > 0, err
}

// FirstCode makes the one-time code of the first administrator; "" where there
// are accounts already. An earlier code no longer holds.
func (o Room) FirstCode(ctx context.Context, a right.Actor) (string, error) {
	if err := right.Check(a, right.Admit); err != nil {
		return "", err
	}
	if any, err := o.HasAccounts(ctx); err != nil || any {
		return "", err
	}
	code, hash := right.NewCode()
	return code, o.Store().KeepFirstPass(ctx, hash, o.Clock().Add(firstLasts).UnixMilli())
}

// Accounts lists all accounts, and the last things done to them.
func (o Room) Accounts(ctx context.Context, a right.Actor) ([]Account, []Event, error) {
	if err := right.Check(a, right.Admit); err != nil {
		return nil, nil, err
	}
	list, err := o.Store().Accounts(ctx)
	if err != nil {
		return nil, nil, err
	}
	projects, err := o.Store().AccountProjects(ctx)
	if err != nil {
		return nil, nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, nil, err
	}
	seconds, err := o.Store().Seconds(ctx)
	if err != nil {
		return nil, nil, err
	}
	out := make([]Account, len(list))
	for i, x := range list {
		out[i] = Account{
			ID:       x.ID,
			Login:    x.Login,
			Name:     x.Name,
			Role:     right.Role(x.Role),
			Waiting:  x.Password == "",
			Disabled: x.Disabled,
			Second:   seconds[x.ID],
		}
		for _, id := range projects[x.ID] {
			if p := s.ByID(id); p != nil {
				out[i].Projects = append(out[i].Projects, p.Code)
			}
		}
	}
	events, err := o.Store().AccountEvents(ctx, 20)
	return out, events, err
}

// Invite makes an account and gives the one-time code with which its owner
// sets a password.
func (o Room) Invite(ctx context.Context, a right.Actor, x Account) (code string, err error) {
	if err := right.Check(a, right.Admit); err != nil {
		return "", err
	}
	x.Login, x.Name = strings.ToLower(strings.TrimSpace(x.Login)), strings.TrimSpace(x.Name)
	if err := checkAccount(x); err != nil {
		return "", err
	}
	projects, err := o.projectIDs(ctx, x)
	if err != nil {
		return "", err
	}
	code, hash := right.NewCode()
	c := &store.AccountChange{
		At: o.Now(), Actor: a.Name, What: fmt.Sprintf("invited as %s", x.Role), Projects: projects, Pass: hash, Expires: o.Clock().Add(inviteLasts).UnixMilli(),
		Account: store.Account{Login: x.Login, Name: x.Name, Role: string(x.Role)},
	}
	_, err = o.Store().ChangeAccount(ctx, c)
	if errors.Is(err, store.ErrNamed) { // pages tell people apart by name
		c.Account.Name = fmt.Sprintf("%s (%s)", x.Name, x.Login)
		_, err = o.Store().ChangeAccount(ctx, c)
	}
	if errors.Is(err, store.ErrTaken) {
		return "", office.Refusef("The sign-in name %q is taken; take another one.", x.Login)
	}
	if err == nil {
		access.In(o.Office).Note(ctx, a, access.Rights, fmt.Sprintf("%s: invited as %s", x.Login, x.Role))
	}
	return code, err
}

func checkAccount(x Account) error {
	switch {
	case !loginForm.MatchString(x.Login):
		return office.Refusef("A sign-in name has 2 to 80 small letters, digits and . _ @ + -, not %q.", x.Login)
	case x.Name == "" || len(x.Name) > 100:
		return office.Refusef("Give the person's name, up to 100 characters.")
	case !slices.Contains(right.Roles, x.Role):
		return office.Refusef("A role is analyst, lead, executive or administrator, not %q.", x.Role)
	}
	return nil
}

// projectIDs finds the projects of a lead; nobody else has any.
func (o Room) projectIDs(ctx context.Context, x Account) ([]int64, error) {
	out := []int64{}
	if x.Role != right.Lead {
		return out, nil
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	for _, code := range x.Projects {
		p := s.Project(code)
		if p == nil {
			return nil, office.Refusef("There is no project %q; write the codes with commas between them.", code)
		}
		out = append(out, p.ID)
	}
	return out, nil
}

// ResetPassword gives a one-time code for a new password. The old one and all
// sessions end.
func (o Room) ResetPassword(ctx context.Context, a right.Actor, id int64) (code string, err error) {
	code, hash := right.NewCode()
	err = o.change(ctx, a, id, func(c *store.AccountChange) error {
		c.Account.Password, c.Pass, c.Expires, c.SignOut, c.What = "", hash, o.Clock().
			Add(inviteLasts).
			UnixMilli(),
			true, "password reset"
		return nil
	})
	if err != nil {
		return "", err
	}
	return code, o.Store().SetSecond(ctx, id, "", nil, o.Now()) // whoever lost the one may have lost both
}

// Disable shuts an account out, or lets it in again.
func (o Room) Disable(ctx context.Context, a right.Actor, id int64, disabled bool) error {
	return o.change(ctx, a, id, func(c *store.AccountChange) error {
		c.Account.Disabled, c.SignOut, c.What = disabled, disabled, "disabled"
		if !disabled {
			c.What = "enabled"
		}
		return nil
	})
}

// SetRole changes the role of an account, and a lead's projects.
func (o Room) SetRole(ctx context.Context, a right.Actor, id int64, role right.Role, projects []string) error {
	return o.change(ctx, a, id, func(c *store.AccountChange) error {
		x := Account{Login: c.Account.Login, Name: c.Account.Name, Role: role, Projects: projects}
		if err := checkAccount(x); err != nil {
			return err
		}
		ids, err := o.projectIDs(ctx, x)
		c.Account.Role, c.Projects, c.What = string(role), ids, fmt.Sprintf("role set to %s", role)
		if role == right.Lead {
			c.What += ", for " + strings.Join(projects, ", ")
		}
		return err
	})
}

// change alters an account, unless nobody would be left to administer.
func (o Room) change(ctx context.Context, a right.Actor, id int64, do func(*store.AccountChange) error) error {
	if err := right.Check(a, right.Admit); err != nil {
		return err
	}
	const tries = 5
	for range tries {
		now, err := o.Store().AccountBy(ctx, id, "")
		if err != nil {
			return err
		}
		if now == nil || id == 0 {
			return office.Refusef("There is no such account any more.")
		}
		c := &store.AccountChange{At: o.Now(), Actor: a.Name, Account: *now, Was: *now}
		if err := do(c); err != nil {
			return err
		}
		switch _, err = o.Store().ChangeAccount(ctx, c); {
		case errors.Is(err, store.ErrNobodyLeft):
			return office.Refusef("%s is the only administrator who can sign in; make another one first.", now.Name)
		case err == nil:
			access.In(o.Office).Note(ctx, a, access.Rights, now.Login+": "+c.What)
			return nil
		case !errors.Is(err, store.ErrMoved):
			return err
		}
	}
	return office.Refusef("Others kept changing the account; nothing was done. Try again.")
}

// Welcome is what a one-time code opens: the first administrator's account, or
// one that waits for a password.
type Welcome struct {
	First       bool
	Login, Name string
}

var badCode = office.Refusef("This link is used up or too old. Ask an administrator for a new one.")

// Greet tells what a one-time code opens. It is ErrRefused where it opens
// nothing.
func (o Room) Greet(ctx context.Context, code string) (*Welcome, error) {
	w, _, err := o.greet(ctx, code)
	return w, err
}

func (o Room) greet(ctx context.Context, code string) (*Welcome, *store.Account, error) {
	id, ok, err := o.Store().Pass(ctx, right.CodeHash(code), o.Now())
	if err != nil {
		return nil, nil, err
	}
	if !ok {
		return nil, nil, badCode
	}
	if id == 0 {
		return &Welcome{First: true}, &store.Account{Role: string(right.Administrator)}, nil
	}
	a, err := o.Store().AccountBy(ctx, id, "")
	if err != nil {
		return nil, nil, err
	}
	if a == nil || a.Disabled {
		return nil, nil, badCode
	}
	return &Welcome{Login: a.Login, Name: a.Name}, a, nil
}

// Enter sets the password of the account that a one-time code opens, and uses
// the code up. The first administrator gives a sign-in name and a name too.
func (o Room) Enter(ctx context.Context, code, login, name, password string) (int64, error) {
	w, a, err := o.greet(ctx, code)
	if err != nil {
		return 0, err
	}
	if w.First {
		a.Login, a.Name = strings.ToLower(strings.TrimSpace(login)), strings.TrimSpace(name)
		if err := checkAccount(Account{Login: a.Login, Name: a.Name, Role: right.Administrator}); err != nil {
			return 0, err
		}
	}
	was := *a
	if a.Password, err = o.newPassword(ctx, a, password); err != nil {
		return 0, err
	}
	id, err := o.Store().
		ChangeAccount(ctx, &store.AccountChange{At: o.Now(), Actor: a.Name, What: "password set", Account: *a, Was: was, Spent: right.CodeHash(code), SignOut: true})
	switch {
	case errors.Is(err, store.ErrSpent):
		return 0, badCode
	case errors.Is(err, store.ErrMoved):
		return 0, office.Refusef("The account was changed just now; nothing was done. Try again.")
	}
	if err == nil {
		access.In(o.Office).Note(ctx, right.Actor{Account: id, Name: a.Name}, access.Passwords, "set by a one-time link")
	}
	return id, err
}

func (o Room) newPassword(ctx context.Context, a *store.Account, password string) (string, error) {
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return "", err
	}
	if err := right.CheckPassword(a.Login, password, a.Name, s.Office.Name); err != nil {
		return "", office.Refusef("%s.", tell.Capital(err.Error()))
	}
	return right.HashPassword(password)
}

// ChangePassword sets the actor's own password. Their other sessions end.
func (o Room) ChangePassword(ctx context.Context, a right.Actor, session, old, password string) error {
	if err := right.Check(a, right.Keep); err != nil {
		return err
	}
	x, err := o.Store().AccountBy(ctx, a.Account, "")
	if err != nil {
		return err
	}
	if x == nil || !right.PasswordIs(old, x.Password) {
		access.In(o.Office).Note(ctx, a, access.Wrong, "on the page of the account")
		return office.Refusef("The present password is not right.")
	}
	was := *x
	if x.Password, err = o.newPassword(ctx, x, password); err != nil {
		return err
	}
	_, err = o.Store().
		ChangeAccount(ctx, &store.AccountChange{At: o.Now(), Actor: a.Name, What: "password changed", Account: *x, Was: was})
	if errors.Is(err, store.ErrMoved) {
		return office.Refusef("Your account was changed just now; nothing was done. Try again.")
	}
	if err != nil {
		return err
	}
	access.In(o.Office).Note(ctx, a, access.Passwords, "changed")
	return o.Store().EndSessions(ctx, a.Account, nil, store.SessionHash(session))
}

// OpenSession is a place where the actor is signed in.
type OpenSession struct {
	ID      string
	Begun   time.Time
	Expires time.Time
	Agent   string
	This    bool
}

// OpenSessions lists where the actor is signed in.
func (o Room) OpenSessions(ctx context.Context, a right.Actor, session string) ([]OpenSession, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return nil, err
	}
	list, err := o.Store().SessionsOf(ctx, a.Account, time.Now().UnixMilli())
	var out []OpenSession
	for _, s := range list {
		out = append(
			out,
			OpenSession{
				ID:      fmt.Sprintf("%x", s.Hash),
				Begun:   time.UnixMilli(s.Begun).UTC(),
				Expires: time.UnixMilli(s.Expires).UTC(),
				Agent:   s.Agent,
				This:    slices.Equal(s.Hash, store.SessionHash(session)),
			},
		)
	}
	return out, err
}

// EndSessions signs the actor out: in one place, or with "" everywhere.
func (o Room) EndSessions(ctx context.Context, a right.Actor, id string) error {
	if err := right.Check(a, right.Keep); err != nil {
		return err
	}
	var one []byte
	if id != "" {
		if _, err := fmt.Sscanf(id, "%x", &one); err != nil {
			return office.Refusef("There is no such session.")
		}
	}
	return o.Store().EndSessions(ctx, a.Account, one, nil)
}

// Sessions is where the web application keeps its sessions.
func (o Room) Sessions() store.SessionStorage { return o.Store().Sessions() }

// UseSession notes that a session is used, at most once a minute, and tells whether it still
// holds: one that nobody used for longer than idle ends.
func (o Room) UseSession(ctx context.Context, session string, idle time.Duration) (bool, error) {
	once := min(time.Minute, idle/4)
	return o.Store().UseSession(ctx, session, time.Now().UnixMilli(), once.Milliseconds(), idle.Milliseconds())
}

// ClaimSession says whose a new session is.
func (o Room) ClaimSession(ctx context.Context, session string, account int64, agent string) error {
	if len(agent) > 200 {
		agent = agent[:200]
	}
	return o.Store().ClaimSession(ctx, session, account, agent, time.Now().UnixMilli())
}
