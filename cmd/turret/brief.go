package main

import (
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/brief"
)

func briefCommand() *cobra.Command {
	var spec brief.Spec
	var out string
	cmd := &cobra.Command{
		Use: "brief", Short: "Make a brief as PDF, HTML or XLSX", Args: cobra.NoArgs,
		Long: "Makes the brief of the portfolio, of a programme or of a project, from the same figures\nand words as the screens. The same inputs give the same bytes.",
		RunE: withReadings(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			form, err := brief.FormOf(out)
			if err != nil {
				return err
			}
			b, err := brief.In(o).Brief(cmd.Context(), me(), spec)
			if err != nil {
				return failed{err}
			}
			body, err := b.Write(form)
			if err != nil {
				return failed{err}
			}
			if err := os.WriteFile(out, body, 0o600); err != nil {
				return failed{err}
			}
			fmt.Fprintf(
				cmd.ErrOrStderr(),
				"%s: %d pages, %d bytes, inputs %x\n",
				b.Title,
				len(b.Sheets),
				len(body),
				b.Hash[:4],
			)
			return nil
		}),
	}
	f := cmd.Flags()
	f.StringVar(&spec.Vs, "vs", "", "a period to compare with")
	f.StringVar(&spec.Scope, "scope", "", "a programme or a project; else the whole portfolio")
	f.BoolVar(&spec.Letter, "letter", false, "on US Letter in place of A4")
	f.StringSliceVar(
		&spec.Parts,
		"pages",
		nil,
		"pages in their order, such as first,board,projects; + behind one makes it landscape, - portrait",
	)
	f.StringVar(&out, "out", "", "the file, ending in .pdf, .html, .xlsx, .pptx or .zip (tables as CSV)")
	if err := cmd.MarkFlagRequired("out"); err != nil {
		panic(err) // the flag is defined above
	}
	return periodFlag(dbFlag(cmd), &spec.At)
}
