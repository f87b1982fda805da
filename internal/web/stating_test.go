package web

import (
	"context"
	"net/http"
	"net/url"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/entry"
)

// TestStatingWithoutScripts: a statement is a plain form: what is typed is kept, looked
// over and sent; a cell that cannot be taken says so beside itself.
func TestStatingWithoutScripts(t *testing.T) {
	if testing.Short() {
		t.Skip("it makes the demonstration")
	}
	o, err := demo.Make(context.Background(), filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer o.Close()
	b := newBrowser(t, newApp(o))
	ada := demo.SignIns[1]
	require.Equal(t, office.Lead, ada.Role)
	status, _, head := b.post("/sign-in", url.Values{"login": {ada.Login}, "password": {ada.Password}})
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/desk", head.Get("Location"))
	_, body, _ := b.get("/desk")
	require.Contains(t, body, "Nothing has changed")
	require.Contains(t, body, "not yours", "she is a deputy for a part of QS-05")
	status, _, _ = b.get("/state/QS-05/narratives")
	require.Equal(t, http.StatusNotFound, status, "that part is not hers")
	status, _, _ = b.get("/state/QS-01/progress")
	require.Equal(t, http.StatusForbidden, status)
	path := "/state/QS-05/risks"
	_, body, _ = b.get(path)
	require.Contains(t, body, `name="f:R1/title"`)
	field := url.Values{"f:R1/likelihood": {"7"}, "w:R1/likelihood": {"3"}, "do": {"keep"}}
	status, _, _ = b.post(path, field)
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get(path)
	require.Contains(t, body, "7 is not between 1 and 5")
	require.Contains(t, body, `aria-invalid="true"`)
	status, body, _ = b.post("/state/QS-05/send", url.Values{"do": {"send"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "not between 1 and 5")
	status, _, _ = b.post(path, url.Values{"f:R1/likelihood": {"4"}, "w:R1/likelihood": {"3"}, "do": {"keep"}})
	require.Equal(t, http.StatusSeeOther, status)
	_, err = entry.In(o).Gather(context.Background(), operator, []entry.File{{
		Name: "risks.csv", Body: []byte("project,risk,period,likelihood\nQS-05,R1,2026-11,2\n"),
	}}, nil, entry.Options{})
	require.NoError(t, err)
	_, body, _ = b.get(path)
	require.Contains(t, body, `name="w:R1/likelihood" value="3"`, "what it showed when it was typed in")
	require.Contains(t, body, "now stated: 2")
	status, _, _ = b.post(path, url.Values{"f:R1/likelihood": {"4"}, "w:R1/likelihood": {"3"}, "do": {"keep"}})
	require.Equal(t, http.StatusSeeOther, status)
	status, body, _ = b.post("/state/QS-05/send", url.Values{"do": {"send"}})
	require.Equal(t, http.StatusUnprocessableEntity, status, "to keep it once more is no choice")
	require.Contains(t, body, "someone else has stated “2” since")
	status, _, _ = b.post(path, url.Values{"do": {"own R1/likelihood"}})
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get("/state/QS-05/send")
	require.Contains(t, body, "Send the statement")
	status, _, head = b.post("/state/QS-05/send", url.Values{"do": {"send"}})
	require.Equal(t, http.StatusSeeOther, status)
	require.Contains(t, head.Get("Location"), "Sent")
	status, _, _ = b.post("/desk", url.Values{"do": {"confirm"}, "project": {"QS-05"}})
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get("/desk")
	require.Contains(t, body, "You have stated all that is owed")

	// In checking the desk says what is let in again: none, one, some and all of it.
	let := func(text string) string {
		_, err = entry.In(o).Gather(context.Background(), operator, []entry.File{{Name: "let_in.csv", Body: []byte(text)}}, nil, entry.Options{})
		require.NoError(t, err)
		_, body, _ := b.get("/desk")
		return body
	}
	_, err = entry.In(o).Gather(context.Background(), operator, []entry.File{{
		Name: "periods.csv", Body: []byte("period,state\n2026-11,in checking\n"),
	}}, nil, entry.Options{})
	require.NoError(t, err)
	_, body, _ = b.get("/desk")
	require.Contains(t, body, "so leads state no more")
	require.NotContains(t, body, "let in again")
	body = let("project,period,reason\nFR-01,2026-11,yard\n")
	require.Contains(t, body, "tell an analyst of the office what is missing. FR-01 is let in again.")
	require.Contains(t, let("project,period,reason\nQS-05,2026-11,crane\n"), "Let in again are FR-01, QS-05.")
	body = let("project,period,reason\nFR-02,2026-11,yard\n")
	require.Contains(t, body, "Nov 2026 is in checking, and what you state for is let in again.")
	require.NotContains(t, body, "so leads state no more")
}
