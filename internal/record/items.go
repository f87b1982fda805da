package record

// Items are backlog items for the rule items.
var Items = func() *itemsKind {
	k := &itemsKind{Kind: parts("items", "", "item", "backlog items for the rule items")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Item = k.text("item", "code within the project", Key)
	k.Activity = k.ref("activity", ActivityRef, "empty: counts for each items activity")
	k.NameCol = k.text("name", "name")
	k.Size = k.decimal("size", "size", Within(0, many))
	k.State = k.choice("state", []string{"new", "doing", "done", "accepted", "dropped"}, "state", Default("new"))
	k.Created = k.date("created", "the day it came up")
	k.Accepted = k.date("accepted", "the day it was accepted")
	return k
}()

type itemsKind struct {
	*Kind
	Project, Activity    RefCol
	Item, NameCol, State TextCol
	Created, Accepted    DateCol
	Size                 NumberCol
}
