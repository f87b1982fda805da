package brief

import (
	"archive/zip"
	"bytes"
	"io"
	"math/big"
	"slices"
	"strings"
	"time"
)

// settled packs a spreadsheet anew with its parts in order and with one moment
// on each of them, so that the same content gives the same bytes.
func settled(body []byte, made time.Time) ([]byte, error) {
	in, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	if err != nil {
		return nil, err
	}
	parts := slices.Clone(in.File)
	slices.SortFunc(parts, func(a, b *zip.File) int { return strings.Compare(order(a.Name), order(b.Name)) })
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, e := range parts {
		r, err := e.Open()
		if err != nil {
			return nil, err
		}
		to, err := w.CreateHeader(
			&zip.FileHeader{Name: e.Name, Method: zip.Deflate, Modified: made.UTC().Truncate(2 * time.Second)},
		)
		if err == nil {
			_, err = io.Copy(to, r)
		}
		r.Close()
		if err != nil {
			return nil, err
		}
	}
	if err := w.Close(); err != nil { // it writes the list of parts
		return nil, err
	}
	return out.Bytes(), nil
}

// order puts the list of parts first, where readers look for it.
func order(name string) string {
	if name == "[Content_Types].xml" {
		return ""
	}
	return name
}

// rat adds plain decimals exactly.
type rat struct{ sum big.Rat }

func (r *rat) add(s string) {
	if x, ok := new(big.Rat).SetString(s); ok {
		r.sum.Add(&r.sum, x)
	}
}

func (r *rat) float() float64 {
	f, _ := r.sum.Float64()
	return f
}
