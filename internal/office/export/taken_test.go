package export

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/brief"
)

func TestTakenCell(t *testing.T) {
	for text, want := range map[string]brief.Cell{
		"12":                {Type: brief.Units, Number: "12"},
		"-1234567":          {Type: brief.Units, Number: "-1234567"},
		"0.90":              {Type: brief.Ratio, Number: "0.90"},
		"5.6%":              {Type: brief.Share, Number: "0.056000"},
		"−12%":              {Type: brief.Share, Number: "-0.120000"},
		"+0.5%":             {Type: brief.Share, Number: "0.005000"},
		"'=SUM(A1)":         {Text: "=SUM(A1)"},
		"12 d":              {Text: "12 d"},
		"€1.2 M":            {Text: "€1.2 M"},
		"":                  {},
		"12345678901234567": {Text: "12345678901234567"},
	} {
		require.Equal(t, want, cell(text), text)
	}
}

func TestTakenTable(t *testing.T) {
	x, err := table("Projects", "Project,CPI\n\"A, B\",0.90\nC,1,extra\n")
	require.NoError(t, err)
	require.Equal(t, []brief.Column{{Head: "Project"}, {Head: "CPI"}, {}}, x.Columns)
	require.Equal(t, "A, B", x.Rows[0][0].Text)
	require.Equal(t, brief.Cell{}, x.Rows[0][2], "a short row is filled")
	_, err = table("x", "a,\"b\n")
	require.Error(t, err)
}
