package main

import (
	"encoding/json"
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/closing"
)

func closeCommand() *cobra.Command {
	var period string
	var asJSON bool
	cmd := &cobra.Command{
		Use: "close", Short: "Close a period, making its cut", Args: cobra.NoArgs,
		RunE: withOffice(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			p, err := o.ParsePeriod(cmd.Context(), me(), period)
			if err != nil {
				return err
			}
			c, err := closing.In(o).ClosePeriod(cmd.Context(), me(), p)
			if err != nil {
				return failed{err}
			}
			if asJSON {
				return json.NewEncoder(cmd.OutOrStdout()).Encode(c)
			}
			fmt.Fprintf(
				cmd.OutOrStdout(),
				"%s is closed: %d projects, %d parts, cut %s\n",
				c.Period,
				c.Projects,
				c.Parts,
				c.Hash[:12],
			)
			return nil
		}),
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print what the cut holds as JSON")
	return periodFlag(dbFlag(cmd), &period)
}

func reopenCommand() *cobra.Command {
	var period, reason string
	cmd := &cobra.Command{
		Use: "reopen", Short: "Open a closed period again", Args: cobra.NoArgs,
		RunE: withOffice(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			p, err := o.ParsePeriod(cmd.Context(), me(), period)
			if err != nil {
				return err
			}
			if err := closing.In(o).ReopenPeriod(cmd.Context(), me(), p, reason); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s is open again; its cut is kept with the reason\n", period)
			return nil
		}),
	}
	cmd.Flags().StringVar(&reason, "reason", "", "why; kept with the cut")
	if err := cmd.MarkFlagRequired("reason"); err != nil {
		panic(err)
	}
	return periodFlag(dbFlag(cmd), &period)
}

func periodFlag(cmd *cobra.Command, to *string) *cobra.Command {
	cmd.Flags().StringVar(to, "period", "", "the period, such as 2026-11")
	if err := cmd.MarkFlagRequired("period"); err != nil {
		panic(err) // the flag was just added
	}
	return cmd
}
