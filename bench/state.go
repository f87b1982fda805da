package main

import (
	"context"
	"fmt"
	"sync"
	"time"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/stating"
	"turret/internal/right"
)

// stateStep has leads state on a copy of the database: what a draft costs as it is typed,
// what it would do, sending it, the desk, and fifty who type at once.
func stateStep(ctx context.Context, dir string) (result, error) {
	o, done, err := onCopy(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer done()
	leads := make([]right.Actor, people)
	for i := range leads {
		code, err := account.In(o).Invite(ctx, me, account.Account{
			Login: fmt.Sprintf("lead%d", i), Name: fmt.Sprintf("Lead %d", i), Role: right.Lead, Projects: []string{code(i * 7)},
		})
		if err != nil {
			return nil, err
		}
		id, err := account.In(o).Enter(ctx, code, "", "", password)
		if err != nil {
			return nil, err
		}
		if leads[i], _, err = account.In(o).ActorOf(ctx, id); err != nil {
			return nil, err
		}
	}
	room := stating.In(o)
	var desk, keep, effect, send []time.Duration
	for i := range 15 {
		m, err := o.Moment(ctx, leads[i], office.Ask{At: lastPeriod, Own: true})
		if err != nil {
			return nil, err
		}
		project := code(i * 7)
		s, err := room.Sheet(ctx, leads[i], m, project, "progress")
		if err != nil {
			return nil, err
		}
		was := s.Grid.Cell(percentField).Is
		for _, x := range []struct {
			into *[]time.Duration
			do   func() error
		}{
			{&desk, func() error { _, err := room.Desk(ctx, leads[i], m); return err }},
			{&keep, func() error { return typeSome(ctx, room, leads[i], m, project, was, i) }},
			{&effect, func() error { _, err := room.Summary(ctx, leads[i], m, project); return err }},
			{&send, func() error { _, err := room.Send(ctx, leads[i], m, project); return err }},
		} {
			begun := time.Now()
			if err := x.do(); err != nil {
				return nil, err
			}
			*x.into = append(*x.into, time.Since(begun))
		}
	}
	together, err := allType(ctx, o, leads)
	if err != nil {
		return nil, err
	}
	return result{
		"stating: the desk": median(desk), "stating: a draft is kept": median(keep), "stating: what a draft would do": median(effect),
		"stating: sent": median(send), "50 people state": median(together),
	}, nil
}

const percentField = "5/percent"

// typeSome types a percent and a note into a statement.
func typeSome(ctx context.Context, room stating.Room, a right.Actor, m *office.Moment, project, was string, n int) error {
	return room.Keep(ctx, a, m, project, "progress", map[string]stating.Typed{
		percentField: {Was: was, Text: fmt.Sprint(30 + n)}, "5/note": {Text: fmt.Sprintf("typed %d", n)},
	})
}

// allType has everyone type every pause, for a while, and gives how long each took.
func allType(ctx context.Context, o *office.Office, leads []right.Actor) ([]time.Duration, error) {
	var mu sync.Mutex
	var took []time.Duration
	var failed error
	var wait sync.WaitGroup
	until := time.Now().Add(watch)
	for i, a := range leads {
		wait.Go(func() {
			time.Sleep(pause * time.Duration(i) / people)
			for n := 0; time.Now().Before(until); n++ {
				begun := time.Now()
				m, err := o.Moment(ctx, a, office.Ask{At: lastPeriod, Own: true})
				if err == nil {
					err = typeSome(ctx, stating.In(o), a, m, code(i*7), "", n)
				}
				mu.Lock()
				took = append(took, time.Since(begun))
				if err != nil {
					failed = err
				}
				mu.Unlock()
				time.Sleep(pause)
			}
		})
	}
	wait.Wait()
	return took, failed
}
