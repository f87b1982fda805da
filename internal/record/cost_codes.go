package record

// CostCodes are the tree of cost codes.
var CostCodes = func() *costCodesKind {
	k := &costCodesKind{Kind: records("cost_codes", "cost_code", "cost code", "the tree of cost codes")}
	k.CostCode = k.code("cost_code", "code", Key)
	k.NameCol = k.text("name", "name")
	k.Parent = k.ref("parent", CostCodeRef, "the code above, if any")
	k.Reserve = k.choice(
		"reserve",
		[]string{"none", "contingency", "management"},
		"management reserve stays out of BAC and PV",
		Default("none"),
	)
	return k
}()

type costCodesKind struct {
	*Kind
	Parent                     RefCol
	CostCode, NameCol, Reserve TextCol
}
