package plans

import (
	"cmp"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// usualPaper is what a class draws on where nobody said (common practice).
var usualPaper = map[measure.Unit]string{measure.Inch: "12 x 18 in", measure.Centimetre: "A3", measure.Millimetre: "A3"}

// Proposed is how many proposals a teacher is shown: more is no help in choosing.
const Proposed = 3

// Advise returns the best sizes for what is asked: the picture, or its frame, on
// the paper and in the units of the request, for its class and the minutes that
// there are to draw, 0 for no limit, printed on office paper. Landmarks, in
// picture pixels, are not trimmed away. The error is grid.Problems or wraps
// grid.ErrAdvice.
func Advise(ask grid.Request, minutes float64, landmarks []plane.Point) ([]grid.Proposal, error) {
	units, err := measure.ParseUnit(cmp.Or(ask.Units, string(measure.Inch)))
	if err != nil {
		return nil, grid.Problems{{Field: "units", Message: err.Error()}}
	}
	frame, err := ask.AskedFrame()
	if err != nil {
		return nil, err
	}
	typed, canvas := grid.OnCanvas(ask.Paper)
	paper, err := measure.ParseSize(cmp.Or(typed, usualPaper[units]), units)
	if err != nil {
		return nil, grid.Problems{{Field: "paper", Message: err.Error()}}
	}
	a := grid.Advice{Wish: ask.Wish(units), Name: ask.Name, Frame: frame.Untrimmed(), Papers: []measure.Size{paper}, Canvas: canvas,
		Print: page.On(measure.OfficePaper(units).Size).Rooms(), Landmarks: landmarks, MarkBy: grid.Way(ask.MarkBy)}
	a.Minutes = cmp.Or(a.Minutes, minutes)
	return grid.Advise(a, Proposed)
}

// First returns the request with which a picture that nobody has planned yet
// starts, in units, for a way of working: the best of the proposals, or a print that
// fits office paper where there is none, in the parts that the way begins with.
func First(name string, picture [2]int, units measure.Unit, way lesson.Way, minutes float64) grid.Request {
	first := grid.First(name, picture)
	if list, err := Advise(grid.Request{Name: name, Picture: picture, Units: string(units)}, minutes, nil); err == nil {
		first = list[0].Plan.Typed
	}
	asked := first.Set(way.Plan())
	if plan, err := grid.Make(asked); err == nil {
		asked = asked.Set(way.PlanFor(plan.Reference.Height))
	}
	if plan, err := grid.Make(asked); err == nil {
		if _, stopped := plan.Stopped(); !stopped {
			return asked
		}
	}
	return first
}
