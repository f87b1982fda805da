package shell

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"
)

// TestGoOn: a page that asks by itself is led on whole; who comes by a link follows as ever.
func TestGoOn(t *testing.T) {
	app := fiber.New()
	app.Get("/", func(c fiber.Ctx) error { return GoOn(c, "/gather/run/7") })
	for _, x := range []struct {
		heads   map[string]string
		status  int
		leads   string
		follows string
	}{
		{nil, http.StatusSeeOther, "", "/gather/run/7"},
		{map[string]string{"HX-Request": "true", "HX-Boosted": "true"}, http.StatusSeeOther, "", "/gather/run/7"},
		{map[string]string{"HX-Request": "true"}, http.StatusNoContent, "/gather/run/7", ""},
	} {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		for k, v := range x.heads {
			r.Header.Set(k, v)
		}
		answer, err := app.Test(r)
		require.NoError(t, err)
		answer.Body.Close()
		require.Equal(t, x.status, answer.StatusCode)
		require.Equal(t, x.leads, answer.Header.Get("HX-Redirect"))
		require.Equal(t, x.follows, answer.Header.Get("Location"))
	}
}
