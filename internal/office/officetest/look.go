package officetest

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/book"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/export"
	"turret/internal/office/history"
	"turret/internal/office/money"

	"turret/internal/office/sheet"
)

func Found(m *office.Moment) map[string]office.Finding {
	out := make(map[string]office.Finding)
	for _, f := range m.Findings() {
		out[f.Project+" "+f.Check+" "+f.Record] = f
	}
	return out
}

func Key(f office.Finding) office.FindingKey {
	return office.FindingKey{Project: f.Project, Check: f.Check, Record: f.Record}
}

func ReadingOf(m *office.Moment, code string) *office.Reading {
	r, _ := m.Find(code)
	return r
}

func February(t *testing.T, o *office.Office) *office.Moment {
	t.Helper()
	return Moment(t, o, office.Ask{At: "2026-02"})
}

// Said is all that a closed period answers: its readings against both baselines
// in both currencies, its findings, and its sheets.
func Said(t *testing.T, o *office.Office, period string) map[string]any {
	t.Helper()
	out := make(map[string]any)
	for _, against := range []portfolio.Against{portfolio.Latest, portfolio.Original} {
		for _, reporting := range []bool{false, true} {
			out[against.String()+map[bool]string{true: " reporting"}[reporting]] = Readings(
				t,
				o,
				period,
				against,
				reporting,
			)
		}
	}
	out["findings"] = Told(t, o, period)
	m := Moment(t, o, office.Ask{At: period})
	for _, p := range m.ProjectNames() {
		code := p[0]
		s, err := sheet.In(o).Sheet(context.Background(), Operator, m, code)
		require.NoError(t, err)
		out[code+" activities"], out[code+" risks"], out[code+" money"] = s.Activities, s.Risks, s.Now.Name
	}
	return out
}

// Readings prints the readings of a period as decoded JSON.
func Readings(
	t testing.TB,
	o *office.Office,
	period string,
	against portfolio.Against,
	reporting bool,
) []map[string]any {
	t.Helper()
	ctx := context.Background()
	p, err := o.ParsePeriod(ctx, Operator, period)
	require.NoError(t, err)
	rows, err := export.In(o).Readings(ctx, Operator, export.Query{Period: p, Against: against, Reporting: reporting})
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, export.In(o).WriteJSON(ctx, &b, period, rows))
	return Decode(t, b.Bytes())
}

func Decode(t testing.TB, b []byte) []map[string]any {
	t.Helper()
	var out []map[string]any
	require.NoError(t, json.Unmarshal(b, &out))
	return out
}

// Told are the findings of a period in words, without where they came from.
func Told(t *testing.T, o *office.Office, period string) []string {
	t.Helper()
	var out []string
	for _, f := range Moment(t, o, office.Ask{At: period}).Findings() {
		out = append(
			out,
			strings.Join([]string{f.Project, f.Check, string(f.Severity), f.Record, f.Values, f.Text}, " | "),
		)
	}
	slices.Sort(out)
	return out
}

func Batches(t *testing.T, o *office.Office, ask history.Ask) []history.Batch {
	t.Helper()
	h, err := history.In(o).History(context.Background(), Operator, February(t, o), ask)
	require.NoError(t, err)
	return h.Batches
}

// Wrote tells what a batch changed, as "project table row field: before → after".
func Wrote(list []book.Differs) (out []string) {
	for _, d := range list {
		out = append(out, d.Project+" "+d.Table+" "+d.Row()+" "+d.Column+": "+d.Was+" → "+d.Is)
	}
	return out
}

func MoneyTable(t testing.TB, o *office.Office, m *office.Moment, ask money.Ask) *money.Table {
	t.Helper()
	table, err := money.In(o).Table(context.Background(), Operator, m, ask)
	require.NoError(t, err)
	return table
}

func LastBatch(t *testing.T, o *office.Office) int64 {
	t.Helper()
	h, err := history.In(o).History(context.Background(), Operator, Moment(t, o, office.Ask{}), history.Ask{})
	require.NoError(t, err)
	return h.Batches[0].ID
}

func Moment(t *testing.T, o *office.Office, ask office.Ask) *office.Moment {
	t.Helper()
	m, err := o.Moment(context.Background(), Operator, ask)
	require.NoError(t, err)
	require.Empty(t, m.Notes)
	return m
}

// Exported gives the files that an office exports.
func Exported(t testing.TB, o *office.Office) map[string]string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(context.Background(), Operator, dir))
	names, err := filepath.Glob(filepath.Join(dir, "*.csv"))
	require.NoError(t, err)
	out := make(map[string]string)
	for _, name := range names {
		body, err := os.ReadFile(name)
		require.NoError(t, err)
		out[filepath.Base(name)] = string(body)
	}
	return out
}
