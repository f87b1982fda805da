package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"runtime/debug"
	"slices"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/entry"
)

func gatherCommand() *cobra.Command {
	var opts entry.Options
	var period, table string
	var asJSON bool
	var read reading
	cmd := &cobra.Command{
		Use: "gather PATH…", Short: "Read files, directories and zips of what people send", Args: cobra.MinimumNArgs(1),
		Long: "Reads CSV and XLSX files, directories and zips of them, in any order, as one batch in\none transaction: Turret's own tables, and what people send, whose table, columns and\nforms are found. What two readings fit is refused until it is told. What cannot be\ntaken is kept with its reason. --dry-run --json tells how each sheet was understood.",
		RunE: withOffice(func(cmd *cobra.Command, args []string, o *office.Office) (err error) {
			if period != "" {
				if opts.Period, err = o.ParsePeriod(cmd.Context(), me(), period); err != nil {
					return err
				}
			}
			if table != "" {
				if opts.Table, err = entry.ParseTable(table); err != nil {
					return err
				}
			}
			if opts.Say, err = read.mapping(); err != nil {
				return err
			}
			opts.Effect = opts.DryRun && asJSON
			opts.Tick = func(file string, rows int) { fmt.Fprintf(cmd.ErrOrStderr(), "%s: %d rows read\n", file, rows) }
			files, refused, err := entry.Collect(args)
			if err != nil {
				return err
			}
			spare(files)
			r, err := entry.In(o).Gather(cmd.Context(), me(), files, refused, opts)
			if err != nil {
				return failed{err}
			}
			if asJSON {
				err = json.NewEncoder(cmd.OutOrStdout()).Encode(r)
			} else {
				err = printReport(cmd.OutOrStdout(), cmd.ErrOrStderr(), r, &opts)
			}
			if err == nil && len(r.Refusals) > 0 {
				err = failed{quiet{errors.New("some rows were refused")}}
			}
			return err
		}),
	}
	f := cmd.Flags()
	f.StringVar(&period, "period", "", "the period of rows that state none")
	f.StringVar(&table, "table", "", "the table that every file is; else it is told by name or header")
	f.StringVar(&opts.Map, "map", "", "a named mapping that says how the files are read")
	f.StringVar(
		&read.dates,
		"dates",
		"",
		"how days are written where two orders fit: day-first, month-first or year-first",
	)
	f.StringVar(&read.decimal, "decimal", "", "how decimals are written where two marks fit: point or comma")
	f.StringVar(&read.done, "done", "", "what numbers up to one are where percents are told: shares or percent")
	f.StringVar(&read.durations, "durations", "", "what bare durations are in: working-days, weeks or calendar-days")
	f.StringVar(&read.match, "match", "", "what activities of other codes are matched by where their names are known: by-name or by-code")
	f.StringVar(&read.dash, "dash", "", `what "-" means among amounts: zero or nothing`)
	f.StringVar(
		&read.amounts,
		"amounts",
		"",
		"what amounts of periods are where a title says that they run on: single, to-date or year-to-date",
	)
	f.StringVar(&read.unit, "unit", "", "what amounts are in: whole, thousands or millions")
	f.BoolVar(&read.negate, "negate", false, "costs are written negative: turn the sign of all amounts")
	f.StringVar(&read.lines, "lines", "", "what several rows of one cell are: add, or refuse")
	f.IntVar(&read.head, "head", 0, "the row that names the columns")
	f.StringToStringVar(&read.column, "column", nil, "what a column is, by its head, such as Nature=cost_code or Remark=ignore")
	f.StringArrayVar(&read.skip, "skip", nil, "rows to leave out, by head and text, such as Case=low*")
	f.StringArrayVar(&read.code, "code", nil, `the code that a text stands for, such as "North quay=QS-01"`)
	f.StringVar(&read.scale, "scale", "", `on which scale words of likelihood and impact are: "of five", "of three, 1-3-5" or "of three, 2-3-4"`)
	f.StringToStringVar(
		&read.set,
		"set",
		nil,
		"what all rows say of a column that the files lack, such as kind=forecast",
	)
	f.BoolVar(&opts.AllOrNothing, "all-or-nothing", false, "take nothing where anything is refused")
	f.BoolVar(
		&opts.Whole,
		"whole",
		false,
		"files are whole statements: plan, forecast and commitment cells, and links, that they do not name are dropped",
	)
	f.BoolVar(&opts.Trust, "trust", false, "take what looks unlikely beside what is known, such as a rate turned round")
	f.BoolVar(&opts.DryRun, "dry-run", false, "tell what would happen, and write nothing")
	f.BoolVar(&asJSON, "json", false, "print the report as JSON")
	return dbFlag(cmd)
}

