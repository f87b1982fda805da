package office

import (
	"fmt"
	"strings"
)

// Typed is what someone typed into a cell, and what the cell showed then.
type Typed struct {
	Was  string `json:"was"`
	Text string `json:"is"`
}

// Said is a text that someone says, without the blanks around it; none, or one of more characters
// than most, is refused at its column.
func Said(column, text string, most int) (string, error) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n"))
	switch n := len([]rune(text)); {
	case n == 0:
		return "", &Misfit{Column: column, Why: "write something first"}
	case n > most:
		return "", &Misfit{Column: column, Why: fmt.Sprintf("it has %d characters; %d is the most, so part it", n, most)}
	}
	return text, nil
}
