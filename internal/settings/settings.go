// Package settings reads what the program is told: defaults, then a file, then
// the environment, then flags.
package settings

import (
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/knadh/koanf/parsers/json"
	"github.com/knadh/koanf/providers/confmap"
	"github.com/knadh/koanf/providers/env/v2"
	"github.com/knadh/koanf/providers/file"
	"github.com/knadh/koanf/providers/posflag"
	"github.com/knadh/koanf/v2"
	"github.com/spf13/pflag"
)

// Settings of the program.
type Settings struct {
	Addr      string        `koanf:"addr"`       // the server's address
	Origin    string        `koanf:"origin"`     // how browsers reach it, such as https://turret.example; "": as they ask
	Proxies   string        `koanf:"proxies"`    // addresses of proxies that tell whom they speak for, with commas between
	Session   time.Duration `koanf:"session"`    // how long one stays signed in
	Idle      time.Duration `koanf:"idle"`       // how long without using it; 0: as long
	LogLevel  string        `koanf:"log_level"`  // debug, info, warn or error
	BodyLimit int           `koanf:"body_limit"` // bytes of one request
	Upload    int           `koanf:"upload"`     // bytes of the files that are sent at once

	Copies string `koanf:"copies"` // where the database is copied to all the while; "": nowhere

	OIDCIssuer string `koanf:"oidc_issuer"` // where people sign in by OpenID Connect; "": nowhere
	OIDCClient string `koanf:"oidc_client"` // what it knows this office by
	OIDCSecret string `koanf:"oidc_secret"`
	OIDCName   string `koanf:"oidc_name"`  // what the button says; "": the issuer's host
	OIDCClaim  string `koanf:"oidc_claim"` // that lists roles or groups
	OIDCRoles  string `koanf:"oidc_roles"` // what of it gives which role, such as analyst=pmo,lead=project-leads

	MailHost     string `koanf:"mail_host"` // the mail server; "": no letters are written
	MailPort     int    `koanf:"mail_port"`
	MailTLS      string `koanf:"mail_tls"`  // starttls, tls or none
	MailFrom     string `koanf:"mail_from"` // the sender's address
	MailUser     string `koanf:"mail_user"` // "": it asks for none
	MailPassword string `koanf:"mail_password"`
}

// Load reads the settings. The file is the one named by TURRET_SETTINGS, in
// JSON; the environment has TURRET_ADDR and so on; of the flags only those set
// count.
func Load(flags *pflag.FlagSet) (Settings, error) {
	var s Settings
	k := koanf.New(".")
	if err := k.Load(confmap.Provider(map[string]any{"addr": "127.0.0.1:8484", "session": "12h", "idle": "2h", "log_level": "info", "body_limit": 4 << 20, "upload": 256 << 20, "mail_port": 587, "mail_tls": "starttls"}, "."), nil); err != nil {
		return s, err
	}
	if path := os.Getenv("TURRET_SETTINGS"); path != "" {
		if err := k.Load(file.Provider(path), json.Parser()); err != nil {
			return s, fmt.Errorf("the settings in %s cannot be read: %w", path, err)
		}
	}
	if err := k.Load(env.Provider(".", env.Opt{Prefix: "TURRET_", TransformFunc: func(k, v string) (string, any) {
		return strings.ToLower(strings.TrimPrefix(k, "TURRET_")), v
	}}), nil); err != nil {
		return s, err
	}
	if flags != nil {
		if err := k.Load(posflag.Provider(flags, ".", k), nil); err != nil {
			return s, err
		}
	}
	if err := k.Unmarshal("", &s); err != nil {
		return s, fmt.Errorf("a setting has the wrong form: %w", err)
	}
	return s, nil
}