// reading is what the command line says about how files are read.
type reading struct {
	dates, decimal, done, dash, amounts, unit, lines string
	durations, match                                 string
	negate                                           bool
	head                                             int
	scale                                            string
	set, column                                      map[string]string
	skip, code                                       []string
}

func (r *reading) mapping() (m entry.Mapping, err error) {
	var forms []string
	for _, x := range []struct {
		flag, value string
		known       map[string]string
	}{
		{"dates", r.dates, map[string]string{"day-first": "day first", "month-first": "month first", "year-first": "year first"}},
		{"decimal", r.decimal, map[string]string{"point": "point", "comma": "comma"}},
		{"done", r.done, map[string]string{"shares": "shares", "percent": "percent"}},
		{"durations", r.durations, map[string]string{"working-days": "working days", "weeks": "weeks", "calendar-days": "calendar days"}},
		{"match", r.match, map[string]string{"by-name": "by name", "by-code": "by code"}},
		{"dash", r.dash, map[string]string{"zero": "zero", "nothing": "nothing"}},
		{"amounts", r.amounts, map[string]string{"single": "single", "to-date": "to date", "year-to-date": "year to date"}},
	} {
		if x.value == "" {
			continue
		}
		form, ok := x.known[x.value]
		if !ok {
			return m, fmt.Errorf(
				"--%s is %s, not %q",
				x.flag,
				strings.Join(slices.Sorted(maps.Keys(x.known)), " or "),
				x.value,
			)
		}
		switch x.flag {
		case "match":
			m.Match = form
		case "dash":
			m.Dash = form
		case "amounts":
			m.Running = form
		default:
			forms = append(forms, form)
		}
	}
	if len(forms) > 0 {
		m.Forms = map[string]string{entry.EveryColumn: strings.Join(forms, ",")}
	}
	m.Fixed, m.Negate, m.Head = r.set, r.negate, r.head
	for head, column := range r.column {
		m.Settle("columns", entry.HeadKey(head), strings.ReplaceAll(column, "cost code", "cost_code"))
	}
	for _, rule := range r.skip {
		head, like, ok := strings.Cut(rule, "=")
		if !ok {
			return m, fmt.Errorf("--skip is HEAD=TEXT, not %q", rule)
		}
		m.Skip = append(m.Skip, entry.SkipRule{Head: head, Like: like})
	}
	for _, rule := range r.code {
		from, to, ok := strings.Cut(rule, "=")
		if !ok {
			return m, fmt.Errorf("--code is WRITTEN=CODE, not %q", rule)
		}
		for _, column := range [...]string{"project", "cost_code"} {
			m.Codes = append(m.Codes, entry.CodeRule{Column: column, Match: "exact", From: from, To: to})
		}
	}
	for _, x := range [...]struct {
		flag, about, choice string
		known               []string
	}{
		{"unit", "places", r.unit, entry.UnitNames},
		{"lines", "lines", r.lines, []string{"add", "refuse"}},
		{"scale", "scale", r.scale, entry.ScaleNames},
	} {
		if x.choice == "" {
			continue
		}
		if !slices.Contains(x.known, x.choice) {
			return m, fmt.Errorf("--%s is %s, not %q", x.flag, strings.Join(x.known, "; or "), x.choice)
		}
		m.Settle(x.about, "", x.choice)
	}
	return m, nil
}

