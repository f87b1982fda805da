package packs

import (
	"context"
	"slices"
	"strings"
	"time"

	"turret/internal/right"
	"turret/internal/store"
)

// Shared is a brief that is read by its link.
type Shared struct {
	Title, Reader string
	Forms         []string
	Until         time.Time
	Withdrawn     string // why it no longer holds, or ""
	brief         int64
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
	return x, &Shared{
		Title: b.Title, Reader: x.Reader, Forms: strings.Split(x.Forms, ","), Until: time.UnixMilli(x.Until).UTC(), Withdrawn: b.Withdrawn.String, brief: b.ID,
	}, nil
}
