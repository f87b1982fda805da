package format

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"hash/fnv"
	"maps"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Posting is a booked ledger line. Period is the accounting period that it
// counts in; Late marks one moved there because its own was closed.
type Posting struct {
	ID       int64
	Code     string
	Day      int32
	Period   int32
	Late     bool
	Batch    int32 // that wrote it
	Project  int64
	CostCode int64
	Class    string
	Centre   string
	Activity int64
	Amount   int64
	Currency money.Currency
	Supplier string
	Text     string
	Extra    map[string]string
	Source   portfolio.Source
	Was      *Posting // what it replaces, or nil
}

// Digest is a hash over all that a ledger says of a posting. It leaves out the
// period, which may be Turret's own choice, and the source.
func (p *Posting) Digest() int64 {
	b := make([]byte, 0, 256)
	for _, s := range [...]string{p.Code, p.Class, p.Centre, string(p.Currency), p.Supplier, p.Text} {
		b = binary.AppendUvarint(b, uint64(len(s)))
		b = append(b, s...)
	}
	for _, n := range [...]int64{int64(p.Day), p.Project, p.CostCode, p.Activity, p.Amount} {
		b = binary.AppendVarint(b, n)
	}
	if len(p.Extra) > 0 {
		b = fmt.Append(b, p.Extra) // maps print in the order of their keys
	}
	h := fnv.New64a()
	h.Write(b)
	return int64(h.Sum64())
}

// Same tells whether two postings are the same but for the file that they came from, and
// what they replace.
func (p *Posting) Same(q *Posting) bool {
	return p.ID == q.ID && p.Code == q.Code && p.Day == q.Day && p.Period == q.Period && p.Late == q.Late && p.Project == q.Project &&
		p.CostCode == q.CostCode && p.Class == q.Class && p.Centre == q.Centre && p.Activity == q.Activity && p.Amount == q.Amount &&
		p.Currency == q.Currency && p.Supplier == q.Supplier && p.Text == q.Text && p.Source.Row == q.Source.Row && maps.Equal(p.Extra, q.Extra)
}

// postingForm is the form of a posting in the record of changes: JSON with a
// number, the same names as the columns of postings. The first form had no number
// and was called as Go calls the fields.
const postingForm = 2

type keptPosting struct {
	Form       int               `json:"form"`
	ID         int64             `json:"id"`
	Posting    string            `json:"posting"`
	Day        int32             `json:"day"`
	Period     int32             `json:"period"`
	Late       bool              `json:"late,omitempty"`
	Batch      int32             `json:"batch"`
	Project    int64             `json:"project"`
	CostCode   int64             `json:"cost_code"`
	Class      string            `json:"class"`
	CostCentre string            `json:"cost_centre,omitempty"`
	Activity   int64             `json:"activity,omitempty"`
	Amount     int64             `json:"amount"`
	Currency   string            `json:"currency"`
	Supplier   string            `json:"supplier,omitempty"`
	Text       string            `json:"text,omitempty"`
	Extra      map[string]string `json:"extra,omitempty"`
	File       int32             `json:"file,omitempty"`
	Line       int32             `json:"line,omitempty"`
}

// firstPosting is the form that had no number.
type firstPosting struct {
	ID       int64             `json:"ID"`
	Code     string            `json:"Code"`
	Day      int32             `json:"Day"`
	Period   int32             `json:"Period"`
	Late     bool              `json:"Late"`
	Batch    int32             `json:"Batch"`
	Project  int64             `json:"Project"`
	CostCode int64             `json:"CostCode"`
	Class    string            `json:"Class"`
	Centre   string            `json:"Centre"`
	Activity int64             `json:"Activity"`
	Amount   int64             `json:"Amount"`
	Currency string            `json:"Currency"`
	Supplier string            `json:"Supplier"`
	Text     string            `json:"Text"`
	Extra    map[string]string `json:"Extra"`
	Source   struct {
		File int32 `json:"File"`
		Row  int32 `json:"Row"`
	} `json:"Source"`
}

// EncodePosting writes a posting for the record of changes.
func EncodePosting(p *Posting) string {
	b, err := json.Marshal(keptPosting{
		Form: postingForm, ID: p.ID, Posting: p.Code, Day: p.Day, Period: p.Period, Late: p.Late, Batch: p.Batch, Project: p.Project, CostCode: p.CostCode, Class: p.Class, CostCentre: p.Centre,
		Activity: p.Activity, Amount: p.Amount, Currency: string(p.Currency), Supplier: p.Supplier, Text: p.Text, Extra: p.Extra, File: p.Source.File, Line: p.Source.Row,
	})
	if err != nil {
		return "" // texts and numbers always encode
	}
	return string(b)
}

// DecodePosting reads a posting of the record of changes, of any form.
func DecodePosting(text string) (Posting, error) {
	var k keptPosting
	if err := json.Unmarshal([]byte(text), &k); err != nil {
		return Posting{}, fmt.Errorf("a posting of the record of changes %w: %w", ErrDamaged, err)
	}
	switch k.Form {
	case postingForm:
		return Posting{
			ID: k.ID, Code: k.Posting, Day: k.Day, Period: k.Period, Late: k.Late, Batch: k.Batch, Project: k.Project, CostCode: k.CostCode, Class: k.Class, Centre: k.CostCentre,
			Activity: k.Activity, Amount: k.Amount, Currency: money.Currency(k.Currency), Supplier: k.Supplier, Text: k.Text, Extra: k.Extra, Source: portfolio.Source{File: k.File, Row: k.Line},
		}, nil
	case 0:
		var f firstPosting
		if err := json.Unmarshal([]byte(text), &f); err != nil {
			return Posting{}, fmt.Errorf("a posting of the record of changes %w: %w", ErrDamaged, err)
		}
		return Posting{
			ID: f.ID, Code: f.Code, Day: f.Day, Period: f.Period, Late: f.Late, Batch: f.Batch, Project: f.Project, CostCode: f.CostCode, Class: f.Class, Centre: f.Centre,
			Activity: f.Activity, Amount: f.Amount, Currency: money.Currency(f.Currency), Supplier: f.Supplier, Text: f.Text, Extra: f.Extra, Source: portfolio.Source{File: f.Source.File, Row: f.Source.Row},
		}, nil
	}
	return Posting{}, fmt.Errorf(
		"a posting of the record of changes has the form %d, which this version does not know",
		k.Form,
	)
}
