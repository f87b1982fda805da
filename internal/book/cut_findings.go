package book

import (
	"turret/internal/core/calendar"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
)

func (w *frost) source(s portfolio.Source) {
	w.i(int64(s.File))
	w.i(int64(s.Row))
}

func (r *frostReader) source() portfolio.Source {
	return portfolio.Source{File: int32(r.I()), Row: int32(r.I())}
}

// findings writes what was found in the data of a project.
func (w *frost) findings(list []finding.Finding) {
	w.u(uint64(len(list)))
	for i := range list {
		f := &list[i]
		for _, s := range [...]string{f.Check, string(f.Severity), f.Record, f.Text, f.Values, string(f.State), f.Place.Table} {
			w.t(s)
		}
		w.i(f.Money)
		w.i(f.Worth)
		w.source(f.Source)
		w.source(f.Against)
		w.i(int64(f.Since))
		w.u(uint64(len(f.Place.Key)))
		for _, c := range f.Place.Key {
			w.t(c.Column)
			w.t(c.Text)
		}
		w.u(uint64(len(f.Place.Columns)))
		for _, c := range f.Place.Columns {
			w.t(c)
		}
		w.u(flag(f.Answer != nil))
		if a := f.Answer; a != nil {
			w.u(flag(a.Accepted))
			w.i(int64(a.From))
			w.i(int64(a.Until))
			w.t(a.Reason)
			w.t(a.Values)
			w.t(a.By)
		}
	}
}

func (r *frostReader) findings() []finding.Finding {
	var out []finding.Finding
	for n := r.U(); n > 0 && !r.Bad; n-- {
		f := finding.Finding{
			Check:    r.t(),
			Severity: finding.Severity(r.t()),
			Record:   r.t(),
			Text:     r.t(),
			Values:   r.t(),
			State:    finding.State(r.t()),
		}
		f.Place.Table = r.t()
		f.Money, f.Worth, f.Source, f.Against, f.Since = r.I(), r.I(), r.source(), r.source(), calendar.Period(r.I())
		for k := r.U(); k > 0 && !r.Bad; k-- {
			f.Place.Key = append(f.Place.Key, finding.Cell{Column: r.t(), Text: r.t()})
		}
		for k := r.U(); k > 0 && !r.Bad; k-- {
			f.Place.Columns = append(f.Place.Columns, r.t())
		}
		if r.U() == 1 {
			f.Answer = &portfolio.Answer{
				Check:    f.Check,
				Record:   f.Record,
				Accepted: r.U() == 1,
				From:     calendar.Period(r.I()),
				Until:    calendar.Period(r.I()),
				Reason:   r.t(),
				Values:   r.t(),
				By:       r.t(),
			}
		}
		out = append(out, f)
	}
	return out
}
