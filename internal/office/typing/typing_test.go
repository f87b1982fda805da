package typing_test

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/officetest"
	"turret/internal/office/typing"
	"turret/internal/right"
)

// What is typed is kept by person, page and form; since when it waits is when it was begun.
func TestWhatIsTyped(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t)
	now := time.Date(2026, 7, 30, 9, 0, 0, 0, time.UTC)
	o.SetClock(func() time.Time { return now })
	room := typing.In(o)
	ada, eve := officetest.Admitted(t, o, "ada", right.Analyst), officetest.Admitted(t, o, "eve", right.Analyst)
	form := typing.Form{Place: "/ask/A", Form: "ask", Title: "Ask", Fields: json.RawMessage(`[["text","Why"]]`)}
	require.NoError(t, room.Keep(ctx, ada, form))
	now = now.Add(time.Hour)
	form.Fields = json.RawMessage(`[["text","Why so late?"]]`)
	require.NoError(t, room.Keep(ctx, ada, form))
	list, err := room.On(ctx, ada, "/ask/A")
	require.NoError(t, err)
	form.Since = now.Add(-time.Hour)
	require.Equal(t, []typing.Form{form}, list)
	for _, who := range []right.Actor{eve, {}} {
		list, err = room.Of(ctx, who)
		require.NoError(t, err)
		require.Empty(t, list)
	}
	require.NoError(t, room.Drop(ctx, eve, "/ask/A", "ask"))
	list, err = room.Of(ctx, ada)
	require.NoError(t, err)
	require.Len(t, list, 1, "nobody else drops it")
	form.Fields = nil
	require.NoError(t, room.Keep(ctx, ada, form))
	list, err = room.Of(ctx, ada)
	require.NoError(t, err)
	require.Empty(t, list, "without fields it is dropped")
}

func TestWhatIsNotKept(t *testing.T) {
	ctx := context.Background()
	o, _ := officetest.BareOffice(t)
	ada := officetest.Admitted(t, o, "ada", right.Analyst)
	room := typing.In(o)
	form := func(place, text string) typing.Form {
		return typing.Form{Place: place, Form: "f", Fields: json.RawMessage(`[["text","` + text + `"]]`)}
	}
	refused := func(a right.Actor, f typing.Form, why string) {
		t.Helper()
		err := room.Keep(ctx, a, f)
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, why)
	}
	refused(right.Actor{}, form("/a", "x"), "Nobody is signed in")
	refused(ada, form("", "x"), "no address")
	refused(ada, form("/"+strings.Repeat("a", 500), "x"), "no address")
	refused(ada, form("/a", strings.Repeat("x", 512<<10)), "more than 512 kB")
	for i := range 200 {
		require.NoError(t, room.Keep(ctx, ada, form(fmt.Sprintf("/%d", i), "x")))
	}
	refused(ada, form("/one-more", "x"), "typed into 200 forms and sent none")
	require.NoError(t, room.Keep(ctx, ada, form("/199", "y")), "those that are kept can go on")
}
