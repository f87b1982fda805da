package gather

import (
	"bytes"
	"encoding/csv"
	"errors"
	"io"
)

// RowAt gives the header and the cells of the row that begins at a line of a
// file, the header being line 1; ok is false where there is none.
func RowAt(body []byte, line int) (head, cells []string, ok bool) {
	r := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(body, bom)))
	r.FieldsPerRecord = -1
	head, err := r.Read()
	if err != nil {
		return nil, nil, false
	}
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return nil, nil, false
		}
		if at, _ := position(r, cells, err); at == line && err == nil {
			return head, cells, true
		} else if at > line {
			return nil, nil, false
		}
	}
}
