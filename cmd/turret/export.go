package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/export"
)

func exportCommand() *cobra.Command {
	return dbFlag(&cobra.Command{
		Use: "export DIR|FILE.zip", Short: "Write everything as a Data Package", Args: cobra.ExactArgs(1),
		RunE: withReadings(func(cmd *cobra.Command, args []string, o *office.Office) error {
			if err := export.In(o).Export(cmd.Context(), me(), args[0]); err != nil {
				return err
			}
			fmt.Fprintf(cmd.ErrOrStderr(), "everything is in %s\n", args[0])
			return nil
		}),
	})
}

func templateCommand() *cobra.Command {
	return &cobra.Command{
		Use: "template DIR", Short: "Write every table empty, and filled with a small example", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := export.Template(me(), args[0]); err != nil {
				return err
			}
			fmt.Fprintf(
				cmd.ErrOrStderr(),
				"%s/empty has every table without rows, %s/example a small portfolio\n",
				args[0],
				args[0],
			)
			return nil
		},
	}
}
