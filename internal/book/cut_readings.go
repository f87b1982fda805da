package book

import (
	"encoding/binary"
	"math/big"
	"runtime"
	"slices"
	"strings"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/rollup"
	"turret/internal/core/standing"
	"turret/internal/store/format"
)

// frost writes readings for a cut.
type frost struct{ b []byte }

func (w *frost) u(n uint64) { w.b = binary.AppendUvarint(w.b, n) }
func (w *frost) i(n int64)  { w.b = binary.AppendVarint(w.b, n) }
func (w *frost) t(s string) { w.u(uint64(len(s))); w.b = append(w.b, s...) }

func (w *frost) value(v figure.Value) {
	switch {
	case !v.Known:
		w.u(0)
		w.t(v.Why)
	case v.R.Is():
		r := v.R.Rat()
		w.u(1)
		w.t(string(r.Num().Bytes()))
		w.i(int64(r.Sign()))
		w.t(string(r.Denom().Bytes()))
	default:
		w.u(2)
		w.i(v.N)
	}
}

// EncodeReadings packs the readings of a cut: projects in their own currency,
// and all in the reporting one.
func EncodeReadings(own, reporting *Readings) []byte {
	var w frost
	w.u(readingsFormat)
	w.u(uint64(figure.Len()))
	for i := range figure.Len() {
		w.t(figure.Get(figure.ID(i)).Name)
	}
	for _, rs := range []*Readings{own, reporting} {
		var half frost
		half.i(int64(rs.Period))
		half.u(uint64(len(rs.Rows)))
		for _, r := range rs.Rows {
			var row frost
			row.reading(r)
			half.t(string(row.b))
		}
		w.t(string(half.b))
	}
	return w.b
}

func (w *frost) reading(r *Reading) {
	w.u(flag(r.Group) | flag(r.HasSaid)<<1)
	for _, s := range [...]string{r.Code, r.Name, r.Parent, r.Lead, r.Sponsor, r.Stage, string(r.State), string(r.Currency), r.Why} {
		w.t(s)
	}
	w.u(uint64(len(r.Values)))
	for _, v := range r.Values {
		w.value(v)
	}
	w.u(uint64(len(r.Terms)))
	for _, t := range r.Terms {
		w.u(uint64(t.ID))
		w.i(int64(t.Back))
		w.value(t.Value)
	}
	for d := range r.Standing {
		w.u(uint64(r.Standing[d])<<2 | uint64(r.Computed[d]))
	}
	w.u(uint64(r.Stated))
	w.u(uint64(len(r.Reasons)))
	for _, x := range r.Reasons {
		w.u(uint64(x.Dimension))
		w.u(uint64(x.Reading))
		w.value(x.Value)
		w.t(string(x.Direction))
		w.t(x.Watch)
		w.t(x.Act)
		w.u(uint64(x.Standing))
		w.t(x.Silent)
		w.t(x.Own)
		w.t(x.Rates)
		w.u(uint64(x.Value.Unit))
	}
	w.u(uint64(len(r.Override)))
	for _, o := range r.Override {
		w.t(o.Dimension)
		w.i(int64(o.From))
		w.i(int64(o.Until))
		w.t(o.Standing)
		w.t(o.Reason)
	}
	w.u(uint64(len(r.LeftOut)))
	for _, l := range r.LeftOut {
		w.t(l.Code)
		w.t(l.Why)
	}
	for _, n := range r.Counts {
		w.u(uint64(n))
	}
	w.t(r.Next.Name)
	w.i(int64(r.Next.Date))
	w.i(int64(r.Next.Slip))
	w.t(r.Version)
	w.findings(r.Findings)
}

func flag(b bool) uint64 {
	if b {
		return 1
	}
	return 0
}

type frostReader struct {
	format.Reader
	texts   map[string]string // texts met before, or nil
	figures []kept            // by their place in the cut
}

// kept is a figure of a cut: the entry of its name, which may be gone since.
type kept struct {
	id    figure.ID
	there bool
	name  string
}

// early are the figures of the first two formats, which kept them by their place
// in the catalogue of the time.
var early = strings.Fields(`
bac pv ev ac bac_earned pv_earned ac_earned sv cv sv_share cv_share eac_stated eac_stated_earned eac_plan eac_cpi eac_cpi3
eac_cpi_spi eac_computed etc_stated etc_computed vac at_stake on_order beyond_orders earned_share planned_share spent_share
elapsed_share late_share stated_share earned_base computed_over stated_over spi cpi spi_t tcpi_bac tcpi_eac credibility_gap
pv_period ev_period ac_period spi_period cpi_period es at sv_t finish_planned finish_stated finish_computed finish_slip
milestone_slip risk_exposure statement_age forecast_age errors warnings income_plan income income_stated margin_plan
margin_booked margin margin_share cpi3 eac_low eac_high eac_spread burn months_left`)

func keptFigures(names []string) []kept {
	out := make([]kept, len(names))
	for i, n := range names {
		id, ok := figure.Lookup(n)
		out[i] = kept{id, ok, n}
	}
	return out
}

// figure gives the figure of a place.
func (r *frostReader) figure() kept {
	n := r.U()
	if n >= uint64(len(r.figures)) {
		r.Bad = true
		return kept{}
	}
	return r.figures[n]
}

func (r *frostReader) t() string {
	b := r.Raw()
	if s, ok := r.texts[string(b)]; ok {
		return s
	}
	s := string(b)
	if r.texts != nil {
		r.texts[s] = s
	}
	return s
}

