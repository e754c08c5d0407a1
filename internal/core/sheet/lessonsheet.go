package sheet

import (
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// mostLooks is how much a colleague looks for in one lesson.
const mostLooks = 5

// LessonSheet is a lesson for the colleague who takes it: what the class does and what they need, who is where, and what
// to look for, beside the picture. most is the stage at which most of the class is; one line of where says
// of each student where they are. The error wraps ErrPaper.
func LessonSheet(w Wish, class string, most lesson.Stage, where []string) ([]page.Page, error) {
	drawn := page.Page{Title: "The picture", Size: w.Plan.SheetSize()}
	if w.Plan.Frame != nil {
		drawn.Add(w.picture(page.Box(0, 0, w.Plan.Sheet.Width, w.Plan.Sheet.Height)))
	}
	drawRule(&drawn, plane.Point{}, SheetNet(w.Plan))
	does := Entry{Head: "What they do", Lines: []string{most.Name() + ". " + most.Board()}}
	if most.Checkpoint != "" {
		does.Lines = append(does.Lines, "Before anybody goes on, look: "+most.Checkpoint)
	}
	out := Entry{Head: "Take out"}
	for _, m := range most.Materials() {
		out.Lines = append(out.Lines, m.Name)
	}
	lists := []Entry{does}
	if out.Lines != nil {
		lists = append(lists, out)
	}
	lists = append(lists, Entry{Head: "Look for", Lines: lesson.TeacherLooksFor[:mostLooks]}, Entry{Head: "Who is where", Lines: where, ticks: true})
	return w.planned(planned{"Lesson sheet", signs[most.Kind], class + ", one lesson for a colleague.", drawn, lists, most.Cautions(), nil})
}
