package web

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// quay has a programme of one project that is hidden from some, and one that is not.
var quay = map[string]string{
	"programmes.csv": "programme,name\nHP,Hushed works\nSP,Seen works\n",
	"cost_codes.csv": "cost_code,name\n10,Labour\n",
	"projects.csv":   "project,name,programme,currency,lead,sponsor\nHID-1,Hidden quay,HP,EUR,Quentin Hush,Quilla Hush\nSEE-1,Seen pier,SP,EUR,Sal Ternary,Sal Above\n",
	"activities.csv": "project,activity,name,milestone,level,baseline_start,baseline_finish\nHID-1,1,Hushed dredging,,,2026-01-05,2026-03-27\nHID-1,M1,Unseen mooring,yes,portfolio,,2026-02-20\nSEE-1,1,Piling,,,2026-01-05,2026-03-27\nSEE-1,M1,Seen mooring,yes,portfolio,,2026-02-20\n",
	"baselines.csv":  "project,baseline,state,approved\nHID-1,1,approved,2026-01-02\nSEE-1,1,approved,2026-01-02\n",
	"costs.csv":      "project,cost_code,kind,period,version,amount\nHID-1,10,plan,2026-01,1,77777.00\nHID-1,10,plan,2026-02,1,77777.00\nHID-1,10,actual,2026-01,,66666.00\nHID-1,10,forecast,2026-02,2026-01,88888.00\nSEE-1,10,plan,2026-01,1,5000.00\nSEE-1,10,actual,2026-01,,4000.00\nSEE-1,10,forecast,2026-02,2026-01,1500.00\n",
	"progress.csv":   "project,activity,period,percent,start,finish\nHID-1,1,2026-01,50,2026-01-05,2026-05-29\nHID-1,M1,2026-01,0,,2026-04-24\nSEE-1,1,2026-01,60,2026-01-05,\n",
	"narratives.csv": "project,period,text\nHID-1,2026-01,Hushed words\nSEE-1,2026-01,Seen words\n",
	"risks.csv":      "project,risk,period,title,probability,cost\nHID-1,R1,2026-01,Hushed risk,3,55555.00\n",
	"questions.csv":  "project,question,text,by\nHID-1,Q1,Hushed question?,someone\nSEE-1,Q1,Seen question?,someone\n",
}

// hushed is what nobody reads who does not read HID-1.
var hushed = []string{"HID-1", "Hidden quay", "Hushed", "Hush", "Unseen mooring", "77,777", "77777", "66,666", "66666", "88,888", "55,555"}

// wordsIn gives the words of an answer, of a workbook those of its sheets.
func wordsIn(t *testing.T, body, kind string) string {
	if !strings.Contains(kind, "spreadsheet") {
		return body
	}
	z, err := zip.NewReader(bytes.NewReader([]byte(body)), int64(len(body)))
	require.NoError(t, err)
	var out strings.Builder
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		_, err = io.Copy(&out, r)
		require.NoError(t, err)
		r.Close()
	}
	return out.String()
}

// walked gives those of all routes that are read, about a project, a programme and both
// periods.
func walked(app *fiber.App, project, programme string) (out []string) {
	for _, r := range app.GetRoutes(true) {
		if r.Method != http.MethodGet || strings.HasPrefix(r.Path, "/assets") || r.Path == "/healthz" || strings.HasPrefix(r.Path, "/sign-") || strings.Contains(r.Path, "*") || strings.HasPrefix(r.Path, "/welcome") {
			continue
		}
		for _, form := range []string{"csv", "xlsx", "html"} {
			path := strings.NewReplacer(
				":form", form, ":batch", "1", ":table", "projects", ":id", "1", ":figure", "bac", ":question", "Q1", ":check", "no-rate", ":part", "progress",
				":code", project, ":project", project, ":scope", project,
			).Replace(r.Path)
			out = append(out, path)
			if !strings.Contains(r.Path, ":form") {
				out = append(out, path+"?at=2026-01&vs=2025-12&q=u&x=cpi&y=spi&of="+project+"&scope="+programme+"&trail="+project+"%2Fac&project="+project, path+"?q=mooring&show=all&of=*&trail=*%2Fac")
				break
			}
		}
	}
	return out
}

