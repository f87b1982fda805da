package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/export"
)

func backupCommand() *cobra.Command {
	return dbFlag(&cobra.Command{
		Use: "backup FILE", Short: "Write a consistent copy while the database is in use", Args: cobra.ExactArgs(1),
		RunE: withOffice(func(cmd *cobra.Command, args []string, o *office.Office) error {
			if err := export.In(o).Backup(cmd.Context(), me(), args[0]); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.ErrOrStderr(), "%s is a verified copy\n", args[0])
			return nil
		}),
	})
}

func verifyCommand() *cobra.Command {
	return dbFlag(&cobra.Command{
		Use: "verify", Short: "Tell whether a database, or a backup, is sound and unaltered", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			if err := export.Verify(cmd.Context(), me(), path); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s is sound: its pages, its parts and its log of access are as they were written\n", path)
			return nil
		},
	})
}

func restoreCommand() *cobra.Command {
	return dbFlag(&cobra.Command{
		Use: "restore FILE", Short: "Put a backup in place of a database that does not exist", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			if err := export.Restore(cmd.Context(), me(), args[0], path); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.ErrOrStderr(), "%s is restored from %s and verified\n", path, args[0])
			return nil
		},
	})
}
