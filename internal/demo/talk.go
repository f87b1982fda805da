package demo

import (
	"context"
	"fmt"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/asking"
)

// talk lets the people of the demonstration ask each other something.
func talk(ctx context.Context, o *office.Office) error {
	who := make(map[string]office.Actor)
	for _, s := range SignIns {
		id, err := account.In(o).SignIn(ctx, s.Login, s.Password)
		if err != nil {
			return err
		}
		if who[s.Login], _, err = account.In(o).ActorOf(ctx, id); err != nil {
			return err
		}
	}
	m, err := o.Moment(ctx, who["ines"], office.Ask{Own: true})
	if err != nil {
		return err
	}
	room := asking.In(o)
	for _, x := range []struct {
		by, project, about, to, text, answeredBy, answer string
	}{
		{"ines", "FR-01", "forecast", "", "The yard's next instalment stands in January. The yard wrote that it invoices in December: which of them is right?", "", ""},
		{"tor", "FR-02", "figure finish_slip", "", "What would bring the handover back by a month, and what would that cost?", "ada", "A second crew from January. The yard's price for it comes next week; it goes into the forecast once it is signed."},
		{"ada", "QS-05", "commitment", "office", "The order for the piles was split by the supplier. Do you want it under one cost code, or as it was invoiced?", "", ""},
	} {
		code, err := room.Ask(ctx, who[x.by], m, asking.Question{Project: x.project, About: x.about, To: x.to, Text: x.text})
		if err == nil && x.answer != "" {
			err = room.Answer(ctx, who[x.answeredBy], x.project, code, x.answer)
		}
		if err != nil {
			return fmt.Errorf("ask about %s: %w", x.project, err)
		}
	}
	return nil
}
