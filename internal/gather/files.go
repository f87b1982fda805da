// Package gather turns files into rows of Turret's tables. It knows formats,
// headers and cells; what a row means for the data is for others.
package gather

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"turret/internal/record"
)

// Limits guard against files that would take the machine down.
type Limits struct {
	FileBytes  int64 // of one file, unpacked
	ZipBytes   int64 // of all files of a zip, unpacked
	ZipFiles   int
	LineBytes  int
	CellBytes  int
	Columns    int
	Rows       int
	Cells      int // of one sheet of a spreadsheet
	XMLDepth   int
	RefusalMax int // refused rows kept of one file
}

// DefaultLimits are generous for an office and safe for its machine.
var DefaultLimits = Limits{
	FileBytes: 512 << 20, ZipBytes: 2 << 30, ZipFiles: 10_000, LineBytes: 1 << 20, CellBytes: 32 << 10, Columns: 1000, Rows: 5_000_000, Cells: 4_000_000, XMLDepth: 32, RefusalMax: 10_000,
}

// File is a received file.
type File struct {
	Name string
	Body []byte
}

// Refusal is a row, a cell or a whole file that was not taken. Row is zero for
// a whole file; Column and Value are empty for a whole row.
type Refusal struct {
	File   string
	Row    int
	Column string
	Value  string
	Reason string
	Cells  map[string]string `json:",omitempty"`
	Waits  string            `json:",omitempty"` // the column whose code nothing matches
	Lacks  string            `json:",omitempty"` // the table that has to have the value first, where adding it there would do
	Amount string            `json:",omitempty"` // of the row, a plain decimal
	Unit   string            `json:",omitempty"` // its currency
}

func (r Refusal) String() string {
	var b strings.Builder
	b.WriteString(r.File)
	if r.Row > 0 {
		fmt.Fprintf(&b, ", row %d", r.Row)
	}
	if r.Column != "" {
		fmt.Fprintf(&b, ", %s", r.Column)
	}
	b.WriteString(": " + r.Reason)
	return b.String()
}

// Collect reads files, directories and zips, in order of their names. What it
// cannot use comes back as refusals; an error is a path that cannot be read.
// Files of a Data Package that are not tables are passed over.
func Collect(paths []string, lim Limits) (files []File, refused []Refusal, err error) {
	for _, p := range paths {
		info, err := os.Stat(p)
		if err != nil {
			return nil, nil, fmt.Errorf("%s cannot be read: %w", p, rootCause(err))
		}
		if !info.IsDir() {
			f, r, err := collectFile(p, filepath.Base(p), lim)
			if err != nil {
				return nil, nil, err
			}
			files, refused = append(files, f...), append(refused, r...)
			continue
		}
		err = filepath.WalkDir(p, func(name string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !d.Type().IsRegular() || !wanted(name) {
				return err
			}
			rel, err := filepath.Rel(p, name)
			if err != nil {
				return err
			}
			f, r, err := collectFile(name, filepath.ToSlash(rel), lim)
			files, refused = append(files, f...), append(refused, r...)
			return err
		})
		if err != nil {
			return nil, nil, fmt.Errorf("%s cannot be read: %w", p, rootCause(err))
		}
	}
	return files, refused, nil
}

func rootCause(err error) error {
	var pe *fs.PathError
	if errors.As(err, &pe) {
		return pe.Err
	}
	return err
}

// wanted leaves out what is in a directory without being meant as a table.
func wanted(name string) bool {
	switch strings.ToLower(path.Ext(name)) {
	case ".csv", ".txt", ".tsv", ".tab", ".xlsx", ".xlsm", ".zip":
		return true
	}
	return false
}

func collectFile(p, name string, lim Limits) ([]File, []Refusal, error) {
	info, err := os.Stat(p)
	if err != nil {
		return nil, nil, fmt.Errorf("%s cannot be read: %w", p, rootCause(err))
	}
	if info.Size() > lim.FileBytes {
		return nil, []Refusal{
			{
				File:   name,
				Reason: fmt.Sprintf("the file has %d bytes and the limit is %d; split it", info.Size(), lim.FileBytes),
			},
		}, nil
	}
	body, err := os.ReadFile(p)
	if err != nil {
		return nil, nil, fmt.Errorf("%s cannot be read: %w", p, rootCause(err))
	}
	files, refused := Unpack(name, body, lim)
	return files, refused, nil
}

