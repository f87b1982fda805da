package demo

// spec is one project of Skerrow Sound: what it is, and what happens to it.
type spec struct {
	code, name, programme, lead, sponsor, stage string
	currency                                    string // "" is EUR
	calendar                                    string
	budget                                      int // thousands of its currency
	start                                       int // period of its first day, counted from the first
	months                                      int
	rule                                        string  // how most activities earn
	late                                        float64 // delay at the end, as a share of its duration
	lateFrom                                    float64 // share of the project at which it begins to slip
	dear                                        float64 // cost above plan at the end, as a share
	dearFrom                                    float64
	recovers                                    bool    // the delay is made good
	hope                                        float64 // share of the delay and cost that the lead does not admit
	supplier                                    string  // who is paid in another currency
	paidIn                                      string
	risk                                        int // likelihood × impact of its worst risk, roughly
	state                                       string
	stateFrom                                   int // period in which the state is stated
	stateSince                                  string
	forecastUntil                               int // last period with a forecast; 0: all
	stopped                                     int // period from which nothing moves; 0: never
	rebaseline                                  int // period in which baseline 2 is approved
	proposes                                    int // period in which baseline 2 is proposed
	earnedOff                                   bool
	grant                                       float64 // income from outside, as a share of the budget
	silentIn                                    int     // a period in which nothing is stated
}

// The periods run from March 2025; the last one is open.
const (
	firstYear, firstMonth = 2025, 3
	closedPeriods         = 20
	openPeriod            = closedPeriods // its index
)

var programmes = [][3]string{
	{"FR", "Fleet renewal", "Tor Lindqvist"},
	{"QS", "Quays and slipways", "Edda Kerr"},
	{"SP", "Shore power", "Tor Lindqvist"},
	{"PS", "Passenger systems", "Mira Stenholt"},
}

var costCodes = [][4]string{
	{"100", "Labour", "", "none"},
	{"110", "Own staff", "100", "none"},
	{"120", "Contract staff", "100", "none"},
	{"200", "Works and supplies", "", "none"},
	{"210", "Main contract", "200", "none"},
	{"220", "Equipment", "200", "none"},
	{"230", "Materials", "200", "none"},
	{"300", "Surveys and design", "", "none"},
	{"400", "Fees and consents", "", "none"},
	{"500", "Contingency", "", "contingency"},
	{"800", "Grants and contributions", "", "none"},
	{"900", "Management reserve", "", "management"},
}

// share of a project's plan by cost code; management reserve comes on top.
var shares = []struct {
	code  string
	share float64
	class string
	paid  bool // by invoice of the project's foreign supplier, where it has one
}{
	{"110", 0.12, "opex", false},
	{"120", 0.10, "opex", false},
	{"210", 0.38, "capex", true},
	{"220", 0.16, "capex", true},
	{"230", 0.10, "capex", false},
	{"300", 0.07, "opex", false},
	{"400", 0.04, "opex", false},
	{"500", 0.03, "opex", false},
}

// centres are the cost centres, with the one above; shared are projects whose
// money is shared out to them, all of it or that of a cost code.
var (
	centres = [][3]string{{"S", "Skerrow Sound", ""}, {"SF", "Ferries", "S"}, {"SF1", "Northern routes", "SF"}, {"SF2", "Outer isles", "SF"}, {"SQ", "Quays", "S"}, {"ST", "Tickets and travel", "S"}}
	shared  = [][4]string{
		{"FR-01", "", "SF1", "65"},
		{"FR-01", "", "SF2", "35"},
		{"FR-02", "", "SF2", "100"},
		{"FR-04", "", "SF1", "33.3333"},
		{"FR-04", "", "SF2", "33.3333"},
		{"FR-04", "", "SQ", "33.3334"},
		{"QS-01", "", "SQ", "100"},
		{"QS-02", "", "SQ", "100"},
		{"SP-01", "", "SQ", "70"},
		{"SP-01", "", "SF1", "30"},
		{"SP-01", "400", "S", "100"},
		{"PS-01", "", "ST", "80"},
		{"PS-01", "", "SF", "20"},
		{"PS-03", "", "ST", "100"},
	}
)

