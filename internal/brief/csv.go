package brief

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
	"time"
)

// CSV writes tables as comma-separated files in one ZIP, a file per table: heads first, numbers
// as plain decimals. Texts that a spreadsheet would run are passed through guard. The same tables
// give the same bytes.
func CSV(made time.Time, tables []Table, guard func(string) string) ([]byte, error) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for i, t := range tables {
		name := strings.Map(func(r rune) rune {
			if strings.ContainsRune(`/\:*?"<>|`, r) {
				return ' '
			}
			return r
		}, t.Name)
		f, err := z.CreateHeader(&zip.FileHeader{Name: fmt.Sprintf("%02d %s.csv", i+1, name), Method: zip.Deflate, Modified: made.UTC()})
		if err != nil {
			return nil, err
		}
		w := csv.NewWriter(f)
		line := make([]string, len(t.Columns))
		for j, c := range t.Columns {
			line[j] = guard(c.Head)
		}
		_ = w.Write(line) // Error tells
		for _, r := range t.Rows {
			clear(line)
			for j, c := range r {
				if j >= len(line) {
					break
				}
				if line[j] = c.Number; c.Type == Text {
					line[j] = guard(c.Text)
				}
			}
			_ = w.Write(line)
		}
		w.Flush()
		if err := w.Error(); err != nil {
			return nil, err
		}
	}
	err := z.Close()
	return b.Bytes(), err
}
