// Package typing keeps what people type into forms until it is sent or dropped: by
// account, page and form, for nobody else.
package typing

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }

// What is kept is bounded: a form in bytes, and how many forms of one person.
const (
	longest = 512 << 10
	most    = 200
	long    = 500 // of an address, of what tells a form, of a title
)

// Form is a form of a page with what was typed into it: the names and values of its
// fields, in their order, as JSON.
type Form struct {
	Place, Form, Title string
	Fields             json.RawMessage
	Since              time.Time
}

// Keep keeps what someone has typed into a form, instead of what was kept of it before.
// Without fields it is dropped.
func (o Room) Keep(ctx context.Context, a right.Actor, f Form) error {
	if a.Account == 0 {
		return office.Refusef("Nobody is signed in, so there is nobody to keep it for.")
	}
	if len(f.Place) > long || len(f.Form) > long || len(f.Title) > long || f.Place == "" {
		return office.Refusef("This form has no address that could be kept.")
	}
	if len(f.Fields) == 0 {
		return o.Drop(ctx, a, f.Place, f.Form)
	}
	if len(f.Fields) > longest {
		return office.Refusef("What is typed here is more than %d kB, which is not kept until it is sent.", longest>>10)
	}
	var fields [][2]string
	if err := json.Unmarshal(f.Fields, &fields); err != nil {
		return office.Refusef("What is typed here did not come as names and values, so it is not kept.")
	}
	ok, err := o.Store().KeepTyped(ctx, store.Typed{
		Account: a.Account, Place: f.Place, Form: f.Form, Title: f.Title, At: o.Now(), Body: string(f.Fields),
	}, most)
	if err == nil && !ok {
		err = office.Refusef("You have typed into %d forms and sent none of them, so no more are kept. Your desk lists them: send or drop some.", most)
	}
	return err
}

// Drop forgets what someone has typed into a form.
func (o Room) Drop(ctx context.Context, a right.Actor, place, form string) error {
	list, err := o.On(ctx, a, place)
	if err != nil || !slices.ContainsFunc(list, func(f Form) bool { return f.Form == form }) {
		return err // nothing is written where nothing is kept
	}
	return o.Store().DropTyped(ctx, a.Account, place, form)
}

// On gives what someone has typed into the forms of a page.
func (o Room) On(ctx context.Context, a right.Actor, place string) ([]Form, error) {
	list, err := o.Store().TypedOn(ctx, a.Account, place)
	return forms(list), wrap(err)
}

// Of lists the forms that someone has typed into and not sent, without fields, those that
// wait the longest first.
func (o Room) Of(ctx context.Context, a right.Actor) ([]Form, error) {
	list, err := o.Store().TypedOf(ctx, a.Account)
	return forms(list), wrap(err)
}

func forms(list []store.Typed) (out []Form) {
	for _, t := range list {
		out = append(out, Form{
			Place: t.Place, Form: t.Form, Title: t.Title, Fields: json.RawMessage(t.Body), Since: time.UnixMilli(t.Begun).UTC(),
		})
	}
	return out
}

func wrap(err error) error {
	if err != nil {
		return fmt.Errorf("read what was typed: %w", err)
	}
	return nil
}
