package main

import (
	"fmt"
	"os"
	"time"

	"github.com/spf13/cobra"

	"turret/internal/copies"
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
	var at string
	cmd := dbFlag(&cobra.Command{
		Use: "restore FILE|COPIES", Short: "Put a backup, or what was copied all the while, in place of a database that does not exist", Args: cobra.ExactArgs(1),
		Long: "Restores a backup file; or, from the directory, s3:// or sftp:// address that TURRET_COPIES\nnamed, the database as it was copied last or, with --at, as it was at a moment.",
		RunE: func(cmd *cobra.Command, args []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			if err := restore(cmd, args[0], path, at); err != nil {
				return failed{err}
			}
			fmt.Fprintf(cmd.ErrOrStderr(), "%s is restored from %s and verified\n", path, copies.Redacted(args[0]))
			return nil
		},
	})
	cmd.Flags().StringVar(&at, "at", "", "of continuous copies, the moment, such as 2026-11-30T17:05:00Z")
	return cmd
}

// restore takes a backup, which is a file, or continuous copies.
func restore(cmd *cobra.Command, from, path, at string) error {
	info, err := os.Stat(from)
	if err == nil && !info.IsDir() {
		if at != "" {
			return fmt.Errorf("%s is a backup of one moment; --at is for continuous copies", from)
		}
		return export.Restore(cmd.Context(), me(), from, path)
	}
	var moment time.Time
	if at != "" {
		if moment, err = time.Parse(time.RFC3339, at); err != nil {
			return fmt.Errorf("%q is no moment such as 2026-11-30T17:05:00Z", at)
		}
	}
	return export.RestoreWith(cmd.Context(), me(), path, func(tmp string) error {
		return copies.Restore(cmd.Context(), from, tmp, moment)
	})
}
