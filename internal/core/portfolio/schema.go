package portfolio

// Type says how a column is read and kept.
type Type uint8

// The types of columns. Refs point to records by code.
const (
	Text     Type = iota
	Code          // the code of the record itself
	Date          // day number
	Period        // period ordinal
	Whole         // whole number
	Decimal       // quantity in millionths
	Money         // decimal text until its currency is known
	RateText      // decimal text
	Choice        // one of the column's domain
	CurrencyCode
	Day // weekday mon … sun, or an ISO date
	ProjectRef
	ProgrammeRef
	CostCodeRef
	ActivityRef // an activity of the row's project
	EndRef      // an activity of the row's project, or PROJECT/ACTIVITY
	VersionRef  // baseline number, statement period or nothing, by kind
	CentreRef   // a cost centre that is listed
)

// Whole tells whether a column of the type is kept as an integer.
func (t Type) Whole() bool {
	switch t {
	case Date, Period, Whole, Decimal, ProjectRef, ProgrammeRef, CostCodeRef, CentreRef:
		return true
	}
	return false
}

// Keeping says how the rows of a table are kept.
type Keeping uint8

// Records are rows of their own; parts hold what is stated about one project;
// cells are the time-phased amounts; the ledger holds postings.
const (
	Records Keeping = iota
	Parts
	Cells
	Ledger
)

// Column is one column of a table.
type Column struct {
	Name    string
	Type    Type
	Key     bool
	Blank   bool     // a key that may be left empty
	Domain  []string // of a Choice
	Default string   // what an empty cell of a new row means
	Stamp   bool     // it tells who said the row, or on what: not what is said
	Min     int64    // of Whole and Decimal, in the column's own scale
	Max     int64    // no limit where it is not above Min
	About   string
}

// Table is one of the tables that Turret reads and writes.
type Table struct {
	Name    string
	One     string // what screens call one of its rows
	About   string
	Keep    Keeping
	Columns []Column
	Version string // the column that tells the part: a period or a baseline
}

// Index gives the place of a column, or -1.
func (t *Table) Index(name string) int {
	for i := range t.Columns {
		if t.Columns[i].Name == name {
			return i
		}
	}
	return -1
}

func key(name string, typ Type, about string) Column {
	return Column{Name: name, Type: typ, Key: true, About: about}
}

func col(name string, typ Type, about string) Column {
	return Column{Name: name, Type: typ, About: about}
}

func choice(name, def, about string, domain ...string) Column {
	return Column{Name: name, Type: Choice, Domain: domain, Default: def, About: about}
}

func within(c Column, low, high int64) Column {
	c.Min, c.Max = low, high
	return c
}

func keyed(c Column) Column {
	c.Key = true
	return c
}

func blank(c Column) Column {
	c.Blank = true
	return c
}

func stamp(c Column) Column {
	c.Stamp = true
	return c
}

func byDefault(c Column, def string) Column {
	c.Default = def
	return c
}

const many = 1_000_000_000_000 * Quantity // more than anyone counts

// Statements are the kinds of statement that can be due by a day.
var Statements = []string{"progress", "forecast", "ledger", "risks", "narratives"}

