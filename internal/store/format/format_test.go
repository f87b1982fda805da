package format

import (
	"encoding/hex"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

var rowSample = []portfolio.Row{
	{
		ID:     3,
		Source: portfolio.Source{File: 2, Row: 7},
		Fields: []portfolio.Field{{Said: portfolio.Value, Int: -5, Text: "A"}, {Said: portfolio.None}, {}},
	},
	{
		ID:     4,
		Source: portfolio.Source{File: 2, Row: 8},
		Fields: []portfolio.Field{{Said: portfolio.Value, Text: "A"}, {}, {Said: portfolio.Value, Int: 1 << 40}},
		Extra:  map[string]string{"b": "2", "a": "1"},
	},
}

var lineSample = []portfolio.Line{
	{
		CodeID:     1,
		Code:       "10",
		Flow:       portfolio.Cost,
		Class:      "opex",
		Currency:   "EUR",
		ActivityID: 4,
		Activity:   "A4",
		Cells: []portfolio.Cell{
			{
				Period: 24311,
				Amount: -100,
				Source: portfolio.Source{File: 1, Row: 2},
			}, {Period: 24312, Amount: 1 << 50, Source: portfolio.Source{File: 1, Row: 3}},
		},
		Remarks: map[calendar.Period]*portfolio.Remark{24312: {Note: "n", Extra: map[string]string{"k": "v"}}},
	},
}

// TestGolden: what an earlier version packed is read for ever.
func TestGolden(t *testing.T) {
	for _, name := range []string{"rows.1.hex", "lines.2.hex"} {
		path := filepath.Join("testdata", name)
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		body, err := hex.DecodeString(string(b))
		require.NoError(t, err)
		if name == "rows.1.hex" {
			got, err := DecodeRows(body, 3)
			require.NoError(t, err)
			require.Equal(t, rowSample, got)
			require.Equal(t, body, EncodeRows(rowSample))
			wider, err := DecodeRows(body, 5)
			require.NoError(t, err)
			require.Len(t, wider[0].Fields, 5, "columns added since say nothing")
		} else {
			got, err := DecodeLines(body)
			require.NoError(t, err)
			require.Equal(t, lineSample, got)
			require.Equal(t, body, EncodeLines(lineSample))
		}
	}
}

func FuzzDecode(f *testing.F) {
	f.Add(EncodeRows(rowSample))
	f.Add(EncodeLines(lineSample))
	f.Add([]byte{rowsForm | packed, 0x28})
	f.Fuzz(func(t *testing.T, b []byte) {
		if rows, err := DecodeRows(b, 3); err == nil {
			again, err := DecodeRows(EncodeRows(rows), 3)
			require.NoError(t, err)
			require.Equal(t, rows, again)
		}
		if lines, err := DecodeLines(b); err == nil {
			again, err := DecodeLines(EncodeLines(lines))
			require.NoError(t, err)
			require.Equal(t, len(lines), len(again))
		}
	})
}

func TestLargePartIsPacked(t *testing.T) {
	var cells []portfolio.Cell
	for i := range 500 {
		cells = append(cells, portfolio.Cell{Period: 24000, Amount: int64(i % 7)})
	}
	b := EncodeLines([]portfolio.Line{{Code: "10", Cells: cells}})
	require.NotZero(t, b[0]&packed)
	require.Less(t, len(b), 1000)
	lines, err := DecodeLines(b)
	require.NoError(t, err)
	require.Equal(t, cells, lines[0].Cells)
	_, err = DecodeRows(b, 1)
	require.ErrorIs(t, err, ErrDamaged)
}

var postingSample = Posting{
	ID: 7, Code: "L-1", Day: 739938, Period: 24322, Late: true, Batch: 50, Project: 6, CostCode: 9, Class: "capex", Centre: "HQ", Activity: 3, Amount: -412000, Currency: "EUR",
	Supplier: "Holm Storage", Text: "panels", Extra: map[string]string{"lot": "4"}, Source: portfolio.Source{File: 165, Row: 339},
}

// TestPostingsOfEveryForm: a posting in the record of changes is read whatever
// version wrote it, and written in today's form.
func TestPostingsOfEveryForm(t *testing.T) {
	for _, name := range []string{"posting.1.json", "posting.2.json"} {
		body, err := os.ReadFile(filepath.Join("testdata", name))
		require.NoError(t, err)
		got, err := DecodePosting(string(body))
		require.NoError(t, err, name)
		require.Equal(t, postingSample, got, name)
	}
	body, err := os.ReadFile(filepath.Join("testdata", "posting.2.json"))
	require.NoError(t, err)
	require.Equal(t, strings.TrimSpace(string(body)), EncodePosting(&postingSample))
	_, err = DecodePosting(`{"form":3}`)
	require.ErrorContains(t, err, "form 3")
	_, err = DecodePosting("L-1")
	require.ErrorIs(t, err, ErrDamaged)
}

// TestHashIsOverWhatIsSaid: a part that is packed in another way is the same part,
// and any bit of it that is turned is seen.
func TestHashIsOverWhatIsSaid(t *testing.T) {
	var cells []portfolio.Cell
	for i := range 300 {
		cells = append(cells, portfolio.Cell{Period: 24000, Amount: int64(i % 7)})
	}
	for _, part := range [][]byte{EncodeLines([]portfolio.Line{{Code: "10", Cells: cells}}), EncodeRows(rowSample)} {
		sum, err := Hash(part)
		require.NoError(t, err)
		form := part[0] &^ packed
		body, err := unseal(part, form)
		require.NoError(t, err)
		plain := append([]byte{form}, body...)
		again, err := Hash(plain)
		require.NoError(t, err)
		require.Equal(t, sum, again, "packed or not")
		require.NoError(t, Sound(part, sum, true))
		require.NoError(t, Sound(plain, sum, false))
		for i := range part {
			for bit := range 8 {
				bad := append([]byte{}, part...)
				bad[i] ^= 1 << bit
				if Sound(bad, sum, true) == nil { // zstd has bits that mean nothing
					body, err := unseal(bad, form)
					require.NoError(t, err)
					require.Equal(t, plain[1:], body, "byte %d, bit %d", i, bit)
				}
			}
		}
	}
	_, err := Hash(nil)
	require.ErrorIs(t, err, ErrDamaged)
	require.ErrorIs(t, Sound([]byte{rowsForm, 0}, [32]byte{}, false), ErrDamaged)
}