// TestSightByRoute walks every route for each role and each right to read: what is not
// theirs to read is nowhere, as a page or as a file, before and after a period has closed.
func TestSightByRoute(t *testing.T) {
	for _, closed := range []bool{false, true} {
		for _, role := range []office.Role{office.Lead, office.Executive, office.Analyst} {
			login := string(role) + "1"
			for _, c := range []struct {
				name, settings, rights string
				reads, hides           bool // HID-1; some of the portfolio is hidden
				told                   string
			}{
				{"everything", "", "", true, false, ""},
				{"nothing", "%ss_read,own\n", "", false, true, "2 projects are not yours to read"},
				{"one project", "%ss_read,own\n", login + ",read,SEE-1,,given\n", false, true, "1 project is not yours to read"},
				{"named alone", "", login + ",read,SEE-1,,given\n", false, true, "1 project is not yours to read"},
				{"a programme", "%ss_read,own\n", login + ",read,HP,,given\n", true, true, "1 project is not yours to read"},
				{"everybody's", "%ss_read,own\n", "*,read,HP,,given\n", true, true, "1 project is not yours to read"},
				{"withdrawn", "%ss_read,own\n", login + ",read,HP,,withdrawn\n", false, true, "2 projects are not yours to read"},
				{"others'", "%ss_read,own\n", "somebody,read,HP,,given\n", false, true, "2 projects are not yours to read"},
				{"all", "%ss_read,own\n", login + ",read,*,,given\n", true, false, ""},
			} {
				if role != office.Executive && (closed || c.name != "one project" && c.name != "all") || closed && c.name != "nothing" && c.name != "one project" {
					continue // what differs by role is which pages are theirs
				}
				t.Run(fmt.Sprintf("%s/%s/%v", role, c.name, closed), func(t *testing.T) {
					files := map[string]string{}
					for k, v := range quay {
						files[k] = v
					}
					if c.settings != "" {
						files["settings.csv"] = "setting,value\n" + fmt.Sprintf(c.settings, role)
					}
					if c.rights != "" {
						files["rights.csv"] = "account,right,scope,kinds,state\n" + c.rights
					}
					o := newOffice(t, files)
					if closed {
						gatherFiles(t, o, map[string]string{"periods.csv": "period,state\n2026-01,closed\n"})
					}
					app := newApp(o)
					b := signedIn(t, app, role)
					_, board, _ := b.get("/board")
					require.Equal(t, c.reads, strings.Contains(board, "HID-1"), "the board")
					require.Equal(t, c.hides, strings.Contains(board, "not yours to read"), board)
					require.Contains(t, board, c.told)
					if c.reads {
						return
					}
					read := 0
					for _, path := range append(walked(app, "HID-1", "HP"), walked(app, "SEE-1", "SP")...) {
						status, body, head := b.get(path)
						if status >= 400 {
							continue
						}
						read++
						text := wordsIn(t, body, head.Get("Content-Type"))
						for _, x := range hushed {
							if i := strings.Index(strings.ReplaceAll(text, path, ""), x); i >= 0 && !strings.Contains(path, x) {
								require.Fail(t, "it is read", "%s has %q: …%s…", path, x, text[max(0, i-80):min(len(text), i+80)])
							}
						}
					}
					require.Greater(t, read, 20)
				})
			}
		}
	}
}

// TestSightByKind: of a project of which some kinds are read, the others are nowhere, and
// what is computed of them is not known.
func TestSightByKind(t *testing.T) {
	for kinds, c := range map[string]struct{ has, not []string }{
		"dates":        {[]string{"Hushed dredging", "Unseen mooring"}, []string{"77,777", "66,666", "88,888", "Hushed words", "Hushed risk"}},
		"words, risks": {[]string{"Hushed words", "Hushed risk"}, []string{"77,777", "66,666", "Hushed dredging", "Unseen mooring"}},
		"money":        {[]string{"66,666"}, []string{"Hushed dredging", "Hushed words", "Unseen mooring"}},
		"":             {[]string{"66,666", "Hushed dredging", "Hushed words"}, nil},
	} {
		files := map[string]string{"rights.csv": "account,right,scope,kinds\nexecutive1,read,HID-1,\"" + kinds + "\"\n"}
		for k, v := range quay {
			files[k] = v
		}
		o := newOffice(t, files)
		app := newApp(o)
		b := signedIn(t, app, office.Executive)
		all := ""
		for _, path := range walked(app, "HID-1", "HP") {
			if status, body, head := b.get(path); status < 400 {
				all += wordsIn(t, body, head.Get("Content-Type"))
			}
		}
		for _, x := range c.has {
			require.Contains(t, all, x, "reading %q", kinds)
		}
		for _, x := range c.not {
			if i := strings.Index(all, x); i >= 0 {
				require.Fail(t, "it is read", "reading %q: %q in …%s…", kinds, x, all[max(0, i-100):min(len(all), i+60)])
			}
		}
		if kinds != "" {
			require.Contains(t, all, "of 1 project you read some kinds alone")
		}
	}
}
