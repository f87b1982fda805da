package record

import "strings"

// Feedback is what readers say of pages and briefs, and what the office answers.
var Feedback = func() *feedbackKind {
	k := &feedbackKind{Kind: records("feedback", "feedback", "feedback", "what readers say of pages and briefs, and what the office answers")}
	k.Feedback = k.text("feedback", "code, such as B1", Key)
	k.About = k.text("about", "the address of the page, or the title of the brief")
	k.Text = k.text("text", "what is said")
	k.By = k.text("by", "the sign-in name or the mail address of who said it", Stamp, As("said_by"))
	k.On = k.date("on", "the day on which it was said", Stamp, As("said_on"))
	k.Answer = k.text("answer", "what the office answers")
	k.AnsweredBy = k.text("answered_by", "the sign-in name of who answered", Stamp)
	k.AnsweredOn = k.date("answered_on", "the day on which it was answered", Stamp)
	k.Refuse = k.refuse
	k.Touches = Names
	k.Own = true
	return k
}()

type feedbackKind struct {
	*Kind
	Feedback, About, Text, By, Answer, AnsweredBy TextCol
	On, AnsweredOn                                DateCol
}

func (k *feedbackKind) refuse(_ Run, x *Change) (column, why string) {
	if strings.TrimSpace(k.Text.Of(x.After)) == "" {
		return "text", "write what you have to say"
	}
	return "", ""
}

// News is what the office tells everyone, on top of their pages.
var News = func() *newsKind {
	k := &newsKind{Kind: records("news", "news", "news", "what the office tells everyone, on top of their pages")}
	k.News = k.code("news", "code of your choice", Key)
	k.Text = k.text("text", "what is told")
	k.From = k.date("from", "from this day on", As("from_day"))
	k.Until = k.date("until", "through this day", As("until_day"))
	k.Refuse = k.refuse
	k.Touches = Names
	k.Form = &Form{Title: "News", Needs: founding, Says: "It stands on top of everyone's pages from one day through another, and goes away by itself."}
	k.Own = true
	return k
}()

type newsKind struct {
	*Kind
	News, Text  TextCol
	From, Until DateCol
}

func (k *newsKind) refuse(_ Run, x *Change) (column, why string) {
	if strings.TrimSpace(k.Text.Of(x.After)) == "" {
		return "text", "write what is told"
	}
	if !k.Until.Said(x.After) {
		return "until", "say through which day it is told"
	}
	return ordered(x, k.From, k.Until)
}

// FirstPages are the pages that people of a role begin with.
var FirstPages = func() *firstPagesKind {
	k := &firstPagesKind{Kind: records("first_pages", "first_page", "first page", "the pages that people of a role begin with")}
	k.Role = k.choice("role", []string{"administrator", "analyst", "executive", "lead"}, "role", Key)
	k.Blocks = k.text("blocks", "the blocks of the page, as its address has them; empty: as it comes")
	k.Touches = Names
	k.Own = true
	return k
}()

type firstPagesKind struct {
	*Kind
	Role, Blocks TextCol
}
