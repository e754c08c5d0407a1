package sheet

import (
	"fmt"
	"image"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// MostThumbnails bounds the boxes of one kind on a sheet: smaller ones are no use.
const MostThumbnails = 12

// ThumbnailBoxes is where the small boxes stand on their page, in millimetres, the upright ones first, and the
// corners that the page's tags point to.
type ThumbnailBoxes struct {
	page.Layout
	Corners plane.Quad
	Boxes   []plane.Rect
}

// NewThumbnailBoxes lays out small boxes of the drawing paper's ratio, equally large upright and lying, for
// trying out compositions before one is enlarged. Commonly there are three of each (common practice). The error
// wraps ErrPaper, or says how many boxes were asked for.
func NewThumbnailBoxes(w Wish) (t ThumbnailBoxes, err error) {
	upright, lying := w.Upright, w.Lying
	if upright == 0 && lying == 0 {
		upright, lying = 3, 3
	}
	if upright < 0 || lying < 0 || upright > MostThumbnails || lying > MostThumbnails {
		return t, fmt.Errorf("wanted 1 to %d boxes upright or lying, got %d and %d", MostThumbnails, upright, lying)
	}
	if t.Layout, err = page.Free(w.Printer, "the page of thumbnails"); err != nil {
		return t, err
	}
	in := t.Inner()
	in.Min.Y, in.Max.Y = in.Min.Y+photo.TagSide+1, in.Max.Y-photo.TagSide-1
	if in.Height() < 80 {
		return t, fmt.Errorf("the page of thumbnails %w of %s; choose A5 or larger", page.ErrPaper, w.Printer.Paper.Text(w.Plan.Units))
	}
	t.Corners = plane.Quad{plane.Pt(in.Min.X+photo.TagSide, in.Min.Y-1), plane.Pt(in.Max.X-photo.TagSide, in.Min.Y-1),
		plane.Pt(in.Max.X-photo.TagSide, in.Max.Y+1), plane.Pt(in.Min.X+photo.TagSide, in.Max.Y+1)}
	size := w.Plan.StockSize()
	if size.W > size.H {
		size = size.Turned()
	}
	parts := float64(upright + lying)
	above := page.Box(in.Min.X, in.Min.Y, in.Width(), in.Height()*float64(upright)/parts)
	below := page.Box(in.Min.X, above.Max.Y, in.Width(), in.Height()*float64(lying)/parts)
	// Both ways round are equally large: none looks the better for its size.
	k, _ := largest(size, upright, above)
	other, _ := largest(size.Turned(), lying, below)
	k = min(k, other)
	t.Boxes = append(boxesIn(size, k, upright, above), boxesIn(size.Turned(), k, lying, below)...)
	return t, nil
}

// Thumbnails returns the page of the wish's small boxes, with tags by which a photo of it finds itself. The wish's
// frames fill the boxes of their own way round in turn, where there are any; else the boxes are empty, for gestures.
func Thumbnails(w Wish) (page.Page, error) {
	t, err := NewThumbnailBoxes(w)
	if err != nil {
		return page.Page{}, err
	}
	pg := t.Begin(w.titled(), "Thumbnails · small boxes of the paper's own ratio")
	for corner, tip := range t.Corners {
		own, _ := photo.TagTip(corner)
		if err := drawTag(&pg, photo.Tag{Project: w.Who.Project, Corner: corner}, tip.Sub(own)); err != nil {
			return pg, err
		}
	}
	used := map[bool]int{}
	for i, b := range t.Boxes {
		lying := b.Width() > b.Height()
		if frames := shaped(w.Frames, lying); len(frames) > 0 {
			part := frames[used[lying]%len(frames)].CutTo(b.Width() / b.Height())
			pg.Add(page.Picture{Box: b, Name: FramePicture, Part: &part})
			used[lying]++
		}
		pg.Add(page.BoxPath(b, 0.4, page.Ink), page.Text{At: plane.Pt(b.Min.X, b.Max.Y+3.4), Size: page.Small, Words: fmt.Sprint(i + 1), Color: page.Ink})
	}
	return pg, nil
}

// shaped returns the frames that lie, or those that stand.
func shaped(frames []grid.Frame, lying bool) (of []grid.Frame) {
	for _, f := range frames {
		if (f.Size[0] > f.Size[1]) == lying {
			of = append(of, f)
		}
	}
	return of
}

// thumbnailGap stands between small boxes, mm.
const thumbnailGap = 6.0

// largest returns by how much of a size n boxes can be drawn in an area, and in how many columns;
// without end where there are none.
func largest(size measure.Size, n int, area plane.Rect) (best float64, columns int) {
	if n == 0 {
		return math.Inf(1), 1
	}
	for c := 1; c <= n; c++ {
		rows := (n + c - 1) / c
		k := min((area.Width()-thumbnailGap*float64(c-1))/float64(c)/float64(size.W), (area.Height()-thumbnailGap*float64(rows))/float64(rows)/float64(size.H))
		if k > best {
			best, columns = k, c
		}
	}
	return best, columns
}

// boxesIn lays n boxes of one ratio, k times a size, into an area.
func boxesIn(size measure.Size, k float64, n int, area plane.Rect) (boxes []plane.Rect) {
	const gap = thumbnailGap
	w, h := float64(size.W)*k, float64(size.H)*k
	_, columns := largest(size, n, area)
	columns = min(max(n, 1), max(columns, int((area.Width()+gap)/(w+gap))))
	left := area.Min.X + (area.Width()-float64(columns)*w-float64(columns-1)*gap)/2
	for i := range n {
		boxes = append(boxes, page.Box(left+float64(i%columns)*(w+gap), area.Min.Y+float64(i/columns)*(h+gap), w, h))
	}
	return boxes
}

// Straight returns the small drawings of a photo of the page, each so many pixels on its longer side, given where the
// page's corners lie in it. A hair inside its frame, so that the printed line is not one of the drawing.
func (t ThumbnailBoxes) Straight(img *image.RGBA, corners plane.Quad, side int) (drawn []*image.RGBA, err error) {
	to, err := picture.NewHomography(t.Corners, corners)
	if err != nil {
		return nil, err
	}
	const inside = 0.7 // mm
	for _, b := range t.Boxes {
		b = b.Grown(-inside)
		k := float64(side) / max(b.Width(), b.Height())
		drawn = append(drawn, picture.Warp(img, func(px plane.Point) plane.Point {
			return to.Apply(b.Min.Add(px.Mul(1 / k)))
		}, int(k*b.Width()), int(k*b.Height()), 2))
	}
	return drawn, nil
}
