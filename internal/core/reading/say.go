package reading

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/plane"
)

// Direction returns a direction in words, of degrees above -90 to 90.
func Direction(deg float64) string {
	steep := math.Abs(deg)
	rising := "rising to the right"
	if deg < 0 {
		rising = "falling to the right"
	}
	switch {
	case steep <= 7:
		return "level"
	case steep >= 83:
		return "upright"
	case steep < 33:
		return "flat, " + rising
	case steep <= 57:
		return "half-way between level and upright, " + rising
	}
	return "steep, " + rising
}

// towards names the way to which a line bulges.
func towards(way plane.Point) string {
	up := map[bool]string{true: "up", false: "down"}[way.Y < 0]
	side := map[bool]string{true: "to the left", false: "to the right"}[way.X < 0]
	switch {
	case math.Abs(way.X) < 0.4:
		return up
	case math.Abs(way.Y) < 0.4:
		return side
	}
	return up + " and " + side
}

// bends says how strongly, by height over chord.
func bends(bend float64) string {
	switch b := math.Abs(bend); {
	case b < 0.09:
		return "bends a little"
	case b < 0.22:
		return "bends"
	case b < 0.4:
		return "bends strongly"
	}
	return "bends all round"
}

// words says a piece in one sentence.
func (p Piece) words(all []Crossing, f Finest) string {
	var way string
	switch {
	case p.Closed:
		return "A closed " + p.form() + " lies inside, its middle " + f.place(p.middle().X, p.middle().Y) + "."
	case p.From >= 0 && p.To >= 0:
		way = "A line goes from " + all[p.From].Say + " to " + all[p.To].Say
	case p.From >= 0:
		way = "A line comes in " + all[p.From].Say + " and ends " + f.end(p.Points[len(p.Points)-1])
	case p.To >= 0:
		way = "A line comes in " + all[p.To].Say + " and ends " + f.end(p.Points[0])
	default:
		way = "A line inside goes from " + f.end(p.Points[0]) + " to " + f.end(p.Points[len(p.Points)-1])
	}
	return way + "; " + p.goes(f) + "."
}

// end says where in a box a line ends.
func (f Finest) end(at plane.Point) string { return f.place(at.X, at.Y) }

func (p Piece) form() string {
	if p.Shape == None {
		return "shape"
	}
	return string(p.Shape)
}

func (p Piece) middle() plane.Point { return middle(p.Points) }

// goes says how a piece goes: straight, bent, with a corner.
func (p Piece) goes(f Finest) string {
	direction := Direction(p.Direction)
	var say string
	switch p.Shape {
	case Straight:
		return "it is straight, " + direction
	case Corner:
		return fmt.Sprintf("it has a corner %s", f.place(p.cornerAt().X, p.cornerAt().Y))
	case S:
		say = "it bends one way, then the other, like an S"
	case Hook:
		say = "it is like a hook: straight, then round, bulging " + towards(p.bulge)
	case HalfDisc:
		say = "it bends all round like half a disc, bulging " + towards(p.bulge)
	case Arc:
		say = fmt.Sprintf("it %s, bulging %s", bends(p.Bend), towards(p.bulge))
	default:
		if p.Shape == None {
			return "it goes round, like nothing plain"
		}
		return "it goes round like a " + string(p.Shape)
	}
	if p.Turning != nil {
		say += fmt.Sprintf("; its %s place is %s", p.TurnsAt, f.place(p.Turning.X, p.Turning.Y))
	}
	return say
}

// cornerAt returns where the sharpest corner lies, as parts of the box.
func (p Piece) cornerAt() plane.Point {
	best, at := math.Inf(1), p.Sharp.At
	for _, q := range p.Points {
		if d := q.Sub(p.Sharp.At).Len(); d < best {
			best, at = d, q
		}
	}
	return at
}

// Sentences for a child: that many pieces are named, and that many at most said.
const saidPieces = 2

// words says a box in two or three sentences for a child, and all of it for the teacher.
func (b Box) words(f Finest) (say []string, key string) {
	switch {
	case b.TooMuch:
		tell := fmt.Sprintf("%d crossings and %d lines: too much to say. Divide this box again.", len(b.Crossings), len(b.Pieces))
		return []string{tell}, tell
	case len(b.Pieces) == 0 && len(b.Crossings) == 0:
		return []string{"Nothing is drawn here: the box stays empty."}, "Empty."
	}
	var all []string
	for i, p := range b.Pieces {
		all = append(all, p.Say)
		if i < saidPieces {
			say = append(say, p.Say)
		}
	}
	if more := len(b.Pieces) - saidPieces; more == 1 {
		say = append(say, "One more line is smaller: look for it when these stand.")
	} else if more > 1 {
		say = append(say, fmt.Sprintf("%d more lines are smaller: look for them when these stand.", more))
	} else if e, ok := b.telling(); ok {
		say = append(say, fmt.Sprintf("What stays empty %s is like a %s.", where(e), e.Shape))
	}
	for _, s := range b.Along {
		all = append(all, fmt.Sprintf("A line runs along the %s side, hard to tell from the grid.", s))
	}
	if e, ok := b.telling(); ok {
		all = append(all, fmt.Sprintf("Empty: %.0f %% of the box %s, like a %s.", 100*e.Area, where(e), e.Shape))
	}
	return say, strings.Join(all, " ")
}

// telling returns the empty shape that says most: the largest that is like something.
func (b Box) telling() (Empty, bool) {
	for _, e := range b.Empty {
		if e.Shape != None && e.Area < 0.9 {
			return e, true
		}
	}
	return Empty{}, false
}

// where says where in its box an empty shape lies.
func where(e Empty) string {
	m := middle(append(e.Outline[:len(e.Outline):len(e.Outline)], e.Outline[0]))
	down := ""
	switch {
	case m.Y < 0.4:
		down = "above"
	case m.Y > 0.6:
		down = "below"
	}
	side := ""
	switch {
	case m.X < 0.4:
		side = "on the left"
	case m.X > 0.6:
		side = "on the right"
	}
	switch {
	case down == "" && side == "":
		return "in the middle"
	case down == "":
		return side
	case side == "":
		return down
	}
	return down + " " + side
}
