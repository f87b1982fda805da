package entry

import (
	"context"
	"fmt"
	"math"
	"regexp"
	"strconv"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
)

// replanned asks about a sheet that states other amounts for the plan of an approved
// baseline: a list of budgets beside what was spent is seldom meant to change it.
func (d *doubts) replanned(ctx context.Context, u *gather.Understanding, is amounts, keys []cellOf) (asked bool, err error) {
	if d.p.opts.origin == office.Planned {
		return false, nil // the plan is what is typed
	}
	var differ int
	var now, was int64
	var first cellOf
	for _, k := range keys {
		if k.kind != portfolio.PlanPart || !d.approved(k) || namesBaseline(u.File+" "+u.Sheet, k.version) {
			continue
		}
		known, err := d.last(ctx, k)
		if err != nil {
			return false, err
		}
		plan := known[k.code]
		if len(plan) == 0 {
			continue
		}
		for at, amount := range is.cells[k] {
			if before := plan[at]; before != amount {
				if differ++; differ == 1 {
					first = k
				}
				now, was = now+amount, was+before
			}
		}
	}
	if differ == 0 {
		return false, nil
	}
	own := d.p.projectCurrency(d.p.projectCode(first.project))
	unit := math.Pow10(own.Exponent())
	u.Ask("trust", fmt.Sprintf(
		"%s of the plan of baseline %d of %s, which is approved, would be other amounts: %s %s in place of %s in all; say that they are right, or state them as a new baseline",
		fmt.Sprintf("%d %s", differ, map[bool]string{true: "cell", false: "cells"}[differ == 1]), first.version, d.p.projectCode(first.project), written(float64(now)/unit), own, written(float64(was)/unit),
	), "yes")
	return true, nil
}

// aBaseline is the number of a baseline as names of files have it.
var aBaseline = regexp.MustCompile(`(?i)(?:^|[^a-z])(?:baseline|basisplan|basislinie)[ ._-]*0*(\d+)`)

// namesBaseline tells a name that says of itself which baseline it states.
func namesBaseline(name string, number int32) bool {
	for _, m := range aBaseline.FindAllStringSubmatch(name, -1) {
		if n, err := strconv.Atoi(m[1]); err == nil && n == int(number) {
			return true
		}
	}
	return false
}

// approved tells whether the baseline that a cell of a plan is of was approved.
func (d *doubts) approved(k cellOf) bool {
	p := d.p.snap.ByID(k.project)
	if p == nil {
		return false
	}
	b := p.Baseline(int(k.version))
	return b != nil && b.Counts()
}
