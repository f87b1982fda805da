package brief_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/brief"
	"turret/internal/office/officetest"
	"turret/internal/readback"
)

// TestBriefsAreMadeAndKept: a brief has its pages in all forms, the same bytes from
// the same inputs, and stays as it was made until it is withdrawn with a reason.
func TestBriefsAreMadeAndKept(t *testing.T) {
	o := officetest.Example(t)
	room, ctx := brief.In(o), t.Context()
	list, err := room.List(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Empty(t, list)

	var said []string
	spec := brief.Spec{At: "2026-11"}
	id, err := room.Make(ctx, officetest.Operator, spec, func(s string) { said = append(said, s) })
	require.NoError(t, err)
	require.Len(t, said, 6, "putting together, and five forms")
	list, err = room.List(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Len(t, list, 1)
	made := list[0]
	require.Equal(t, id, made.ID)
	require.Equal(t, "2026-11", made.Spec.At)
	require.Equal(t, "test", made.Actor)
	require.Empty(t, made.Withdrawn)

	title, pdf, err := room.Form(ctx, officetest.Operator, id, brief.FormPDF)
	require.NoError(t, err)
	require.Equal(t, made.Title, title)
	require.Len(t, readback.PDF(t, pdf), made.Leaves)
	_, html, err := room.Form(ctx, officetest.Operator, id, brief.FormHTML)
	require.NoError(t, err)
	require.Contains(t, string(html), "<html")
	_, xlsx, err := room.Form(ctx, officetest.Operator, id, brief.FormXLSX)
	require.NoError(t, err)
	require.NotEmpty(t, readback.XLSX(t, xlsx))
	_, none, err := room.Form(ctx, officetest.Operator, id+1, brief.FormPDF)
	require.NoError(t, err)
	require.Nil(t, none)

	again, err := room.Brief(ctx, officetest.Operator, spec)
	require.NoError(t, err)
	body, err := again.Write(brief.FormPDF)
	require.NoError(t, err)
	require.True(t, bytes.Equal(pdf, body), "the same inputs give the same bytes")

	require.ErrorIs(t, room.Withdraw(ctx, officetest.Operator, id, " "), office.ErrRefused)
	require.ErrorIs(t, room.Withdraw(ctx, officetest.Operator, id+1, "why"), office.ErrRefused)
	require.NoError(t, room.Withdraw(ctx, officetest.Operator, id, "a wrong rate"))
	require.ErrorIs(t, room.Withdraw(ctx, officetest.Operator, id, "again"), office.ErrRefused)
	list, err = room.List(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, "a wrong rate", list[0].Withdrawn)
	require.Equal(t, "test", list[0].WithdrawnBy)
}

// TestPagesThatAreAskedFor: pages come in the order that they are asked for, of a
// project or of all; what is no page, form or scope is refused with a sentence.
func TestPagesThatAreAskedFor(t *testing.T) {
	o := officetest.Example(t)
	room, ctx := brief.In(o), t.Context()
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	project := m.ProjectNames()[0][0]
	all, one := brief.Parts(m, ""), brief.Parts(m, project)
	require.NotEqual(t, all, one)
	for _, scope := range []string{"", project} {
		b, err := room.Brief(ctx, officetest.Operator, brief.Spec{At: "2026-11", Scope: scope})
		require.NoError(t, err)
		require.NotEmpty(t, b.Sheets)
		usual := b.Pack.Pages[0].Title
		names := make([]string, 0)
		for _, p := range brief.Parts(m, scope) {
			names = append(names, p.Name)
		}
		last := names[len(names)-1]
		b, err = room.Brief(ctx, officetest.Operator, brief.Spec{At: "2026-11", Scope: scope, Parts: []string{last, names[0]}})
		require.NoError(t, err)
		require.Equal(t, usual, b.Pack.Pages[len(b.Pack.Pages)-1].Title, "the first page comes last")
	}
	for _, bad := range []brief.Spec{
		{At: "2026-11", Parts: []string{"no such page"}},
		{At: "2026-11", Scope: "no such project"},
	} {
		_, err := room.Brief(ctx, officetest.Operator, bad)
		require.Error(t, err)
		require.Contains(t, err.Error(), "no such")
	}
	b, err := room.Brief(ctx, officetest.Operator, brief.Spec{At: "2026-11"})
	require.NoError(t, err)
	_, err = b.Write("doc")
	require.ErrorIs(t, err, office.ErrRefused)
	for name, form := range map[string]string{"a.pdf": "pdf", "B.HTML": "html", "c.xlsx": "xlsx", "d.doc": "", "e": ""} {
		got, err := brief.FormOf(name)
		require.Equal(t, form, got)
		require.Equal(t, form == "", err != nil, name)
	}
}

// TestTheBoardWorkbook: a row for each project that the board lists, under heads,
// with the whole below.
func TestTheBoardWorkbook(t *testing.T) {
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	body, err := brief.In(o).BoardWorkbook(t.Context(), officetest.Operator, m, board.Order{})
	require.NoError(t, err)
	sheet := readback.XLSX(t, body)[0]
	listed := map[string]bool{}
	for _, row := range sheet {
		listed[row[0].Value] = true
	}
	for _, p := range m.ProjectNames() {
		require.True(t, listed[p[0]] || strings.HasPrefix(p[0], "—"), p[0])
	}
}
