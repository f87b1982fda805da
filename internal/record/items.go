package record

// Items are the items of backlogs; the rule items counts them.
var Items = func() *itemsKind {
	k := &itemsKind{Kind: parts("items", "", "item", "items of a backlog, which the rule items counts")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Item = k.text("item", "code within the project", Key)
	k.Activity = k.ref("activity", ActivityRef, "empty: counts for each items activity")
	k.NameCol = k.text("name", "name")
	k.Size = k.decimal("size", "size", Within(0, many))
	k.State = k.choice("state", []string{"new", "doing", "done", "accepted", "dropped"}, "state", Default("new"))
	k.Created = k.date("created", "the day it came up")
	k.Accepted = k.date("accepted", "the day it was accepted")
	k.Dropped = k.date("dropped", "the day it was dropped; without one, what is dropped never counts")
	k.Due = k.date("due", "the day it is due")
	k.Blocked = k.date("blocked", "the day since which something is in its way")
	k.Owner = k.text("owner", "who does it")
	return k
}()

type itemsKind struct {
	*Kind
	Project, Activity                        RefCol
	Item, NameCol, State, Owner              TextCol
	Created, Accepted, Dropped, Due, Blocked DateCol
	Size                                     NumberCol
}
