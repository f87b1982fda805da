package account

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// View is a named state of the board.
type View = store.View

// Views lists the actor's views and those shared with them. The command line
// has none.
func (o Room) Views(ctx context.Context, a right.Actor) ([]View, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return nil, err
	}
	return o.Store().Views(ctx, a.Account)
}

// Kept says that a view of the name is there, and is not the one that was seen.
type Kept struct{ Is View }

func (k *Kept) Error() string {
	return fmt.Sprintf("You keep a view %q already, and it is not as you opened it. Look at it, give another name, or keep this one in its place.", k.Is.Name)
}

// SaveView keeps the query of a board's address under a name, in place of the view of that name
// if that still has the mark that was seen; else it is refused with Kept.
func (o Room) SaveView(ctx context.Context, a right.Actor, name, query string, shared bool, seen string) (int64, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return 0, err
	}
	if shared {
		if err := right.Check(a, right.Share); err != nil {
			return 0, err
		}
	}
	name = strings.TrimSpace(name)
	if name == "" || len(name) > 60 {
		return 0, office.Refusef("Give the view a name of up to 60 characters.")
	}
	if len(query) > 4000 {
		return 0, office.Refusef("The view asks for too much to be kept; take fewer columns.")
	}
	id, other, err := o.Store().SaveView(ctx, store.View{Account: a.Account, Name: name, Query: query, Shared: shared}, seen)
	if other != nil {
		return 0, &Kept{Is: *other}
	}
	return id, err
}

// DropView removes one of the actor's own views.
func (o Room) DropView(ctx context.Context, a right.Actor, id int64) error {
	if err := right.Check(a, right.Keep); err != nil {
		return err
	}
	ok, err := o.Store().DropView(ctx, a.Account, id)
	if err == nil && !ok {
		return office.Refusef("You have no such view; only its owner can remove a shared one.")
	}
	return err
}

// SetDefaultView says which view the actor's board opens with; zero: none.
func (o Room) SetDefaultView(ctx context.Context, a right.Actor, id int64) error {
	list, err := o.Views(ctx, a)
	if err != nil {
		return err
	}
	if id == 0 {
		return o.Store().SetDefaultView(ctx, a.Account, 0)
	}
	for _, v := range list {
		if v.ID == id {
			return o.Store().SetDefaultView(ctx, a.Account, id)
		}
	}
	return office.Refusef("There is no such view.")
}

// DefaultView gives the id and query of the view that the actor's board opens
// with; zero and "" without one.
func (o Room) DefaultView(ctx context.Context, a right.Actor) (int64, string, error) {
	if err := right.Check(a, right.Keep); err != nil {
		return 0, "", err
	}
	return o.Store().DefaultView(ctx, a.Account)
}
