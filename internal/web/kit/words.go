package kit

import (
	"encoding/json"
	"fmt"
	"html/template"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
	"zestysketch/internal/web/static"
)

// words are what templates may call to put the core's values into words.
var words = template.FuncMap{
	"needs":    func() []string { return store.Needs },
	"list":     sheet.List,
	"times":    times,
	"cellsize": cellSize,
	"level": func(l grid.Level) string {
		return map[grid.Level]string{grid.Note: "Note", grid.Warn: "Look", grid.Stop: "Stop"}[l]
	},
	"pick":    Pick,
	"asset":   static.Path,
	"lean":    static.Lean,
	"term":    term,
	"arrow":   arrow,
	"percent": func(share float64) float64 { return 100 * share },
	"inc":     func(i int) int { return i + 1 },
	"json":    toJSON,
	"levelof": func(difficulty int) string {
		return map[int]string{1: "easy", 2: "middling", 3: "hard"}[difficulty]
	},
	"seconds": func() []int { return lesson.GestureSeconds },
	"cornernames": func() []string {
		return []string{"Top left", "Top right", "Bottom right", "Bottom left"}
	},
}

// toJSON writes values for a data attribute, which the template escapes.
func toJSON(v any) (string, error) {
	b, err := json.Marshal(v)
	return string(b), err
}

// arrow writes an offset with an arrow for each way, to the given places: "→ 0.25  ↑ 0.10".
func arrow(off plane.Point, places int) string {
	x, y := "→", "↓"
	if off.X < 0 {
		x = "←"
	}
	if off.Y < 0 {
		y = "↑"
	}
	return fmt.Sprintf("%s %.*f  %s %.*f", x, places, math.Abs(off.X), y, places, math.Abs(off.Y))
}

// times writes how much a plan enlarges, both ways where they differ.
func times(p grid.Plan) string {
	across, down := grid.Times(p.Scale[0]), grid.Times(p.Scale[1])
	if across == down {
		return across
	}
	return across + " across, " + down + " down"
}

// cellSize writes a cell as a square's side, or as two sides.
func cellSize(cell [2]float64, u measure.Unit) string {
	w, h := measure.Length(cell[0]), measure.Length(cell[1])
	if w.Bare(u) == h.Bare(u) {
		return w.Text(u)
	}
	return measure.Size{W: w, H: h}.Text(u)
}

// Option is one line of a select.
type Option struct {
	Value, Words string
	Chosen       bool
}

// Pick returns a select's options from pairs of value and words. The first is
// chosen where value is empty.
func Pick(value string, pairs ...string) []Option {
	var options []Option
	for i := 0; i+1 < len(pairs); i += 2 {
		options = append(options, Option{pairs[i], pairs[i+1], pairs[i] == value || value == "" && i == 0})
	}
	return options
}
