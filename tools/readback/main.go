// Readback prints what other libraries than those that wrote it read in a PDF or a
// spreadsheet, as JSON, for the tests of the writers.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/ledongthuc/pdf"
	"github.com/tealeg/xlsx/v3"
)

func main() {
	body, err := io.ReadAll(os.Stdin)
	if err == nil && len(os.Args) != 2 {
		err = fmt.Errorf("usage: readback pdf|xlsx < file")
	}
	var out any
	if err == nil {
		switch os.Args[1] {
		case "pdf":
			out, err = pages(body)
		case "xlsx":
			out, err = sheets(body)
		default:
			err = fmt.Errorf("there is no reader of %s", os.Args[1])
		}
	}
	if err == nil {
		err = json.NewEncoder(os.Stdout).Encode(out)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// pages gives the text of each page.
func pages(body []byte) ([]string, error) {
	r, err := pdf.NewReader(bytes.NewReader(body), int64(len(body)))
	if err != nil {
		return nil, err
	}
	var out []string
	for i := 1; i <= r.NumPage(); i++ {
		var b strings.Builder
		for _, x := range r.Page(i).Content().Text {
			b.WriteString(x.S)
		}
		out = append(out, b.String())
	}
	return out, nil
}

type cell struct{ Value, Formula string }

// sheets gives the cells of each sheet, by row.
func sheets(body []byte) ([][][]cell, error) {
	book, err := xlsx.OpenBinary(body)
	if err != nil {
		return nil, err
	}
	var out [][][]cell
	for _, s := range book.Sheets {
		var rows [][]cell
		err := s.ForEachRow(func(r *xlsx.Row) error {
			cells := make([]cell, s.MaxCol)
			for i := range cells {
				c := r.GetCell(i)
				cells[i] = cell{c.Value, c.Formula()}
			}
			rows = append(rows, cells)
			return nil
		})
		if err != nil {
			return nil, err
		}
		out = append(out, rows)
	}
	return out, nil
}
