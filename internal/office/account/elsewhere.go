package account

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"strings"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/right"
	"turret/internal/store"
)

// Person is who signed in at a provider, and what it says of them.
type Person struct {
	Issuer, Subject string
	Login, Name     string     // what they would be called here
	Role            right.Role // "": the provider gives them none
}

// keeper stands for the provider where it makes an account or changes a role.
func keeper(p Person) right.Actor {
	return right.Actor{Name: "provider " + p.Issuer, Role: right.Operator, From: p.Issuer}
}

// Elsewhere gives the account of somebody who signed in at a provider, as the provider says
// they are now: whoever comes for the first time gets one, and a role that changed there
// changes here. An account of the same name that was there before is not theirs until
// somebody says so.
func (o Room) Elsewhere(ctx context.Context, p Person) (id int64, err error) {
	if p.Role == "" {
		return 0, office.Refusef("You are known, but nothing that is said of you there gives you a role here. Ask whoever gives out roles where you signed in.")
	}
	if id, err = o.Store().AccountOf(ctx, store.Identity{Issuer: p.Issuer, Subject: p.Subject}); err != nil {
		return 0, err
	}
	if id == 0 {
		return o.welcomed(ctx, p)
	}
	x, err := o.Store().AccountBy(ctx, id, "")
	if err != nil {
		return 0, err
	}
	if x == nil || x.Disabled {
		return 0, office.Refusef("Your account is shut out. Ask an administrator.")
	}
	if x.Role == string(p.Role) {
		return id, nil
	}
	return id, o.change(ctx, keeper(p), id, func(c *store.AccountChange) error {
		c.Account.Role, c.What = string(p.Role), fmt.Sprintf("role set to %s by where they sign in", p.Role)
		return nil
	})
}

// welcomed makes the account of somebody who came for the first time.
func (o Room) welcomed(ctx context.Context, p Person) (int64, error) {
	login := strings.ToLower(strings.TrimSpace(p.Login))
	if !loginForm.MatchString(login) {
		login = fmt.Sprintf("person-%x", sha256.Sum256([]byte(p.Issuer+"\x00"+p.Subject)))[:16]
	}
	name := strings.TrimSpace(p.Name)
	if name == "" || len(name) > 100 {
		name = login
	}
	c := &store.AccountChange{
		At: o.Now(), Actor: keeper(p).Name, What: fmt.Sprintf("came as %s from where they sign in", p.Role), Projects: []int64{},
		Account: store.Account{Login: login, Name: name, Role: string(p.Role)}, Identity: store.Identity{Issuer: p.Issuer, Subject: p.Subject},
	}
	id, err := o.Store().ChangeAccount(ctx, c)
	if errors.Is(err, store.ErrNamed) { // pages tell people apart by name
		c.Account.Name = fmt.Sprintf("%s (%s)", name, login)
		id, err = o.Store().ChangeAccount(ctx, c)
	}
	if errors.Is(err, store.ErrTaken) {
		return 0, office.Refusef("There is an account %q here already, which signs in with a password. If it is yours, whoever runs the server says so with: turret account link %s --subject %s", login, login, p.Subject)
	}
	if err == nil {
		access.In(o.Office).Note(ctx, keeper(p), access.Rights, fmt.Sprintf("%s: came as %s", login, p.Role))
	}
	return id, err
}

// Link says that an account is of whom a provider knows by a subject.
func (o Room) Link(ctx context.Context, a right.Actor, id int64, issuer, subject string) error {
	if issuer == "" || subject == "" {
		return office.Refusef("Name the issuer and the subject that it knows the person by.")
	}
	err := o.change(ctx, a, id, func(c *store.AccountChange) error {
		c.Identity, c.What = store.Identity{Issuer: issuer, Subject: subject}, "linked to "+subject+" of "+issuer
		return nil
	})
	if errors.Is(err, store.ErrLinked) {
		return office.Refusef("%s of %s is another account's.", subject, issuer)
	}
	return err
}
