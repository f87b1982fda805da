package entry

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
)

// MovedLimit gives how many times more or less than before a project's forecast may come to
// without being asked about, as it is written, and the revision that it was read at.
func (o Room) MovedLimit(ctx context.Context) (text string, at int64, err error) {
	snap, err := o.Book().Snapshot(ctx)
	if err != nil {
		return "", 0, err
	}
	return strconv.FormatFloat(snap.Office.MovedLimit, 'f', -1, 64), snap.Revision, nil
}

// SaveMovedLimit sets it; seen is the revision that the form was made of.
func (o Room) SaveMovedLimit(ctx context.Context, a right.Actor, seen int64, text string) error {
	if err := right.Check(a, right.Map); err != nil {
		return err
	}
	text = strings.Replace(strings.TrimSpace(text), ",", ".", 1)
	if n, err := strconv.ParseFloat(text, 64); err != nil || n <= 1 || n > 1000 {
		return &office.Misfit{Column: "limit", Why: fmt.Sprintf("%q is not how many times; write a number above 1, such as 5", text)}
	}
	_, err := o.Enter(ctx, a, &Form{
		Origin: office.Structured, Note: "limit of forecasts that move", Seen: seen,
		Rows: These(Of(record.Settings.Name, Row{"setting": record.MovedLimit, "value": text})),
	})
	return err
}
