package sighting

import (
	"cmp"
	"slices"

	"zestysketch/internal/core/measure"
)

// Solid is an object drawn in several views at one size.
type Solid struct {
	Width, Depth, Height measure.Length
	Heights              []Level // landmarks along the height
}

// Level is a landmark along the height, from the top.
type Level struct {
	Name string
	At   measure.Length
}

// Guidelines are the shared lines of several views on one sheet.
type Guidelines struct {
	Scale  float64 // of every view, all alike
	Shrunk float64 // per cent by which they are smaller than was wished; 0 if they fit
	Top    measure.Length
	Bottom measure.Length
	Views  []View
	Levels []Level // on the sheet, from its top
	Gutter measure.Length
}

// View is the box of one view on the sheet, between the common lines.
type View struct {
	Name  string
	Left  measure.Length
	Width measure.Length
}

// viewOrder says which views a number means, and whether each shows the depth.
var viewOrder = []struct {
	name string
	deep bool
}{{"front", false}, {"left side", true}, {"back", false}, {"right side", true}, {"above", false}, {"below", false}}

// Share lays two to six views of a solid side by side on a sheet between a
// common top and bottom line, with gutters between and around them, at the
// wished scale; views that do not fit are all reduced together. Errors wrap ErrAsk.
func Share(s Solid, views int, sheet measure.Size, gutter measure.Length, wished float64) (Guidelines, error) {
	switch {
	case views < 2 || views > len(viewOrder):
		return Guidelines{}, ask("two to six views are drawn side by side, got %d", views)
	case s.Width <= 0 || s.Depth <= 0 || s.Height <= 0:
		return Guidelines{}, ask("width, depth and height must be more than 0")
	case !(wished > 0):
		return Guidelines{}, ask("the scale must be more than 0")
	case gutter < 0 || gutter*measure.Length(views+1) >= sheet.W || 2*gutter >= sheet.H:
		return Guidelines{}, ask("the gutters leave no room on the sheet; make them narrower")
	}
	total := measure.Length(0)
	for _, v := range viewOrder[:views] {
		total += s.across(v.deep)
	}
	room := measure.Size{W: sheet.W - gutter*measure.Length(views+1), H: sheet.H - 2*gutter}
	scale := min(wished, float64(room.W/total), float64(room.H/s.Height))
	g := Guidelines{Scale: scale, Shrunk: (1 - scale/wished) * 100, Gutter: gutter}
	k := measure.Length(scale)
	g.Top = (sheet.H - s.Height*k) / 2
	g.Bottom = g.Top + s.Height*k
	left := gutter + (room.W-total*k)/2
	for _, v := range viewOrder[:views] {
		g.Views = append(g.Views, View{v.name, left, s.across(v.deep) * k})
		left += s.across(v.deep)*k + gutter
	}
	for _, l := range s.Heights {
		if l.At < 0 || l.At > s.Height {
			return Guidelines{}, ask("%s lies outside the height", l.Name)
		}
		g.Levels = append(g.Levels, Level{l.Name, g.Top + l.At*k})
	}
	slices.SortStableFunc(g.Levels, func(a, b Level) int { return cmp.Compare(a.At, b.At) })
	return g, nil
}

func (s Solid) across(deep bool) measure.Length {
	if deep {
		return s.Depth
	}
	return s.Width
}
