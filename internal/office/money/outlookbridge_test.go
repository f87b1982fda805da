package money_test

import (
	"context"
	"html"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
)

// TestOutlookBridge: of every group and project, the steps lead from one computed
// outlook to the other, to the cent; parts add up to their step; the causes are
// those that the figures of both periods give.
func TestOutlookBridge(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, c := range [][2]string{{"2026-11", "2026-10"}, {"2026-11", "2026-05"}, {"2026-08", "2026-11"}} {
		m := officetest.Moment(t, o, office.Ask{At: c[0], Vs: c[1]})
		scopes := []string{""}
		for _, x := range m.Programmes() {
			scopes = append(scopes, x.Code)
		}
		for _, scope := range scopes {
			m := officetest.Moment(t, o, office.Ask{At: c[0], Vs: c[1], Scope: scope})
			b, err := money.In(o).OutlookBridge(ctx, officetest.Operator, m, "", "")
			require.NoError(t, err)
			group := scope
			if scope == "" {
				group = "*"
			}
			now, before := m.Find(group)
			require.Equal(
				t,
				[]int64{before.Value(figure.EACComputed).N, now.Value(figure.EACComputed).N},
				[]int64{b.From, b.To},
				"%v %s",
				c,
				scope,
			)
			sum, all := b.From, b.From
			for _, x := range b.Steps {
				sum += x.Amount
				part, err := money.In(o).OutlookBridge(ctx, officetest.Operator, m, "", x.Code)
				require.NoError(t, err)
				parts := int64(0)
				for _, y := range part.Parts {
					parts += y.Amount
				}
				require.Equal(t, x.Amount, parts+part.Rest, "%v %s %s", c, scope, x.Code)
			}
			for _, x := range b.Parts {
				all += x.Amount
			}
			require.Equal(t, []int64{b.To, b.To}, []int64{sum, all + b.Rest}, "%v %s", c, scope)
		}
		for _, x := range m.ProjectNames() {
			for _, in := range []string{"", "project"} {
				m := officetest.Moment(t, o, office.Ask{At: c[0], Vs: c[1], In: in})
				now, before := m.Find(x[0])
				b, err := money.In(o).OutlookBridge(ctx, officetest.Operator, m, x[0], "actuals")
				require.NoError(t, err)
				steps := make(map[string]int64)
				sum := b.From
				for _, y := range b.Steps {
					steps[y.Code] = y.Amount
					sum += y.Amount
				}
				require.Equal(t, b.To, sum)
				if now.Value(figure.EACComputed).Known && before != nil && before.Value(figure.EACComputed).Known {
					require.Equal(t, now.Value(figure.AC).N-before.Value(figure.AC).N, steps["actuals"], x[0])
					spent := int64(0)
					for _, y := range b.Parts {
						spent += y.Amount
					}
					require.Equal(t, steps["actuals"], spent+b.Rest, "%s: what was spent by cost code", x[0])
				}
			}
		}
	}
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	_, err := money.In(o).OutlookBridge(ctx, officetest.Operator, m, "", "")
	require.ErrorContains(t, err, "choose the period to compare with")
	_, err = money.In(o).
		OutlookBridge(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-10"}), "NONE", "")
	require.ErrorContains(t, err, `no project "NONE"`)
}

// TestBridgeInABrief: a bridge taken into a brief says there what its page says,
// in any brief; one that asks for what is gone refuses with a sentence.
func TestBridgeInABrief(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-08"})
	page := func(ask map[string]string, scope string, before ...string) (string, error) {
		b, err := brief.In(o).
			Brief(ctx, officetest.Operator, brief.Spec{At: "2026-11", Scope: scope, Parts: append(before, brief.BridgePart(ask))})
		if err != nil {
			return "", err
		}
		text, err := b.Write(brief.FormHTML)
		require.NoError(t, err)
		_, err = b.Write(brief.FormPDF)
		require.NoError(t, err)
		return html.UnescapeString(string(text)), nil
	}
	for _, c := range []struct {
		ask   map[string]string
		scope string
		first string
	}{
		{map[string]string{"vs": "2026-08", "amounts": "outlook"}, "", "first"},
		{map[string]string{"vs": "2026-08", "amounts": "outlook", "of": "K1"}, "K1", "project"},
		{map[string]string{"vs": "2026-08", "per": "completion"}, "", "board"},
		{map[string]string{"per": "completion", "amounts": "plan", "beside": "original", "of": "K1"}, "", "moved"},
	} {
		text, err := page(c.ask, c.scope, c.first)
		require.NoError(t, err, c.ask)
		require.True(t, strings.Contains(text, "Why it changed"))
		if c.ask["amounts"] == "outlook" {
			b, err := money.In(o).OutlookBridge(ctx, officetest.Operator, m, c.ask["of"], "")
			require.NoError(t, err)
			for _, p := range b.Say() {
				require.True(t, strings.Contains(text, p.Text), p.Text)
			}
		}
	}
	_, err := page(map[string]string{"vs": "1999-01", "amounts": "outlook"}, "")
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = page(map[string]string{"vs": "2026-08", "plan": "7"}, "")
	require.ErrorContains(t, err, "asks for what is gone")
	_, err = page(map[string]string{"amounts": "outlook"}, "")
	require.ErrorContains(t, err, "choose the period to compare with")
	require.NotContains(t, brief.BridgePart(map[string]string{"code": "a-", "row": "x +,y"}), ",")
}
