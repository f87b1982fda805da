package main

import (
	"cmp"
	"fmt"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/settings"
)

// accountCommand administers accounts where nobody can sign in to do it.
func accountCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "account", Short: "List, make, reset and disable accounts"}
	cmd.AddCommand(
		dbFlag(&cobra.Command{
			Use: "list", Short: "List the accounts", Args: cobra.NoArgs,
			RunE: withReadings(func(cmd *cobra.Command, _ []string, o *office.Office) error {
				list, _, err := account.In(o).Accounts(cmd.Context(), me())
				if err != nil {
					return failed{err}
				}
				w := tabwriter.NewWriter(cmd.OutOrStdout(), 0, 0, 2, ' ', 0)
				fmt.Fprintln(w, "LOGIN\tNAME\tROLE\tPROJECTS\tSTATE")
				for _, a := range list {
					state := "may sign in"
					if a.Waiting {
						state = "waits for a password"
					}
					if a.Disabled {
						state = "disabled"
					}
					fmt.Fprintf(w, "%s\t%s\t%s\t%s\t%s\n", a.Login, a.Name, a.Role, cmp.Or(strings.Join(a.Projects, ", "), "-"), state)
				}
				return w.Flush()
			}),
		}),
		makeAccountCommand(),
		changeAccount("reset", "End an account's password and sessions, and print a link that sets a new one", func(cmd *cobra.Command, o *office.Office, id int64) error {
			code, err := account.In(o).ResetPassword(cmd.Context(), me(), id)
			if err == nil {
				fmt.Fprintln(cmd.OutOrStdout(), welcome(code))
			}
			return err
		}),
		changeAccount("disable", "Shut an account out", func(cmd *cobra.Command, o *office.Office, id int64) error {
			return account.In(o).Disable(cmd.Context(), me(), id, true)
		}),
		changeAccount("enable", "Let an account in again", func(cmd *cobra.Command, o *office.Office, id int64) error {
			return account.In(o).Disable(cmd.Context(), me(), id, false)
		}),
		linkAccountCommand(),
	)
	return cmd
}

// linkAccountCommand says whose account it is that signs in at the provider.
func linkAccountCommand() *cobra.Command {
	var issuer, subject string
	cmd := changeAccount("link", "Say by which subject a provider knows the owner of an account", func(cmd *cobra.Command, o *office.Office, id int64) error {
		set, err := settings.Load(cmd.Flags())
		if err != nil {
			return err
		}
		return account.In(o).Link(cmd.Context(), me(), id, cmp.Or(issuer, set.OIDCIssuer), subject)
	})
	cmd.Flags().StringVar(&issuer, "issuer", "", "of the provider (default: TURRET_OIDC_ISSUER)")
	cmd.Flags().StringVar(&subject, "subject", "", "what the provider calls the person")
	return cmd
}

// welcome is where a one-time code is used, below the address of the server.
func welcome(code string) string { return "/welcome/" + code }

func makeAccountCommand() *cobra.Command {
	var x account.Account
	var role string
	cmd := &cobra.Command{
		Use: "make LOGIN", Short: "Make an account, and print the link that sets its password", Args: cobra.ExactArgs(1),
		RunE: withOffice(func(cmd *cobra.Command, args []string, o *office.Office) error {
			x.Login, x.Role = args[0], office.Role(role)
			code, err := account.In(o).Invite(cmd.Context(), me(), x)
			if err != nil {
				return failed{err}
			}
			fmt.Fprintln(cmd.OutOrStdout(), welcome(code))
			return nil
		}),
	}
	cmd.Flags().StringVar(&x.Name, "name", "", "the person's name")
	cmd.Flags().StringVar(&role, "role", string(office.Lead), "analyst, lead, executive or administrator")
	cmd.Flags().StringSliceVar(&x.Projects, "projects", nil, "codes of a lead's projects, with commas between")
	return dbFlag(cmd)
}

// changeAccount is a command that changes the account of a sign-in name.
func changeAccount(use, short string, do func(*cobra.Command, *office.Office, int64) error) *cobra.Command {
	return dbFlag(&cobra.Command{
		Use: use + " LOGIN", Short: short, Args: cobra.ExactArgs(1),
		RunE: withOffice(func(cmd *cobra.Command, args []string, o *office.Office) error {
			list, _, err := account.In(o).Accounts(cmd.Context(), me())
			if err != nil {
				return failed{err}
			}
			for _, a := range list {
				if strings.EqualFold(a.Login, args[0]) {
					if err := do(cmd, o, a.ID); err != nil {
						return failed{err}
					}
					return nil
				}
			}
			return failed{office.Refusef("There is no account %q.", args[0])}
		}),
	})
}
