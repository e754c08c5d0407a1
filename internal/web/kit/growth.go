package kit

import (
	"fmt"
	"html/template"
	"slices"

	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/training"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
)

// mostGrown is how many of the latest exercises a plot shows.
const mostGrown = 20

// Growth draws how much one student's eye missed over time, of each kind of exercise that
// was done twice or more; list is the latest first.
func Growth(clock room.Clock, list []store.Training) ([]template.HTML, error) {
	return grown(list, func(of []store.Training) (points []sheet.Grown) {
		for _, t := range of[max(0, len(of)-mostGrown):] {
			miss := t.Result.Miss()
			points = append(points, sheet.Grown{When: clock.Short(t.DoneAt), Value: miss.Value, Low: miss.Low, High: miss.High})
		}
		return points
	})
}

// ClassGrowth draws the same of a class, week by week: the median of all exercises, and
// between which the middle half lies. Nobody is named.
func ClassGrowth(clock room.Clock, list []store.Training) ([]template.HTML, error) {
	return grown(list, func(of []store.Training) (points []sheet.Grown) {
		week := func(t store.Training) string { return fmt.Sprint(clock.At(t.DoneAt).ISOWeek()) }
		for len(of) > 0 {
			n := slices.IndexFunc(of, func(t store.Training) bool { return week(t) != week(of[0]) })
			if n < 0 {
				n = len(of)
			}
			var misses []float64
			for _, t := range of[:n] {
				misses = append(misses, t.Result.Miss().Value)
			}
			slices.Sort(misses)
			at := func(share float64) float64 { return misses[int(share*float64(len(misses)-1)+0.5)] }
			points = append(points, sheet.Grown{When: clock.Short(of[0].DoneAt), Value: at(0.5), Low: at(0.25), High: at(0.75)})
			of = of[n:]
		}
		return points[max(0, len(points)-mostGrown):]
	})
}

// grown draws what there is of each kind, the earliest first, where it is two points or more.
func grown(list []store.Training, points func([]store.Training) []sheet.Grown) (plots []template.HTML, err error) {
	list = slices.Clone(list)
	slices.Reverse(list)
	for _, a := range training.Kinds {
		var of []store.Training
		for _, t := range list {
			if t.Kind == a.Kind {
				of = append(of, t)
			}
		}
		all := points(of)
		if len(all) < 2 {
			continue
		}
		plot, err := InlineSVG(sheet.Growth(a.Name, a.In, all), nil)
		if err != nil {
			return nil, err
		}
		plots = append(plots, plot)
	}
	return plots, nil
}
