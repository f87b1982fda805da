package main

import (
	"encoding/json"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/closing"
)

func closeCommand() *cobra.Command {
	var period string
	var over []string
	var asJSON bool
	cmd := &cobra.Command{
		Use: "close", Short: "Close a period, making its cut", Args: cobra.NoArgs,
		Long: "Close a period, making its cut. What is still open for it is told, and nothing is closed,\n" +
			"unless --over gives a reason for each kind of it: " + strings.Join(closing.PointKinds, ", ") + ".\n" +
			"The reasons are kept with the cut.",
		RunE: withOffice(func(cmd *cobra.Command, _ []string, o *office.Office) error {
			reasons := make(map[string]string)
			for _, x := range over {
				kind, why, ok := strings.Cut(x, "=")
				if !ok || strings.TrimSpace(why) == "" {
					return fmt.Errorf("--over takes KIND=REASON, such as %s=\"the lead is ill\", not %q", closing.Owing, x)
				}
				reasons[strings.TrimSpace(kind)] = why
			}
			if _, err := o.ParsePeriod(cmd.Context(), me(), period); err != nil {
				return err
			}
			c, err := closing.In(o).CloseFor(cmd.Context(), me(), period, reasons)
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
	cmd.Flags().StringArrayVar(&over, "over", nil, "KIND=REASON: close over the open points of a kind; may come again")
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
