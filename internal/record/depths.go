package record

// Depths tell on which level of the tree of cost codes projects of a stage plan their money.
var Depths = func() *depthsKind {
	k := &depthsKind{Kind: records("depths", "depth", "level of estimates", "how deep in the tree of cost codes the plans of a stage go")}
	k.Stage = k.text("stage", "of projects, as they name it", Key)
	k.Level = k.whole("level", "of cost codes; 1 is the top", Within(1, 9))
	k.Touches = Workings
	k.Form = &Form{
		Title: "Estimates by stage", Needs: founding,
		Says: "A proposal is estimated in a few large codes, a project that is built in many. Where a stage has a level here, plans are typed on codes of that level.",
	}
	k.Own = true
	return k
}()

type depthsKind struct {
	*Kind
	Stage TextCol
	Level NumberCol
}
