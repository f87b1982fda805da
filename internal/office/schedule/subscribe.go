package schedule

import (
	"context"

	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// mostAddresses is how many addresses of calendars an account has at once.
const mostAddresses = 20

// Subscribe makes a token with which a calendar program reads, without signing in, what an
// address of the calendar asks for, as the actor sees it. The token is told once.
func (o Room) Subscribe(ctx context.Context, a right.Actor, query string) (token string, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return "", err
	}
	list, err := o.Subscriptions(ctx, a)
	switch {
	case err != nil:
		return "", err
	case a.Account == 0:
		return "", office.Refusef("Only who signs in has a calendar of their own.")
	case len(list) >= mostAddresses:
		return "", office.Refusef("You have %d addresses already; take one back first.", len(list))
	}
	token, hash := right.NewCode()
	return token, o.Store().Subscribe(ctx, a.Account, hash, query, o.Now())
}

// Subscriptions lists the addresses of the actor.
func (o Room) Subscriptions(ctx context.Context, a right.Actor) ([]store.Subscription, error) {
	if err := right.Check(a, right.Read); err != nil || a.Account == 0 {
		return nil, err
	}
	return o.Store().Subscriptions(ctx, a.Account)
}

// Unsubscribe takes an address of the actor back: what it told of is read there no more.
func (o Room) Unsubscribe(ctx context.Context, a right.Actor, id int64) error {
	if err := right.Check(a, right.Read); err != nil {
		return err
	}
	return o.Store().Unsubscribe(ctx, a.Account, id)
}

// Subscribed gives the account that made a token, and what its address asks for; zero where
// there is none.
func (o Room) Subscribed(ctx context.Context, token string) (account int64, query string, err error) {
	s, err := o.Store().SubscriptionBy(ctx, right.CodeHash(token))
	if err != nil || s == nil {
		return 0, "", err
	}
	return s.Account, s.Query, nil
}
