package main

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/settings"
	"turret/internal/web"
)

func serveCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "serve", Short: "Start the web application on a database, made if absent", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			path, err := cmd.Flags().GetString("db")
			if err != nil {
				return err
			}
			o, err := office.Open(cmd.Context(), me(), path, true)
			if err != nil {
				return err
			}
			return serve(cmd, o)
		},
	}
	cmd.Flags().String("addr", "", "address to listen on; loopback only (default 127.0.0.1:8484)")
	return dbFlag(cmd)
}

func demoCommand() *cobra.Command {
	var path string
	cmd := &cobra.Command{
		Use: "demo", Short: "Start the web application with the demonstration portfolio", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if path == "" {
				dir, err := os.MkdirTemp("", "turret-demo-")
				if err != nil {
					return err
				}
				defer os.RemoveAll(dir)
				path = filepath.Join(dir, "demo.db")
			}
			o, err := openDemo(cmd.Context(), path)
			if err != nil {
				return err
			}
			fmt.Fprintln(cmd.OutOrStdout(), "Skerrow Sound, a made-up portfolio. No sign-in is needed: the server answers on this machine only.")
			return serve(cmd, o)
		},
	}
	cmd.Flags().String("addr", "", "address to listen on; loopback only (default 127.0.0.1:8484)")
	cmd.Flags().StringVar(&path, "db", "", "the database file; made if absent (default: a temporary one)")
	return cmd
}

// openDemo opens a database with the demonstration, made where absent.
func openDemo(ctx context.Context, path string) (*office.Office, error) {
	if _, err := os.Stat(path); err == nil {
		return office.Open(ctx, me(), path, false)
	}
	return demo.Make(ctx, path)
}

// serve answers until the command is stopped, then finishes what it has begun.
func serve(cmd *cobra.Command, o *office.Office) (err error) {
	defer func() {
		if e := o.Close(); err == nil {
			err = e
		}
	}()
	s, err := settings.Load(cmd.Flags())
	if err != nil {
		return err
	}
	host, _, err := net.SplitHostPort(s.Addr)
	if err != nil {
		return fmt.Errorf("the address %q is not like 127.0.0.1:8484", s.Addr)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return fmt.Errorf("the address %q is not on this machine: without accounts the server listens on loopback only, such as 127.0.0.1:8484", s.Addr)
	}
	l, err := net.Listen("tcp", s.Addr)
	if err != nil {
		return fmt.Errorf("%s cannot be listened on (%w); choose another with --addr", s.Addr, err)
	}
	fmt.Fprintf(cmd.OutOrStdout(), "http://%s\n", l.Addr())
	return web.Serve(cmd.Context(), l, o, me(), web.Options{BodyLimit: s.BodyLimit, Log: slog.Default()})
}
