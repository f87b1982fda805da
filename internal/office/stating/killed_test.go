package stating_test

import (
	"bufio"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/officetest"
	"turret/internal/office/stating"
	"turret/internal/right"
)

// kills is how often the writing process is killed.
const kills = 100

// written is the state of a statement: the number that is typed into three cells of two
// parts at once, and the one that was sent.
type written struct{ typed, sent int }

// TestKilledTyper types and sends without end where TestKilled asks it to, and says what
// it is at, and what is acknowledged.
func TestKilledTyper(t *testing.T) {
	path := os.Getenv("TURRET_TEST_TYPE")
	if path == "" {
		t.Skip("it is started by TestKilled")
	}
	var n int
	_, err := fmt.Sscan(os.Getenv("TURRET_TEST_AT"), &n)
	require.NoError(t, err)
	o, err := office.Open(ctx, officetest.Operator, path, false)
	require.NoError(t, err)
	a := right.Actor{Name: "Ada", Role: right.Analyst, Account: 1}
	for {
		n++
		fmt.Println("typing", n)
		typed(t, o, a, "progress", map[string]string{"1/note": fmt.Sprint(n), "2/note": fmt.Sprint(n)})
		fmt.Println("typed", n)
		if n%2 == 0 {
			continue
		}
		fmt.Println("sending", n)
		_, err := stating.In(o).Send(ctx, a, july(t, o), "A")
		require.NoError(t, err)
		fmt.Println("sent", n)
	}
}

// TestKilled kills a process that types and sends at random moments: what was
// acknowledged is there each time, whole, as a draft or stated.
func TestKilled(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts a hundred processes")
	}
	o := harbour(t)
	path := filepath.Join(t.TempDir(), "killed.db")
	officetest.Admitted(t, o, "ada", right.Analyst)
	require.NoError(t, o.Store().Backup(ctx, path))
	r := rand.New(rand.NewPCG(19, 2026))
	now, acknowledged := written{}, 0
	for i := range kills {
		said, going := typeAndDie(t, path, max(now.typed, now.sent), time.Duration(r.IntN(60))*time.Millisecond)
		if said != (written{}) {
			acknowledged++
		}
		o, err := office.Open(ctx, officetest.Operator, path, false)
		require.NoError(t, err)
		is := stands(t, o)
		require.NoError(t, o.Close())
		require.Contains(t, []int{max(now.sent, said.sent), max(now.sent, said.sent, going.sent)}, is.sent, "kill %d: sent", i)
		latest := max(now.typed, now.sent, said.typed, said.sent)
		require.Contains(t, []int{latest, max(latest, going.typed)}, max(is.typed, is.sent), "kill %d: typed", i)
		now = is
	}
	require.Positive(t, now.sent, "nothing was ever sent: the test proves nothing")
	require.Greater(t, acknowledged, kills/10, "most were killed before they wrote anything: the test proves nothing")
}

// stands reads what is typed and what is sent, each whole.
func stands(t *testing.T, o *office.Office) written {
	t.Helper()
	m := july(t, o)
	s, err := stating.In(o).Sheet(ctx, right.Actor{Name: "Ada", Role: right.Analyst, Account: 1}, m, "A", "progress")
	require.NoError(t, err)
	one, two := s.Grid.Cell("1/note"), s.Grid.Cell("2/note")
	require.Equal(t, one.Is, two.Is, "sent by half")
	require.Equal(t, one.Value(), two.Value(), "typed by half")
	read := func(text string) (n int) {
		if text != "" {
			_, err := fmt.Sscan(text, &n)
			require.NoError(t, err)
		}
		return n
	}
	return written{read(one.Value()), read(one.Is)}
}

// typeAndDie starts the writer and kills it some time after it has begun. It gives what
// was acknowledged, and what was under way.
func typeAndDie(t *testing.T, path string, at int, after time.Duration) (said, going written) {
	t.Helper()
	cmd := exec.Command(os.Args[0], "-test.run=^TestKilledTyper$")
	cmd.Env = append(os.Environ(), "TURRET_TEST_TYPE="+path, fmt.Sprintf("TURRET_TEST_AT=%d", at))
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	begun := false
	for lines := bufio.NewScanner(out); lines.Scan(); {
		word, number, _ := strings.Cut(lines.Text(), " ")
		into := map[string]*int{"typing": &going.typed, "typed": &said.typed, "sending": &going.sent, "sent": &said.sent}[word]
		require.NotNil(t, into, lines.Text())
		_, err := fmt.Sscan(number, into)
		require.NoError(t, err)
		if !begun {
			begun = true
			time.AfterFunc(after, func() { _ = cmd.Process.Kill() })
		}
	}
	require.Error(t, cmd.Wait(), "it ends by the kill alone")
	return said, going
}
