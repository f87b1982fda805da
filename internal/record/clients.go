package record

// Clients are those that projects are done for.
var Clients = func() *clientsKind {
	k := &clientsKind{Kind: records("clients", "client", "client", "those that projects are done for, and what they are called")}
	k.Client = k.code("client", "code, as projects name it", Key)
	k.NameCol = k.text("name", "name")
	k.Touches = Workings
	k.Form = &Form{
		Title: "Clients", Needs: founding,
		Says: "Projects name their client by its code; here it gets its name.",
	}
	k.Own = true
	return k
}()

type clientsKind struct {
	*Kind
	Client, NameCol TextCol
}
