package figure

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
)

// Web is what the network of all projects tells of one of them, and the network itself, to
// ask it why.
type Web struct {
	network.Told
	Plain bool                      // nothing ties the project, and nothing is wrong with it
	Net   func() *network.Portfolio // made when it is asked for first
	View  int
	Near  int                    // the limit of near-critical, in working days
	By    []exact.Ratio          // what durations that are left are stretched by, by view; none where that is not known
	Seen  func(code string) bool // whether the reader sees a project; nil: all
}

// The stretching of durations by what was achieved so far stays within these.
var leastStretch, mostStretch = exact.Of(1, 2), exact.Whole(2)

// Stretch is what durations that are left take, times as long, if the project goes on as
// until now: 1 ÷ SPI(t), within 0.5 and 2. It is none where SPI(t) is not known, or it is
// too early.
func (e *Eval) Stretch() exact.Ratio {
	p, ok := e.Subject.(*Project)
	if v := e.Of(SPIT).Get(SPIT); ok && v.Known && v.R.Sign() >= 0 && p.early() == "" {
		if v.R.Sign() == 0 {
			return mostStretch
		}
		by := exact.Whole(1).Quo(v.R)
		switch {
		case by.Cmp(leastStretch) < 0:
			return leastStretch
		case by.Cmp(mostStretch) > 0:
			return mostStretch
		}
		return by
	}
	return exact.Ratio{}
}

// usualEarly is the elapsed share in percent below which what goes by past performance
// stays silent, unless the project sets its own.
const usualEarly = 15

// EarlyLimit gives the elapsed share below which it is too early, from what a project sets,
// in millionths of a percent; below zero it sets none.
func EarlyLimit(set int64) exact.Ratio {
	if set >= 0 {
		return exact.Of(set, 100*portfolio.Quantity)
	}
	return exact.Of(usualEarly, 100)
}

// SpeaksOn gives the day on which it is no longer too early for a project; zero where that
// is not known.
func SpeaksOn(v *portfolio.View) calendar.Date {
	start, finish := v.BaselineSpan()
	if start == 0 || finish == 0 || !v.Cal.Worked() {
		return 0
	}
	all := exact.Whole(int64(v.Cal.Duration(start, finish)))
	days := EarlyLimit(v.TooEarly).Mul(all)
	n, _ := days.Round()
	if exact.Whole(n).Cmp(days) < 0 {
		n++
	}
	return v.Cal.Day(v.Cal.Instant(start-1) + max(1, int(n)))
}

// early gives the reason why what goes by past performance stays silent; "" where it need
// not.
func (s *Project) early() string {
	num, den := s.Progress.ElapsedShare()
	if den <= 0 || exact.Of(num, den).Cmp(EarlyLimit(s.TooEarly)) >= 0 {
		return ""
	}
	if d := SpeaksOn(s.View); d != 0 {
		return "too early: known from " + d.Time().Format("2 Jan 2006") + " on"
	}
	return "too early"
}

// networked gives the entries that the network tells.
func (s *Project) networked(id ID) Value {
	if why := s.unwoven(); why != "" {
		return Value{Why: why}
	}
	w := s.web
	switch id {
	case FinishNetwork:
		return day(w.Finish, "nothing of it stands in the network")
	case FinishStretched:
		if !w.By[w.View].Is() {
			return Value{Why: first(s.early(), "SPI(t) is not known")}
		}
		return day(w.Told.Stretched, "nothing of it stands in the network")
	case LinksBroken:
		return Value{Known: true, N: int64(w.Broken)}
	case Conflicts:
		return Value{Known: true, N: int64(w.Told.Conflicts)}
	}
	if w.Unfinished == 0 {
		return Value{Why: "nothing of it is unfinished"}
	}
	n := map[ID]int{FloatLeast: w.Float, Critical: w.Told.Critical, NearCritical: w.Told.Near}[id]
	return Value{Known: true, N: int64(n)}
}

// unwoven is why the network tells nothing of the project, or "".
func (s *Project) unwoven() string {
	switch st := s.StateAt(s.Day); {
	case st != portfolio.Active && st != portfolio.OnHold:
		return "a project that is " + string(st) + " stands outside the network"
	case s.web == nil:
		return "the network was not computed"
	case len(s.Activities) == 0:
		return "it has no activities"
	}
	return ""
}

// finishes are the ways in which a finish is told.
var finishes = [...]ID{FinishStated, FinishComputed, FinishPace, FinishNetwork, FinishStretched}

