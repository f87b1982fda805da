package claim

import (
	"regexp"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/standing"
)

var (
	timely  = regexp.MustCompile(`(?i)\b(?:on time|on schedule|ahead of (?:schedule|time|plan)|no (?:delays?|slip(?:page)?)|as scheduled|(?:finish(?:es)?|complete|open) as planned)\b`)
	tardy   = regexp.MustCompile(`(?i)\b(?:behind schedule|running late|is late|are late|delayed)\b`)
	thrifty = regexp.MustCompile(`(?i)\b(?:(?:with)?in budget|on budget|(?:under|below) (?:the )?budget|no overruns?)\b`)
	costly  = regexp.MustCompile(`(?i)\b(?:over (?:the )?budget|overspen[dt])\b`)

	colours = map[string]standing.Standing{
		"green": standing.Steady, "steady": standing.Steady, "amber": standing.Watch, "yellow": standing.Watch, "orange": standing.Watch, "watch": standing.Watch,
		"red": standing.Act, "act": standing.Act,
	}
	subjects = map[string]standing.Dimension{
		"dates": standing.Dates, "schedule": standing.Dates, "time": standing.Dates, "cost": standing.Cost, "costs": standing.Cost, "money": standing.Cost, "budget": standing.Cost,
		"progress": standing.Progress, "risk": standing.Risk, "risks": standing.Risk, "data": standing.Data,
	}
)

const (
	colour = `(green|steady|amber|yellow|orange|watch|red|act)`
	stop   = `(?:[^\w\s-]|$|\s+(?:on|for|but|and|because|since|as|with|overall|again|now|this|due|owing|in)\b)`
)

var (
	// what is rated: "stands at Watch", "status: green", "we are amber", "cost is red", "red overall"
	rated = regexp.MustCompile(`(?i)\b(?:(?:stands?|stays?|remains?)(?: at| on)?|(?:status|standing|overall|rating|rag|health)(?: status)?(?: is|:| =| -)?|rated(?: as)?|we are|project is|it is) ` + colour + stop)
	of    = regexp.MustCompile(`(?i)\b(dates|schedule|time|costs?|money|budget|progress|risks?|data)(?: (?:is|are|stands? at|stays? at|remains?|at|rated))?:? ` + colour + stop)
	on    = regexp.MustCompile(`(?i)\b` + colour + ` (?:on|for|in) (dates|schedule|time|costs?|money|budget|progress|risks?|data)\b`)
	whole = regexp.MustCompile(`(?i)^\W*(?:overall )?` + colour + `(?: overall)?\W*$`)
)

// words holds what is said of time, money and standing without a number against the figures.
func (c *check) words() {
	said := func(re *regexp.Regexp, use func(m []int)) {
		for _, m := range re.FindAllStringSubmatchIndex(c.text, -1) {
			if c.present(m[0], m[1]) {
				use(m)
			}
		}
	}
	slip, over := c.f.Value(figure.FinishSlip), c.f.Value(figure.ComputedOver)
	said(timely, func(m []int) {
		if slip.Known && slip.N > 0 && !c.ofOthers(m[0]) {
			c.doubt(m[0], m[1], Doubt{Kind: OnTime, ID: figure.FinishSlip, Is: slip})
		}
	})
	said(tardy, func(m []int) {
		begin, _ := c.clause(m[0])
		spi := c.f.Value(figure.SPIT)
		if slip.Known && slip.N <= 0 && (!spi.Known || spi.Rat().Cmp(one) >= 0) && ofTheWhole.MatchString(c.text[begin:m[0]]) {
			c.doubt(m[0], m[1], Doubt{Kind: OnTime, ID: figure.FinishSlip, Is: slip})
		}
	})
	said(thrifty, func(m []int) {
		if over.Known && over.Rat().Sign() > 0 {
			c.doubt(m[0], m[1], Doubt{Kind: InBudget, ID: figure.ComputedOver, Is: over})
		}
	})
	said(costly, func(m []int) {
		begin, _ := c.clause(m[0])
		stated, cv := c.f.Value(figure.StatedOver), c.f.Value(figure.CV)
		if over.Known && over.Rat().Sign() <= 0 && !(stated.Known && stated.Rat().Sign() > 0) && !(cv.Known && cv.N < 0) && ofTheWhole.MatchString(c.text[begin:m[0]]) {
			c.doubt(m[0], m[1], Doubt{Kind: InBudget, ID: figure.ComputedOver, Is: over})
		}
	})
	said(of, func(m []int) { c.stands(m[0], m[5], c.text[m[2]:m[3]], c.text[m[4]:m[5]]) })
	said(on, func(m []int) { c.stands(m[0], m[5], c.text[m[4]:m[5]], c.text[m[2]:m[3]]) })
	said(rated, func(m []int) {
		if end := on.FindStringIndex(c.text[m[2]:]); end == nil || end[0] > 0 { // of a dimension, which is told there
			c.stands(m[0], m[3], "", c.text[m[2]:m[3]])
		}
	})
	begin := 0
	for _, cut := range c.cuts {
		if m := whole.FindStringSubmatchIndex(c.text[begin:cut]); m != nil {
			c.stands(begin+m[2], begin+m[3], "", c.text[begin+m[2]:begin+m[3]])
		}
		begin = min(cut+1, len(c.text))
	}
}

// stands holds a standing that is said, of a dimension or overall, against what it is. Whoever
// says nothing of what was never rated is not doubted.
func (c *check) stands(from, to int, of, said string) {
	d := subjects[strings.ToLower(of)] // overall where none is named
	if is := c.f.Standing[d]; is != standing.Unrated && is != colours[strings.ToLower(said)] {
		c.doubt(from, to, Doubt{Kind: Standing, Of: d, Stands: is})
	}
}
