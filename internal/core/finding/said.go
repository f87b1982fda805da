package finding

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// saidChecks look at what was said of activities and milestones.
var saidChecks = []Check{
	{
		Code:     "date-impossible",
		Title:    "Date that cannot be",
		Severity: Error,
		Limit:    "25",
		Unit:     "years from the period",
		About:    "A date so far from the period that it must be a slip of the pen, or of the baseline and in no period of the office's calendar.",
		run:      (*run).impossibleDates,
	},
	{
		Code:     "finish-before-start",
		Title:    "Finish before start",
		Severity: Error,
		About:    "A finish that lies before its start, current, actual or of the baseline.",
		run:      (*run).finishBeforeStart,
	},
	{
		Code:     "two-dates",
		Title:    "Milestone with two dates",
		Severity: Note,
		About:    "A milestone whose current start and finish are different days: its finish counts.",
		run:      (*run).twoDates,
	},
	{
		Code:     "actual-ahead",
		Title:    "Actual date after the period",
		Severity: Error,
		About:    "An actual start or finish that lies after the period's last day.",
		run:      (*run).actualAhead,
	},
	{
		Code:     "progress-range",
		Title:    "Progress beyond its range",
		Severity: Error,
		About:    "A percentage that is not between 0 and 100, or more units done than there are.",
		run:      (*run).progressRange,
	},
	{
		Code:  "done-without-finish",
		Title: "100% without an actual finish",
		About: "An activity said to be complete without an actual finish, or finished and not complete.",
		run:   (*run).doneWithoutFinish,
	},
	{
		Code:  "progress-back",
		Title: "Progress went back",
		About: "Less progress than a period before, or an actual finish that was taken back.",
		run:   (*run).progressBack,
	},
	{
		Code:  "progress-not-said",
		Title: "Started, progress never said",
		About: "A started activity whose progress was never said: it earns nothing.",
		run:   (*run).progressNotSaid,
	},
	{
		Code:  "milestone-past-due",
		Title: "Milestone past due without a new date",
		About: "A milestone whose baseline and current dates have gone and that is not met.",
		run:   (*run).milestonePastDue,
	},
}

func (r *run) twoDates() {
	for i := range r.Activities {
		s := r.now(i)
		if r.Activities[i].Kind != portfolio.Milestone || r.done(s) || s.Start == 0 || s.Finish == 0 || s.Start == s.Finish {
			continue
		}
		r.add(Finding{
			Record: r.activity(i) + ", two dates", Values: on(s.Start) + ", " + on(s.Finish), Source: s.Source, Place: r.progress(i, "start", "finish"),
			Text: fmt.Sprintf("Milestone %s has its start on %s and its finish on %s; its finish counts. State one day for both.", r.name(i), on(s.Start), on(s.Finish)),
		})
	}
}

func (r *run) impossibleDates() {
	years := r.periods()
	low, high := r.Day-calendar.Date(years*366), r.Day+calendar.Date(years*366)
	for i := range r.Activities {
		s := r.now(i)
		list := []struct {
			name, column string
			d            calendar.Date
		}{{"start", "start", s.Start}, {"finish", "finish", s.Finish}, {"actual start", "actual_start", s.Began}, {"actual finish", "actual_finish", s.Done}}
		for _, x := range list {
			if x.d != 0 && (x.d < low || x.d > high) {
				r.add(Finding{
					Record: r.activity(i) + ", " + x.name, Values: on(x.d), Source: s.Source, Place: r.progress(i, x.column),
					Text: fmt.Sprintf(
						"Activity %s has its %s on %s, more than %d years from %s; correct the date.",
						r.name(i),
						x.name,
						on(x.d),
						years,
						r.period(r.at),
					),
				})
			}
		}
		if b := r.Row(i); b != nil {
			for _, d := range [...]calendar.Date{b.Start, b.Finish} {
				if d != 0 && (d < low || d > high) {
					r.add(Finding{
						Record: r.activity(i) + ", baseline", Values: on(d), Source: b.Source, Place: r.baseline(i, "baseline_start", "baseline_finish"),
						Text: fmt.Sprintf(
							"Activity %s has a baseline date of %s, more than %d years from %s; correct the date.",
							r.name(i),
							on(d),
							years,
							r.period(r.at),
						),
					})
					break
				}
				if d != 0 && !r.Office.Periods.Hold(d) {
					r.add(Finding{
						Record: r.activity(i) + ", baseline", Values: on(d), Source: b.Source, Place: r.baseline(i, "baseline_start", "baseline_finish"),
						Text: fmt.Sprintf(
							"Activity %s has a baseline date of %s, which lies in no period of the office's calendar; correct the date, or draw more periods.",
							r.name(i),
							on(d),
						),
					})
					break
				}
			}
		}
	}
}

