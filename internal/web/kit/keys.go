package kit

// Key is a key, or several, and what it does on a page.
type Key struct{ Press, Does string }

// everywhere are the keys of every page of a teacher's.
var everywhere = []Key{{"/", "search"}, {"?", "show this"}}

// keysOf are the keys of pages, by their templates.
var keysOf = map[string][]Key{
	"bench.html": {{"arrows", "move the frame, walk the boxes, or drag the print's edge"}, {"+ −", "make the frame larger or smaller"},
		{"[ ]", "turn the frame"}, {"shift", "faster"}, {"enter", "divide the box in hand"}},
	"wall.html": {{"n p", "the next or previous student's desk"}, {"f", "fill the row of the box in hand"}, {"h", "take a hand down"},
		{"arrows", "walk the boxes"}, {"ctrl z", "empty that row again"}},
	"table.html": {{"1 to 6", "ways of looking at the drawing"}, {"a m u q", "arrows, mirror, upside down, squint"}, {"n", "the next photo"},
		{"arrows", "move the corner or landmark in hand"}, {"ctrl z", "take that back"}},
	"seats.html":         {{"arrows", "move a name to another seat"}},
	"slides.html":        {{"→", "the next drawing"}, {"←", "the one before"}},
	"demonstration.html": {{"→", "show more of the box"}, {"←", "show less"}, {"n", "the next box"}, {"b", "the box before"}, {"u", "upside down"}, {"c", "cover the rest"}},
	"eyes.html":          {{"→", "show the answer, then the next task"}, {"e", "easier"}, {"h", "harder"}},
	"gestures.html":      {{"space", "start or stop the clock"}},
	"student.html":       {{"← →", "the box before, the box after"}, {"space", "tick the box, or take it back"}},
}

// Keys returns the page's keys, those of every page last.
func (v view) Keys() []Key {
	if v.Teacher.ID == 0 {
		return v.pageKeys
	}
	return append(append([]Key{}, v.pageKeys...), everywhere...)
}
