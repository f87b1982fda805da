package office

import (
	"fmt"
	"log/slog"
	"runtime/debug"
)

// Safely runs a round of what goes on beside the server: a panic ends nothing but the round, and
// is logged under a name.
func Safely(log *slog.Logger, name string, round func() error) error {
	defer func() {
		if x := recover(); x != nil {
			log.Error(name, "panic", fmt.Sprint(x), "stack", string(debug.Stack()))
		}
	}()
	return round()
}