func (r *run) finishBeforeStart() {
	for i := range r.Activities {
		s := r.now(i)
		start, finish, what, source := s.Start, s.Finish, "current", s.Source
		switch {
		case s.Began != 0 && s.Done != 0:
			start, finish, what = s.Began, s.Done, "actual"
		case s.Began != 0:
			start = s.Began
		}
		if b := r.Row(i); b != nil && b.Start != 0 && b.Finish != 0 && b.Finish < b.Start {
			start, finish, what, source = b.Start, b.Finish, "baseline", b.Source
		}
		if start == 0 || finish == 0 || finish >= start {
			continue
		}
		f := Finding{
			Record: r.activity(i) + ", " + what, Values: on(start) + ", " + on(finish), Source: source,
			Text: fmt.Sprintf(
				"Activity %s has its %s finish on %s, before its start on %s; correct one of them.",
				r.name(i),
				what,
				on(finish),
				on(start),
			),
		}
		switch what {
		case "current":
			f.Place = r.progress(i, "start", "finish")
		case "actual":
			f.Place = r.progress(i, "actual_start", "actual_finish")
		default:
			f.Place = r.baseline(i, "baseline_start", "baseline_finish")
		}
		r.add(f)
	}
}

func (r *run) actualAhead() {
	for i := range r.Activities {
		s := r.now(i)
		for _, x := range [...]struct {
			name, column string
			d            calendar.Date
		}{{"actual start", "actual_start", s.Began}, {"actual finish", "actual_finish", s.Done}} {
			if x.d > r.Day {
				r.add(Finding{
					Record: r.activity(i) + ", " + x.name, Values: on(x.d), Source: s.Source, Place: r.progress(i, x.column, "start", "finish"),
					Text: fmt.Sprintf(
						"Activity %s has its %s on %s, after the last day of %s; state it as a current date, or correct it.",
						r.name(i),
						x.name,
						on(x.d),
						r.period(r.at),
					),
				})
			}
		}
	}
}

func (r *run) progressRange() {
	for i := range r.Activities {
		s, a := r.now(i), &r.Activities[i]
		if s.Percent > 100*portfolio.Quantity {
			r.add(Finding{
				Record: r.activity(i), Values: percent(s.Percent), Source: s.Source, Place: r.progress(i, "percent"),
				Text: fmt.Sprintf(
					"Activity %s is said to be %s done; a percentage lies between 0 and 100, correct it.",
					r.name(i),
					percent(s.Percent),
				),
			})
		}
		if a.Rule == "units" && s.Units > a.Units {
			done, all := money.FormatScaled(
				s.Units,
				portfolio.QuantityScale,
			), money.FormatScaled(
				a.Units,
				portfolio.QuantityScale,
			)
			done, all = trim(done), trim(all)
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: done + " of " + all, Source: s.Source, Against: a.Source, Place: r.progress(i, "units_done"),
				Text: fmt.Sprintf(
					"Activity %s has %s units done and %s in all; it counts as complete. Correct the units done, or the units in all.",
					r.name(i),
					done,
					all,
				),
			})
		}
	}
}