// Tables lists every table in the order in which they are read, so that what
// a row refers to comes before it.
var Tables = []*Table{
	{Name: "settings", One: "setting", About: "the office's settings, as export writes them", Columns: []Column{
		key("setting", Text, "name, reporting_currency, fiscal_start, calendar, or code_level_ with a role"),
		col("value", Text, "its value"),
	}},
	{Name: "boundaries", One: "period", About: "the office's own reporting periods; without any, they are calendar months", Columns: []Column{
		key("period", Text, "code: FY27-P01 is the first of the fiscal year 2027"), col("first", Date, "first day"), col("last", Date, "last day; without both days the period is none"),
		col("name", Text, "what screens call it; empty: its code"),
	}},
	{Name: "programmes", One: "programme", About: "the tree of programmes", Columns: []Column{
		key("programme", Code, "code"), col("name", Text, "name"),
		col("parent", ProgrammeRef, "the programme above, if any"), col("owner", Text, "who answers for it"),
	}},
	{Name: "calendars", One: "day of the calendar", About: "work weeks and holidays; any week row makes the listed days the whole work week", Columns: []Column{
		key("calendar", Text, "code"), keyed(choice("kind", "", "week or holiday", "week", "holiday")),
		key("day", Day, "mon … sun for a working day, an ISO date for a holiday"), col("name", Text, "name of the day"),
		choice("state", "on", "off: the row counts no longer", "on", "off"),
	}},
	{Name: "due_days", One: "due day", About: "when statements are due, by kind", Columns: []Column{
		keyed(choice("statement", "", "what is due", Statements...)), within(col("days", Whole, "working days of the office's calendar after the period's last day; 0 and below: that many before its last working day; empty: no day is set"), -60, 60),
	}},
	{Name: "rates", One: "rate", About: "what one unit of a currency is worth in the reporting currency", Columns: []Column{
		key("currency", CurrencyCode, "ISO 4217 code"), key("period", Period, "in force from this period"),
		keyed(choice("set", "period", "plan rates are fixed by fiscal year", "plan", "period")), col("rate", RateText, "above zero, at most 12 decimals"),
	}},
	{Name: "cost_codes", One: "cost code", About: "the tree of cost codes", Columns: []Column{
		key("cost_code", Code, "code"), col("name", Text, "name"), col("parent", CostCodeRef, "the code above, if any"),
		choice("reserve", "none", "management reserve stays out of BAC and PV", "none", "contingency", "management"),
	}},
	{Name: "cost_centres", One: "cost centre", About: "the tree of cost centres; lines may name others, which have no name and no centre above", Columns: []Column{
		key("cost_centre", Code, "code"), col("name", Text, "name"), col("parent", CentreRef, "the centre above, if any"),
	}},
	{Name: "projects", One: "project", About: "the projects", Columns: []Column{
		key("project", Code, "code"), col("name", Text, "name"), col("programme", ProgrammeRef, "its programme"),
		col("lead", Text, "who states it"), col("sponsor", Text, "who answers for it"), col("stage", Text, "stage"),
		choice("state", "active", "state", "proposed", "active", "on hold", "finished", "cancelled"),
		col("state_since", Date, "the state holds from this day; empty: always"),
		col("currency", CurrencyCode, "its own currency; empty: the reporting one"),
		col("start", Date, "planned start"), col("finish", Date, "planned finish"), col("calendar", Text, "a calendar; empty: the office's"),
		choice("earned_value", "on", "off: PV, AC and the stated forecast stand alone", "on", "off"),
		choice("outlook_method", "", "the estimate that counts; empty: cpi from 15% earned on, plan before", "stated", "plan", "cpi", "cpi3", "cpi_spi"),
		within(col("too_early", Decimal, "percent elapsed below which indices stay silent; empty: 15"), 0, 100*Quantity),
	}},
	{Name: "baselines", One: "baseline", About: "plans that are proposed, approved or rejected", Columns: []Column{
		key("project", ProjectRef, "project"), within(key("baseline", Whole, "1 is the original"), 1, 9999),
		col("approved", Date, "in force from this day"), col("reason", Text, "why"), col("approver", Text, "who approved or rejected it"),
		choice("state", "approved", "only an approved one counts; it stays approved", "proposed", "approved", "rejected"),
		col("proposed", Date, "the day it was proposed"), col("proposer", Text, "by whom; someone else approves it"), col("remark", Text, "what the approver said"),
	}},
	{Name: "shares", One: "share", About: "how the money of a project, or of a cost code in it, is shared out to cost centres; lines that name a centre stay there", Columns: []Column{
		key("project", ProjectRef, "project"), blank(key("cost_code", CostCodeRef, "the code, with those below it; empty: the whole project")),
		key("from", Period, "in force from this period, until the next that is stated"), key("cost_centre", Text, "cost centre"),
		within(col("percent", Decimal, "those of one period add up to 100; or to 0, where nothing is shared any more"), 0, 100*Quantity),
	}},
	{Name: "activities", One: "activity", Keep: Parts, About: "summaries, tasks and milestones with their baseline", Columns: []Column{
		key("project", ProjectRef, "project"), key("activity", Code, "code within the project"), col("parent", ActivityRef, "the activity above"),
		col("name", Text, "name"), choice("kind", "task", "kind", "summary", "task", "milestone"),
		choice("level", "activity", "how far up a milestone shows", "activity", "project", "programme", "portfolio"),
		choice("rule", "stated", "how progress is earned", "stated", "0-100", "50-50", "units", "items", "steps", "elapsed"),
		col("budget", Money, "in the project's currency, of the baseline named"), col("baseline_start", Date, "of the baseline named"),
		col("baseline_finish", Date, "of the baseline named"), byDefault(within(key("baseline", Whole, "number that budget and baseline dates belong to"), 1, 9999), "1"),
		col("start", Date, "current start until progress says another"), col("finish", Date, "current finish until progress says another"),
		within(col("units", Decimal, "units in all, for the rule units"), 0, many), col("owner", Text, "who does it"),
	}},
	{Name: "links", One: "link", Keep: Parts, About: "dependencies", Columns: []Column{
		key("project", ProjectRef, "project"), key("from", EndRef, "an activity, or PROJECT/ACTIVITY"), key("to", EndRef, "an activity, or PROJECT/ACTIVITY"),
		choice("type", "FS", "finish-start, start-start, finish-finish, start-finish", "FS", "SS", "FF", "SF"),
		byDefault(within(col("lag", Whole, "working days"), -9999, 9999), "0"),
	}},
	{Name: "steps", One: "step", Keep: Parts, About: "weighted steps of activities with the rule steps", Columns: []Column{
		key("project", ProjectRef, "project"), key("activity", ActivityRef, "activity"), key("step", Text, "code within the activity"),
		within(col("weight", Decimal, "weight"), 0, many), col("done", Date, "the day it was done"),
	}},
	{Name: "items", One: "item", Keep: Parts, About: "backlog items for the rule items", Columns: []Column{
		key("project", ProjectRef, "project"), key("item", Text, "code within the project"), col("activity", ActivityRef, "empty: counts for each items activity"),
		col("name", Text, "name"), within(col("size", Decimal, "size"), 0, many),
		choice("state", "new", "state", "new", "doing", "done", "accepted", "dropped"),
		col("created", Date, "the day it came up"), col("accepted", Date, "the day it was accepted"),
	}},
	{Name: "progress", One: "progress", Keep: Parts, Version: "period", About: "what is said of activities in a period; current dates are part of it", Columns: []Column{
		key("project", ProjectRef, "project"), key("activity", ActivityRef, "activity"), key("period", Period, "stated in"),
		within(col("percent", Decimal, "0 to 100"), 0, 100*Quantity), col("start", Date, "current start"), col("finish", Date, "current finish"),
		col("actual_start", Date, "actual start"), col("actual_finish", Date, "actual finish"),
		within(col("units_done", Decimal, "units done so far"), 0, many), col("note", Text, "note"),
	}},
	{Name: "costs", One: "amount", Keep: Cells, About: "time-phased amounts: plan, forecast, commitment, accrual, actual totals", Columns: []Column{
		key("project", ProjectRef, "project"), key("cost_code", CostCodeRef, "cost code"),
		keyed(choice("kind", "", "kind", "plan", "forecast", "commitment", "accrual", "actual")),
		keyed(choice("flow", "cost", "flow", "cost", "income", "benefit")), keyed(choice("class", "opex", "class", "capex", "opex")),
		key("period", Period, "the month of the amount"), blank(key("version", VersionRef, "baseline number for plan, statement period for forecast and commitment, else empty")),
		blank(key("cost_centre", Text, "cost centre")), blank(key("activity", ActivityRef, "activity")),
		col("amount", Money, "amount"), col("currency", CurrencyCode, "empty: the project's"), col("note", Text, "note"),
	}},
	{Name: "postings", One: "posting", Keep: Ledger, About: "booked ledger lines", Columns: []Column{
		key("posting", Code, "the ledger's own number"), col("date", Date, "booking day"),
		col("period", Period, "accounting period; empty: that of the date, or the first open one after it"),
		col("project", ProjectRef, "project"), col("cost_code", CostCodeRef, "cost code"),
		choice("class", "opex", "class", "capex", "opex"), col("cost_centre", Text, "cost centre"), col("activity", ActivityRef, "activity"),
		col("amount", Money, "amount"), col("currency", CurrencyCode, "empty: the project's"), col("supplier", Text, "supplier"), col("text", Text, "text"),
	}},
	{Name: "risks", One: "risk", Keep: Parts, Version: "period", About: "risks and issues as stated in a period", Columns: []Column{
		key("project", ProjectRef, "project"), key("risk", Text, "code within the project"), choice("kind", "risk", "kind", "risk", "issue"), col("title", Text, "title"),
		within(col("likelihood", Whole, "1 to 5"), 1, 5), within(col("impact", Whole, "1 to 5"), 1, 5),
		col("cost_impact", Money, "in the project's currency"), col("owner", Text, "who answers for it"), col("due", Date, "due"),
		choice("state", "open", "state", "open", "closed"), col("response", Text, "what is done"), key("period", Period, "stated in"),
	}},
	{Name: "narratives", One: "text", Keep: Parts, Version: "period", About: "the lead's own words", Columns: []Column{
		key("project", ProjectRef, "project"), key("period", Period, "stated in"), keyed(choice("section", "", "section", "summary", "done", "next", "help")),
		col("text", Text, "text"), choice("stated_standing", "", "the lead's own standing, on the summary", "steady", "watch", "act", "unrated"),
	}},
	{Name: "dimensions", One: "dimension", About: "dimensions of the office's own, and the weights of all", Columns: []Column{
		key("dimension", Text, "code; dates, cost, progress, risk and crew have a weight only"), col("title", Text, "name on screens"),
		choice("apart", "no", "yes: it does not count toward overall", "no", "yes"), within(col("weight", Whole, "where overall goes by weight; 1 unless said"), 0, 1000),
	}},
	{Name: "rules", One: "rule", About: "the rules of standing, where the office has its own", Columns: []Column{
		key("dimension", Text, "dimension"), key("reading", Text, "a figure of the catalogue, or an expression over it"), key("from", Period, "in force from this period"),
		choice("direction", "above", "when a value breaks the limit", "above", "below", "at least"),
		col("watch", Text, "limit for Watch, a decimal number"), col("act", Text, "limit for Act, a decimal number; without both the rule is off"),
		blank(key("scope", Text, "a programme or project; empty: all")), col("title", Text, "what an expression is called"),
	}},
	{Name: "policies", One: "policy", About: "how dimensions combine to overall, and parts to groups", Columns: []Column{
		keyed(choice("policy", "", "what is combined", "overall", "groups")), key("from", Period, "in force from this period"),
		choice("how", "share", "usual: as the rules of the house say; share: by weight or money; worst of; larger: where the larger part stands", "usual", "share", "worst", "larger"),
		within(col("act_share", Whole, "percent at Act that make Act"), 1, 100), within(col("watch_share", Whole, "percent at Watch or Act that make Watch"), 1, 100),
	}},
	{Name: "checks", One: "check", About: "severity and limits of checks, and checks of the office's own", Columns: []Column{
		key("check", Text, "code"), key("from", Period, "in force from this period"), choice("severity", "", "empty: the check's own", "error", "warning", "note", "off"),
		col("limit", Text, "a decimal number; empty: the check's own"), choice("over", "", "of an own check: the records that it looks at", "project", "activity", "risk", "cost code"),
		col("expression", Text, "of an own check: it holds where there is something to find"), col("title", Text, "of an own check: the cause"), col("says", Text, "of an own check: the sentence; {cpi} stands for a value"),
	}},
	{Name: "checks_off", One: "check that is off", About: "checks that are off for a project", Columns: []Column{
		key("project", ProjectRef, "project"), key("check", Text, "check"), key("from", Period, "first period"), col("until", Period, "last period; empty: no end"), col("reason", Text, "why"),
	}},
	{Name: "answers", One: "answer", About: "what was said about findings", Columns: []Column{
		key("project", ProjectRef, "project"), key("check", Text, "check"), blank(key("record", Text, "the record of the project; empty: the project itself")), key("from", Period, "said in this period"),
		choice("answer", "", "what was said", "accepted", "sent back", "withdrawn"), col("until", Period, "last period; empty: no end"), col("reason", Text, "the reason, or the question"),
		stamp(col("resting_on", Text, "the values that the finding rested on; with others it comes back")), stamp(col("by", Text, "who said it")),
	}},
	{Name: "overrides", One: "standing", About: "standings set by an analyst, with reason and end", Columns: []Column{
		key("project", ProjectRef, "project"), key("dimension", Text, "a dimension, or overall"), key("from", Period, "first period"),
		col("until", Period, "last period"), choice("standing", "", "standing", "steady", "watch", "act", "unrated"), col("reason", Text, "why"),
	}},
	{Name: "versions", One: "name of a version", About: "names and notes of versions that money is compared with", Columns: []Column{
		keyed(choice("kind", "", "what it is", "statement", "baseline", "cut")), blank(key("project", ProjectRef, "of a baseline")), key("version", Text, "the period of a statement, the number of a baseline, or a cut"),
		col("name", Text, "what it is called"), col("note", Text, "note"),
	}},
	{Name: "periods", One: "period", About: "periods that are closed or in checking, as export writes them", Columns: []Column{
		key("period", Period, "period"), choice("state", "open", "in checking: leads state no more for it", "open", "in checking", "closed"),
	}},
}

// BaselineRows is the table of what one baseline says of activities: it is
// read from activities and kept as a part of its own.
var BaselineRows = &Table{Name: "activity_baselines", Keep: Parts, Version: "baseline", Columns: []Column{
	key("activity", ActivityRef, "activity"), col("budget", Money, "minor units of the project's currency"),
	col("baseline_start", Date, "baseline start"), col("baseline_finish", Date, "baseline finish"),
}}

// TableNamed gives the table of a name, or nil.
func TableNamed(name string) *Table {
	for _, t := range Tables {
		if t.Name == name {
			return t
		}
	}
	return nil
}
