package sheet

import (
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
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
func orderWords(p grid.Plan, road lesson.Road) string {
	if road.Way == lesson.ByStrips {
		return "Upside down: begin with the strip that is then on top."
	}
	if p.Hand == grid.LeftHand {
		return "Left-handed: row by row from the top right."
	}
	return "Right-handed: row by row from the top left."
}
