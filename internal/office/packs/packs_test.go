package packs_test

import (
	"context"
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/book"
	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/brief"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/feedback"
	"turret/internal/office/letters"
	"turret/internal/office/officetest"
	"turret/internal/office/packs"
	"turret/internal/right"
	"turret/internal/store"
)

var to = packs.Addresses{
	Addresses: letters.Addresses{Desk: "http://t/desk", Account: "http://t/account"},
	Shared:    func(token string) string { return "http://t/shared/" + token },
}

// sender is an office with two projects of two leads, and packs.
type sender struct {
	*office.Office
	t    *testing.T
	wait func(time.Duration)
	ines right.Actor
}

func begin(t *testing.T, rows string) *sender {
	o, wait := officetest.BareOffice(t)
	s := &sender{Office: o, t: t, wait: wait}
	s.ines = officetest.Admitted(t, o, "ines", office.Analyst)
	officetest.GatherMap(t, o, map[string]string{
		"programmes.csv": "programme,name\nG,Green\n",
		"cost_codes.csv": "cost_code,name\n10,Works\n",
		"projects.csv":   "project,name,programme,lead,sponsor\nA,Arch,G,The ada,Edda\nB,Beacon,G,Bo,Edda\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,100.00\nB,10,plan,2026-01,1,100.00\nA,10,actual,2026-01,,90.00\nB,10,actual,2026-01,,80.00\n",
		"progress.csv":   "project,activity,period,percent\n",
		"packs.csv":      "pack,name,scopes,pages,forms,readers,send\n" + rows,
	})
	officetest.Admitted(t, o, "ada", office.Lead, "A")
	s.address("ada", "ada@office.example")
	return s
}

func (s *sender) address(login, address string) {
	x, err := s.Store().AccountBy(s.t.Context(), 0, login)
	require.NoError(s.t, err)
	require.NotNil(s.t, x)
	require.NoError(s.t, s.Store().SetLetters(s.t.Context(), x.ID, address, "at once"))
}

// letter is what a carrier took.
type letter struct {
	address, subject, plain string
	files                   []letters.Enclosure
}

func (s *sender) post() (out []letter) {
	_, err := letters.In(s.Office).Deliver(s.t.Context(), officetest.Operator, func(_ context.Context, _, address, _, subject, plain, html string, files []letters.Enclosure) error {
		require.NotContains(s.t, html, "ZgotmplZ")
		out = append(out, letter{address, subject, plain, files})
		return nil
	})
	require.NoError(s.t, err)
	return out
}

// token is that of the link in a letter.
func (l letter) token() string {
	return regexp.MustCompile(`/shared/(\S+)`).FindStringSubmatch(l.plain)[1]
}

func (s *sender) send(code string) (*packs.Result, error) {
	return packs.In(s.Office).Send(s.t.Context(), s.ines, code, "2026-01", to, nil)
}

