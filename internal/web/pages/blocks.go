package pages

import (
	"cmp"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/web/shell"
)

// kind is what a block can show: a part of a screen, as the screen itself shows it.
type kind struct {
	name, title string
	path        string // of its screen; "": a text, or a link
	part        string // of the screen, as a selector
	brief       string // the page of a brief that says the same, or ""
}

var kinds = []kind{
	{"sum", "The portfolio in a sentence", "/board", "#main .sentence, #main .box.money", "first"},
	{"board", "The board", "/board", "table.board", "board"},
	{"decide", "To decide", "/board", "#decide > *:not(h2)", "decide:"},
	{"moved", "What moved", "/board", "#moved > *:not(h2)", "moved"},
	{"trust", "Figures to trust", "/board", "#trust > *:not(h2)", "trust"},
	{"exceptions", "Exceptions", "/exceptions", "#main .sentence, table.exceptions", "found:"},
	{"map", "Map", "/map", ".mapbox, .legend", ""},
	{"drivers", "Drivers", "/drivers", "#main .sentence, .drivers section:first-child table", ""},
	{"money", "Money table", "/money", "#main .sentence, .moneytable", "money:"},
	{"bridge", "Why the outlook changed", "/money/bridge", "#main .sentence, #main .wide, #main .narrow", "bridge:"},
	{"funding", "Funding", "/funding", "#main .sentence, #main section > .scroll:first-child table", ""},
	{"forecasts", "Forecasts", "/forecasts", "#main .sentence, #main > .scroll table", "forecasts:"},
	{"trend", "A figure and its trend", "/trend", "#trend", "trend:"},
	{"timeline", "Timeline", "/timeline", "#main .sentence, figure.line", "road:"},
	{"roadmap", "Roadmap", "/roadmap", "#main .sentence, #main figure", "road:"},
	{"due", "What is due", "/dates", "#main .sentence, #main > .scroll table", "milestones"},
	{"gone", "Where dates have gone", "/dates/gone", "#main .sentence, #main figure", ""},
	{"check", "Check", "/check", "#main .sentence, #main > table.texts", ""},
	{"explain", "Texts", "/explain", "#main .sentence, #main table", ""},
	{"questions", "Questions", "/questions", "#main table, #main .sentence", ""},
	{"contacts", "Contacts", "/contacts", "#main table", ""},
	{"feedback", "Feedback", "/feedback", "#main .form-lines, #main ul.lines", ""},
	{"text", "A text", "", "", "text:"},
	{"link", "A link", "", "", ""},
}

// widths are how wide a block can be, in twelfths of the page.
var widths = []int{4, 6, 8, 12}

// Block is a block of a page: a width, a kind, and what its screen is asked, in an address as
// 6:exceptions?cause=over; a folded one as 6f:exceptions.
type Block struct {
	kind
	Width  int
	Folded bool // its head alone is shown
	query  string
}

// shipped are the blocks of a page that nobody has arranged.
func shipped(role office.Role) string {
	if role == office.Executive {
		return "12:sum 6:decide 6:moved 12:exceptions 6:funding 6:due 12:roadmap"
	}
	return "12:sum 6:moved 6:trust 12:exceptions 12:due"
}

// read reads the blocks of an address; what is none is told.
func read(text string) (out []Block, odd []string) {
	for _, part := range strings.Fields(text) {
		width, rest, ok := strings.Cut(part, ":")
		name, query, _ := strings.Cut(rest, "?")
		width, folded := strings.CutSuffix(width, "f")
		w, err := strconv.Atoi(width)
		i := slices.IndexFunc(kinds, func(k kind) bool { return k.name == name })
		if !ok || err != nil || !slices.Contains(widths, w) || i < 0 {
			odd = append(odd, part)
			continue
		}
		out = append(out, Block{kinds[i], w, folded, query})
	}
	return out, odd
}

// write writes blocks as read reads them.
func write(list []Block) string {
	var out []string
	for _, b := range list {
		s := strconv.Itoa(b.Width)
		if b.Folded {
			s += "f"
		}
		s += ":" + b.name
		if b.query != "" {
			s += "?" + b.query
		}
		out = append(out, s)
	}
	return strings.Join(out, " ")
}

// of makes a block of an address of a screen, such as /exceptions?cause=over; ok is false where
// no block shows it.
func of(address string) (b Block, ok bool) {
	path, query, _ := strings.Cut(address, "?")
	for _, name := range []string{"board", ""} { // of the board the list is meant
		i := slices.IndexFunc(kinds, func(k kind) bool { return k.path == path && k.path != "" && (name == "" || k.name == name) })
		if i >= 0 {
			state := shell.ParseState(query)
			return Block{kinds[i], 12, false, state.WithoutMoment().Query()}, true
		}
	}
	return Block{}, false
}

// asks is what a block asks of its screen.
func (b *Block) asks(name string) string {
	v, err := url.ParseQuery(b.query)
	if err != nil {
		return ""
	}
	return v.Get(name)
}

// Address is that of the block's screen, at the moment of a page and in its scope.
func (b *Block) Address(page shell.State) string {
	s := shell.ParseState(b.query).AtMoment(page)
	if s.Get("scope") == "" {
		s = s.With("scope", page.Get("scope"))
	}
	if b.path == "/money/bridge" && s.Get("amounts") == "" {
		s = s.With("amounts", "outlook")
	}
	return s.Page(b.path)
}

// Part is what of the screen a block shows.
func (b *Block) Part() string { return b.part }

// Title is what stands above a block.
func (b *Block) Title() string { return cmp.Or(b.asks("view"), b.title) }

// Text is what a block of words says; Link where one leads, of the web alone.
func (b *Block) Text() string { return b.asks("q") }

// Link is where a block leads that is a link; "" where it is none of the web.
func (b *Block) Link() string {
	u, err := url.Parse(b.asks("of"))
	if b.name != "link" || err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
		return ""
	}
	return u.String()
}

// Name tells the kind of block.
func (b *Block) Name() string { return b.name }

// Brief is the page of a brief that says what a block shows, or "" where none does.
func (b *Block) Brief() string {
	if b.brief == "" {
		return ""
	}
	return brief.PageAsking(b.brief, b.query)
}