var projects = []spec{
	{code: "FR-01", name: "Hybrid ferry Marrin", programme: "FR", lead: "Ada Brannock", sponsor: "Tor Lindqvist", stage: "build", calendar: "yard", budget: 43700, start: 0, months: 34, rule: "stated", late: 0.24, lateFrom: 0.2, dear: 0.36, dearFrom: 0.2, hope: 0.68, supplier: "Vestnes Skipsverft", paidIn: "NOK", risk: 16},
	{code: "FR-02", name: "Hybrid ferry Tolsk", programme: "FR", lead: "Ada Brannock", sponsor: "Tor Lindqvist", stage: "build", currency: "NOK", calendar: "yard", budget: 312000, start: 5, months: 36, rule: "stated", late: 0.04, lateFrom: 0.2, dear: 0.07, dearFrom: 0.2, hope: 0.2, supplier: "Vestnes Skipsverft", paidIn: "NOK", risk: 12},
	{code: "FR-03", name: "Retire MV Osprey Star", programme: "FR", lead: "Piet Halloran", sponsor: "Tor Lindqvist", stage: "close-out", budget: 1900, start: 8, months: 15, rule: "0-100", late: 0.01, lateFrom: 0.5, dear: -0.02, supplier: "Orran Works", paidIn: "EUR", risk: 6},
	{code: "FR-04", name: "Deck crane refits", programme: "FR", lead: "Piet Halloran", sponsor: "Tor Lindqvist", stage: "build", budget: 6400, start: 4, months: 26, rule: "50-50", late: 0.03, lateFrom: 0.3, dear: 0.11, dearFrom: 0.3, hope: 0.1, supplier: "Brae Marine Works", paidIn: "GBP", risk: 12},
	{code: "FR-05", name: "Engine-room monitoring", programme: "FR", lead: "Jorun Vask", sponsor: "Tor Lindqvist", stage: "run", budget: 2300, start: 2, months: 30, rule: "elapsed", dear: 0.01, supplier: "Kirkhaven Electric", paidIn: "EUR", risk: 4},
	{code: "FR-06", name: "Crew cabins refit", programme: "FR", lead: "Jorun Vask", sponsor: "Tor Lindqvist", stage: "design", budget: 3100, start: 7, months: 20, rule: "stated", late: 0.05, dear: 0.02, supplier: "Orran Works", paidIn: "EUR", risk: 9, state: "on hold", stateFrom: 14, stateSince: "2026-05-04", stopped: 14},
	{code: "FR-07", name: "Rescue boat replacement", programme: "FR", lead: "Piet Halloran", sponsor: "Tor Lindqvist", stage: "tender", budget: 2750, start: 9, months: 22, rule: "stated", late: 0.02, lateFrom: 0.3, dear: 0.0, supplier: "Vestnes Skipsverft", paidIn: "EUR", risk: 6},

	{code: "QS-01", name: "North quay piling", programme: "QS", lead: "Callum Reith", sponsor: "Edda Kerr", stage: "build", budget: 21800, start: 3, months: 31, rule: "units", late: 0.28, lateFrom: 0.25, dear: 0.38, dearFrom: 0.2, hope: 0.93, supplier: "Brae Marine Works", paidIn: "GBP", risk: 20, proposes: openPeriod},
	{code: "QS-02", name: "Linkspan at Aldermouth", programme: "QS", lead: "Callum Reith", sponsor: "Edda Kerr", stage: "build", budget: 9700, start: 1, months: 28, rule: "stated", late: 0.12, lateFrom: 0.2, dear: 0.08, dearFrom: 0.2, hope: 0.1, supplier: "Brae Marine Works", paidIn: "EUR", risk: 9, rebaseline: 13},
	{code: "QS-03", name: "Breakwater repairs", programme: "QS", lead: "Sanna Veld", sponsor: "Edda Kerr", stage: "closed", budget: 5200, start: 0, months: 17, rule: "stated", late: 0.02, lateFrom: 0.5, dear: -0.03, supplier: "Orran Works", paidIn: "EUR", risk: 8, state: "finished", stateFrom: 17, stateSince: "2026-08-20"},
	{code: "QS-04", name: "Dredging 2027", programme: "QS", lead: "Sanna Veld", sponsor: "Edda Kerr", stage: "design", budget: 4100, start: 19, months: 17, rule: "stated", dear: 0.0, supplier: "Orran Works", paidIn: "EUR", risk: 6},
	{code: "QS-05", name: "Slipway at Orran Bay", programme: "QS", lead: "Sanna Veld", sponsor: "Edda Kerr", stage: "build", budget: 3600, start: 10, months: 19, rule: "stated", late: 0.06, lateFrom: 0.3, dear: 0.04, dearFrom: 0.4, hope: 0.2, supplier: "Orran Works", paidIn: "EUR", risk: 9, silentIn: openPeriod},
	{code: "QS-06", name: "Quay lighting", programme: "QS", lead: "Callum Reith", sponsor: "Edda Kerr", stage: "build", budget: 1450, start: 11, months: 14, rule: "stated", late: 0.01, dear: -0.01, supplier: "Kirkhaven Electric", paidIn: "EUR", risk: 4},
	{code: "QS-07", name: "Light at Corran Stack", programme: "QS", lead: "Callum Reith", sponsor: "Edda Kerr", stage: "build", budget: 980, start: 12, months: 16, rule: "stated", late: 0.03, dear: 0.03, supplier: "Brae Marine Works", paidIn: "EUR", risk: 8},

	{code: "SP-01", name: "Grid connection Kirkhaven", programme: "SP", lead: "Mats Ohlin", sponsor: "Tor Lindqvist", stage: "build", budget: 12900, start: 2, months: 31, rule: "stated", late: 0.10, lateFrom: 0.1, dear: 0.01, recovers: true, supplier: "Kirkhaven Electric", paidIn: "EUR", risk: 12, grant: 0.45},
	{code: "SP-02", name: "Berth sockets", programme: "SP", lead: "Mats Ohlin", sponsor: "Tor Lindqvist", stage: "build", budget: 5300, start: 6, months: 25, rule: "stated", late: 0.02, dear: 0.09, dearFrom: 0.2, hope: 0.3, supplier: "Kirkhaven Electric", paidIn: "EUR", risk: 9, forecastUntil: 17},
	{code: "SP-03", name: "Battery barge", programme: "SP", lead: "Mats Ohlin", sponsor: "Tor Lindqvist", stage: "tender", budget: 7800, start: 10, months: 27, rule: "stated", late: 0.03, lateFrom: 0.3, dear: 0.02, supplier: "Fjordcelle", paidIn: "NOK", risk: 12},
	{code: "SP-04", name: "Shore cable trench", programme: "SP", lead: "Ylva Torrin", sponsor: "Tor Lindqvist", stage: "build", budget: 2600, start: 9, months: 17, rule: "steps", late: 0.02, dear: -0.02, supplier: "Orran Works", paidIn: "EUR", risk: 20},
	{code: "SP-05", name: "Metering and billing", programme: "SP", lead: "Ylva Torrin", sponsor: "Tor Lindqvist", stage: "build", budget: 1350, start: 12, months: 15, rule: "0-100", late: 0.01, dear: -0.04, supplier: "Halden Systems", paidIn: "EUR", risk: 6},
	{code: "SP-06", name: "Solar canopy", programme: "SP", lead: "Ylva Torrin", sponsor: "Tor Lindqvist", stage: "design", budget: 2200, start: 5, months: 18, rule: "stated", late: 0.1, dear: 0.1, supplier: "Kirkhaven Electric", paidIn: "EUR", risk: 15, state: "cancelled", stateFrom: 12, stateSince: "2026-03-16", stopped: 12},

	{code: "PS-01", name: "Booking and boarding", programme: "PS", lead: "Nora Quill", sponsor: "Mira Stenholt", stage: "build", currency: "GBP", budget: 6100, start: 4, months: 27, rule: "stated", late: 0.16, lateFrom: 0.2, dear: 0.30, dearFrom: 0.2, hope: 0.55, supplier: "Halden Systems", paidIn: "GBP", risk: 15},
	{code: "PS-02", name: "Live sailing times", programme: "PS", lead: "Nora Quill", sponsor: "Mira Stenholt", stage: "build", budget: 1700, start: 7, months: 21, rule: "items", late: 0.0, dear: -0.01, supplier: "Tern Software", paidIn: "EUR", risk: 8},
	{code: "PS-03", name: "Ticket gates", grant: 1.12, programme: "PS", lead: "Emil Farrow", sponsor: "Mira Stenholt", stage: "build", budget: 3900, start: 5, months: 23, rule: "stated", late: 0.08, lateFrom: 0.4, dear: 0.06, dearFrom: 0.4, hope: 0.1, supplier: "Halden Systems", paidIn: "EUR", risk: 12},
	{code: "PS-04", name: "Passenger wireless", programme: "PS", lead: "Emil Farrow", sponsor: "Mira Stenholt", stage: "run", budget: 900, start: 3, months: 30, rule: "elapsed", dear: 0.02, supplier: "Tern Software", paidIn: "EUR", risk: 4, earnedOff: true},
	{code: "PS-05", name: "Timetable studio", programme: "PS", lead: "Emil Farrow", sponsor: "Mira Stenholt", stage: "build", budget: 2100, start: 13, months: 18, rule: "stated", late: 0.02, dear: 0.03, supplier: "Tern Software", paidIn: "EUR", risk: 6},
	{code: "PS-06", name: "Lifts at Aldermouth", programme: "PS", lead: "Nora Quill", sponsor: "Mira Stenholt", stage: "proposal", budget: 1500, start: 23, months: 12, rule: "stated", risk: 4, state: "proposed"},
}