// TestSend: the whole portfolio to someone outside and to a lead, one brief for both, since
// they see the same; each opens it by a link that counts, ends and can be revoked.
func TestSend(t *testing.T) {
	s := begin(t, "BOARD,Board brief,*,\"first,board\",\"pdf,pptx\",\"board@elsewhere.example, ada\",\n")
	room := packs.In(s.Office)
	r, err := s.send("BOARD")
	require.NoError(t, err)
	require.Equal(t, &packs.Result{Briefs: 1, Readers: 2}, r)
	got := s.post()
	require.Len(t, got, 2)
	require.Equal(t, "board@elsewhere.example", got[0].address)
	require.Contains(t, got[0].subject, "Portfolio brief")
	require.NotContains(t, got[0].plain, "/desk", "who does not sign in has no desk")
	require.Contains(t, got[1].plain, "http://t/desk")

	x, err := room.Open(t.Context(), got[0].token())
	require.NoError(t, err)
	require.Equal(t, []string{"pdf", "pptx"}, x.Forms)
	_, body, err := room.Form(t.Context(), got[0].token(), "pdf")
	require.NoError(t, err)
	require.Equal(t, "%PDF-", string(body[:5]))
	_, body, err = room.Form(t.Context(), got[0].token(), "xlsx")
	require.NoError(t, err)
	require.Nil(t, body, "it was not offered")
	x, err = room.Open(t.Context(), "no such token")
	require.NoError(t, err)
	require.Nil(t, x)

	list, err := room.Sent(t.Context(), s.ines, "BOARD")
	require.NoError(t, err)
	require.Equal(t, []int64{0, 1}, []int64{list[0].Opens, list[1].Opens}, "the last first")
	require.Equal(t, "sent", list[1].Letter)
	require.NoError(t, room.Revoke(t.Context(), s.ines, list[1].ID))
	x, err = room.Open(t.Context(), got[0].token())
	require.NoError(t, err)
	require.Nil(t, x, "revoked")
	_, body, _ = room.Form(t.Context(), got[0].token(), "pdf")
	require.Nil(t, body)

	// Sent again, the link of before opens nothing; after sixty days neither does the new one.
	require.NoError(t, room.Again(t.Context(), s.ines, list[0].ID, to))
	again := s.post()
	require.Len(t, again, 1)
	x, _ = room.Open(t.Context(), got[1].token())
	require.Nil(t, x)
	x, _ = room.Open(t.Context(), again[0].token())
	require.NotNil(t, x)
	for _, ended := range list { // one was revoked, one sent again
		require.ErrorContains(t, room.Again(t.Context(), s.ines, ended.ID, to), "meanwhile")
	}
	require.Empty(t, s.post())
	s.wait(61 * 24 * time.Hour)
	x, _ = room.Open(t.Context(), again[0].token())
	require.Nil(t, x)
	var denied *office.Denied
	for _, a := range []right.Actor{officetest.Admitted(t, s.Office, "tor", office.Executive), officetest.Admitted(t, s.Office, "leo", office.Lead)} {
		_, err = room.Send(t.Context(), a, "BOARD", "2026-01", to, nil)
		require.ErrorAs(t, err, &denied)
		require.ErrorAs(t, room.Revoke(t.Context(), a, 1), &denied)
		_, err = room.List(t.Context(), a, officetest.Moment(t, s.Office, office.Ask{}))
		require.ErrorAs(t, err, &denied)
	}
}

// TestWhoGetsWhat: leads get their projects, one brief each; whom a pack does not reach is told.
func TestWhoGetsWhat(t *testing.T) {
	s := begin(t, "LEADS,To leads,projects,,pdf,leads,\nODD,Odd,\"A,Z\",,pdf,\"nobody, x@y.example\",\nNONE,None,Z,,pdf,sponsors,\n")
	r, err := s.send("LEADS")
	require.NoError(t, err)
	require.Equal(t, []string{"1 person with no account: Bo"}, r.Left)
	got := s.post()
	require.Len(t, got, 1)
	require.Contains(t, got[0].subject, "Project brief: A Arch")
	r, err = s.send("ODD")
	require.NoError(t, err)
	require.Equal(t, []string{"no programme and no project is called Z in Jan 2026", "nobody signs in as nobody"}, r.Left)
	require.Len(t, s.post(), 1)
	_, err = s.send("NONE")
	require.ErrorContains(t, err, "no programme and no project is called Z")
	_, err = s.send("GONE")
	require.ErrorContains(t, err, `There is no pack "GONE"`)
	list, err := packs.In(s.Office).List(t.Context(), s.ines, officetest.Moment(t, s.Office, office.Ask{At: "2026-01"}))
	require.NoError(t, err)
	require.Contains(t, fmt.Sprint(list), "with no account: Bo")
}

