package record

import (
	"fmt"
	"slices"
	"strings"
)

// Questions: what is asked about a project.
var Questions = func() *questionsKind {
	k := &questionsKind{Kind: records("questions", "question", "question", "what is asked about a project")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Question = k.text("question", "code within the project, such as Q1", Key)
	k.About = k.text("about", "what it is about: "+strings.Join(Places, ", ")+"; the last four with a name behind, such as figure eac", Default("project"))
	k.Period = k.period("period", "the month that it is about")
	k.Text = k.text("text", "what is asked")
	k.To = k.text("to", "the sign-in name of whom it is put to; office: the portfolio office; empty: whoever leads the project", As("put_to"))
	k.State = k.choice("state", []string{"open", "closed"}, "open until who asked is content", Default("open"))
	k.By = k.text("by", "the sign-in name of who asked", Stamp, As("asked_by"))
	k.On = k.date("on", "the day on which it was asked", Stamp, As("asked_on"))
	k.Refuse = k.refuse
	k.Touches = Names
	k.Own = true
	return k
}()

// Places are what a question can be about. The last four take the name of one of them.
var Places = append(append([]string{"project"}, Owable...), "figure", "finding", "activity", "risk")

const namedPlaces = 4 // of Places, the last ones

type questionsKind struct {
	*Kind
	Project                              RefCol
	Question, About, Text, To, State, By TextCol
	Period                               PeriodCol
	On                                   DateCol
}

// PlaceOf reads what a question is about: the place, and the name of one of those that
// take one; ok is false where there is no such place, or its name is missing or too much.
func PlaceOf(about string) (place, name string, ok bool) {
	place, name, _ = strings.Cut(about, " ")
	i := slices.Index(Places, place)
	return place, name, i >= 0 && (name != "") == (i >= len(Places)-namedPlaces)
}

func (k *questionsKind) refuse(_ Run, x *Change) (column, why string) {
	if about := k.About.Of(x.After); about != "" {
		if _, _, ok := PlaceOf(about); !ok {
			return "about", fmt.Sprintf("%q is nothing that a question can be about; there are %s, the last four with a name behind", about, strings.Join(Places, ", "))
		}
	}
	if strings.TrimSpace(k.Text.Of(x.After)) == "" {
		return "text", "write what is asked"
	}
	return "", ""
}

// Replies: what was answered to questions.
var Replies = func() *repliesKind {
	k := &repliesKind{Kind: records("replies", "reply", "reply", "what was answered to questions")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Question = k.text("question", "code of the question", Key)
	k.Reply = k.whole("reply", "the how manieth", Key, Within(1, 9999))
	k.Text = k.text("text", "what was answered")
	k.By = k.text("by", "the sign-in name of who answered", Stamp, As("said_by"))
	k.On = k.date("on", "the day on which it was answered", Stamp, As("said_on"))
	k.Refuse = k.refuse
	k.Touches = Names
	k.Own = true
	return k
}()

type repliesKind struct {
	*Kind
	Project            RefCol
	Question, Text, By TextCol
	Reply              NumberCol
	On                 DateCol
}

func (k *repliesKind) refuse(_ Run, x *Change) (column, why string) {
	if strings.TrimSpace(k.Text.Of(x.After)) == "" {
		return "text", "write what is answered"
	}
	return "", ""
}
