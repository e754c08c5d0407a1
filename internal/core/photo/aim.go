package photo

import (
	"fmt"
	"image"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// Aim is what one look through a camera says: what to do, or that the photo may be taken.
type Aim struct {
	Ready   bool        `json:"ready"`
	Say     string      `json:"say"`
	Corners *plane.Quad `json:"corners,omitempty"` // of the grid or the sheet, in pixels; nil where it is not found
}

// Of a look, ours: how much of it the sheet fills at least, how far from straight above the
// camera may be, how near to the edge a corner may lie, by the longer side, and from how deep
// a shadow on it is worth a word.
const (
	aimFills  = 0.3
	aimTilt   = 18 // degrees
	aimEdge   = 0.01
	aimShadow = 0.35
	aimCell   = 24 // pixels a box on which it is judged
)

var tagPlaces = [4]string{"upper left", "upper right", "lower right", "lower left"}

// Look says what one small picture of a camera shows of a plan's sheet of paper, and what to
// do before a photo of it is taken: the first of what matters most. Tags says which corner
// tags were read of late, for which a larger picture is needed; none where there are none.
func Look(img *image.RGBA, p grid.Plan, tags [4]bool) Aim {
	s := NewShot(img)
	stock := p
	stock.Sheet.Width, stock.Sheet.Height = float64(p.StockSize().W), float64(p.StockSize().H)
	corners, found := sheetSeen(s, stock)
	if !found {
		return Aim{Say: "Show the whole sheet, from above."}
	}
	a := Aim{Corners: &corners}
	w, h := float64(img.Rect.Dx()), float64(img.Rect.Dy())
	edge := aimEdge * max(w, h)
	for _, c := range corners {
		if c.X < edge || c.Y < edge || c.X > w-edge || c.Y > h-edge {
			a.Say = "A corner is out of view: further away."
			return a
		}
	}
	switch hidden := hiddenOf(tags); {
	case hidden != "":
		a.Say = hidden
	case corners.Area()/(w*h) < aimFills:
		a.Say = "Nearer."
	case tilt(stock, corners) > aimTilt:
		a.Say = "Hold it flatter, straight above the middle."
	default:
		a.Say = lit(s, stock, corners)
	}
	if a.Ready = a.Say == ""; a.Ready {
		a.Say = "Hold still."
	}
	return a
}

// sheetSeen finds a sheet by its edges, whichever way round it lies.
func sheetSeen(s *Shot, stock grid.Plan) (corners plane.Quad, found bool) {
	papers := Papers(s)
	if len(papers) == 0 || papers[0].Check() != nil {
		return corners, false
	}
	if turned := Turned(papers[0], 1); tilt(stock, turned) < tilt(stock, papers[0]) {
		return turned, true
	}
	return papers[0], true
}

// hiddenOf names the tags that were not read where others were; empty for none.
func hiddenOf(tags [4]bool) string {
	var hidden []string
	for i, seen := range tags {
		if !seen {
			hidden = append(hidden, tagPlaces[i])
		}
	}
	switch len(hidden) {
	case 1:
		return fmt.Sprintf("The %s tag is hidden.", hidden[0])
	case 2:
		return fmt.Sprintf("The %s tags are hidden.", strings.Join(hidden, " and "))
	}
	return ""
}

// TagIn returns the corner, 0 to 3 from the upper left clockwise, whose tag a part of a
// picture shows; -1 for none.
func TagIn(img *image.RGBA) int {
	if codes := readCodes(img); len(codes) > 0 {
		return codes[0].tag.Corner
	}
	return -1
}

// lit says what is wrong with the light or the sharpness of a sheet; empty for nothing.
func lit(s *Shot, p grid.Plan, corners plane.Quad) string {
	w, h := s.Size()
	v, err := NewView(p, corners, NewLens(w, h, 0))
	if err != nil {
		return "Show the whole sheet, from above."
	}
	f := FrameFor(p, aimCell)
	straight := v.Straight(s, f)
	e := Even(straight, f)
	switch sharp, _, _ := sharpness(e.Ink, f.Cell); {
	case sharp < hopeless: // a small picture is blurred by being small
		return "It is blurred: hold still."
	case glare(straight, e) > burnt:
		return "Something glares: move the lamp or the sheet."
	case e.Fall > aimShadow:
		return "One side lies in the shade: let the light come from the other side."
	}
	return ""
}
