// Turret is where a portfolio office closes the month: it gathers what projects
// state, computes where each stands, and shows how every figure came about.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"os/signal"
	"os/user"
	"strings"
	"syscall"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/settings"
)

// Exit codes.
const (
	done     = 0
	refusals = 1
	wrongUse = 2
)

// failed marks an error that is not the caller's: the work had refusals.
type failed struct{ error }

func (f failed) Unwrap() error { return f.error }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	os.Exit(run(ctx, os.Args[1:], os.Stdout, os.Stderr))
}

// run runs one command and gives its exit code. Figures go to out, messages
// and logs to errs.
func run(ctx context.Context, args []string, out, errs io.Writer) int {
	root := &cobra.Command{
		Use: "turret", Short: "Turret closes the month of a portfolio office", SilenceUsage: true, SilenceErrors: true,
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error {
			s, err := settings.Load(nil)
			if err != nil {
				return err
			}
			var level slog.Level
			if err := level.UnmarshalText([]byte(s.LogLevel)); err != nil {
				return fmt.Errorf("the log level is debug, info, warn or error, not %q", s.LogLevel)
			}
			slog.SetDefault(slog.New(slog.NewTextHandler(errs, &slog.HandlerOptions{Level: level})))
			return nil
		},
	}
	root.SetOut(out)
	root.SetErr(errs)
	root.SetArgs(args)
	root.AddCommand(
		demoCommand(),
		serveCommand(),
		initCommand(),
		gatherCommand(),
		readingsCommand(),
		checkCommand(),
		networkCommand(),
		closeCommand(),
		reopenCommand(),
		briefCommand(),
		templateCommand(),
		exportCommand(),
		backupCommand(),
		restoreCommand(),
		verifyCommand(),
		accountCommand(),
	)
	err := root.ExecuteContext(ctx)
	if err == nil {
		return done
	}
	if !errors.As(err, new(quiet)) {
		fmt.Fprintln(errs, "turret:", err)
	}
	if errors.As(err, new(failed)) || errors.Is(err, office.ErrRefused) {
		return refusals
	}
	return wrongUse
}

// quiet marks an error whose reasons have been printed.
type quiet struct{ error }

// me is who works on the command line.
func me() office.Actor {
	name := os.Getenv("USER")
	if name == "" {
		name = "command line"
	}
	return office.Actor{Name: name, Role: office.Operator, From: machine()}
}

// machine tells whom the system takes the caller for, and where.
func machine() string {
	who := "an unknown user"
	if u, err := user.Current(); err == nil {
		who = u.Username
	}
	host, err := os.Hostname()
	if err != nil {
		return who
	}
	return who + " on " + host
}

// withOffice opens the database named by --db for the length of a command.
func withOffice(do work) func(*cobra.Command, []string) error {
	return opened(do, func(ctx context.Context, path string) (*office.Office, error) {
		return office.Open(ctx, me(), path, false)
	})
}

// withReadings is withOffice for a command that only reads: it works where nothing can be
// written too.
func withReadings(do work) func(*cobra.Command, []string) error {
	return opened(do, func(ctx context.Context, path string) (*office.Office, error) {
		return office.OpenToRead(ctx, me(), path)
	})
}

// work is what a command does with an office.
type work = func(cmd *cobra.Command, args []string, o *office.Office) error

func opened(do work, open func(ctx context.Context, path string) (*office.Office, error)) func(*cobra.Command, []string) error {
	return func(cmd *cobra.Command, args []string) (err error) {
		path, err := cmd.Flags().GetString("db")
		if err != nil {
			return err
		}
		o, err := open(cmd.Context(), path)
		if err != nil {
			return err
		}
		defer func() {
			if e := o.Close(); err == nil {
				err = e
			}
		}()
		access.In(o).Note(cmd.Context(), me(), access.RanCommand, strings.Join(append([]string{cmd.CommandPath()}, args...), " "))
		return do(cmd, args, o)
	}
}

// dbFlag adds --db, which must be given.
func dbFlag(cmd *cobra.Command) *cobra.Command {
	cmd.Flags().String("db", "", "the database file")
	if err := cmd.MarkFlagRequired("db"); err != nil {
		panic(err) // the flag was just added
	}
	return cmd
}
