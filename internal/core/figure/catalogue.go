package figure

import (
	"turret/internal/core/calendar"
)

// Version of the catalogue. It rises whenever the result of an entry may
// change, and is kept in every cut.
const Version = 5

// Entry defines one figure.
type Entry struct {
	Name    string // of readings, files and addresses
	Title   string // on screens
	Symbol  string // the trade's short form
	Unit    Unit
	Formula string // in words; names of other entries stand in braces, an earlier period as {name-3}
	Source  string // where the formula is from
	Series  bool   // may be asked at an earlier period

	of         func(e *Eval, p calendar.Period) Value // nil: a base entry
	partsFirst bool                                   // a group makes it from its parts
}

const (
	pmi    = "PMI, Standard for Earned Value Management (2019)"
	lipke  = "W. Lipke, Schedule is Different (2003)"
	own    = "Turret"
	kelley = "J. Kelley, M. Walker, Critical-Path Planning and Scheduling (1959)"
)

// ID is the place of an entry in the catalogue.
type ID int

// The entries. Those with "earned" in the name count, for a group, only the
// parts whose earned value is known; for a project they are the figure itself
// where its earned value is known.
const (
	BAC ID = iota
	PV
	EV
	AC
	BACEarned
	PVEarned
	ACEarned
	SV
	CV
	SVShare
	CVShare
	EACStated
	EACStatedEarned
	EACPlan
	EACCPI
	EACCPI3
	EACCPISPI
	EACComputed
	ETCStated
	ETCComputed
	VAC
	AtStake
	OnOrder
	BeyondOrders
	EarnedShare
	PlannedShare
	SpentShare
	ElapsedShare
	LateShare
	StatedShare
	EarnedBase
	ComputedOver
	StatedOver
	SPI
	CPI
	SPIT
	TCPIBAC
	TCPIEAC
	CredibilityGap
	PVPeriod
	EVPeriod
	ACPeriod
	SPIPeriod
	CPIPeriod
	ES
	AT
	SVT
	FinishPlanned
	FinishStated
	FinishComputed
	FinishSlip
	MilestoneSlip
	RiskExposure
	StatementAge
	ForecastAge
	Errors
	Warnings
	IncomePlan
	Income
	IncomeStated
	MarginPlan
	MarginBooked
	Margin
	MarginShare
	CPI3
	EACLow
	EACHigh
	EACSpread
	Burn
	MonthsLeft
	FloatLeast
	Critical
	NearCritical
	LinksBroken
	Conflicts
	Scope
	Accepted
	AddedShare
	Pace
	NetPace
	NotReady
	Blocked
	BlockedAge
	FinishPace
	FinishNetPace
	FinishNetwork
	FinishStretched
	FinishSpread
	Funded
	FundingGap
	RunsOut
	YearPlan
	YearOutlook
	CarryOver
	NPV
	Payback
	SlipPace
	ACFromPlan
	entries
)

// Readings lists the entries that the command readings prints, in order.
var Readings = []ID{
	BAC, PV, EV, AC, SV, CV, EACStated, EACPlan, EACCPI, EACCPI3, EACCPISPI, EACComputed, VAC, AtStake, OnOrder,
	EarnedShare, PlannedShare, SpentShare, ElapsedShare, LateShare, StatedShare, SPI, CPI, SPIT, TCPIBAC, TCPIEAC,
	ES, AT, SVT, FinishPlanned, FinishStated, FinishComputed, FinishSlip,
}

// Lookup gives the entry of a name.
func Lookup(name string) (ID, bool) {
	id, ok := byName[name]
	return id, ok
}

// Get gives an entry of the catalogue.
func Get(id ID) *Entry { return &catalogue[id] }

// Len is the number of entries.
func Len() int { return int(entries) }

var byName = make(map[string]ID, entries)

var catalogue [entries]Entry

