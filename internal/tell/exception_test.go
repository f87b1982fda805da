package tell

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

func pointOf(given map[figure.ID]figure.Value) exception.Point {
	return exception.Point{State: portfolio.Active, Value: values(given), Shown: values(given)}
}

// TestExceptionSays writes out the reason of each kind, found by the usual limits.
func TestExceptionSays(t *testing.T) {
	usual, wrong := exception.NewLimits(nil)
	require.Empty(t, wrong)
	index := func(id figure.ID, n int64) map[figure.ID]figure.Value {
		return map[figure.ID]figure.Value{id: ratio(n, 100)}
	}
	money := func(pairs ...any) map[figure.ID]figure.Value {
		out := make(map[figure.ID]figure.Value)
		for i := 0; i < len(pairs); i += 2 {
			out[pairs[i].(figure.ID)] = euros(int64(pairs[i+1].(int)))
		}
		return out
	}
	outlook := func(eac int64, over figure.Value, shown int64) exception.Point {
		p := pointOf(map[figure.ID]figure.Value{figure.BAC: euros(1_000_000), figure.EACComputed: euros(eac), figure.ComputedOver: over})
		p.Shown = values(map[figure.ID]figure.Value{figure.BAC: euros(1_000_000), figure.EACComputed: euros(shown)})
		return p
	}
	hopeful := pointOf(money(figure.EACStated, 900_000, figure.EACComputed, 1_100_000))
	plain := hopeful.Value
	hopeful.Value = func(id figure.ID) figure.Value {
		if v, ok := map[figure.ID]figure.Value{figure.CredibilityGap: ratio(1, 4), figure.TCPIEAC: ratio(115, 100), figure.CPI: ratio(90, 100)}[id]; ok {
			return v
		}
		return plain(id)
	}
	dearer := hopeful
	dearer.Shown = values(money(figure.EACStated, 1_200_000, figure.EACComputed, 1_100_000))
	apart := hopeful
	apart.HasStated, apart.Stated, apart.Overall = true, standing.Steady, standing.Act
	onlyApart := pointOf(nil)
	onlyApart.HasStated, onlyApart.Stated, onlyApart.Overall = true, standing.Watch, standing.Act
	for _, c := range []struct {
		name    string
		subject exception.Subject
		says    string
	}{
		{"over", exception.Subject{Now: outlook(1_200_000, ratio(20, 100), 1_200_000)}, "The computed outlook of €1.2 M is €0.2 M (20.0%) over the plan of €1.0 M."},
		{"under", exception.Subject{Now: outlook(950_000, ratio(-5, 100), 950_000)}, "The computed outlook of €0.95 M is €0.05 M (5.0%) under the plan of €1.00 M."},
		{"over, by another rate", exception.Subject{Now: outlook(1_200_000, ratio(20, 100), 1_100_000)}, "The computed outlook of €1.1 M is €0.1 M (20.0%) over the plan of €1.0 M."},
		{"over, but for rates", exception.Subject{Now: outlook(1_200_000, ratio(20, 100), 900_000)}, "The computed outlook of €0.9 M is 20.0% over the plan in the project's own currency, though not at the rates of EUR."},
		{"masked", exception.Subject{Now: pointOf(map[figure.ID]figure.Value{figure.SPIPeriod: ratio(1, 2), figure.SPI: ratio(98, 100), figure.CPIPeriod: ratio(3, 4), figure.CPI: ratio(1, 1)})}, "CPI of the period is 0.75, and 1.00 in all; SPI of the period is 0.50, and 0.98 in all."},
		{"worse", exception.Subject{Now: pointOf(index(figure.CPI, 90)), Before: []exception.Point{pointOf(index(figure.CPI, 91)), pointOf(index(figure.CPI, 95)), pointOf(index(figure.CPI, 99))}}, "CPI fell 3 periods running: 0.99, 0.95, 0.91, 0.90."},
		{"over plan rose", exception.Subject{Now: pointOf(index(figure.ComputedOver, 9)), Before: []exception.Point{pointOf(index(figure.ComputedOver, 4)), pointOf(index(figure.ComputedOver, 3)), pointOf(index(figure.ComputedOver, -1))}}, "Outlook over plan rose 3 periods running: −1.0%, +3.0%, +4.0%, +9.0%."},
		{"idle", exception.Subject{Now: pointOf(money(figure.BACEarned, 1_000_000, figure.ACEarned, 500_000, figure.EV, 301_000)), Before: []exception.Point{pointOf(nil), pointOf(money(figure.ACEarned, 450_000, figure.EV, 300_000))}}, "In 2 periods €50,000 was spent and €1,000 earned."},
		{"never stated", exception.Subject{Now: pointOf(map[figure.ID]figure.Value{figure.ForecastAge: figure.Whole(figure.Count, 6)})}, "No forecast was stated for 6 periods."},
		{"hopeful", exception.Subject{Now: hopeful}, "The stated outlook of €0.9 M is €0.2 M below the computed one, and needs what is left to be done at 1.15, after 0.90 so far."},
		{"hopeful, but for rates", exception.Subject{Now: dearer}, "The stated outlook of €1.2 M is below the computed one in the project's own currency, and needs what is left to be done at 1.15, after 0.90 so far."},
		{"apart too", exception.Subject{Now: apart}, "The lead states Steady, and the figures say Act; the stated outlook of €0.9 M is €0.2 M below the computed one, and needs what is left to be done at 1.15, after 0.90 so far."},
		{"apart alone", exception.Subject{Now: onlyApart}, "The lead states Watch, and the figures say Act."},
	} {
		c.subject.Decimal = 2
		found := exception.Find(&c.subject, usual)
		require.NotEmpty(t, found, c.name)
		require.Equal(t, c.says, Plain(Exception(found[0], &c.subject, "EUR")), c.name)
	}
}

