package office

// Typed is what someone typed into a cell, and what the cell showed then.
type Typed struct {
	Was  string `json:"was"`
	Text string `json:"is"`
}
