package sheet

import (
	"zestysketch/internal/core/grid"
)

// gridTimes writes how much a plan enlarges.
func gridTimes(p grid.Plan) string {
	across, down := grid.Times(p.Scale[0]), grid.Times(p.Scale[1])
	if across == down {
		return across
	}
	return across + " across, " + down + " down"
}

// orderWords says where a hand starts, so that it does not smear.
func orderWords(p grid.Plan) string {
	if p.Hand == grid.LeftHand {
		return "Left-handed: row by row from the top right."
	}
	return "Right-handed: row by row from the top left."
}

// toMark names what the sheet is marked up with.
func toMark(p grid.Plan) string {
	return map[grid.Way]string{grid.ByRuler: "a ruler", grid.ByYardstick: "a yardstick", grid.ByTSquare: "a board, a T-square and tape",
		grid.ByFolding: "nothing to measure with: it is folded", grid.ByStrip: "the printed strips and scissors"}[p.Ruler.Way]
}
