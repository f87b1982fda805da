package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
)

func initCommand() *cobra.Command {
	var s office.Settings
	cmd := &cobra.Command{
		Use: "init", Short: "Make an empty database", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			o, err := office.Init(cmd.Context(), me(), path, s)
			if err != nil {
				return err
			}
			fmt.Fprintf(
				cmd.ErrOrStderr(),
				"%s is ready: gather files into it with turret gather --db %s PATH…\n",
				path,
				path,
			)
			return o.Close()
		},
	}
	cmd.Flags().StringVar(&s.Reporting, "currency", "EUR", "reporting currency, ISO 4217")
	cmd.Flags().IntVar(&s.FiscalStart, "fiscal-start", 1, "month in which the fiscal year begins, 1 to 12")
	cmd.Flags().StringVar(&s.Name, "name", "", "name of the office")
	return dbFlag(cmd)
}
