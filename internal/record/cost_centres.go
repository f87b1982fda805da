package record

// CostCentres are the tree of cost centres, lines may name others, which have no name and no centre above.
var CostCentres = func() *costCentresKind {
	k := &costCentresKind{
		Kind: records(
			"cost_centres",
			"cost_centre",
			"cost centre",
			"the tree of cost centres; lines may name others, which have no name and no centre above",
		),
	}
	k.CostCentre = k.code("cost_centre", "code", Key)
	k.NameCol = k.text("name", "name")
	k.Parent = k.ref("parent", CentreRef, "the centre above, if any")
	return k
}()

type costCentresKind struct {
	*Kind
	Parent              RefCol
	CostCentre, NameCol TextCol
}
