package gather

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// TestStatedOn: a day before its month is a day and no year, and a full day names its month.
func TestStatedOn(t *testing.T) {
	ps := calendar.Months(4)
	for _, c := range []struct{ text, period, day string }{
		{"Risk register - 30 November 2026", "2026-11", "2026-11-30"},
		{"Risk register - Quay - 3 December 2026", "2026-12", "2026-12-03"},
		{"Stand: 30.11.2026", "2026-11", "2026-11-30"},
		{"as of November 2026", "2026-11", ""},
		{"Nov 2026 return", "2026-11", ""},
		{"2027 Nov 2026", "2026-11", ""},
		{"30 November", "", ""}, // of no year
		{"1 December 2026", "2026-12", "2026-12-01"},
		{"Forecast Nov-26", "2026-11", ""},
		{"room 12", "", ""},
	} {
		p, day := statedOn(c.text, ps)
		said := ""
		if day != 0 {
			said = day.String()
		}
		require.Equal(t, [2]string{c.period, c.day}, [2]string{ps.Code(p), said}, c.text)
	}
}

// TestDayBeforeMonth: 30 Nov lacks its year, which what stands above tells.
func TestDayBeforeMonth(t *testing.T) {
	ps := calendar.Months(4)
	for _, c := range []struct {
		text, above string
		needs       bool
		want        string
	}{
		{"30 Nov", "", true, ""},
		{"30 Nov", "2026", true, "2026-11"},
		{"Nov 30", "", false, "2030-11"}, // a year behind its month
		{"32 Nov", "", false, "2032-11"}, // no day
	} {
		p, needs := readMonth(c.text, "", ps)
		require.Equal(t, c.needs, needs, c.text)
		if needs {
			p, _ = readMonth(c.text, c.above, ps)
		}
		require.Equal(t, c.want, ps.Code(p), c.text)
	}
}

// TestEarlyDays: up to the tenth of a month what is told may be of the month before; where
// something else tells which of the two, or it was said, it is not asked.
func TestEarlyDays(t *testing.T) {
	for _, c := range []struct {
		name, title, period string
		asked               bool
	}{
		{"Actual costs.csv", "Status: 2 December 2026", "2026-11 2026-12", true},
		{"Actual costs.csv", "Status: 10 December 2026", "2026-11 2026-12", true},
		{"Actual costs.csv", "Status: 11 December 2026", "2026-12", false},
		{"Actual costs.csv", "Status: 1 December 2026", "2026-12", false},
		{"Actual costs.csv", "Printed: 3 December 2026", "", true},
		{"Actual costs Nov 2026.csv", "Status: 3 December 2026", "2026-11", false},
		{"Actual costs Dec 2026.csv", "Status: 3 December 2026", "2026-12", false},
		{"Actual costs Oct 2026.csv", "Status: 3 December 2026", "2026-10 2026-12", true},
	} {
		o := options()
		o.Names = NewNames([]Name{{Column: "project", Code: "H-010"}, {Column: "cost_code", Code: "110"}})
		f := &File{Name: c.name, Body: []byte(c.title + ",,\nProject,Cost code,Actual\nH-010,110,5\n")}
		sheets, _ := Sheets(f, DefaultLimits)
		u := Understand(sheets[0], o, Mapping{})
		if c.asked {
			require.NotEmpty(t, u.Questions, c)
			got := ""
			for i, x := range u.Questions[0].Choices {
				got += map[bool]string{true: "", false: " "}[i == 0] + x
			}
			require.Equal(t, c.period, got, c)
			continue
		}
		require.Empty(t, u.Questions, c)
		require.Equal(t, c.period, u.Fixed["period"], c)
	}
}

// TestShortMonths: two short numbers are months where the heads follow each other in one
// order, and in that alone.
func TestShortMonths(t *testing.T) {
	for _, c := range []struct{ heads, want string }{
		{"12/26,01/27,02/27", "2026-12 2027-01 2027-02"},
		{"26/12,27/01", "2026-12 2027-01"},
		{"26-Dec,27-Jan", "2026-12 2027-01"},
		{"11.26,12.26", "2026-11 2026-12"},
		{"12/26,02/27", ""},                  // January is missing
		{"12/26", ""},                        // one alone
		{"11/12,12/12", "2012-11 2012-12"},   // the other order leaves out a year
		{"26-Nov,26-Dec", "2026-11 2026-12"}, // days would not be the same in each month
		{"31 Dec,31 Jan", ""},                // days
		{"13/26,14/26", ""},                  // no months
		{"Dec 26,Jan 27", "2026-12 2027-01"},
	} {
		o := options()
		o.Names = NewNames([]Name{{Column: "project", Code: "H-010"}, {Column: "cost_code", Code: "110"}})
		n := 1
		for _, r := range c.heads {
			if r == ',' {
				n++
			}
		}
		body := "Project,Cost code," + c.heads + "\nH-010,110" + repeated(",5", n) + "\nH-010,110" + repeated(",6", n) + "\n"
		f := &File{Name: "forecast.csv", Body: []byte(body)}
		sheets, _ := Sheets(f, DefaultLimits)
		u := Understand(sheets[0], o, Mapping{})
		got := ""
		for _, x := range u.Uses {
			if x.As == AsMonth {
				got += map[bool]string{true: "", false: " "}[got == ""] + x.Period
			}
		}
		require.Equal(t, c.want, got, c.heads)
	}
}

func repeated(s string, n int) (out string) {
	for range n {
		out += s
	}
	return out
}

// TestDoneSaid: what words say is done, and what they do not.
func TestDoneSaid(t *testing.T) {
	for text, want := range map[string]string{
		"80 % done": "80", "80% complete": "80", "12,5 % erledigt": "12.5", "Complete": "100", "not started": "0", "100%  Done": "100",
		"80 % remaining": "", "80": "", "done 80": "", "in progress": "", "": "",
	} {
		require.Equal(t, want, doneSaid(text), text)
	}
}

// TestBalances: what an account came to is no booking, whichever day it bears.
func TestBalances(t *testing.T) {
	head := "Date,Document,Project,Account,Supplier,Text,Amount\n"
	for _, c := range []struct {
		row  string
		want int
	}{
		{"2026-11-01,,H-010,110,,Opening balance,100", 0},
		{"2026-11-01,D9,H-010,110,,Opening balance,100", 0},
		{"2026-11-01,D9,H-010,110,Opening balance,Piles,100", 1}, // a supplier of a booking
		{"2026-11-01,D9,H-010,110,,Balance of invoice 12,100", 1},
		{"2026-11-01,D9,H-010,110,,Übertrag,100", 0},
	} {
		o := options()
		o.Names = NewNames([]Name{{Column: "project", Code: "H-010"}, {Column: "cost_code", Code: "110"}})
		var rows []portfolio.Row
		rows, refused := read(t, "ledger.csv", head+"2026-11-05,D1,H-010,110,Brae,Survey,50\n"+c.row+"\n", o)
		require.Empty(t, refused, c)
		require.Len(t, rows, 1+c.want, c.row)
	}
}