// finishSpread is how far they lie apart, on the project's calendar.
func finishSpread(e *Eval, _ calendar.Period) Value {
	p, ok := e.Subject.(*Project)
	if !ok {
		return Value{Why: "it belongs to projects"}
	}
	var first, last calendar.Date
	n := 0
	for _, id := range finishes {
		v := e.Get(id)
		if !v.Known {
			continue
		}
		d := calendar.Date(v.N)
		if n++; n == 1 {
			first, last = d, d
		}
		first, last = min(first, d), max(last, d)
	}
	if n < 2 {
		return Value{Why: "fewer than two finishes are known"}
	}
	return Value{Known: true, N: int64(p.Cal.Slip(first, last))}
}

// mostTold is how many activities a trail lists.
const mostTold = 40

// webFacts lists what an entry of the network rests on.
func (s *Project) webFacts(id ID) (out []Fact) {
	if s.unwoven() != "" {
		return nil
	}
	w := s.web
	switch id {
	case FinishNetwork, FinishStretched:
		net := w.Net()
		if id == FinishStretched {
			net = net.Stretched(w.By)
		}
		last := net.Last(w.View)
		if last < 0 {
			return nil
		}
		return w.chain(net, last)
	case LinksBroken, Conflicts:
		for i := range w.Net().Stated {
			l := &w.Net().Stated[i]
			if l.Link < 0 || l.Ends[1].View != w.View || id == Conflicts && l.Ends[0].View == w.View {
				continue
			}
			if days, ok := w.Net().Broken(l.Link); ok && days > 0 {
				out = append(out, Fact{
					What:   fmt.Sprintf("%s to %s, %s", l.From, l.To, typed(l.Type, l.Lag)),
					Detail: "misses it by",
					Value:  Whole(Workdays, int64(days)),
					Source: l.Source,
				})
			}
		}
		return out
	}
	for _, i := range w.Net().Unfinished(w.View) {
		d := &w.Net().Dates[i]
		if id == Critical && d.Total > 0 || id == NearCritical && d.Total > w.Near || len(out) == mostTold {
			break
		}
		if id == NearCritical && d.Total <= 0 {
			continue
		}
		f := Fact{
			What:   w.name(w.Net(), i),
			Detail: fmt.Sprintf("early finish %s, late finish %s", on(d.EarlyFinish), on(d.LateFinish)),
			Value:  Whole(Workdays, int64(d.Total)),
			Source: w.source(w.Net(), i),
		}
		out = append(out, f)
	}
	return out
}

// chain tells why an activity of the project has its early finish, back along what holds
// it, as far as the reader sees the projects.
func (w *Web) chain(net *network.Portfolio, i int32) (out []Fact) {
	for _, step := range net.Chain(i) {
		if v := net.Views[net.Places[step.Activity].View]; w.Seen != nil && !w.Seen(v.Code) {
			return append(out, Fact{What: "an activity of a project that you do not read"})
		}
		d := &net.Dates[step.Activity]
		f := Fact{
			What:   fmt.Sprintf("%s: %s", w.name(net, step.Activity), span(d.EarlyStart, d.EarlyFinish)),
			Value:  Whole(Day, int64(d.EarlyFinish)),
			Source: w.source(net, step.Activity),
		}
		switch step.Cause {
		case network.ByLink:
			l := &net.Links[step.Link]
			f.Detail = "held by " + net.Name(int(l.From)) + ", " + typed(l.Type, int(l.Lag))
		case network.ByFact:
			f.Detail = "it is finished"
		case network.ByPeriod:
			f.Detail = "the period has ended, and it goes on from there"
		case network.ByConstraint:
			f.Detail = "held by its constraint"
		default:
			f.Detail = "its stated dates"
		}
		if out = append(out, f); len(out) == mostTold {
			break
		}
	}
	return out
}

func (w *Web) name(net *network.Portfolio, i int32) string {
	p := net.Places[i]
	v := net.Views[p.View]
	a := &v.Activities[p.Activity]
	if p.View != w.View {
		return v.Code + "/" + a.Code + " " + a.Name
	}
	return a.Code + " " + a.Name
}

func (w *Web) source(net *network.Portfolio, i int32) portfolio.Source {
	p := net.Places[i]
	v := net.Views[p.View]
	return v.Status(p.Activity, v.Period).Source
}

// typed writes a link: FS, FS + 2 d.
func typed(t network.Type, lag int) string {
	switch {
	case lag > 0:
		return fmt.Sprintf("%s + %d d", t, lag)
	case lag < 0:
		return fmt.Sprintf("%s − %d d", t, -lag)
	}
	return t.String()
}

func on(d calendar.Date) string { return d.Time().Format("2 Jan 2006") }

func span(start, finish calendar.Date) string {
	if start == finish {
		return on(finish)
	}
	return on(start) + " to " + on(finish)
}
