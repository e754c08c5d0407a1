package sheet

import (
	"fmt"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// MostThumbnails bounds the boxes of one kind on a sheet: smaller ones are no use.
const MostThumbnails = 12

// Thumbnails returns a page of small boxes of the drawing's ratio, some
// upright and some lying, for trying out compositions before one is enlarged.
// The wish's frames fill the boxes of their own way round in turn, where there
// are any; else the boxes are empty, for gestures. Commonly there are three of
// each (common practice). The error wraps ErrPaper, or says how many boxes
// were asked for.
func Thumbnails(w Wish) (page.Page, error) {
	upright, lying := w.Upright, w.Lying
	if upright == 0 && lying == 0 {
		upright, lying = 3, 3
	}
	if upright < 0 || lying < 0 || upright > MostThumbnails || lying > MostThumbnails {
		return page.Page{}, fmt.Errorf("wanted 1 to %d boxes upright or lying, got %d and %d", MostThumbnails, upright, lying)
	}
	l, err := page.Free(w.Printer, "the page of thumbnails")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Thumbnails · small boxes of the paper's own ratio"), l.Inner()
	size := w.Plan.StockSize()
	if size.W > size.H {
		size = size.Turned()
	}
	room, parts := in.Height()-6, float64(upright+lying)
	above := page.Box(in.Min.X, in.Min.Y+3, in.Width(), room*float64(upright)/parts)
	below := page.Box(in.Min.X, above.Max.Y, in.Width(), room*float64(lying)/parts)
	// Both ways round are equally large: none looks the better for its size.
	k, _ := largest(size, upright, above)
	other, _ := largest(size.Turned(), lying, below)
	k = min(k, other)
	drawBoxes(&pg, size, k, upright, shaped(w.Frames, false), above)
	drawBoxes(&pg, size.Turned(), k, lying, shaped(w.Frames, true), below)
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

// drawBoxes lays n boxes of one ratio, k times a size, into an area.
func drawBoxes(pg *page.Page, size measure.Size, k float64, n int, frames []grid.Frame, area plane.Rect) {
	if n == 0 {
		return
	}
	const gap = thumbnailGap
	w, h := float64(size.W)*k, float64(size.H)*k
	_, columns := largest(size, n, area)
	columns = min(n, max(columns, int((area.Width()+gap)/(w+gap))))
	left := area.Min.X + (area.Width()-float64(columns)*w-float64(columns-1)*gap)/2
	for i := range n {
		b := page.Box(left+float64(i%columns)*(w+gap), area.Min.Y+float64(i/columns)*(h+gap), w, h)
		if len(frames) > 0 {
			part := frames[i%len(frames)].CutTo(w / h)
			pg.Add(page.Picture{Box: b, Name: FramePicture, Part: &part})
		}
		pg.Add(page.BoxPath(b, 0.4, page.Ink))
	}
}
