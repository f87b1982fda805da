package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/export"
)

func readingsCommand() *cobra.Command {
	var period, scope, against, currency, format string
	var asJSON bool
	cmd := &cobra.Command{
		Use: "readings", Short: "Print the readings of projects and groups", Args: cobra.NoArgs,
		RunE: withReadings(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			q := export.Query{Scope: scope}
			var err error
			if q.Period, err = o.ParsePeriod(cmd.Context(), me(), period); err != nil {
				return err
			}
			if q.Against, err = office.ParseAgainst(against); err != nil {
				return err
			}
			switch currency {
			case "project":
			case "reporting":
				q.Reporting = true
			default:
				return fmt.Errorf("--currency is project or reporting, not %q", currency)
			}
			if asJSON {
				format = "json"
			}
			write := export.In(o).WriteTable
			switch format {
			case "table":
			case "csv":
				write = export.In(o).WriteCSV
			case "json":
				write = export.In(o).WriteJSON
			default:
				return fmt.Errorf("--format is table, csv or json, not %q", format)
			}
			rows, err := export.In(o).Readings(cmd.Context(), me(), q)
			if err != nil {
				return err
			}
			return write(cmd.Context(), cmd.OutOrStdout(), period, rows)
		}),
	}
	f := cmd.Flags()
	f.StringVar(
		&scope,
		"scope",
		"",
		"a project, a programme with all below it, or * for the portfolio; else everything",
	)
	f.StringVar(&against, "against", "latest", "baseline: latest or original")
	f.StringVar(&currency, "currency", "project", "of projects: project or reporting")
	f.StringVar(&format, "format", "table", "table, csv or json")
	f.BoolVar(&asJSON, "json", false, "the same as --format json")
	return periodFlag(dbFlag(cmd), &period)
}
