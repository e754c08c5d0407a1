package sheet

import (
	"fmt"
	"slices"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// weekDays are the days of a week as they head a drawing of one.
var weekDays = [7]string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"}

// Week draws a class's weekly lessons: a column for each day, and how long setting up,
// drawing and clearing away take. Lessons of every other week are hatched. The weekend is left
// out where nothing is in it.
func Week(c lesson.Calendar) page.Page {
	days, from, until := 5, 24*60, 0
	for _, w := range c.Weekly {
		days = max(days, w.Weekday+1)
		from, until = min(from, w.Start), max(until, w.Start+w.Minutes)
	}
	if until == 0 {
		from, until = 8*60, 16*60
	}
	from, until = from/60*60, (until+59)/60*60
	const left, top, column = 14.0, 8.0, 26.0
	k := max(0.12, 60/float64(until-from)) // mm a minute
	pg := page.Page{Title: "The week's lessons", Size: measure.Size{W: measure.Length(left + column*float64(days) + 2), H: measure.Length(top + k*float64(until-from) + 3)}}
	at := func(minute int) float64 { return top + k*float64(minute-from) }
	for hour := from; hour <= until; hour += 60 {
		pg.Line(left, at(hour), left+column*float64(days), at(hour), 0.15, page.Faint)
		pg.Add(page.Text{At: plane.Pt(left-2, at(hour)+1.2), Size: 3.4, Words: fmt.Sprintf("%d:00", hour/60), Anchor: page.End, Color: page.Ink})
	}
	for day := range days {
		pg.Add(page.Text{At: plane.Pt(left+column*(float64(day)+0.5), top-3), Size: 3.8, Words: weekDays[day], Anchor: page.Middle, Bold: true, Color: page.Ink})
	}
	for _, w := range c.Weekly {
		x := left + column*float64(w.Weekday) + 1.5
		b := page.BoxPath(page.Box(x, at(w.Start), column-3, k*float64(w.Minutes)), 0.4, page.Ink)
		b.Fill = &softFill
		if w.Week != 0 {
			b.Dash = 1.5
		}
		draws := page.BoxPath(page.Box(x, at(w.Start+c.Setup), column-3, k*float64(max(0, w.Minutes-c.Setup-c.Clear))), 0, page.Ink)
		draws.Fill = &tapeFill
		pg.Add(b, draws, page.Text{At: plane.Pt(x+1.5, at(w.Start+c.Setup)+4.4), Size: 3.4, Words: fmt.Sprintf("%d:%02d, %d min", w.Start/60, w.Start%60, w.Minutes), Color: page.Ink})
	}
	return pg
}

// errorShown is how many times larger a printer's error is drawn than it is.
const errorShown = 8

// PrinterError draws what a printer makes of a page: the true edges, and those that it prints,
// its error eight times as large; shares of 1, across and down.
func PrinterError(across, down float64) page.Page {
	const wide, high = 42.0, 59.4
	grown := func(k float64) float64 { return max(0.3, 1+errorShown*(k-1)) }
	w, h := wide*grown(across), high*grown(down)
	most := plane.Pt(max(wide, w), max(high, h))
	pg := page.Page{Title: fmt.Sprintf("Of 100 mm it prints %.1f mm across and %.1f mm down", 100*across, 100*down), Size: measure.Size{W: measure.Length(most.X + 12), H: measure.Length(most.Y + 16)}}
	truly := page.BoxPath(page.Box(2, 2, wide, high), 0.3, page.Faint)
	truly.Dash = 1.5
	printed := page.BoxPath(page.Box(2, 2, w, h), 0.6, page.Ink)
	pg.Add(truly, printed,
		page.Text{At: plane.Pt(2, most.Y+7), Size: 3.6, Words: fmt.Sprintf("100 mm across: %.1f mm", 100*across), Color: page.Ink},
		page.Text{At: plane.Pt(2, most.Y+12), Size: 3.6, Words: fmt.Sprintf("100 mm down: %.1f mm", 100*down), Color: page.Ink})
	return pg
}

// lessonStep is over how many minutes boxes of a lesson are counted together.
const lessonStep = 5

// LessonTicks draws how many boxes a class drew in every five minutes of a day, by the
// minutes of the day at which they were ticked. It wants one at least.
func LessonTicks(minutes []int) page.Page {
	from, until := slices.Min(minutes)/lessonStep*lessonStep, slices.Max(minutes)/lessonStep*lessonStep+lessonStep
	counts := make([]int, (until-from)/lessonStep)
	for _, m := range minutes {
		counts[(m-from)/lessonStep]++
	}
	const left, top, high = 10.0, 6.0, 26.0
	wide := min(6, 110/float64(len(counts)))
	most := slices.Max(counts)
	pg := page.Page{Title: fmt.Sprintf("Boxes drawn every %d minutes, %d at most", lessonStep, most),
		Size: measure.Size{W: measure.Length(left + max(34, wide*float64(len(counts))) + 4), H: top + high + 8}}
	for i, n := range counts {
		tall := high * float64(n) / float64(most)
		bar := page.BoxPath(page.Box(left+wide*float64(i)+0.3, top+high-tall, wide-0.6, tall), 0, page.Ink)
		bar.Fill = &tapeFill
		if n > 0 {
			pg.Add(bar)
		}
	}
	pg.Line(left, top+high, left+max(34, wide*float64(len(counts))), top+high, 0.4, page.Ink)
	clock := func(m int) string { return fmt.Sprintf("%d:%02d", m/60, m%60) }
	pg.Add(page.Text{At: plane.Pt(left, top+high+5), Size: 3.4, Words: clock(from), Color: page.Ink},
		page.Text{At: plane.Pt(left+max(34, wide*float64(len(counts))), top+high+5), Size: 3.4, Words: clock(until), Anchor: page.End, Color: page.Ink},
		page.Text{At: plane.Pt(left-1.5, top+2.4), Size: 3.4, Words: fmt.Sprint(most), Anchor: page.End, Color: page.Ink},
		page.Text{At: plane.Pt(left, top-2), Size: 3.4, Words: "boxes in 5 minutes", Color: page.Ink})
	return pg
}
