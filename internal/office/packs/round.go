package packs

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/core/pack"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// Round sends the packs that are due and were not sent on their occasion, and gives how many.
func (o Room) Round(ctx context.Context, a right.Actor, to Addresses) (sent int, err error) {
	if err := right.Check(a, right.Install); err != nil {
		return 0, err
	}
	m, err := o.Moment(ctx, a, office.Ask{Own: true})
	if err != nil || m.Empty {
		return 0, err
	}
	today := calendar.DateIn(o.Clock())
	for _, p := range packsOf(m.Snapshot()) {
		at, occasion := o.occasion(m, &p, today)
		if occasion == "" {
			continue
		}
		if done, err := o.Store().SentOn(ctx, p.Code, occasion); err != nil || done {
			if err != nil {
				return sent, err
			}
			continue
		}
		switch _, err := o.send(ctx, a, p.Code, at, occasion, to, nil); {
		case errors.Is(err, office.ErrRefused):
			// it is told on the page of the packs, and tried again until it is too late
		case err != nil:
			return sent, err
		default:
			sent++
		}
	}
	return sent, nil
}

// occasion tells of which period a pack is due today, and names why; "" where it is not.
func (o Room) occasion(m *office.Moment, p *Pack, today calendar.Date) (at, occasion string) {
	switch {
	case p.When.Weekly:
		if p.When.Weeks(today) {
			return m.Period.Code, "week of " + today.String()
		}
	case p.When.Closing:
		var last *store.Cut
		for _, c := range m.Snapshot().Cuts {
			if last == nil || c.Period > last.Period {
				last = &c
			}
		}
		if last == nil {
			return "", ""
		}
		ps := m.Snapshot().Office.Periods
		if pack.Due(p.When.On(dayOf(last.At), m.Snapshot().Office.CalendarOf("")), today) {
			return ps.Code(calendar.Period(last.Period)), fmt.Sprintf("closing of %s, cut %d", ps.Code(calendar.Period(last.Period)), last.ID)
		}
	}
	return "", ""
}

// interval is the time between rounds.
const interval = time.Minute

// Begin sends what is due beside the server, until what it returns is called.
func (o Room) Begin(ctx context.Context, a right.Actor, to Addresses, log *slog.Logger) (stop func()) {
	ctx, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() {
		defer close(done)
		for {
			err := office.Safely(log, "packs", func() error {
				_, err := o.Round(ctx, a, to)
				return err
			})
			if err != nil && ctx.Err() == nil {
				log.Warn("packs", "err", err)
			}
			select {
			case <-ctx.Done():
				return
			case <-time.After(interval):
			}
		}
	}()
	return func() {
		cancel()
		<-done
	}
}