// TestExceptionSaysWhatDoesNotMove: the stated outlook stays, and the computed one
// goes up or down.
func TestExceptionSaysWhatDoesNotMove(t *testing.T) {
	usual, _ := exception.NewLimits(nil)
	for by, says := range map[int64]string{
		100_000: "The stated outlook stays at €1.0 M for 4 periods running; the computed one became €0.1 M higher meanwhile.",
		-30_000: "The stated outlook stays at €1.00 M for 4 periods running; the computed one became €0.03 M lower meanwhile.",
	} {
		was := map[figure.ID]figure.Value{
			figure.BAC:         euros(1_000_000),
			figure.EACStated:   euros(1_000_001), // nearly the same, and not said
			figure.EACComputed: euros(1_000_000),
		}
		is := map[figure.ID]figure.Value{
			figure.BAC:         euros(1_000_000),
			figure.EACStated:   euros(1_000_000),
			figure.EACComputed: euros(1_000_000 + by),
		}
		s := &exception.Subject{
			Now:     pointOf(is),
			Before:  []exception.Point{pointOf(was), pointOf(was), pointOf(was), pointOf(was)},
			Decimal: 2,
		}
		for _, c := range exception.Find(s, usual) {
			if c.Kind == exception.Unmoved {
				require.Equal(t, says, Plain(Exception(c, s, "EUR")))
				says = ""
			}
		}
		require.Empty(t, says, "it was found")
	}
}

func TestExceptionsSumUp(t *testing.T) {
	two := [][2]string{{"A", "Alpha"}, {"B", "Beta"}}
	for _, c := range []struct {
		looked int
		found  [][2]string
		kind   exception.Kind
		stake  string
		says   string
	}{
		{0, nil, "", "", "No project is like this."},
		{7, nil, "", "", "Nothing stands out: no project of 7 is beyond the limits."},
		{1, nil, exception.Over, "", "Overruns: none of 1 project."},
		{7, two, "", "€4.9 M", "2 of 7 projects stand out; Alpha has the most at stake, €4.9 M."},
		{7, two[:1], "", "", "1 of 7 projects stands out; Alpha first; nothing is at stake."},
		{7, two, exception.Idle, "€4.9 M", "2 of 7 projects stand out here, Alpha first."},
	} {
		require.Equal(t, c.says, Plain(Exceptions(c.looked, c.found, c.kind, c.stake)))
	}
}

func TestLooks(t *testing.T) {
	l, _ := exception.NewLimits(map[string]string{"over": "7.5", "least": "40"})
	over, _ := exception.Of(exception.Over)
	require.Equal(t, "The computed outlook is over the plan by 7.5% or more, and by 40 thousand.", Looks(over, l))
	l["least"] = new(big.Rat)
	require.Equal(t, "The computed outlook is over the plan by 7.5% or more.", Looks(over, l))
	for _, r := range exception.Rules {
		require.NotContains(t, Looks(r, l), "{", r.Kind)
	}
}