func (r *run) doneWithoutFinish() {
	for i := range r.Activities {
		s, a := r.now(i), &r.Activities[i]
		if a.Kind != portfolio.Task || a.Rule != "stated" || !a.Leaf {
			continue
		}
		switch full := s.Percent >= 100*portfolio.Quantity; {
		case full && s.Done == 0:
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: "100%, no finish", Source: s.Source, Place: r.progress(i, "percent", "actual_finish"),
				Text: fmt.Sprintf(
					"Activity %s is said to be 100%% done and has no actual finish, so it counts as late once its baseline finish has come; state the day it was finished.",
					r.name(i),
				),
			})
		case !full && s.Percent >= 0 && r.done(s):
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: percent(s.Percent) + ", " + on(s.Done), Source: s.Source, Place: r.progress(i, "percent", "actual_finish"),
				Text: fmt.Sprintf(
					"Activity %s was finished on %s and is said to be %s done; it counts as complete. Correct one of them.",
					r.name(i),
					on(s.Done),
					percent(s.Percent),
				),
			})
		}
	}
}

func (r *run) progressBack() {
	for i := range r.Activities {
		s, was := r.now(i), r.Status(i, r.at-1)
		switch {
		case was.Percent > s.Percent && s.Percent >= 0:
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: percent(was.Percent) + ", " + percent(s.Percent), Source: s.Source, Against: was.Source, Place: r.progress(i, "percent"),
				Text: fmt.Sprintf(
					"Activity %s went back from %s done in %s to %s; correct it, or say in the note what was undone.",
					r.name(i),
					percent(was.Percent),
					r.period(was.SaidIn),
					percent(s.Percent),
				),
			})
		case was.Units > s.Units && s.Units >= 0:
			a, b := trim(
				money.FormatScaled(was.Units, portfolio.QuantityScale),
			), trim(
				money.FormatScaled(s.Units, portfolio.QuantityScale),
			)
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: a + ", " + b, Source: s.Source, Against: was.Source, Place: r.progress(i, "units_done"),
				Text: fmt.Sprintf(
					"Activity %s went back from %s units done in %s to %s; correct it, or say in the note what was undone.",
					r.name(i),
					a,
					r.period(was.SaidIn),
					b,
				),
			})
		case was.Done != 0 && s.Done == 0:
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: on(was.Done) + ", none", Source: s.Source, Against: was.Source, Place: r.progress(i, "percent", "actual_finish"),
				Text: fmt.Sprintf(
					"Activity %s was finished on %s, and that is taken back; state its actual finish again, or say in the note why it is open.",
					r.name(i),
					on(was.Done),
				),
			})
		}
	}
}

func (r *run) progressNotSaid() {
	for _, l := range r.Leaves {
		i := l.Activity
		s, rule := r.now(i), r.Activities[i].Rule
		if r.began(s) && !r.done(s) && (rule == "stated" && s.Percent < 0 || rule == "units" && s.Units < 0) {
			column := "percent"
			if rule == "units" {
				column = "units_done"
			}
			r.add(Finding{
				Record: r.activity(i), Values: "never", Source: s.Source, Place: r.progress(i, column),
				Text: fmt.Sprintf(
					"Activity %s started on %s and its progress was never said, so it earns 0; state it.",
					r.name(i),
					on(s.Began),
				),
			})
		}
	}
}

func (r *run) milestonePastDue() {
	if !r.active() {
		return
	}
	for _, m := range dates.Milestones(r.View) {
		if m.State != dates.Missed || m.Current > r.Day {
			continue
		}
		last := "no current date"
		if m.Current != 0 {
			last = "expected on " + on(m.Current)
		}
		r.add(Finding{
			Record: r.activity(
				m.Activity,
			), Values: on(m.Baseline) + ", " + last, Source: m.Source, Place: r.progress(m.Activity, "finish", "actual_finish"),
			Text: fmt.Sprintf(
				"Milestone %s was planned for %s (%s) and is not met; state when it is expected now, or when it was met.",
				r.name(m.Activity),
				on(m.Baseline),
				last,
			),
		})
	}
}