func (r *frostReader) value() figure.Value {
	switch r.U() {
	case 0:
		return figure.Value{Why: r.t()}
	case 1:
		num := new(big.Int).SetBytes(r.Raw())
		if r.I() < 0 {
			num.Neg(num)
		}
		den := new(big.Int).SetBytes(r.Raw())
		if den.Sign() == 0 {
			r.Bad = true
			return figure.Value{}
		}
		return figure.Value{Known: true, R: exact.FromRat(new(big.Rat).SetFrac(num, den))}
	default:
		return figure.Value{Known: true, N: r.I()}
	}
}

// DecodeReadings unpacks the readings of a cut: in the reporting currency, or
// projects in their own.
func DecodeReadings(body []byte, reporting bool) (*Readings, error) {
	r := frostReader{Reader: format.Read(body)}
	form := r.U()
	if form < 1 || form > readingsFormat {
		return nil, errCut
	}
	names := early
	if form > 2 {
		names = nil
		for n := r.U(); n > 0 && !r.Bad; n-- {
			names = append(names, r.t())
		}
	}
	figures := keptFigures(names)
	half := r.Raw()
	if reporting {
		half = r.Raw()
	}
	bad := r.Bad || half == nil
	r.Reader = format.Read(half)
	r.Bad = bad
	rs := &Readings{Reporting: reporting, Period: calendar.Period(r.I())}
	var bodies [][]byte
	for n := r.U(); n > 0 && !r.Bad; n-- {
		bodies = append(bodies, r.Raw())
	}
	rs.Rows = make([]*Reading, len(bodies))
	broken := make([]bool, runtime.GOMAXPROCS(0))
	var wg sync.WaitGroup
	for w := range broken {
		wg.Go(func() {
			texts := make(map[string]string)
			for i := w; i < len(bodies); i += len(broken) {
				row := frostReader{Reader: format.Read(bodies[i]), texts: texts, figures: figures}
				rs.Rows[i] = row.reading(form)
				broken[w] = broken[w] || row.Bad
			}
		})
	}
	wg.Wait()
	if r.Bad || slices.Contains(broken, true) {
		return nil, errCut
	}
	return rs, nil
}

func (r *frostReader) reading(form uint64) *Reading {
	head := r.U()
	x := &Reading{Group: head&1 != 0, HasSaid: head&2 != 0}
	x.Code, x.Name, x.Parent, x.Lead, x.Sponsor, x.Stage = r.t(), r.t(), r.t(), r.t(), r.t(), r.t()
	x.State, x.Currency, x.Why = portfolio.State(r.t()), money.Currency(r.t()), r.t()
	x.Values = make([]figure.Value, figure.Len())
	for i := range x.Values {
		x.Values[i] = figure.Unknown(figure.Get(figure.ID(i)).Unit, "it was no figure yet when the period was closed")
	}
	count := r.U()
	for i := uint64(0); i < count && !r.Bad; i++ {
		v := r.value()
		if i < uint64(len(r.figures)) && r.figures[i].there {
			f := r.figures[i].id
			v.Unit = figure.Get(f).Unit
			x.Values[f] = v
		}
	}
	for n := r.U(); n > 0 && !r.Bad; n-- {
		f := r.figure()
		t := figure.Term{ID: f.id, Back: int(r.I()), Value: r.value()}
		if f.there {
			t.Value.Unit = figure.Get(t.ID).Unit
			x.Terms = append(x.Terms, t)
		}
	}
	for d := range x.Standing {
		if form == 1 && d >= len(standing.Dimensions) {
			break
		}
		n := r.U()
		x.Standing[d], x.Computed[d] = standing.Standing(n>>2&3), standing.Standing(n&3)
	}
	x.Stated = standing.Standing(r.U() & 3)
	for n := r.U(); n > 0 && !r.Bad; n-- {
		d := standing.Dimension(r.U())
		f := r.figure()
		y := standing.Reason{
			Dimension: d,
			Reading:   f.id,
			Value:     r.value(),
			Direction: standing.Direction(r.t()),
			Watch:     r.t(),
			Act:       r.t(),
			Standing:  standing.Standing(r.U() & 3),
			Silent:    r.t(),
		}
		if r.Bad || int(y.Dimension) >= standing.Most {
			r.Bad = true
			return x
		}
		y.Value.Unit = figure.Get(y.Reading).Unit
		if form > 1 {
			y.Own, y.Rates, y.Value.Unit = r.t(), r.t(), figure.Unit(r.U())
		} else {
			y.Rates = y.Dimension.String()
		}
		if !f.there && y.Own == "" { // a figure that is none any more keeps its name
			y.Own = f.name
		}
		x.Reasons = append(x.Reasons, y)
	}
	for n := r.U(); n > 0 && !r.Bad; n-- {
		x.Override = append(
			x.Override,
			portfolio.Override{
				Dimension: r.t(),
				From:      calendar.Period(r.I()),
				Until:     calendar.Period(r.I()),
				Standing:  r.t(),
				Reason:    r.t(),
			},
		)
	}
	for n := r.U(); n > 0 && !r.Bad; n-- {
		x.LeftOut = append(x.LeftOut, rollup.LeftOut{Code: r.t(), Why: r.t()})
	}
	for i := range x.Counts {
		x.Counts[i] = int(r.U())
	}
	x.Next = Next{r.t(), calendar.Date(r.I()), int(r.I())}
	if form > 1 {
		x.Version, x.Findings = r.t(), r.findings()
	}
	return x
}
