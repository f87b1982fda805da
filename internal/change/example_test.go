package change_test

import (
	"context"
	"fmt"
	"log"
	"os"
	"path/filepath"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// A batch is planned on a snapshot, and again where anyone was faster; one that
// changes nothing leaves the revision as it is.
func ExampleWriter_Write() {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "turret")
	if err != nil {
		log.Fatal(err)
	}
	defer os.RemoveAll(dir)
	st, err := store.Open(ctx, filepath.Join(dir, "a.db"), true)
	if err != nil {
		log.Fatal(err)
	}
	defer st.Close()
	b, err := book.Open(ctx, st)
	if err != nil {
		log.Fatal(err)
	}
	w := change.New(st, b)
	before, err := w.Write(
		ctx,
		change.By{Name: "ines"},
		0,
		func(context.Context, *book.Snapshot) (*store.Batch, error) { return nil, nil },
	)
	if err != nil {
		log.Fatal(err)
	}
	id, err := w.Write(
		ctx,
		change.By{Name: "ines"},
		0,
		func(_ context.Context, s *book.Snapshot) (*store.Batch, error) {
			row := portfolio.Row{ID: 99, Fields: make([]portfolio.Field, len(record.Programmes.Columns))}
			row.Fields[0] = portfolio.Field{Said: portfolio.Value, Text: "north"}
			return &store.Batch{
				Origin:  "form",
				Records: []store.RecordChange{{Table: record.Programmes.Kind, After: row}},
			}, nil
		},
	)
	fmt.Println(id-before, err)
	s, err := b.Snapshot(ctx)
	fmt.Println(s.Records.Of(record.Programmes.Kind)[0].Fields[0].Text, err)
	// Output:
	// 1 <nil>
	// north <nil>
}