// hintOf says by which flags the questions of sheets are answered; "" where
// none is asked.
func hintOf(r *entry.Report) string {
	flags := make(map[string]bool)
	for _, s := range r.Sheets {
		for _, q := range s.Questions {
			name, fixed := strings.CutPrefix(q.About, "fixed.")
			switch {
			case fixed && (name == "version" || name == "period"):
				flags["--period PERIOD"] = true
			case fixed:
				flags["--set "+name+"=…"] = true
			case q.About == "running":
				flags["--amounts single, to-date or year-to-date"] = true
			case q.About == "places":
				flags["--unit whole, thousands or millions"] = true
			case q.About == "negate":
				flags["--negate, or --trust"] = true
			case q.About == "lines":
				flags["--lines add, or --skip HEAD=TEXT"] = true
			case q.About == "scale":
				flags[`--scale "of five" or "of three, 1-3-5"`] = true
			case strings.HasPrefix(q.About, "skip."):
				flags["--skip HEAD=TEXT, or --trust"] = true
			case strings.HasPrefix(q.About, "codes."):
				flags["--code WRITTEN=CODE"] = true
			case q.About == "trust":
				flags["--trust"] = true
			case strings.HasPrefix(q.About, "columns"):
				flags["--column HEAD=COLUMN"] = true
			case q.About == "dash":
				flags["--dash zero or nothing"] = true
			case q.About == "forms" && slices.Contains(q.Choices, "point"):
				flags["--decimal point or comma"] = true
			case q.About == "match":
				flags["--match by-name or by-code"] = true
			case q.About == "forms" && slices.Contains(q.Choices, "weeks"):
				flags["--durations working-days, weeks or calendar-days"] = true
			case q.About == "forms" && slices.Contains(q.Choices, "shares"):
				flags["--done shares or percent"] = true
			case q.About == "forms" && len(q.Choices) > 0:
				flags["--dates day-first or month-first"] = true
			default:
				flags[`--map "NAME" with a mapping kept on the screen of Gather`] = true
			}
		}
	}
	if len(flags) == 0 {
		return ""
	}
	return "to tell how they are read: " + strings.Join(slices.Sorted(maps.Keys(flags)), "; ")
}

// printReport prints the counts on out, and refusals and notes on errs.
func printReport(out, errs io.Writer, r *entry.Report, opts *entry.Options) error {
	w := tabwriter.NewWriter(out, 0, 0, 2, ' ', tabwriter.AlignRight)
	fmt.Fprintln(w, "table\tnew\tchanged\tunchanged\t")
	for _, t := range r.Tallies {
		fmt.Fprintf(w, "%s\t%d\t%d\t%d\t\n", t.Table, t.New, t.Changed, t.Unchanged)
	}
	if err := w.Flush(); err != nil {
		return err
	}
	for _, x := range r.Refusals {
		fmt.Fprintln(errs, "refused:", x)
	}
	if hint := hintOf(r); hint != "" {
		fmt.Fprintln(errs, hint)
	}
	for _, n := range r.Notes {
		fmt.Fprintln(errs, n)
	}
	if r.Dropped > 0 {
		fmt.Fprintf(errs, "%d cells that the whole statements no longer name were dropped\n", r.Dropped)
	}
	switch {
	case opts.DryRun:
		fmt.Fprintf(
			errs,
			"files read: %d; nothing was written (--dry-run); rows that would change: %d; refused: %d\n",
			r.Files,
			r.Changes(),
			len(r.Refusals),
		)
	case !r.Written && len(r.Refusals) > 0:
		fmt.Fprintf(errs, "files read: %d; nothing was written; refused: %d\n", r.Files, len(r.Refusals))
	case r.Changes() == 0:
		fmt.Fprintf(errs, "files read: %d; nothing changed; refused: %d\n", r.Files, len(r.Refusals))
	default:
		fmt.Fprintf(
			errs,
			"files read: %d; rows changed: %d, in batch %d; refused: %d\n",
			r.Files,
			r.Changes(),
			r.Revision,
			len(r.Refusals),
		)
	}
	return nil
}

// long is how many bytes of files are long.
const long = 1 << 20

// spare has memory collected often where files are long, so that they do not grow a
// small machine's.
func spare(files []entry.File) {
	all := 0
	for _, f := range files {
		all += len(f.Body)
	}
	if all > long {
		debug.SetGCPercent(10)
	}
}
