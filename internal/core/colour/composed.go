package colour

import (
	"image"
	"slices"
	"strings"

	"zestysketch/internal/core/plane"
)

// Composed is how a picture or a small drawing lies in its frame.
type Composed struct {
	Balance
	Reach   plane.Rect // round all that is dark, as shares of width and height; empty where nothing is
	Touches []string   // the edges that something dark touches
}

// The outermost part of a side is its edge, of which so much must be dark to be seen to touch it; and so much of all
// that is dark may lie outside its reach, as a fleck (ours).
const edgePart, edgeDark, fleck = 0.015, 0.02, 0.005

// Compose looks at a picture: dark is what is nearer to its darkest tone than to its lightest.
func Compose(img *image.RGBA) Composed {
	w, h := float64(img.Rect.Dx()), float64(img.Rect.Dy())
	type spot struct{ x, y, l float64 }
	var all []spot
	for at, p := range places(img) {
		all = append(all, spot{(float64(at.X) + 0.5) / w, (float64(at.Y) + 0.5) / h, Of(p[0], p[1], p[2]).L})
	}
	c := Composed{Balance: Weigh(img)}
	light := make([]float64, len(all))
	for i, s := range all {
		light[i] = s.l
	}
	slices.Sort(light)
	n := len(light)
	if n == 0 || light[n-1-n/50]-light[n/1000] < 15 { // nothing stands out of the paper
		return c
	}
	dark := (light[n-1-n/50] + light[n/1000]) / 2
	var across, down []float64
	sides := []struct {
		name      string
		at        func(s spot) bool
		dark, all int
	}{{"left", func(s spot) bool { return s.x < edgePart }, 0, 0}, {"right", func(s spot) bool { return s.x > 1-edgePart }, 0, 0},
		{"top", func(s spot) bool { return s.y < edgePart }, 0, 0}, {"bottom", func(s spot) bool { return s.y > 1-edgePart }, 0, 0}}
	for _, s := range all {
		for i := range sides {
			if sides[i].at(s) {
				sides[i].all++
				if s.l < dark {
					sides[i].dark++
				}
			}
		}
		if s.l < dark {
			across, down = append(across, s.x), append(down, s.y)
		}
	}
	for _, s := range sides {
		if float64(s.dark) > edgeDark*float64(s.all) {
			c.Touches = append(c.Touches, s.name)
		}
	}
	slices.Sort(across)
	slices.Sort(down)
	if m := len(across); m > 0 {
		skip := int(fleck * float64(m))
		c.Reach = plane.Rect{Min: plane.Pt(across[skip], down[skip]), Max: plane.Pt(across[m-1-skip], down[m-1-skip])}
	}
	return c
}

// SayTouches says which edges are touched.
func (c Composed) SayTouches() string {
	switch n := len(c.Touches); n {
	case 0:
		return "Nothing touches an edge."
	case 1:
		return "It touches the " + c.Touches[0] + " edge."
	default:
		return "It touches the edges " + strings.Join(c.Touches[:n-1], ", ") + " and " + c.Touches[n-1] + "."
	}
}
