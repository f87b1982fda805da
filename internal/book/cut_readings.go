package book

import (
	"encoding/binary"
	"math/big"
	"runtime"
	"slices"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/rollup"
	"turret/internal/core/standing"
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
	case v.R != nil:
		w.u(1)
		w.t(string(v.R.Num().Bytes()))
		w.i(int64(v.R.Sign()))
		w.t(string(v.R.Denom().Bytes()))
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
	b     []byte
	bad   bool
	texts map[string]string // texts met before, or nil
}

func (r *frostReader) u() uint64 {
	n, size := binary.Uvarint(r.b)
	if size <= 0 {
		r.bad, r.b = true, nil
		return 0
	}
	r.b = r.b[size:]
	return n
}

func (r *frostReader) i() int64 {
	n, size := binary.Varint(r.b)
	if size <= 0 {
		r.bad, r.b = true, nil
		return 0
	}
	r.b = r.b[size:]
	return n
}

func (r *frostReader) raw() []byte {
	n := r.u()
	if n > uint64(len(r.b)) {
		r.bad, r.b = true, nil
		return nil
	}
	out := r.b[:n]
	r.b = r.b[n:]
	return out
}

func (r *frostReader) t() string {
	b := r.raw()
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
	switch r.u() {
	case 0:
		return figure.Value{Why: r.t()}
	case 1:
		num := new(big.Int).SetBytes(r.raw())
		if r.i() < 0 {
			num.Neg(num)
		}
		den := new(big.Int).SetBytes(r.raw())
		if den.Sign() == 0 {
			r.bad = true
			return figure.Value{}
		}
		return figure.Value{Known: true, R: new(big.Rat).SetFrac(num, den)}
	default:
		return figure.Value{Known: true, N: r.i()}
	}
}

// DecodeReadings unpacks the readings of a cut: in the reporting currency, or
// projects in their own.
func DecodeReadings(body []byte, reporting bool) (*Readings, error) {
	r := frostReader{b: body}
	format := r.u()
	if format < 1 || format > readingsFormat {
		return nil, errCut
	}
	half := r.raw()
	if reporting {
		half = r.raw()
	}
	r.bad = r.bad || half == nil
	r.b = half
	rs := &Readings{Reporting: reporting, Period: calendar.Period(r.i())}
	var bodies [][]byte
	for n := r.u(); n > 0 && !r.bad; n-- {
		bodies = append(bodies, r.raw())
	}
	rs.Rows = make([]*Reading, len(bodies))
	broken := make([]bool, runtime.GOMAXPROCS(0))
	var wg sync.WaitGroup
	for w := range broken {
		wg.Go(func() {
			texts := make(map[string]string)
			for i := w; i < len(bodies); i += len(broken) {
				row := frostReader{b: bodies[i], texts: texts}
				rs.Rows[i] = row.reading(format)
				broken[w] = broken[w] || row.bad
			}
		})
	}
	wg.Wait()
	if r.bad || slices.Contains(broken, true) {
		return nil, errCut
	}
	rs.index()
	return rs, nil
}

func (r *frostReader) reading(format uint64) *Reading {
	head := r.u()
	x := &Reading{Group: head&1 != 0, HasSaid: head&2 != 0}
	x.Code, x.Name, x.Parent, x.Lead, x.Sponsor, x.Stage = r.t(), r.t(), r.t(), r.t(), r.t(), r.t()
	x.State, x.Currency, x.Why = portfolio.State(r.t()), money.Currency(r.t()), r.t()
	x.Values = make([]figure.Value, figure.Len())
	kept := int(r.u())
	for i := 0; i < kept && !r.bad; i++ {
		v := r.value()
		if i < len(x.Values) {
			v.Unit = figure.Get(figure.ID(i)).Unit
			x.Values[i] = v
		}
	}
	for i := kept; i < len(x.Values); i++ {
		x.Values[i] = figure.Unknown(figure.Get(figure.ID(i)).Unit, "it was no figure yet when the period was closed")
	}
	for n := r.u(); n > 0 && !r.bad; n-- {
		t := figure.Term{ID: figure.ID(r.u()), Back: int(r.i()), Value: r.value()}
		if int(t.ID) < figure.Len() {
			t.Value.Unit = figure.Get(t.ID).Unit
			x.Terms = append(x.Terms, t)
		}
	}
	for d := range x.Standing {
		if format == 1 && d >= len(standing.Dimensions) {
			break
		}
		n := r.u()
		x.Standing[d], x.Computed[d] = standing.Standing(n>>2&3), standing.Standing(n&3)
	}
	x.Stated = standing.Standing(r.u() & 3)
	for n := r.u(); n > 0 && !r.bad; n-- {
		y := standing.Reason{Dimension: standing.Dimension(r.u()), Reading: figure.ID(r.u()), Value: r.value(), Direction: standing.Direction(r.t()), Watch: r.t(), Act: r.t(), Standing: standing.Standing(r.u() & 3), Silent: r.t()}
		if int(y.Reading) >= figure.Len() || int(y.Dimension) >= standing.Most {
			r.bad = true
			return x
		}
		y.Value.Unit = figure.Get(y.Reading).Unit
		if format > 1 {
			y.Own, y.Rates, y.Value.Unit = r.t(), r.t(), figure.Unit(r.u())
		} else {
			y.Rates = y.Dimension.String()
		}
		x.Reasons = append(x.Reasons, y)
	}
	for n := r.u(); n > 0 && !r.bad; n-- {
		x.Override = append(x.Override, portfolio.Override{Dimension: r.t(), From: calendar.Period(r.i()), Until: calendar.Period(r.i()), Standing: r.t(), Reason: r.t()})
	}
	for n := r.u(); n > 0 && !r.bad; n-- {
		x.LeftOut = append(x.LeftOut, rollup.LeftOut{Code: r.t(), Why: r.t()})
	}
	for i := range x.Counts {
		x.Counts[i] = int(r.u())
	}
	x.Next = Next{r.t(), calendar.Date(r.i()), int(r.i())}
	if format > 1 {
		x.Version, x.Findings = r.t(), r.findings()
	}
	return x
}