// The table is filled in init because its functions refer to it.
func init() {
	catalogue = [entries]Entry{
		BAC: {
			Name:    "bac",
			Title:   "Plan at completion",
			Symbol:  "BAC",
			Unit:    Money,
			Source:  pmi,
			Formula: "sum of all plan cells without management reserve; without plan cells, the budgets of activities spread over their baseline days",
		},
		PV: {
			Name:    "pv",
			Title:   "Planned value",
			Symbol:  "PV",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "sum of the plan cells through the period",
		},
		EV: {
			Name:    "ev",
			Title:   "Earned value",
			Symbol:  "EV",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "BAC × earned share, rounded once",
		},
		AC: {
			Name:    "ac",
			Title:   "Actual cost",
			Symbol:  "AC",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "booked cost through the period + accruals of the period; of a project that takes its plan as actual cost, its plan cells of periods of which nothing is booked",
		},
		BACEarned: {
			Name:    "bac_earned",
			Title:   "Plan of what has earned value",
			Symbol:  "BAC",
			Unit:    Money,
			Source:  pmi,
			Formula: "BAC of the parts whose earned value is known",
		},
		PVEarned: {
			Name:    "pv_earned",
			Title:   "Planned value of what has earned value",
			Symbol:  "PV",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "PV of the parts whose earned value is known",
		},
		ACEarned: {
			Name:    "ac_earned",
			Title:   "Actual cost of what has earned value",
			Symbol:  "AC",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "AC of the parts whose earned value is known",
		},
		SV: {
			Name:    "sv",
			Title:   "Schedule variance",
			Symbol:  "SV",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "{ev} − {pv_earned}",
			of:      func(e *Eval, p calendar.Period) Value { return less(e.At(EV, p), e.At(PVEarned, p)) },
		},
		CV: {
			Name:    "cv",
			Title:   "Cost variance",
			Symbol:  "CV",
			Unit:    Money,
			Source:  pmi,
			Series:  true,
			Formula: "{ev} − {ac_earned}",
			of:      func(e *Eval, p calendar.Period) Value { return less(e.At(EV, p), e.At(ACEarned, p)) },
		},
		SVShare: {
			Name:    "sv_share",
			Title:   "Schedule variance, share",
			Symbol:  "SV%",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "{sv} ÷ {pv_earned}",
			of:      quotient(SV, PVEarned, "nothing is planned yet"),
		},
		CVShare: {
			Name:    "cv_share",
			Title:   "Cost variance, share",
			Symbol:  "CV%",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "{cv} ÷ {ev}",
			of:      quotient(CV, EV, "nothing is earned yet"),
		},
		EACStated: {
			Name:    "eac_stated",
			Title:   "Stated outlook",
			Symbol:  "EAC stated",
			Unit:    Money,
			Source:  own,
			Formula: "AC + forecast cells after the period, of the latest statement; in a group, parts without one count with their computed outlook",
		},
		EACStatedEarned: {
			Name:    "eac_stated_earned",
			Title:   "Stated outlook of what has earned value",
			Symbol:  "EAC stated",
			Unit:    Money,
			Source:  own,
			Formula: "stated outlook of the parts whose earned value is known",
		},
		EACPlan: {
			Name:    "eac_plan",
			Title:   "Outlook at plan",
			Symbol:  "EAC plan",
			Unit:    Money,
			Source:  pmi,
			Formula: "{ac_earned} + {bac_earned} − {ev}",
			of:      estimate(atPlan),
		},
		EACCPI: {
			Name:    "eac_cpi",
			Title:   "Outlook at CPI",
			Symbol:  "EAC CPI",
			Unit:    Money,
			Source:  pmi,
			Formula: "{ac_earned} + ({bac_earned} − {ev}) ÷ {cpi}",
			of:      estimate(atCPI),
		},
		EACCPI3: {
			Name:    "eac_cpi3",
			Title:   "Outlook at CPI of three periods",
			Symbol:  "EAC CPI 3",
			Unit:    Money,
			Source:  own,
			Formula: "{ac_earned} + ({bac_earned} − {ev}) ÷ {cpi3}",
			of:      estimate(atCPI3),
		},
		EACCPISPI: {
			Name:    "eac_cpi_spi",
			Title:   "Outlook at CPI × SPI",
			Symbol:  "EAC CPI × SPI",
			Unit:    Money,
			Source:  pmi,
			Formula: "{ac_earned} + ({bac_earned} − {ev}) ÷ ({cpi} × {spi})",
			of:      estimate(atCPISPI),
		},
		EACComputed: {
			Name:       "eac_computed",
			Title:      "Computed outlook",
			Symbol:     "EAC",
			Unit:       Money,
			Source:     own,
			Formula:    "the project's chosen estimate; unless set {eac_cpi} when {earned_share} is 15% or more, else {eac_plan}; where that is not known {eac_plan}, then {eac_stated}, then the larger of {bac} and {ac}; in a group the sum of its parts",
			partsFirst: true,
		},
		ETCStated: {
			Name:    "etc_stated",
			Title:   "To go, stated",
			Symbol:  "ETC stated",
			Unit:    Money,
			Source:  pmi,
			Formula: "{eac_stated} − {ac}",
			of:      minus(EACStated, AC),
		},
		ETCComputed: {
			Name:    "etc_computed",
			Title:   "To go, computed",
			Symbol:  "ETC",
			Unit:    Money,
			Source:  pmi,
			Formula: "{eac_computed} − {ac}",
			of:      minus(EACComputed, AC),
		},
		VAC: {
			Name:    "vac",
			Title:   "Variance at completion",
			Symbol:  "VAC",
			Unit:    Money,
			Source:  pmi,
			Formula: "{bac} − {eac_computed}",
			of:      minus(BAC, EACComputed),
		},
		AtStake: {
			Name:       "at_stake",
			Title:      "At stake",
			Symbol:     "at stake",
			Unit:       Money,
			Source:     own,
			Formula:    "{eac_computed} − {bac}, not below 0; in a group the sum of its parts",
			of:         atStake,
			partsFirst: true,
		},
		OnOrder: {
			Name:    "on_order",
			Title:   "On order",
			Symbol:  "on order",
			Unit:    Money,
			Source:  own,
			Formula: "sum of the commitment cells of the latest statement",
		},
		BeyondOrders: {
			Name:    "beyond_orders",
			Title:   "To go beyond orders",
			Symbol:  "beyond orders",
			Unit:    Money,
			Source:  own,
			Formula: "{eac_stated} − {ac} − {on_order}",
			of:      func(e *Eval, _ calendar.Period) Value { return less(less(e.Get(EACStated), e.Get(AC)), e.Get(OnOrder)) },
		},
		EarnedShare: {
			Name:    "earned_share",
			Title:   "Earned share",
			Symbol:  "f",
			Unit:    Ratio,
			Source:  pmi,
			Series:  true,
			Formula: "Σ weight × earned fraction ÷ Σ weight of activities; in a group EV ÷ BAC",
		},
		PlannedShare: {
			Name:    "planned_share",
			Title:   "Planned share",
			Symbol:  "PV ÷ BAC",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "{pv} ÷ {bac}",
			of:      quotient(PV, BAC, "the plan is zero"),
		},
		SpentShare: {
			Name:    "spent_share",
			Title:   "Spent share",
			Symbol:  "AC ÷ BAC",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "{ac} ÷ {bac}",
			of:      quotient(AC, BAC, "the plan is zero"),
		},
		ElapsedShare: {
			Name:    "elapsed_share",
			Title:   "Elapsed share",
			Symbol:  "elapsed",
			Unit:    Ratio,
			Source:  own,
			Formula: "working days from baseline start through the period's end ÷ baseline duration, between 0 and 1",
		},
		LateShare: {
			Name:    "late_share",
			Title:   "Late share",
			Symbol:  "late",
			Unit:    Ratio,
			Source:  own,
			Formula: "weight of late activities ÷ all weight",
		},
		StatedShare: {
			Name:    "stated_share",
			Title:   "Share of plan with a stated outlook",
			Symbol:  "stated",
			Unit:    Ratio,
			Source:  own,
			Formula: "BAC of the parts with a stated outlook ÷ BAC",
		},
		EarnedBase: {
			Name:    "earned_base",
			Title:   "Share of plan with earned value",
			Symbol:  "base",
			Unit:    Ratio,
			Source:  own,
			Formula: "{bac_earned} ÷ {bac}",
			of:      quotient(BACEarned, BAC, "the plan is zero"),
		},
		ComputedOver: {
			Name:    "computed_over",
			Title:   "Computed outlook over plan",
			Symbol:  "outlook over plan",
			Unit:    Ratio,
			Source:  own,
			Formula: "{eac_computed} ÷ {bac} − 1",
			of:      overPlan(EACComputed),
		},
		StatedOver: {
			Name:    "stated_over",
			Title:   "Stated outlook over plan",
			Symbol:  "stated over plan",
			Unit:    Ratio,
			Source:  own,
			Formula: "{eac_stated} ÷ {bac} − 1",
			of:      overPlan(EACStated),
		},
		SPI: {
			Name:    "spi",
			Title:   "Schedule performance index",
			Symbol:  "SPI",
			Unit:    Ratio,
			Source:  pmi,
			Series:  true,
			Formula: "{ev} ÷ {pv_earned}",
			of:      quotient(EV, PVEarned, "nothing is planned yet"),
		},
		CPI: {
			Name:    "cpi",
			Title:   "Cost performance index",
			Symbol:  "CPI",
			Unit:    Ratio,
			Source:  pmi,
			Series:  true,
			Formula: "{ev} ÷ {ac_earned}",
			of:      cpi,
		},
		SPIT: {
			Name:    "spi_t",
			Title:   "Schedule performance index, time",
			Symbol:  "SPI(t)",
			Unit:    Ratio,
			Source:  lipke,
			Formula: "{es} ÷ {at}",
			of:      quotient(ES, AT, "no plan period has gone"),
		},
		TCPIBAC: {
			Name:    "tcpi_bac",
			Title:   "To-complete index against plan",
			Symbol:  "TCPI(BAC)",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "({bac_earned} − {ev}) ÷ ({bac_earned} − {ac_earned})",
			of:      tcpiBAC,
		},
		TCPIEAC: {
			Name:    "tcpi_eac",
			Title:   "To-complete index against the stated outlook",
			Symbol:  "TCPI(EAC)",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "({bac_earned} − {ev}) ÷ ({eac_stated_earned} − {ac_earned})",
			of:      tcpiEAC,
		},
		CredibilityGap: {
			Name:    "credibility_gap",
			Title:   "Stated outlook, distance from what was achieved",
			Symbol:  "credibility gap",
			Unit:    Ratio,
			Source:  own,
			Formula: "|{tcpi_eac} − {cpi}|, while {earned_share} is between 15% and 95%; above 0.10 the stated outlook is not credible",
			of:      credibilityGap,
		},
		PVPeriod: {
			Name:    "pv_period",
			Title:   "Planned value of the period",
			Symbol:  "PV period",
			Unit:    Money,
			Source:  pmi,
			Formula: "{pv_earned} − {pv_earned-1}",
			of:      step(PVEarned),
		},
		EVPeriod: {
			Name:    "ev_period",
			Title:   "Earned value of the period",
			Symbol:  "EV period",
			Unit:    Money,
			Source:  pmi,
			Formula: "{ev} − {ev-1}",
			of:      step(EV),
		},
		ACPeriod: {
			Name:    "ac_period",
			Title:   "Actual cost of the period",
			Symbol:  "AC period",
			Unit:    Money,
			Source:  pmi,
			Formula: "{ac_earned} − {ac_earned-1}",
			of:      step(ACEarned),
		},
		SPIPeriod: {
			Name:    "spi_period",
			Title:   "SPI of the period",
			Symbol:  "SPI period",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "{ev_period} ÷ {pv_period}",
			of:      quotient(EVPeriod, PVPeriod, "nothing is planned in the period"),
		},
		CPIPeriod: {
			Name:    "cpi_period",
			Title:   "CPI of the period",
			Symbol:  "CPI period",
			Unit:    Ratio,
			Source:  pmi,
			Formula: "{ev_period} ÷ {ac_period}",
			of:      positiveQuotient(EVPeriod, ACPeriod),
		},
		ES: {
			Name:    "es",
			Title:   "Earned schedule",
			Symbol:  "ES",
			Unit:    Periods,
			Source:  lipke,
			Formula: "C + (EV − PV(C)) ÷ (PV(C+1) − PV(C)), C being the last period with PV(C) ≤ EV",
			of:      earnedSchedule,
		},
		AT: {
			Name:    "at",
			Title:   "Periods gone",
			Symbol:  "AT",
			Unit:    Periods,
			Source:  lipke,
			Formula: "periods from the first plan period through this one; stays where all was earned",
			of:      actualTime,
		},
		SVT: {
			Name:    "sv_t",
			Title:   "Schedule variance, time",
			Symbol:  "SV(t)",
			Unit:    Periods,
			Source:  lipke,
			Formula: "{es} − {at}",
			of:      minus(ES, AT),
		},
		FinishPlanned: {
			Name:    "finish_planned",
			Title:   "Finish, planned",
			Symbol:  "planned finish",
			Unit:    Day,
			Source:  own,
			Formula: "latest baseline finish of tasks and milestones; in a group the latest",
		},
		FinishStated: {
			Name:    "finish_stated",
			Title:   "Finish, stated",
			Symbol:  "stated finish",
			Unit:    Day,
			Source:  own,
			Formula: "latest current or actual finish of tasks and milestones; in a group the latest",
		},
		FinishComputed: {
			Name:       "finish_computed",
			Title:      "Finish, computed",
			Symbol:     "computed finish",
			Unit:       Day,
			Source:     lipke,
			Formula:    "PD × {at} ÷ {es} periods from the first plan period, PD being the periods planned, until {ev} reaches {bac_earned}; in a group the latest, finished parts with their stated one",
			of:         computedFinish,
			partsFirst: true,
		},
		FinishSlip: {
			Name:    "finish_slip",
			Title:   "Finish slip",
			Symbol:  "slip",
			Unit:    Workdays,
			Source:  own,
			Formula: "working days from {finish_planned} to {finish_stated}",
		},
		MilestoneSlip: {
			Name:    "milestone_slip",
			Title:   "Slip of missed milestones",
			Symbol:  "milestone slip",
			Unit:    Workdays,
			Source:  own,
			Formula: "largest slip of a missed milestone of programme or portfolio level, to the later of its current date and the period's end",
		},
		RiskExposure: {
			Name:    "risk_exposure",
			Title:   "Risk exposure",
			Symbol:  "exposure",
			Unit:    Count,
			Source:  own,
			Formula: "highest likelihood × impact of an open risk or issue",
		},
		StatementAge: {
			Name:    "statement_age",
			Title:   "Age of what is owed",
			Symbol:  "age",
			Unit:    Count,
			Source:  own,
			Formula: "periods since the last statement that was owed",
		},
		ForecastAge: {
			Name:    "forecast_age",
			Title:   "Age of the stated forecast",
			Symbol:  "forecast age",
			Unit:    Count,
			Source:  own,
			Formula: "periods since the forecast in force was stated; above 0 it is stale",
		},
		Errors: {
			Name:    "errors",
			Title:   "Errors open",
			Symbol:  "errors",
			Unit:    Count,
			Source:  own,
			Formula: "open findings that are errors",
		},
		Warnings: {
			Name:    "warnings",
			Title:   "Warnings open",
			Symbol:  "warnings",
			Unit:    Count,
			Source:  own,
			Formula: "open findings that are warnings",
		},

		IncomePlan: {
			Name:    "income_plan",
			Title:   "Income, planned",
			Symbol:  "income planned",
			Unit:    Money,
			Source:  own,
			Formula: "sum of all plan cells of income",
		},
		Income: {
			Name:    "income",
			Title:   "Income booked",
			Symbol:  "income",
			Unit:    Money,
			Source:  own,
			Formula: "booked income through the period + accruals of income of the period",
		},
		IncomeStated: {
			Name:    "income_stated",
			Title:   "Income at completion, stated",
			Symbol:  "income stated",
			Unit:    Money,
			Source:  own,
			Formula: "booked income + forecast cells of income after the period, of the latest statement",
		},
		MarginPlan: {
			Name:    "margin_plan",
			Title:   "Margin, planned",
			Symbol:  "margin planned",
			Unit:    Money,
			Source:  own,
			Formula: "{income_plan} − {bac}",
			of:      minus(IncomePlan, BAC),
		},
		MarginBooked: {
			Name:    "margin_booked",
			Title:   "Margin to date",
			Symbol:  "margin to date",
			Unit:    Money,
			Source:  own,
			Formula: "{income} − {ac}",
			of:      minus(Income, AC),
		},
		Margin: {
			Name:    "margin",
			Title:   "Margin at completion, stated",
			Symbol:  "margin",
			Unit:    Money,
			Source:  own,
			Formula: "{income_stated} − {eac_stated}",
			of:      minus(IncomeStated, EACStated),
		},
		MarginShare: {
			Name:    "margin_share",
			Title:   "Margin share",
			Symbol:  "margin ÷ income",
			Unit:    Ratio,
			Source:  own,
			Formula: "{margin} ÷ {income_stated}",
			of:      quotient(Margin, IncomeStated, "there is no income"),
		},
		CPI3: {
			Name:    "cpi3",
			Title:   "CPI of three periods",
			Symbol:  "CPI 3",
			Unit:    Ratio,
			Source:  own,
			Formula: "({ev} − {ev-3}) ÷ ({ac_earned} − {ac_earned-3})",
			of:      cpi3,
		},
		EACLow: {
			Name:    "eac_low",
			Title:   "Lowest estimate",
			Symbol:  "lowest EAC",
			Unit:    Money,
			Source:  own,
			Formula: "lowest known of {eac_stated}, {eac_plan}, {eac_cpi}, {eac_cpi3}, {eac_cpi_spi}",
			of:      extreme(-1),
		},
		EACHigh: {
			Name:    "eac_high",
			Title:   "Highest estimate",
			Symbol:  "highest EAC",
			Unit:    Money,
			Source:  own,
			Formula: "highest known of {eac_stated}, {eac_plan}, {eac_cpi}, {eac_cpi3}, {eac_cpi_spi}",
			of:      extreme(1),
		},
		EACSpread: {
			Name:    "eac_spread",
			Title:   "Spread of the estimates",
			Symbol:  "spread",
			Unit:    Ratio,
			Source:  own,
			Formula: "({eac_high} − {eac_low}) ÷ {bac}",
			of: func(e *Eval, _ calendar.Period) Value {
				return over(less(e.Get(EACHigh), e.Get(EACLow)), e.Get(BAC), "the plan is zero")
			},
		},
		Burn: {
			Name:    "burn",
			Title:   "Spend a period, mean of three",
			Symbol:  "burn",
			Unit:    Money,
			Source:  own,
			Formula: "({ac} − {ac-3}) ÷ 3",
			of:      burn,
		},
		MonthsLeft: {
			Name:    "months_left",
			Title:   "Periods that the money left lasts",
			Symbol:  "periods left",
			Unit:    Periods,
			Source:  own,
			Formula: "({bac} − {ac}) ÷ {burn}",
			of:      monthsLeft,
		},
		FloatLeast: {
			Name:    "float_least",
			Title:   "Least float",
			Symbol:  "least float",
			Unit:    Workdays,
			Source:  kelley,
			Formula: "the least total float of what is unfinished: late finish − early finish; in a group the least",
		},
		Critical: {
			Name:    "critical",
			Title:   "Critical activities",
			Symbol:  "critical",
			Unit:    Count,
			Source:  kelley,
			Formula: "unfinished activities whose total float is 0 or less",
		},
		NearCritical: {
			Name:    "near_critical",
			Title:   "Near-critical activities",
			Symbol:  "near-critical",
			Unit:    Count,
			Source:  kelley,
			Formula: "unfinished activities whose total float is above 0 and at most the office's limit",
		},
		LinksBroken: {
			Name:    "links_broken",
			Title:   "Broken links",
			Symbol:  "broken links",
			Unit:    Count,
			Source:  own,
			Formula: "links to unfinished activities that do not hold with the stated dates",
		},
		Conflicts: {
			Name:    "conflicts",
			Title:   "Interfaces in conflict",
			Symbol:  "in conflict",
			Unit:    Count,
			Source:  own,
			Formula: "links from other projects that do not hold with the stated dates",
		},
		Scope: {
			Name:    "scope",
			Title:   "Scope of the backlog",
			Symbol:  "scope",
			Unit:    Size,
			Source:  own,
			Formula: "size of items created by the period's end and not dropped by then",
		},
		Accepted: {
			Name:    "accepted",
			Title:   "Accepted of the backlog",
			Symbol:  "accepted",
			Unit:    Size,
			Source:  own,
			Formula: "size of what of {scope} is accepted by the period's end",
		},
		AddedShare: {
			Name:    "added_share",
			Title:   "Added after the start",
			Symbol:  "added",
			Unit:    Ratio,
			Source:  own,
			Formula: "size of items created later than the project's grace after its baseline start ÷ {scope}",
		},
		Pace: {
			Name:    "pace",
			Title:   "Pace",
			Symbol:  "pace",
			Unit:    Size,
			Source:  own,
			Formula: "size accepted in the last periods ÷ those periods, three unless set, fewer from the first accepted item on",
		},
		NetPace: {
			Name:    "net_pace",
			Title:   "Net pace",
			Symbol:  "net pace",
			Unit:    Size,
			Source:  own,
			Formula: "{pace} − size added a period in the same periods",
		},
		NotReady: {
			Name:    "not_ready",
			Title:   "Not ready in time",
			Symbol:  "not ready",
			Unit:    Ratio,
			Source:  own,
			Formula: "({scope} − {accepted} − {pace} × periods to {finish_planned}) ÷ {scope}, at least 0",
		},
		Blocked: {
			Name:    "blocked",
			Title:   "Blocked items",
			Symbol:  "blocked",
			Unit:    Count,
			Source:  own,
			Formula: "items of the scope that are blocked and not accepted",
		},
		BlockedAge: {
			Name:    "blocked_age",
			Title:   "Age of the oldest blocked item",
			Symbol:  "blocked for",
			Unit:    Workdays,
			Source:  own,
			Formula: "working days from the day since which the oldest of the blocked items is blocked to the period's end",
		},
		FinishPace: {
			Name:    "finish_pace",
			Title:   "Finish at pace",
			Symbol:  "finish at pace",
			Unit:    Day,
			Source:  own,
			Formula: "({scope} − {accepted}) ÷ {pace} periods after the period",
		},
		FinishNetPace: {
			Name:    "finish_net_pace",
			Title:   "Finish at net pace",
			Symbol:  "finish at net pace",
			Unit:    Day,
			Source:  own,
			Formula: "({scope} − {accepted}) ÷ {net_pace} periods after the period",
		},
		FinishNetwork: {
			Name:    "finish_network",
			Title:   "Finish by the network",
			Symbol:  "network finish",
			Unit:    Day,
			Source:  kelley,
			Formula: "latest early finish: what the stated dates become when every link holds; in a group the latest, finished parts with their stated one",
		},
		FinishStretched: {
			Name:    "finish_stretched",
			Title:   "Finish by the network, stretched",
			Symbol:  "stretched finish",
			Unit:    Day,
			Source:  own,
			Formula: "the same with what is left of each activity ÷ {spi_t}, that within 0.5 and 2; in a group the latest, finished parts with their stated one",
		},
		FinishSpread: {
			Name:    "finish_spread",
			Title:   "Spread of the finishes",
			Symbol:  "spread of finishes",
			Unit:    Workdays,
			Source:  own,
			Formula: "working days from the earliest to the latest known of {finish_stated}, {finish_computed}, {finish_pace}, {finish_network}, {finish_stretched}",
			of:      finishSpread,
		},
		Funded: {
			Name:    "funded",
			Title:   "Authorised",
			Symbol:  "authorised",
			Unit:    Money,
			Source:  own,
			Formula: "sum of the money that is authorised, for any period, with what transfers brought and took; in a group that of its parts and its own",
		},
		FundingGap: {
			Name:    "funding_gap",
			Title:   "Not authorised",
			Symbol:  "funding gap",
			Unit:    Money,
			Source:  own,
			Formula: "{eac_stated}, where it is known, else {eac_computed}, − {funded}; below 0 money is left",
			of:      fundingGap,
		},
		RunsOut: {
			Name:    "runs_out",
			Title:   "Money runs out",
			Symbol:  "runs out",
			Unit:    Day,
			Source:  own,
			Formula: "last day of the first period, from this one on, through which more is spent and forecast than is authorised by then; without a forecast by the plan's cells of later periods",
			of:      runsOut,
		},
		YearPlan: {
			Name:    "year_plan",
			Title:   "Plan of the fiscal year",
			Symbol:  "year plan",
			Unit:    Money,
			Source:  own,
			Formula: "plan cells of the fiscal year that the period is in",
		},
		YearOutlook: {
			Name:    "year_outlook",
			Title:   "Outlook of the fiscal year",
			Symbol:  "year outlook",
			Unit:    Money,
			Source:  own,
			Formula: "what is booked in the fiscal year through the period, and what the stated forecast adds to its end; without a forecast the plan's cells of later periods",
		},
		CarryOver: {
			Name:    "carry_over",
			Title:   "Carried over",
			Symbol:  "carry-over",
			Unit:    Money,
			Source:  own,
			Formula: "{year_plan} − {year_outlook}: of the year's plan, what the year does not use; below 0 it uses more",
			of:      func(e *Eval, _ calendar.Period) Value { return less(e.Get(YearPlan), e.Get(YearOutlook)) },
		},
		NPV: {
			Name:    "npv",
			Title:   "Net present value of the plan",
			Symbol:  "NPV",
			Unit:    Money,
			Source:  "discounted cash flow",
			Formula: "sum of planned income and benefit less cost, each over (1 + the office's yearly rate) to the power of the days from the period's end to its own ÷ 365",
		},
		Payback: {
			Name:    "payback",
			Title:   "Paid back",
			Symbol:  "payback",
			Unit:    Day,
			Source:  "discounted cash flow",
			Formula: "last day of the first period through which planned income and benefit cover planned cost, without discount",
		},
		SlipPace: {
			Name:    "slip_pace",
			Title:   "Slip at pace",
			Symbol:  "slip at pace",
			Unit:    Workdays,
			Source:  own,
			Formula: "working days from {finish_planned} to {finish_pace}, on the project's calendar",
			of:      slipPace,
		},
		ACFromPlan: {
			Name:    "ac_from_plan",
			Title:   "Of actual cost, from the plan",
			Symbol:  "from plan",
			Unit:    Money,
			Source:  own,
			Formula: "of {ac}, the plan cells of periods of which nothing is booked, in projects that take their plan as their actual cost; in a group the sum of those",
		},
	}
	catalogue[EACComputed].of = computedOutlook
	for i := range catalogue {
		byName[catalogue[i].Name] = ID(i)
	}
}