// Unpack gives the tables of one received file: itself, or what a zip holds.
func Unpack(name string, body []byte, lim Limits) ([]File, []Refusal) {
	if !strings.EqualFold(path.Ext(name), ".zip") {
		return []File{{Name: name, Body: body}}, nil
	}
	refuse := func(format string, args ...any) ([]File, []Refusal) {
		return nil, []Refusal{{File: name, Reason: fmt.Sprintf(format, args...)}}
	}
	z, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	if err != nil {
		return refuse("it is not a zip that can be read (%v); make it again", err)
	}
	if len(z.File) > lim.ZipFiles {
		return refuse("the zip holds %d files and the limit is %d; split it", len(z.File), lim.ZipFiles)
	}
	if why := swollen(z, lim); why != "" {
		return refuse("%s", why)
	}
	var files []File
	var total int64
	for _, e := range z.File {
		inner := strings.ReplaceAll(e.Name, `\`, "/")
		if path.IsAbs(inner) || slices.Contains(strings.Split(inner, "/"), "..") {
			return refuse("the zip holds a file that points outside it, %q; nothing of it was taken", e.Name)
		}
		if e.FileInfo().IsDir() || !wanted(inner) || strings.EqualFold(path.Ext(inner), ".zip") {
			continue
		}
		room := min(lim.FileBytes, lim.ZipBytes-total, int64(min(e.UncompressedSize64, 1<<62))) // one that lies has no more
		r, err := e.Open()
		if err != nil {
			return refuse("%q in the zip cannot be read (%v); make the zip again", e.Name, err)
		}
		b, err := io.ReadAll(io.LimitReader(r, room+1))
		r.Close()
		if err != nil {
			return refuse("%q in the zip cannot be read (%v); make the zip again", e.Name, err)
		}
		if int64(len(b)) > room {
			return refuse(
				"the zip unpacks to more than the limit of %d bytes at %q; nothing of it was taken",
				lim.ZipBytes,
				e.Name,
			)
		}
		total += int64(len(b))
		files = append(files, File{Name: name + "/" + inner, Body: b})
	}
	return files, nil
}

// swollen tells why a zip unpacks to too much, by what it says of itself and before
// anything is unpacked; "" where it does not.
func swollen(z *zip.Reader, lim Limits) string {
	var total, packed uint64
	for _, e := range z.File {
		if e.UncompressedSize64 > uint64(lim.ZipBytes) {
			total = uint64(lim.ZipBytes) + 1
			break
		}
		total += e.UncompressedSize64
		packed += e.CompressedSize64
	}
	const bomb, small = 200, 64 << 20 // tables of figures pack to a thirtieth at best
	switch {
	case total > uint64(lim.ZipBytes):
		return fmt.Sprintf("the zip unpacks to more than the limit of %d bytes; nothing of it was taken", lim.ZipBytes)
	case total > small && total/max(packed, 1) > bomb:
		return fmt.Sprintf("the zip unpacks to %d times its size, %d MB, and tables do not pack to less than a %dth; nothing of it was taken", total/max(packed, 1), total>>20, bomb)
	}
	return ""
}

// TableOf tells which table a file is by its name: costs.csv, costs-2026-11.csv.
func TableOf(name string) *record.Kind {
	stem := strings.ToLower(strings.TrimSuffix(path.Base(name), path.Ext(name)))
	var best *record.Kind // the longest: checks_off is not checks
	for _, t := range record.Kinds() {
		if rest, ok := strings.CutPrefix(stem, t.Name); ok && (rest == "" || !('a' <= rest[0] && rest[0] <= 'z')) &&
			(best == nil || len(t.Name) > len(best.Name)) {
			best = t
		}
	}
	return best
}
