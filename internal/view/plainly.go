package view

import (
	"html/template"
	"math"
	"strconv"
	"text/template/parse"

	"glasspocket/internal/shape"
)

// asDecimal is called by actions that show a number, although nobody has written the call: the
// template engine would write a million as 1e+06. Views cannot call it by name.
const asDecimal = "asDecimal"

func decimal(n float64) string {
	if math.IsInf(n, 0) || math.IsNaN(n) {
		return ""
	}
	return strconv.FormatFloat(n, 'f', -1, 64)
}

// writePlainly makes a view's actions show numbers as decimals.
func (i *inference) writePlainly(t *template.Template) {
	eachAction(t, func(n *parse.ActionNode) {
		if is := i.actions[n.Pos]; is != nil && is.Kind == shape.NumberKind && len(n.Pipe.Decl) == 0 {
			what := &parse.PipeNode{NodeType: parse.NodePipe, Pos: n.Pipe.Pos, Line: n.Line, Cmds: n.Pipe.Cmds}
			call := parse.NewIdentifier(asDecimal).SetPos(n.Pos)
			n.Pipe.Cmds = []*parse.CommandNode{{NodeType: parse.NodeCommand, Pos: n.Pos, Args: []parse.Node{call, what}}}
		}
	})
}