// gates are the milestones of projects that have names of their own: contract,
// works, trials, service; "" is the usual one.
var gates = map[string][4]string{
	"FR-01": {"Yard contract", "Hull launched", "Sea trials passed", "First crossing"},
	"FR-02": {"Yard contract", "Keel laid and hulled", "Sea trials passed", "First crossing"},
	"FR-03": {"Buyer found", "Stripped and surveyed", "Handed to the buyer", "Off the register"},
	"FR-04": {"", "Crane 3 fitted", "Load test passed", ""},
	"FR-05": {"", "Sensors fitted", "Data flowing", ""},
	"FR-06": {"", "Cabins fitted", "Crew trial", "Crew moved in"},
	"FR-07": {"Builder chosen", "Boats built", "Davit trial", ""},
	"QS-01": {"", "Pile group C driven", "Load test passed", "Quay reopened"},
	"QS-02": {"", "Steelwork on site", "First berthing", "Linkspan in use"},
	"QS-03": {"", "Rock armour placed", "Survey passed", "Works closed"},
	"QS-04": {"Licence granted", "Channel dredged", "Sounding passed", "Charts issued"},
	"QS-05": {"", "Slip cast", "First haul", "Slip in use"},
	"QS-06": {"", "Columns standing", "Lights tested", ""},
	"QS-07": {"", "Lantern landed", "Range verified", "Light exhibited"},
	"SP-01": {"Grid offer signed", "Transformer on site", "Energised", ""},
	"SP-02": {"", "Sockets mounted", "First ship plugged in", ""},
	"SP-03": {"Barge ordered", "Cells installed", "Discharge test", ""},
	"SP-04": {"", "Trench closed", "Cable tested", ""},
	"SP-05": {"", "Meters fitted", "First bill run", ""},
	"PS-01": {"", "Pilot route live", "All routes live", "Old desk closed"},
	"PS-02": {"", "Quay signs fitted", "Public trial", "App released"},
	"PS-03": {"", "Gates at Aldermouth", "Gates at Kirkhaven", ""},
	"PS-05": {"", "Winter timetable built", "Crew rosters agreed", ""},
}

// phases of every project, with the names of their activities.
var phases = []struct {
	name  string
	tasks []string
	gate  string
}{
	{"Definition", []string{"Requirements", "Site visits", "Options", "Concept"}, "Concept agreed"},
	{"Design", []string{"Outline design", "Detailed design", "Consents", "Design review", "Cost check"}, "Design frozen"},
	{"Procurement", []string{"Tender documents", "Tendering", "Evaluation", "Contract"}, "Contract signed"},
	{"Works", []string{"Mobilisation", "Preparation", "Main works A", "Main works B", "Main works C", "Fit-out", "Inspection"}, "Main works complete"},
	{"Commissioning", []string{"Installation tests", "System tests", "Trials", "Training"}, "Trials passed"},
	{"Handover", []string{"Snagging", "Documents", "Handover", "Close-out"}, "In service"},
}