// TestByItself: two working days after January is closed the pack is sent once; opened, corrected
// and closed again, it is sent anew and says what has changed. A weekly one goes out on its day.
func TestByItself(t *testing.T) {
	s := begin(t, "C,Closing,*,first,pdf,b@e.example,2 working days after closing\nW,Weekly,*,first,pdf,w@e.example,each Monday\n")
	room := packs.In(s.Office)
	round := func() (subjects []string, all string) {
		t.Helper()
		_, err := room.Round(t.Context(), officetest.Operator, to)
		require.NoError(t, err)
		for _, l := range s.post() {
			subjects = append(subjects, l.address+": "+l.subject)
			all += l.plain
		}
		return subjects, all
	}
	days := func(n int) { s.wait(time.Duration(n) * 24 * time.Hour) }
	until := func(d time.Weekday) {
		for s.Clock().Weekday() != d {
			days(1)
		}
	}
	until(time.Tuesday)
	got, _ := round()
	require.Empty(t, got, "nothing is closed, and it is no Monday")
	closed := func() {
		_, err := closing.In(s.Office).CloseWith(t.Context(), s.ines, 2026*12, func(context.Context, *book.Snapshot) ([]closing.Over, error) { return nil, nil })
		require.NoError(t, err)
	}
	closed()
	days(1)
	got, _ = round()
	require.Empty(t, got, "one working day")
	days(1)
	got, _ = round()
	require.Len(t, got, 1)
	require.Contains(t, got[0], "b@e.example: Portfolio brief")
	got, _ = round()
	require.Empty(t, got, "once")

	require.NoError(t, closing.In(s.Office).ReopenCode(t.Context(), s.ines, "2026-01", "an invoice came"))
	officetest.GatherMap(t, s.Office, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nA,10,actual,2026-01,95.00\n"})
	closed()
	until(time.Sunday)
	got, _ = round()
	require.Empty(t, got, "closed on a Thursday, two working days later is Monday")
	until(time.Monday)
	officetest.GatherMap(t, s.Office, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nA,10,actual,2026-02,5.00\n"}) // else nothing is told of the open period
	got, all := round()
	require.Len(t, got, 2)
	require.Contains(t, got[0], "b@e.example: Corrected: Portfolio brief")
	require.Contains(t, all, "What has changed")
	require.Contains(t, all, "Arch: actual cost 95.00, was 90.00")
	require.True(t, strings.HasPrefix(got[1], "w@e.example"))
	days(1)
	got, _ = round()
	require.Empty(t, got)
}

// TestBySight: a reader who may see one project alone gets a brief of what they see, made apart
// from that of someone who sees all; of a scope that is not theirs they get nothing, and it is told.
func TestBySight(t *testing.T) {
	s := begin(t, "ALL,All,*,board,html,\"board@elsewhere.example,ada\",\nB,Beacon,B,,html,ada,\n")
	_, err := entry.In(s.Office).Gather(t.Context(), officetest.Operator, []entry.File{officetest.File("rights.csv", "account,right,scope\nada,read,A\n")}, nil, entry.Options{})
	require.NoError(t, err)
	r, err := s.send("ALL")
	require.NoError(t, err)
	require.Equal(t, 2, r.Briefs)
	for _, l := range s.post() {
		_, body, err := packs.In(s.Office).Form(t.Context(), l.token(), "html")
		require.NoError(t, err)
		require.Contains(t, string(body), "Arch", l.address)
		require.Equal(t, l.address == "board@elsewhere.example", strings.Contains(string(body), "Beacon"), l.address)
	}
	_, err = s.send("B")
	require.ErrorContains(t, err, "B for The ada")
	require.Empty(t, s.post())
}

// TestEnclosed: a pack whose forms go with the letter encloses them, as they are frozen, with the
// link beside.
func TestEnclosed(t *testing.T) {
	s := begin(t, "BOARD,Board brief,*,first,\"pdf,zip\",board@elsewhere.example,\n")
	officetest.GatherMap(t, s.Office, map[string]string{"packs.csv": "pack,as\nBOARD,attachment\n"})
	_, err := s.send("BOARD")
	require.NoError(t, err)
	got := s.post()
	require.Len(t, got[0].files, 2)
	_, body, err := packs.In(s.Office).Form(t.Context(), got[0].token(), "pdf")
	require.NoError(t, err)
	require.Equal(t, body, got[0].files[0].Body)
	require.Regexp(t, `^brief-\d+\.pdf$`, got[0].files[0].Name)
	require.Equal(t, "PK", string(got[0].files[1].Body[:2]))

	// Sent again, the same files go with it; once the brief is withdrawn it is not sent again.
	list, err := packs.In(s.Office).Sent(t.Context(), s.ines, "BOARD")
	require.NoError(t, err)
	require.NoError(t, packs.In(s.Office).Again(t.Context(), s.ines, list[0].ID, to))
	again := s.post()
	require.Equal(t, got[0].files, again[0].files)
	list, err = packs.In(s.Office).Sent(t.Context(), s.ines, "BOARD")
	require.NoError(t, err)
	require.NoError(t, brief.In(s.Office).Withdraw(t.Context(), s.ines, list[0].Brief, "A figure was wrong."))
	require.ErrorContains(t, packs.In(s.Office).Again(t.Context(), s.ines, list[0].ID, to), "was withdrawn: A figure was wrong. Send the pack itself again.")
}

// TestChangedMeanwhile: a pack whose readers change while its briefs are made is not sent.
func TestChangedMeanwhile(t *testing.T) {
	s := begin(t, "BOARD,Board brief,*,first,pdf,\"board@elsewhere.example,ada\",\n")
	_, err := packs.In(s.Office).Send(t.Context(), s.ines, "BOARD", "2026-01", to, func(string) {
		officetest.GatherMap(t, s.Office, map[string]string{"packs.csv": "pack,readers\nBOARD,ada\n"})
	})
	require.ErrorContains(t, err, "was changed while its briefs were made")
	require.Empty(t, s.post())
	_, err = s.send("BOARD")
	require.NoError(t, err)
	require.Len(t, s.post(), 1)
}

// TestSentOnce: on one occasion a pack is sent once, whoever was quicker.
func TestSentOnce(t *testing.T) {
	s := begin(t, "BOARD,Board brief,*,first,pdf,ada,\n")
	_, err := s.send("BOARD")
	require.NoError(t, err)
	list, err := s.Store().Sendings(t.Context(), "BOARD", 1)
	require.NoError(t, err)
	list[0].Hash = []byte("another")
	require.ErrorIs(t, s.Store().Send(t.Context(), list, nil), store.ErrSent)
	list[0].Occasion = "another"
	require.NoError(t, s.Store().Send(t.Context(), list, nil))
}

// TestShipped: each pack that an office can begin with is set up once, goes to who set it up, and
// can be sent as it comes.
func TestShipped(t *testing.T) {
	s := begin(t, "")
	s.address("ines", "ines@office.example")
	room := packs.In(s.Office)
	m := officetest.Moment(t, s.Office, office.Ask{})
	require.Len(t, room.Beginning(m), len(packs.Shipped))
	for _, p := range packs.Shipped {
		require.NoError(t, room.Set(t.Context(), s.ines, p.Code), p.Code)
		require.ErrorContains(t, room.Set(t.Context(), s.ines, p.Code), "set up meanwhile")
		r, err := s.send(p.Code)
		require.NoError(t, err, p.Code)
		require.Equal(t, &packs.Result{Briefs: 1, Readers: 1}, r, p.Code)
		got := s.post()
		require.Len(t, got, 1)
		require.Equal(t, "ines@office.example", got[0].address)
	}
	require.Empty(t, room.Beginning(officetest.Moment(t, s.Office, office.Ask{})))
	require.ErrorIs(t, room.Set(t.Context(), s.ines, "NONE"), office.ErrRefused)
	var denied *right.Denied
	require.ErrorAs(t, room.Set(t.Context(), officetest.Admitted(t, s.Office, "bo", office.Lead, "B"), "TABLE"), &denied)
}

// TestComment: what a reader says of a brief becomes a question on the figure that they point at,
// or feedback on the whole; nothing else can be asked through a link, and nothing once it is
// revoked.
func TestComment(t *testing.T) {
	s := begin(t, "BOARD,Board brief,*,first,pdf,board@elsewhere.example,\nONE,Arch,A,,pdf,board@elsewhere.example,\n")
	room := packs.In(s.Office)
	_, err := s.send("BOARD")
	require.NoError(t, err)
	token := s.post()[0].token()
	x, err := room.Open(t.Context(), token)
	require.NoError(t, err)
	require.True(t, x.Asks)
	require.Empty(t, x.Project, "it is of two")
	done, err := room.Comment(t.Context(), token, " a ", "eac_computed", "Why so much?")
	require.NoError(t, err)
	require.Equal(t, "The office is asked: it is question Q1 of A.", done)
	list, err := asking.In(s.Office).Threads(t.Context(), s.ines, asking.Which{})
	require.NoError(t, err)
	require.Equal(t, []string{"figure eac_computed", "board@elsewhere.example", "Jan 2026", "the portfolio office"}, []string{list[0].About.Text, list[0].Said[0].By, list[0].PeriodName, list[0].ToName})
	require.True(t, list[0].Mine)
	_, err = room.Comment(t.Context(), token, "", "", "A good brief")
	require.NoError(t, err)
	require.NoError(t, asking.In(s.Office).Answer(t.Context(), s.ines, "A", "Q1", "The quay sank."))
	for range 2 {
		_, err = letters.In(s.Office).Write(t.Context(), officetest.Operator, to.Addresses)
		require.NoError(t, err)
	}
	answer := s.post()
	require.Len(t, answer, 1, "once")
	require.Equal(t, []string{"board@elsewhere.example", "A: an answer about Computed outlook"}, []string{answer[0].address, answer[0].subject})
	require.Contains(t, answer[0].plain, "The quay sank.")
	require.NotContains(t, answer[0].plain, "/desk")
	said, err := feedback.In(s.Office).List(t.Context(), s.ines)
	require.NoError(t, err)
	require.Equal(t, []string{"A good brief", x.Title, "board@elsewhere.example"}, []string{said[0].Text, said[0].About, said[0].By})
	_, err = room.Comment(t.Context(), token, "", "cpi", "Whose?")
	require.ErrorContains(t, err, "name the project")
	_, err = room.Comment(t.Context(), token, "Z", "", "?")
	require.ErrorContains(t, err, "not of a project")
	_, err = room.Comment(t.Context(), token, "A", "nonsense", "?")
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = room.Comment(t.Context(), token, "A", "", " ")
	require.ErrorIs(t, err, office.ErrRefused)
	for range 19 {
		_, err = room.Comment(t.Context(), token, "B", "", "And this?")
		require.NoError(t, err)
	}
	_, err = room.Comment(t.Context(), token, "B", "", "And this?")
	require.ErrorContains(t, err, "20 questions of yours are open")

	_, err = s.send("ONE")
	require.NoError(t, err)
	one := s.post()
	x, err = room.Open(t.Context(), one[len(one)-1].token())
	require.NoError(t, err)
	require.Equal(t, "A", x.Project, "a brief of one project is asked about that one alone")
	_, err = room.Comment(t.Context(), one[len(one)-1].token(), "B", "", "And this?")
	require.ErrorContains(t, err, "not of a project")
	sent, err := room.Sent(t.Context(), s.ines, "BOARD")
	require.NoError(t, err)
	require.NoError(t, room.Revoke(t.Context(), s.ines, sent[0].ID))
	done, err = room.Comment(t.Context(), token, "A", "", "Still there?")
	require.NoError(t, err)
	require.Empty(t, done)
}
