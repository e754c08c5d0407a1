package lesson

// GestureSeconds are the times to choose from for one thumbnail: a gesture takes
// 10 to 30 seconds, a minute at most (common practice).
var GestureSeconds = []int{10, 20, 30, 60}

// TeacherLooksFor is what a teacher looks for on the way round the room
// (common practice).
var TeacherLooksFor = []string{
	"Boxes of unequal size, or a column or row missing: count both papers.",
	"The grid pressed too dark: it has to be erased.",
	"The place lost: which box is in hand?",
	"A line that does not meet its neighbour at the edge of a box.",
	"Drawing from memory: eyes on the reference more than on the drawing.",
	"Timid darks: squint, and compare the darkest places.",
	"Blunt pencils. A hard edge drawn soft, or a soft one hard.",
	"Early finishers without extension work; slow ones without a smaller frame.",
}

// StudentLooksFor is what a student asks in every box (common practice).
var StudentLooksFor = []string{
	"Cover everything but this box.",
	"Where does each line enter the box? Put a dot.",
	"Where does it leave? A half, a quarter, a third along the edge?",
	"Which way does it bend?",
	"Which simple shape is it like?",
	"What shape is the empty part?",
	"Does the line meet its neighbour in the next box?",
	"Unsure? Little pressure. Sure? The line over it. Sharp pencil, scrap paper under the hand?",
}

// BeforeTapeOff is what to do before the tape comes off a traced drawing; the
// landmarks, the weightiest first, are to be found on the new sheet.
func BeforeTapeOff(landmarks []string) []string {
	list := append([]string{"Lift one side and look: is every line of the list there?"}, landmarks...)
	return append(list,
		"Lines missing? Lay the copy back on its hinge, and trace them in the second colour.",
		"Only then take the tape off, slowly, away from the drawing.")
}
