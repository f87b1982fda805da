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
		RunE: withReadings(func(cmd *cobra.Command, args []string, o *office.Office) error {
			if err := export.In(o).Backup(cmd.Context(), me(), args[0]); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.ErrOrStderr(), "%s is a verified copy\n", args[0])
			return nil
		}),
	})
}

func verifyCommand() *cobra.Command {
	var accept bool
	cmd := dbFlag(&cobra.Command{
		Use: "verify", Short: "Tell whether a database, or a backup, is sound and unaltered", Args: cobra.NoArgs,
		Long: "Reads every page, part, file, brief and cut, and the log of access, and compares them with\ntheir checksums. With --accept, a database that something else than Turret wrote to, or that\nlost its last writes, is taken for right as it is; nobody may have it open meanwhile.",
		RunE: func(cmd *cobra.Command, _ []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			if accept {
				if err := export.Accept(cmd.Context(), me(), path); err != nil {
					return failed{err}
				}
				fmt.Fprintf(cmd.ErrOrStderr(), "%s is taken for right as it is\n", path)
			}
			if err := export.Verify(cmd.Context(), me(), path); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s is sound: its pages, parts, files, briefs and cuts and its log of access are as they were written\n", path)
			return nil
		},
	})
	cmd.Flags().BoolVar(&accept, "accept", false, "take the database for right as it is, and make its checksums anew")
	return cmd
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
