package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/network"
)

func networkCommand() *cobra.Command {
	var period, scope, format string
	var asJSON bool
	cmd := &cobra.Command{
		Use: "network", Short: "Print early and late dates, floats, broken links and loops", Args: cobra.NoArgs,
		RunE: withReadings(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			p, err := o.ParsePeriod(cmd.Context(), me(), period)
			if err != nil {
				return err
			}
			if asJSON {
				format = "json"
			}
			if format != "table" && format != "json" {
				return fmt.Errorf("--format is table or json, not %q", format)
			}
			n, err := network.In(o).Network(cmd.Context(), me(), p, scope)
			if err != nil {
				return err
			}
			if says := n.Outside(); says != "" {
				fmt.Fprintln(cmd.ErrOrStderr(), says)
			}
			if format == "json" {
				return n.WriteJSON(cmd.OutOrStdout())
			}
			return n.WriteTable(cmd.OutOrStdout())
		}),
	}
	f := cmd.Flags()
	f.StringVar(&scope, "scope", "", "a project, or a programme with all below it; else everything")
	f.StringVar(&format, "format", "table", "table or json")
	f.BoolVar(&asJSON, "json", false, "the same as --format json")
	return periodFlag(dbFlag(cmd), &period)
}
