package main

import (
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/check"
)

func checkCommand() *cobra.Command {
	var period, scope, format string
	var asJSON bool
	cmd := &cobra.Command{
		Use: "check", Short: "Check the data of a period and print what was found", Args: cobra.NoArgs,
		RunE: withReadings(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			if asJSON {
				format = "json"
			}
			if format != "table" && format != "csv" && format != "json" {
				return fmt.Errorf("--format is table, csv or json, not %q", format)
			}
			if _, err := o.ParsePeriod(cmd.Context(), me(), period); err != nil {
				return err
			}
			list, err := check.In(o).Check(cmd.Context(), me(), period, scope)
			if err != nil {
				return err
			}
			if err := check.In(o).WriteFindings(cmd.Context(), cmd.OutOrStdout(), format, list); err != nil {
				return err
			}
			var open check.Counts
			for i := range list {
				open.Add(&list[i].Finding)
			}
			fmt.Fprintf(
				cmd.ErrOrStderr(),
				"%d errors, %d warnings and %d notes open, %d accepted\n",
				open[0],
				open[1],
				open[2],
				open[3],
			)
			if open[0] > 0 {
				return failed{quiet{errors.New("errors are open")}}
			}
			return nil
		}),
	}
	f := cmd.Flags()
	f.StringVar(&scope, "scope", "", "a project, or a programme with all below it; else everything")
	f.StringVar(&format, "format", "table", "table, csv or json")
	f.BoolVar(&asJSON, "json", false, "the same as --format json")
	return periodFlag(dbFlag(cmd), &period)
}
