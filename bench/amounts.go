package main

import (
	"context"
	"fmt"
	"os/exec"
	"strconv"
	"strings"
	"time"

	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/amounts"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// amountsStep types money on a copy of the database: what is kept of many cells at once, what
// a change of a block and sending cost; and reads what is authorised and the ledger.
func amountsStep(ctx context.Context, dir string) (result, error) {
	o, done, err := onCopy(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer done()
	invite, err := account.In(o).Invite(ctx, me, account.Account{Login: "typist", Name: "Typist", Role: right.Analyst})
	if err != nil {
		return nil, err
	}
	id, err := account.In(o).Enter(ctx, invite, "", "", password)
	if err != nil {
		return nil, err
	}
	a, _, err := account.In(o).ActorOf(ctx, id)
	if err != nil {
		return nil, err
	}
	r := make(result)
	for _, cells := range []int{500, 5000} {
		if r[fmt.Sprintf("typing money: %d cells kept", cells)], err = keepCells(ctx, o, a, cells); err != nil {
			return nil, err
		}
	}
	return r, fundingAndLedger(ctx, o, r)
}

// keepCells keeps so many cells of a draft, several times.
func keepCells(ctx context.Context, o *office.Office, a right.Actor, cells int) (float64, error) {
	room := amounts.In(o)
	var took []time.Duration
	for i := range 7 {
		m, err := o.Moment(ctx, a, office.Ask{At: lastPeriod, Own: true})
		if err != nil {
			return 0, err
		}
		t, err := room.Table(ctx, a, m, code(i*7), "forecast", "")
		if err != nil {
			return 0, err
		}
		typed := make(map[string]amounts.Typed)
		for n := 0; len(typed) < cells; n++ {
			line := t.Lines[n%len(t.Lines)].Key
			typed[fmt.Sprintf("%s/%d-%02d", line, 2027+n/len(t.Lines)/12, 1+n/len(t.Lines)%12)] = amounts.Typed{Text: fmt.Sprint(100 + n)}
		}
		begun := time.Now()
		if err := room.Keep(ctx, a, m, code(i*7), "forecast", typed); err != nil {
			return 0, err
		}
		took = append(took, time.Since(begun))
	}
	return median(took), nil
}

// fundingAndLedger authorises money for every project and tells a total for the ledger, and
// reads both screens.
func fundingAndLedger(ctx context.Context, o *office.Office, r result) error {
	var money strings.Builder
	money.WriteString("scope,source,period,decision,amount\n")
	for i := range projects {
		fmt.Fprintf(&money, "%s,Source %d,2025-01,board,%d.00\n", code(i), i%9, 100_000+i)
	}
	files := []gather.File{
		{Name: "funding.csv", Body: []byte(money.String())},
		{Name: "controls.csv", Body: []byte("source,period,amount\npostings," + lastPeriod + ",1.00\n")},
	}
	report, err := entry.In(o).Gather(ctx, me, files, nil, entry.Options{})
	if err != nil {
		return err
	}
	if len(report.Refusals) > 0 {
		return fmt.Errorf("refused: %s", report.Refusals[0])
	}
	b, err := within(ctx, o)
	if err != nil {
		return err
	}
	for name, path := range map[string]string{"funding of 1,000 projects": "/funding?at=" + lastPeriod, "the ledger to the cent": "/ledger?at=" + lastPeriod} {
		first, _, err := b.get(path)
		if err != nil {
			return err
		}
		r[name+", first"] = ms(first)
		if r[name], err = b.median(path, 9); err != nil {
			return err
		}
	}
	return nil
}

// moneyKeysStep types into a table of money of 60 rows and 36 columns in the browser, and
// pastes 2,000 cells into it.
func moneyKeysStep(ctx context.Context, dir string) (result, error) {
	addr, _, stop, err := start(dir, "serve", "--db", database(dir))
	if err != nil {
		return nil, err
	}
	defer stop()
	out, err := exec.CommandContext(ctx, "node", "bench/keys.mjs", "http://"+addr, "bench", password, "/amounts/"+code(7)+"/forecast", "paste").Output()
	if err != nil {
		return nil, fmt.Errorf("node bench/keys.mjs: %w", err)
	}
	r := make(result)
	for i, text := range strings.Fields(string(out)) {
		name := [...]string{"typing money: from a key to the painted cell, 95th percentile", "typing money: 2,000 cells pasted and painted"}[i]
		if r[name], err = strconv.ParseFloat(text, 64); err != nil {
			return nil, err
		}
	}
	return r, nil
}
